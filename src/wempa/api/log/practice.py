"""Guess first: a question at a time, and how they went."""

from __future__ import annotations

from dataclasses import replace
from itertools import count, permutations
from random import Random

from wempa.api import held
from wempa.api.held import Held
from wempa.api.kept import Kept
from wempa.api.shelf import Shelf, Shelves
from wempa.craft.colour.naming import describe
from wempa.craft.job import Job
from wempa.craft.log.guessing import MISTAKE_SAID, Mistake, Question, Round, due, mistake, question
from wempa.craft.prediction.cards import prepare_card
from wempa.craft.prediction.spectra import spectrum_of
from wempa.craft.recipe import recipe
from wempa.craft.ways import first_touch
from wempa.formats.job_result import CodedText, coded
from wempa.formats.log.items import PairAsked, PracticeItem
from wempa.optics import colorimetry as cm
from wempa.optics.grid import Floats
from wempa.store import StoreError, Workspace

from .models import ChoiceOut, GuessedOut, GuessOut

_NAME = "Practice"
# How many pairs questions are drawn from, and how many questions may be open at once.
_PAIRS, _OPEN, _KEPT_PAIRS = 80, 64, 400
_FIRST_TOKEN = 1000


class Practice:
    """The practice rounds of one workspace."""

    def __init__(self, workspace: Workspace, shelves: Shelves) -> None:
        self._workspace, self._shelves = workspace, shelves
        self._asked = Kept[Question](_OPEN)
        # The same pair on another card is another question.
        self._tokens = count(_FIRST_TOKEN)

    def ask(self, card_id: int | None) -> GuessOut:
        """The next question: one that was missed if its time has come, else a new one.

        Raises
        ------
        StoreError
            There are not two inks that a question could be made of.
        """
        shelf = self._shelves.now()
        stored = self._held()
        item = PracticeItem(name=_NAME) if stored is None else stored.item
        jobs = _pairs(shelf, card_id, item.played)
        rounds = [_round(pair) for pair in item.pairs]
        made, again = None, False
        # A pair that cannot be asked on this card, or whose ink is gone, is skipped.
        while made is None and (late := due(rounds, item.played)) is not None:
            rounds.remove(late)
            job = _pair(shelf, late.pair[0], late.pair[1], card_id)
            made = None if job is None else question([job], item.played)
            again = made is not None
        made = made or question(jobs, item.played)
        if made is None:
            raise StoreError("a question needs two inks of different colours in the stash; add some")
        token, asked = next(self._tokens), made
        self._asked.get(token, shelf, lambda: asked)
        names = [ink.name for _, ink in made.job.inks]
        return GuessOut(
            token=token,
            lines=recipe(made.job),
            inks=[_choice(cm.lab(_swatch(made.job, n))) for n in range(len(names))],
            names=names,
            card=cm.hexes_from_lab(_bare(made.job)[None], str(made.job.illuminant))[0],
            card_name=shelf.card_name(card_id),
            choices=[_choice(lab) for lab in made.choices],
            again=again,
            played=item.played,
            right=item.right,
        )

    def answer(self, token: int, choice: int) -> tuple[GuessedOut, Job]:
        """Store how a guess went; raises `StoreError` if the question is not open any more."""
        shelf = self._shelves.now()

        def gone() -> Question:
            raise StoreError("this question is not open any more; take the next one")

        asked = self._asked.get(token, shelf, gone)
        if choice > len(asked.choices):
            raise StoreError(f"there are {len(asked.choices)} colours to choose from, and mud")
        missed = mistake(asked, choice)
        stored = self._held()
        item = PracticeItem(name=_NAME) if stored is None else stored.item
        keys = [entry.parts[0][0] for entry in asked.job.stack if hasattr(entry, "parts")]
        lower, upper = int(keys[0]), int(keys[1])
        kept = [pair for pair in item.pairs if (pair.lower_id, pair.upper_id) != (lower, upper)]
        known = next((pair for pair in item.pairs if (pair.lower_id, pair.upper_id) == (lower, upper)), None)
        before = -1 if known is None else known.rights
        rights = 0 if missed is not Mistake.NONE else before if before < 0 else before + 1
        if known is not None or missed is not Mistake.NONE:
            kept.append(PairAsked(lower_id=lower, upper_id=upper, asked=item.played + 1, rights=rights))
        mistakes = dict(item.mistakes)
        if missed is not Mistake.NONE:
            mistakes[str(missed)] = mistakes.get(str(missed), 0) + 1
        now = PracticeItem(
            name=_NAME,
            played=item.played + 1,
            right=item.right + (missed is Mistake.NONE),
            mistakes=mistakes,
            pairs=kept[-_KEPT_PAIRS:],
        )
        number = None if stored is None else stored.id
        self._workspace.write_many([("practice", number, now.stored(), None)], what="Guess", undoable=False)
        self._asked.forget()
        found = asked.prediction
        told = GuessedOut(
            right=missed is Mistake.NONE,
            said=MISTAKE_SAID[missed],
            answer=asked.right,
            hex=found.colour.hex,
            words=describe(found.colour.lab.tolist()),
            kind=found.verdict.kind,
            reasons=coded(list(found.verdict.reasons)),
            real=None,
            played=now.played,
            rights=now.right,
            mistakes=[
                CodedText(code=code, text=f"{MISTAKE_SAID[Mistake(code)]}: {times}×")
                for code, times in sorted(mistakes.items(), key=lambda each: -each[1])
                if code in list(Mistake)
            ],
        )
        return told, asked.job

    def _held(self) -> Held[PracticeItem] | None:
        return next(iter(held.read_all(self._workspace, PracticeItem)), None)


def _round(pair: PairAsked) -> Round:
    return Round((str(pair.lower_id), str(pair.upper_id)), pair.asked, pair.rights)


def _choice(lab: Floats) -> ChoiceOut:
    return ChoiceOut(hex=cm.hexes_from_lab(lab[None], "D65")[0], words=describe(lab.tolist()))


def _swatch(job: Job, n: int) -> Floats:
    return spectrum_of(job.inks[n][1].swatch.colour, "D65")[0]


def _bare(job: Job) -> Floats:
    return prepare_card(job.cardstock, "D65", job.constants).lab


def _pair(shelf: Shelf, lower: str, upper: str, card_id: int | None) -> Job | None:
    if lower not in shelf.inks or upper not in shelf.inks:
        return None
    table = shelf.table
    lays = tuple(first_touch(key, shelf.ink(key).formula, shelf.loads[key], table) for key in (lower, upper))
    return replace(shelf.job(card_id, [lower, upper]), stack=lays)


def _pairs(shelf: Shelf, card_id: int | None, seed: int) -> list[Job]:
    owned = [key for key, _ in shelf.owned.inks]
    every = list(permutations(owned, 2))
    rng = Random(seed + 7)  # noqa: S311 (nothing is kept secret by it)
    picked = rng.sample(every, min(_PAIRS, len(every)))
    return [job for lower, upper in picked if (job := _pair(shelf, lower, upper, card_id)) is not None]
