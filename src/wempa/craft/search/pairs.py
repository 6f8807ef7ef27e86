"""Everything that a stash reaches on a card: all stacks of one and two lay-downs, and bounds on those of three.

Worked out once for a card, a set of inks and the amounts they may be laid in; every
wanted colour is then looked for in it (`wempa.craft.match`). Two hundred inks in three
amounts make about 620,000 stacks of two and 370 million of three, so of three lay-downs
only bounds are kept (`wempa.craft.search.screen`). They hold because all that happens to light in a stack is
monotone: a film lets through more of more, specks and surface average it, and less of a
film is a lighter film.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from wempa.craft import constants
from wempa.craft.errors import JobError, quoted
from wempa.craft.job import Job, LayDown, Stash
from wempa.craft.prediction import pools
from wempa.craft.prediction.amounts import Dried, stays_open
from wempa.craft.prediction.batches import gather
from wempa.craft.prediction.chalk import chalk_of, shared_chalk
from wempa.craft.prediction.many_stacks import StackLook, stack_colours
from wempa.craft.prediction.pools import Soaking
from wempa.craft.prediction.prepare import prepare_job
from wempa.craft.prediction.prepared import VARIANTS
from wempa.craft.prediction.rows import NOTHING, resolve
from wempa.craft.prediction.settling import (
    UNTREATED,
    Part,
    Settled,
    lay_in_numbers,
    settle,
    side_by_side,
)
from wempa.craft.vocabulary import Over
from wempa.optics import colorimetry as cm
from wempa.optics.film import Film, over
from wempa.optics.grid import BANDS, Bools, Floats, Ints, Reals, weights, white_point
from wempa.optics.layers import Layers, films
from wempa.optics.parallel import in_chunks
from wempa.optics.stack import Stacks, lab_on
from wempa.optics.surface import outside, speckle, wet_pores

from .features import TERMS, FeatureBasis, left_of, raw_features
from .lines import Ends, fitted

# Rows worked at a time, so that their arrays stay in the cache.
CHUNK = 2048
# Stacks that principal dimensions are taken from.
SAMPLE = 3000


@dataclass(frozen=True, slots=True, eq=False)
class StackPairs:
    """Stacks of two lay-downs, p of them."""

    below: Ints
    """Index of the lower lay-down, (p,)."""
    above: Ints
    wet: Bools
    """Whether the second is laid into the first while that is wet."""
    lab: Floats
    """CIELAB under the job's light, (p, 3)."""
    internal: Floats
    """What a third one would lie on, (p, 36), single precision."""
    dose: Floats
    """Effective dose of both, (p, 2)."""
    between: Floats
    """Dose of film below the upper one, (p,)."""
    film: Floats
    """Dose of film below a third one, (p,)."""
    takes: Floats
    """Share of a third lay-down that is still accepted, (p,)."""


@dataclass(frozen=True, slots=True, eq=False)
class Lifted:
    """What becomes of the soaking part of two that are wet together, (b, 2) each: see `optics.layers`."""

    held: Floats
    mixed: Floats

    @classmethod
    def of(cls, parts: Sequence[Part]) -> Lifted:
        """Of the parts of one wet group."""
        held, mixed = (np.stack([getattr(part, name) for part in parts], axis=1) for name in ("held", "mixed"))
        return cls(held, mixed)


class PairSpace:
    """What a stash reaches over what lies on a card.

    `job` gives card, light, constants and declared inks; its stack is what lies there
    already. `hands` are the ways an ink may be put on, its tool left open where None:
    then each ink has its own (`touch.first_touch`).

    Inks that glow are reached with one and two lay-downs only, for a glow does not
    simply grow or shrink with what lies on it. Where a card is full a dye laid later takes
    from those below: there two dyes are reached, but no third on both, and over dye that
    lies there already one more by itself.
    """

    def __init__(self, job: Job, lays: Sequence[LayDown], wet: bool = True) -> None:
        self.job = replace(job, stash=Stash(), fixes=False)
        self.lays = tuple(lays)
        self.wet = wet
        keys = list(dict.fromkeys([key for lay in lays for key, _ in lay.parts]))
        used = [key for entry in job.stack if isinstance(entry, LayDown) for key, _ in entry.parts]
        self._keys = list(dict.fromkeys([*keys, *used]))
        missing = [key for key in self._keys if key not in dict(job.inks)]
        if missing:
            raise JobError(f"ink {quoted(missing[0])} is not declared")
        self.bench = prepare_job(self.job, self._keys)
        self._table = constants.values(job.constants)
        lookup = self.bench.lookup
        start = resolve(job.stack, lookup, self.bench.card.ground, self._table)[-1] if job.stack else NOTHING
        self._row, self._start = start.dry, start
        self._lay_numbers()

    def _lay_numbers(self) -> None:
        """Each lay-down in numbers, (n,)."""
        bench, table, ground = self.bench, self._table, self.bench.card.ground
        at = {key: i for i, key in enumerate(bench.keys)}
        self.ink: Ints = np.array([at[lay.parts[0][0]] for lay in self.lays], dtype=np.intp)
        lookup = bench.lookup
        self._hands = side_by_side(
            [lay_in_numbers(lay, [lookup[lay.parts[0][0]]], ground, table)[0] for lay in self.lays]
        )
        self.cover = self._hands.cover
        self.soaks: Floats = self._hands.offer * self._hands.free
        """Pad impressions of each lay-down that soak in, (n,)."""
        offer, free = self._hands.offer, self._hands.free
        _, first, alike = np.unique(np.stack([offer, free], axis=1), axis=0, return_index=True, return_inverse=True)
        self.alike_taking: Ints = alike.reshape(-1)
        """Which lay-downs hold more or less alike on a film, (n,), numbered from 0."""
        self.examples: Ints = first
        """One lay-down of each such kind."""
        glows = self.bench.palette.glows[::VARIANTS]
        lies_glowing = any(glows[part.ink // VARIANTS] for part in self._row.parts)
        self.glows: Bools = glows[self.ink] | lies_glowing

    # -- one lay-down -----------------------------------------------------------

    def _settle(self, a: Ints, b: Ints | None = None, wet: bool = False) -> Settled:
        """What stays of lay-downs, or of those of `b` over or into those of `a`, on what lies there; theirs last."""
        lies = self._start.laid
        entry = len(self.job.stack)
        group = lies[-1].group + 1 if lies else 0
        own = [self._hands.of(a).placed(entry, group)]
        if b is not None:
            own.append(self._hands.of(b).placed(entry + 1, group if wet else group + 1))
        factors = [*self._start.factors, *[UNTREATED] * len(own)]
        return settle([*lies, *own], self.bench.card.ground, self._table, factors, np)

    def _moves_others(self, laid: Settled) -> Bools:
        """Where the last that was laid may take from dye that lies there already, (n,)."""
        *others, own = laid.soaking
        return pools.in_the_way(own, others, self.bench.card.ground, self._table)

    @cached_property
    def _once(self) -> Settled:
        """Each lay-down by itself."""
        return self._settle(np.arange(len(self.lays)))

    @cached_property
    def _first(self) -> Floats:
        """Effective dose of each lay-down by itself, (n,)."""
        return np.asarray(self._once.parts[-1].dose)

    @cached_property
    def _disturbs(self) -> Bools:
        """Which lay-downs take from dye that lies there already, (n,)."""
        return self._moves_others(self._once)

    @cached_property
    def _base(self) -> Floats:
        """Internal reflectance of what lies there, (36,)."""
        below = self.bench.palette.cards.internal[:1]
        if self._row.parts:
            laid = gather([self._row])
            made = films(laid.layers, self.bench.palette.inks)
            for layer in laid.layer[0].tolist():
                one = Film(*(component[layer : layer + 1] for component in made))
                apart = laid.layers.apart is not None and bool(laid.layers.apart[layer])
                below = self.lay(below, one, laid.layers.cover[layer : layer + 1], 1.0 if apart else None)
        return np.asarray(below[0], dtype=np.float32)

    def lay(self, below: Floats, layer: Film, cover: Floats, n: float | None = None) -> Floats:
        """Layers on what is below, (b, 36); the Yule–Nielsen factor `n` is the card's if not given."""
        on = over(layer, below)
        if (cover == 1).all():
            return on
        return speckle(below, on, cover[:, None].astype(np.float32), float(self.bench.card.n) if n is None else n)

    def films(self, ink: Ints, dose: Floats, cover: Floats, lifted: Lifted | None = None) -> Film:
        """Films of layers of the inks (l, m) at doses (l, m)."""
        layers = Layers(
            ink=VARIANTS * ink,
            dose=dose,
            scatter=np.ones(dose.shape),
            held=np.zeros(dose.shape) if lifted is None else lifted.held,
            cover=cover,
            chalk=self._chalk_of(ink, dose),
            mixed=None if lifted is None else lifted.mixed,
        )
        return films(layers, self.bench.palette.inks)

    def _chalk_of(self, ink: Ints, dose: Floats) -> Floats | None:
        """Scatter of voids of layers of the inks at doses; None where nothing dries chalky."""
        chalk = self.bench.chalk
        return shared_chalk(dose, chalk[ink], self._table) if chalk.any() else None

    @cached_property
    def of_one_colour(self) -> Ints:
        """For each ink the first of its colour, (inks,): such inks lower the floor as one would."""
        return np.asarray(self.bench.palette.of_one_colour[::VARIANTS] // VARIANTS)

    @cached_property
    def own_loss(self) -> Floats:
        """What each ink adds to the floor's loss at dose 1 or more, (inks, 36)."""
        return self.bench.palette.floor_loss[0, ::VARIANTS].astype(np.float32)

    @cached_property
    def lies(self) -> Floats:
        """Dose of each ink that lies there already, and of others of its colour, (inks,)."""
        total = np.zeros(len(self._keys))
        for part in self._row.parts:
            total[self.of_one_colour[part.ink // VARIANTS]] += part.dose
        return np.asarray(total[self.of_one_colour])

    def loss(self, ink: Ints, dose: Floats) -> Floats:
        """What joins into the floor's loss, (b, 36), of lay-downs of the inks (b, k) at doses (b, k)."""
        if not self.bench.palette.lowers_floor:
            return np.zeros((len(ink), BANDS), dtype=np.float32)
        dose, colour = dose.copy(), self.of_one_colour[ink]
        for later in range(1, ink.shape[1]):
            for earlier in range(later):
                same = colour[:, later] == colour[:, earlier]
                dose[same, earlier] += dose[same, later]
                dose[same, later] = 0
        lies = self.lies[ink]
        more = (np.minimum(lies + dose, 1) ** 4 - np.minimum(lies, 1) ** 4).astype(np.float32)
        found = np.broadcast_to(self._loss_below, (len(ink), BANDS)).copy()
        for k in range(ink.shape[1]):
            found += more[:, k, None] * self.own_loss[ink[:, k]]
        return found

    @cached_property
    def _loss_below(self) -> Floats:
        """The floor's loss to what lies there already, (36,)."""
        alone = self.of_one_colour == np.arange(len(self.of_one_colour))
        return np.asarray((np.minimum(self.lies * alone, 1) ** 4).astype(np.float32) @ self.own_loss)

    @cached_property
    def floor(self) -> Floats:
        """The card's own, (36,)."""
        return (self.bench.card.floor * self._row.floor_scale).astype(np.float32)

    def measured(self, internal: Floats, left: Floats) -> Floats:
        """Reflectance as seen, (b, 36), of an internal one and what is left of the floor; rises with both."""
        if self._row.pores:
            internal = wet_pores(internal, np.float32(self._row.pores))
        return outside(internal, self.floor * left)

    def left(self, ink: Ints, dose: Floats) -> Floats:
        """What lay-downs of the inks (b, k) at doses (b, k) leave of the floor, a factor (b, 36)."""
        return left_of(self.loss(ink, dose))

    def lab(self, internal: Floats, left: Floats) -> Floats:
        """CIELAB (b, 3) of internal reflectances and what is left of the floor."""
        return cm.lab(self.measured(internal, left), str(self.job.illuminant))

    @property
    def eye(self) -> Floats:
        """What each band adds to X, Y and Z over their white under the job's light, (3, 36)."""
        light = str(self.job.illuminant)
        return np.asarray((weights(light) / white_point(light)).T)

    @cached_property
    def singles(self) -> Floats:
        """CIELAB of each lay-down by itself, (n, 3)."""
        n = len(self.lays)
        lab = np.empty((n, 3))
        plain = np.flatnonzero(~self.glows)
        lab[plain] = self.lab(self._internal[plain], self.left(self.ink[plain, None], self._first[plain, None]))
        glowing = np.flatnonzero(self.glows)
        lab[glowing] = self._glowing(glowing[:, None], self._first[glowing, None], np.zeros(len(glowing), np.bool_))
        moved = np.flatnonzero(self._disturbs)
        if len(moved):
            stacks = [(*self.job.stack, self.lays[k]) for k in moved.tolist()]
            lab[moved] = stack_colours(self.job, stacks, StackLook.DRY)[0]
        return lab

    @cached_property
    def _internal(self) -> Floats:
        """Internal reflectance of each lay-down by itself, (n, 36); without its glow."""
        layer = self.films(self.ink[:, None], self._first[:, None], self.cover)
        return self.lay(np.broadcast_to(self._base, (len(self.lays), BANDS)), layer, self.cover)

    # -- two lay-downs ----------------------------------------------------------

    @cached_property
    def pairs(self) -> StackPairs:
        """Every stack of two lay-downs of different inks that does not glow."""
        return self.worked[0]

    @cached_property
    def worked(self) -> tuple[StackPairs, Reals, FeatureBasis, Ends]:
        """The stacks of two, their features for the screen, the basis of these, and the ends of all of them."""
        index = self._pair_index(~self.glows)
        count = len(index[0])
        found = StackPairs(
            *index,
            lab=np.empty((count, 3), dtype=np.float32),
            internal=np.empty((count, BANDS), dtype=np.float32),
            dose=np.empty((count, 2)),
            between=np.empty(count),
            film=np.empty(count),
            takes=np.empty(count),
        )
        split = int(np.searchsorted(found.wet, True))
        if not count:
            return found, np.zeros((0, 2), dtype=np.float32), FeatureBasis.empty(), Ends(*np.zeros((2, 2, BANDS)))
        upper = self._upper_films()
        basis = self._basis(found, split, upper)
        features = np.ones((count, basis.width + 1), dtype=np.float32)

        seen: list[Floats] = []

        def work(rows: slice) -> None:
            internal, loss = self._lay_two(found, np.arange(rows.start, rows.stop), upper)
            found.internal[rows], found.lab[rows] = internal, self.lab(internal, left_of(loss))
            # Chunks run at once; a list takes what each appends whole.
            seen.append(np.stack([(each.min(axis=0), each.max(axis=0)) for each in (internal, loss)]))
            features[rows, :-1] = basis.stacks(raw_features(internal, loss))

        # Dry ones first, then wet ones; no chunk has both.
        in_chunks(lambda rows: work(slice(rows.start, min(rows.stop, split))), split, CHUNK)
        in_chunks(lambda rows: work(slice(rows.start + split, min(rows.stop + split, count))), count - split, CHUNK)
        least, most = np.min(seen, axis=0)[:, 0], np.max(seen, axis=0)[:, 1]
        return found, features, basis, Ends(*np.stack([least, most], axis=1))

    def _basis(self, pairs: StackPairs, split: int, upper: tuple[Film | None, Ints]) -> FeatureBasis:
        """The dimensions that count, from some of the stacks of two and what any third lay-down makes of these."""
        count = len(pairs.below)
        some = np.linspace(0, count - 1, min(count, SAMPLE)).astype(np.intp)
        laid = [self._lay_two(pairs, rows, upper) for rows in (some[some < split], some[some >= split]) if len(rows)]
        internal, loss = (np.concatenate(each) for each in zip(*laid, strict=True))
        ends = Ends(*(np.stack([each.min(axis=0), each.max(axis=0)]) for each in (internal, loss)))
        lines = fitted(self, np.stack([self.base_dose] * 2), ends)
        functions = lines.weighed(self.eye).reshape(-1, TERMS * BANDS)
        return FeatureBasis.of(raw_features(internal, loss), functions)

    def _lay_two(self, pairs: StackPairs, rows: Ints, upper: tuple[Film | None, Ints]) -> tuple[Floats, Floats]:
        """Internal reflectance and the floor's loss of stacks of two, all dry or all wet; notes their doses."""
        a, b, mixed = pairs.below[rows], pairs.above[rows], bool(pairs.wet[rows[0]])
        inks = np.stack([self.ink[a], self.ink[b]], axis=1)
        laid = self._settle(a, b, mixed)
        doses = np.stack([part.dose for part in laid.parts[-2:]], axis=1)
        if mixed:
            cover = 1 - (1 - self.cover[a]) * (1 - self.cover[b])
            layer = self.films(inks, doses, cover, Lifted.of(laid.parts[-2:]))
            internal = self.lay(np.broadcast_to(self._base, (len(a), BANDS)), layer, cover)
        else:
            films, place = upper
            if films is None:
                layer = self.films(inks[:, 1:], doses[:, 1:], self.cover[b])
                internal = self.lay(self._internal[a], layer, self.cover[b])
            else:
                at = place[a] * len(self.lays) + b
                layer = Film(*(component.take(at, axis=0) for component in films))
                internal = self.lay(self._internal[a], layer, self.cover[b])
            shared = np.flatnonzero(self._moves_others(laid))
            if len(shared):
                internal[shared] = self._lay_apart(inks[shared], doses[shared], a[shared], b[shared])
        pairs.dose[rows] = doses
        pairs.between[rows] = laid.below[-1]
        pairs.film[rows] = laid.film
        pairs.takes[rows] = laid.meets.takes_by_tool(self._table, np)
        return internal, self.loss(inks, doses)

    def _lay_apart(self, inks: Ints, doses: Floats, a: Ints, b: Ints) -> Floats:
        """Internal reflectance of stacks of two whose amounts are their own, (b, 36)."""
        below = np.broadcast_to(self._base, (len(a), BANDS))
        for k, lay in enumerate((a, b)):
            below = self.lay(below, self.films(inks[:, k, None], doses[:, k, None], self.cover[lay]), self.cover[lay])
        return below

    @cached_property
    def stays_open(self) -> Bools:
        """Whether a first lay-down is still wet when a second has been over the card, (n, n)."""
        times = [self.bench.inks[i].values["open_time"] for i in self.ink.tolist()]
        tools = {lay.tool for lay in self.lays if lay.tool}
        by_tool = {tool: [stays_open(time, tool, self._table) for time in times] for tool in tools}
        return np.array([by_tool[lay.tool] for lay in self.lays if lay.tool], dtype=np.bool_).T

    @cached_property
    def ordered(self) -> Bools:
        """Whether two mixed wet are another mix in the other order, by (first, second), (n, n)."""
        return np.asarray((self._hands.film_share[:, None] > 0) & (self._hands.free[None] > 0))

    def _pair_index(self, chosen: Bools) -> tuple[Ints, Ints, Bools]:
        """Both lay-downs of every pair that has only chosen ones, and whether they are mixed; dry ones first."""
        n = len(self.lays)
        usable = chosen[:, None] & chosen[None] & (self.ink[:, None] != self.ink[None])
        if any(each.offer for each in self._start.settled.soaking):
            # What lies there changes when two dyes crowd it.
            below, above = np.nonzero(usable)
            usable[below, above] = ~self._moves_others(self._settle(below, above)) & ~self._disturbs[below]
        dry = np.argwhere(usable)
        if not self.wet:
            return dry[:, 0], dry[:, 1], np.zeros(len(dry), dtype=np.bool_)
        # Nobody works into the wet of what is dry by then.
        mixes = usable & self.stays_open
        # Two mixed wet are the same in either order, unless a film holds up a dye that comes later.
        ordered = self.ordered
        once = (np.arange(n)[:, None] < np.arange(n)[None]) | ~mixes.T
        twice = mixes & (ordered | ordered.T | once)
        # Those without anything to hold up are quicker to work out by themselves.
        both = np.concatenate([dry, np.argwhere(twice & ~ordered), np.argwhere(twice & ordered)])
        return both[:, 0], both[:, 1], np.arange(len(both)) >= len(dry)

    def _upper_films(self) -> tuple[Film | None, Ints]:
        """Films of every lay-down over each of the few amounts that can lie below it; None if those are many."""
        n = len(self.lays)
        once = self._once
        meets = np.stack([once.meets.dose, once.meets.seal, once.film], axis=1)
        contexts, place = np.unique(meets, axis=0, return_inverse=True)
        if 4 * len(contexts) > n:
            return None, place
        lay = np.tile(np.arange(n), len(contexts))
        dose, seal, film = np.repeat(contexts, n, axis=0).T
        takes = Dried(dose, seal).takes_by_tool(self._table, np)
        upper = self.base_dose[lay] * self.lessened(lay, film) * takes
        return self.films(self.ink[lay, None], upper[:, None], self.cover[lay]), place.reshape(-1)

    @cached_property
    def glowing_pairs(self) -> StackPairs:
        """Every stack of two lay-downs of different inks that glows; nothing is ever laid on them."""
        below, above, wet = self._pair_index(np.ones(len(self.lays), dtype=np.bool_))
        lit = self.glows[below] | self.glows[above]
        below, above, wet = below[lit], above[lit], wet[lit]
        dry_laid, wet_laid = (self._settle(below, above, mixed).parts[-2:] for mixed in (False, True))
        both = list(zip(wet_laid, dry_laid, strict=True))
        dose = np.asarray(
            np.stack([np.where(wet, mixed.dose, dried.dose) for mixed, dried in both], axis=1), np.float64
        )
        lab = self._glowing(np.stack([below, above], axis=1), dose, wet, Lifted.of(wet_laid))
        nothing = np.zeros(len(below))
        return StackPairs(below, above, wet, lab, np.zeros((len(below), 0)), dose, nothing, nothing, nothing)

    def _glowing(self, lay: Ints, dose: Floats, wet: Bools, lifted: Lifted | None = None) -> Floats:
        """CIELAB of stacks of lay-downs (b, 1 or 2) that glow, (b, 3), by the way that all stacks can go."""
        b, e = lay.shape
        if not b:
            return np.zeros((0, 3))
        start = gather([self._row])
        # Layers of what lies there, then of each lay-down; of a wet pair only the first is used, and holds both.
        own = len(start.layers)
        width = max(2, start.layers.ink.shape[1])
        count = own + b * e
        ink, numbers = np.zeros((count, width), dtype=np.intp), np.zeros((5, count, width))
        numbers[1] = 1
        cover = np.ones(count)
        fitted = start.layers.ink.shape[1]
        ink[:own, :fitted] = start.layers.ink
        numbers[:3, :own, :fitted] = start.layers.dose, start.layers.scatter, start.layers.held
        cover[:own] = start.layers.cover
        if start.layers.chalk is not None:
            numbers[3, :own, :fitted] = start.layers.chalk
        if start.layers.mixed is not None:
            numbers[4, :own, :fitted] = start.layers.mixed
        apart = None
        if start.layers.apart is not None:
            apart = np.append(start.layers.apart, np.zeros(count - own, dtype=np.bool_))
        inks = VARIANTS * self.ink[lay]
        per_dose = self.bench.chalk[self.ink[lay]]
        each = np.asarray(chalk_of(dose, per_dose, self._table, np))
        chalk = np.where(wet[:, None], shared_chalk(dose, per_dose, self._table), each)
        for k in range(e):
            at = slice(own + k * b, own + (k + 1) * b)
            ink[at, 0], numbers[0, at, 0], cover[at] = inks[:, k], dose[:, k], self.cover[lay[:, k]]
            numbers[3, at, 0] = chalk[:, k]
        layer = np.tile(start.layer, (b, 1))
        added = own + np.arange(b * e).reshape(e, b).T
        if e == 2:
            mixed = np.flatnonzero(wet)
            both = own + mixed
            ink[both, 1], numbers[0, both, 1], numbers[3, both, 1] = inks[mixed, 1], dose[mixed, 1], chalk[mixed, 1]
            if lifted is not None:
                numbers[2, both, :2], numbers[4, both, :2] = lifted.held[mixed], lifted.mixed[mixed]
            cover[both] = 1 - (1 - self.cover[lay[mixed, 0]]) * (1 - self.cover[lay[mixed, 1]])
            added[mixed, 1] = -1
        total = [np.tile(start.total, (b, 1)), dose]
        names = [np.tile(start.ink, (b, 1)), inks]
        # An ink that lies there already is one ink with what is added.
        for k in range(e):
            for j in range(start.ink.shape[1]):
                same = (names[1][:, k] == names[0][:, j]) & (total[0][:, j] > 0)
                total[0][same, j] += dose[same, k]
                total[1] = np.where((np.arange(e) == k)[None] & same[:, None], 0, total[1])
        stacks = Stacks(
            layers=Layers(ink, numbers[0], numbers[1], numbers[2], cover, apart, numbers[3], numbers[4]),
            layer=np.concatenate([layer, added], axis=1),
            card=np.zeros(b, dtype=np.intp),
            ink=np.concatenate(names, axis=1),
            total=np.concatenate(total, axis=1),
            floor_scale=np.full(b, self._row.floor_scale),
            pores=np.full(b, self._row.pores),
        )
        return np.asarray(lab_on(stacks, self.bench.palette, [stacks.card], str(self.job.illuminant))[0])

    # -- three lay-downs --------------------------------------------------------

    def _holds(self, lay: Ints, film: Floats | float) -> Floats:
        """Share that stays of what soaks of lay-downs over so much film, with no other dye in the way."""
        hands = self._hands.of(lay)
        own = Soaking(hands.offer * hands.free, hands.way, np.broadcast_to(film, hands.offer.shape))
        return np.asarray(pools.stays([own], self.bench.card.ground, self._table, np)[0])

    @cached_property
    def base_dose(self) -> Floats:
        """Effective dose of each lay-down on bare card that takes all of it, (n,); over anything by a factor."""
        return np.asarray(settle([self._hands], self.bench.card.ground, self._table, xp=np).parts[0].dose)

    def lessened(self, lay: Ints, film: Floats) -> Floats:
        """What stays of a lay-down over so much film, as a factor on what bare card takes of it, > 0.

        More than 1 on sealed card, on which there is less room than on a film.
        """
        free = self._hands.free[lay]
        more = self._holds(lay, film) / self._holds(lay, 0.0)
        # An ink that soaks in part holds on to the rest all the same.
        hands = self._hands.of(lay)
        bare = hands.offer * free * self._holds(lay, 0.0) * hands.gives / np.maximum(self.base_dose[lay], 1e-300)
        return np.asarray(1 + bare * (more - 1))

    def crowds(self, pair: Ints, top: Ints) -> Bools:
        """Whether a third lay-down takes from the dyes of stacks of two: those are not reached, (b,)."""
        pairs, hands, lies = self.pairs, self._hands, self._start.settled
        laid = [hands.of(which) for which in (pairs.below[pair], pairs.above[pair], top)]
        films = [np.full(len(pair), lies.film), pairs.between[pair], pairs.film[pair]]
        *below, own = [Soaking(one.offer * one.free, one.way, film) for one, film in zip(laid, films, strict=True)]
        return pools.in_the_way(own, [*lies.soaking, *below], self.bench.card.ground, self._table)

    # -- stacks -----------------------------------------------------------------

    def stack(self, lays: Sequence[int], wet: bool) -> tuple[LayDown, ...]:
        """The lay-downs in words; `wet` mixes the second into the first."""
        found = [self.lays[k] for k in lays]
        return tuple([replace(lay, over=Over.WET if k == 1 and wet else Over.DRY) for k, lay in enumerate(found)])
