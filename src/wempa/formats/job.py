"""The job contract, version 1: JSON in, `wempa.craft.job` out (docs/job-format.md).

Every bad input becomes one `JobError`: a sentence, and the place in the job.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from typing import Annotated, Any, Literal, TypeVar

import numpy as np
from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, Strict, ValidationError, model_validator

from wempa.craft import constants as table
from wempa.craft import job as core
from wempa.craft.errors import ConstantError, JobError, WempaError, quoted
from wempa.craft.limits import (
    DEFAULT_MUD_LINE,
    MAX_DIGITS,
    MAX_DILUTION,
    MAX_DOSE,
    MAX_INKS,
    MAX_JOBS,
    MAX_OVERRIDES,
    MAX_PASSES,
    MAX_STACK,
    MAX_STASH,
)
from wempa.craft.stash.upkeep import PAD_LOAD
from wempa.craft.vocabulary import (
    Formula,
    Illuminant,
    Known,
    Load,
    Look,
    Over,
    PadState,
    Surface,
    Tool,
    Treatment,
)
from wempa.optics.grid import resample

from .complaints import complaint

Number = Annotated[float, Strict(), Field(allow_inf_nan=False)]
Whole = Annotated[int, Strict()]
Switch = Annotated[bool, Strict()]
Share = Annotated[Number, Field(ge=0, le=1)]
Key = Annotated[str, Field(min_length=1, max_length=80)]


def few(most: int) -> BeforeValidator:
    """Refuses what holds too much before any of it is looked at."""

    def check(given: object) -> object:
        if isinstance(given, dict | list) and len(given) > most:
            raise ValueError(f"{len(given)} are more than the {most} that may stand here")
        return given

    return BeforeValidator(check)


Overrides = Annotated[dict[str, Number], few(MAX_OVERRIDES)]


class _Model(BaseModel):
    # Built when first used, each once: the command line starts half as fast again.
    model_config = ConfigDict(extra="forbid", frozen=True, defer_build=True)


class Spectrum(_Model):
    """Reflectance factors, 0–1 (up to 3 for fluorescent), from `start` nm on."""

    start: Annotated[Number, Field(ge=300, le=500)] = 380
    step: Annotated[Number, Field(ge=1, le=20)] = 10
    values: Annotated[list[Annotated[Number, Field(ge=0, le=3)]], Field(min_length=8, max_length=600)]

    @model_validator(mode="after")
    def _reaches(self) -> Spectrum:
        stop = self.start + self.step * (len(self.values) - 1)
        if self.start > 420 or stop < 680:
            raise ValueError(
                f"a spectrum must reach from 420 nm or below to 680 nm or above, not {self.start:g}–{stop:g} nm"
            )
        return self


class Colour(_Model):
    """A colour: exactly one of `hex`, `lab` (with `illuminant`) or `spectrum`."""

    hex: Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")] | None = None
    lab: Annotated[list[Number], Field(min_length=3, max_length=3)] | None = None
    illuminant: Illuminant | None = None
    spectrum: Spectrum | None = None

    @model_validator(mode="after")
    def _one(self) -> Colour:
        given = [name for name in ("hex", "lab", "spectrum") if getattr(self, name) is not None]
        if len(given) != 1:
            raise ValueError(
                "a colour is exactly one of hex, lab or spectrum" + (f", not {' and '.join(given)}" if given else "")
            )
        if self.illuminant is not None and self.lab is None:
            raise ValueError("illuminant goes with lab only")
        if self.lab is not None and (not 0 <= self.lab[0] <= 100 or max(map(abs, self.lab[1:])) > 160):
            raise ValueError("lab must have L* in 0–100 and a*, b* in -160–160")
        return self

    def to_core(self) -> core.Colour:
        lab = None if self.lab is None else (self.lab[0], self.lab[1], self.lab[2])
        spectrum = None
        if self.spectrum is not None:
            values = np.array(self.spectrum.values, dtype=np.float64)
            spectrum = tuple(resample(self.spectrum.start, self.spectrum.step, values).tolist())
        return core.Colour(
            hex=None if self.hex is None else self.hex.lower(),
            lab=lab,
            lab_illuminant=self.illuminant or Illuminant.D50,
            spectrum=spectrum,
        )


class Cardstock(_Model):
    """A card; `null` takes the surface's preset."""

    colour: Colour
    surface: Surface = Surface.SMOOTH
    texture: Share | None = None
    absorbency: Share | None = None
    floor: Annotated[Number, Field(ge=0, lt=1)] | None = None
    takeup: Annotated[Number, Field(gt=0, le=1.2)] | None = None
    known: Known | None = None
    constants: Overrides = {}

    def to_core(self) -> core.Card:
        return core.Card(
            colour=self.colour.to_core(),
            surface=self.surface,
            texture=self.texture,
            absorbency=self.absorbency,
            floor=self.floor,
            takeup=self.takeup,
            known=self.known or Known.TYPED,
            constants=_own(self.constants, f"surface.{self.surface}"),
        )


class MadeWith(_Model):
    """How a swatch was made."""

    tool: Tool = Tool.PAD
    load: Load = Load.NORMAL
    passes: Annotated[Number, Field(gt=0, le=MAX_PASSES)] = 1


class DarkSwatch(_Model):
    """The same dose of the ink on a dark card."""

    colour: Colour
    card: Cardstock


class Swatch(_Model):
    """An ink's colour on a card."""

    colour: Colour
    card: Literal["white", "job"] | Cardstock = "white"
    on_dark: DarkSwatch | None = None
    made_with: MadeWith | None = None
    known: Known | None = None
    spread: Annotated[Number, Field(ge=0, le=30)] | None = None

    def to_core(self) -> core.Swatch:
        on: core.Card | None = core.WHITE if self.card == "white" else None
        if isinstance(self.card, Cardstock):
            on = self.card.to_core()
        made = self.made_with
        return core.Swatch(
            colour=self.colour.to_core(),
            card=on,
            on_dark=None
            if self.on_dark is None
            else core.DarkSwatch(self.on_dark.colour.to_core(), self.on_dark.card.to_core()),
            made_with=None if made is None else core.MadeWith(made.tool, made.load, made.passes),
            known=self.known or Known.TYPED,
            spread=self.spread,
        )


class Emission(_Model):
    """How a fluorescent ink glows: `peak` and `width` in nm, `energy` 0–0.95."""

    peak: Annotated[Number, Field(ge=400, le=730)] | None = None
    width: Annotated[Number, Field(ge=5, le=60)] | None = None
    energy: Annotated[Number, Field(ge=0, le=0.95)] | None = None


class Ink(_Model):
    """An ink by its swatch and formula."""

    swatch: Swatch
    formula: Formula = Formula.UNKNOWN
    name: Annotated[str, Field(max_length=200)] | None = None
    hiding: Annotated[Number, Field(ge=0, le=0.98)] | None = None
    soak_share: Share | None = None
    strength: Annotated[Number, Field(ge=0.2, le=5)] | None = None
    emission: Emission | None = None
    pad: PadState | None = None
    constants: Overrides = {}

    def to_core(self) -> core.Ink:
        glow = self.emission
        return core.Ink(
            swatch=self.swatch.to_core(),
            formula=self.formula,
            name=self.name or "",
            hiding=self.hiding,
            soak_share=self.soak_share,
            strength=self.strength,
            emission=None if glow is None else core.Emission(glow.peak, glow.width, glow.energy),
            pad=self.pad,
            constants=_own(self.constants, f"formula.{self.formula}"),
        )


AnyModel = TypeVar("AnyModel", bound=_Model)


def with_fields(model: AnyModel, fields: Mapping[str, Any]) -> AnyModel:
    """An ink or card with some fields of its JSON replaced; raises `ValidationError` where that makes none."""
    return type(model).model_validate({**model.model_dump(mode="json", exclude_none=True), **fields})


class MixPart(_Model):
    """One ink of a premix."""

    ink: Key
    share: Annotated[Number, Field(gt=0)]


class EntryWords(_Model):
    """What is said of an entry of a stack beside its inks."""

    dose: Annotated[Number, Field(ge=0, le=MAX_DOSE)] | None = None
    tool: Tool | None = None
    load: Load | None = None
    passes: Annotated[Number, Field(gt=0, le=MAX_PASSES)] | None = None
    dilution: Annotated[Number, Field(ge=0, le=MAX_DILUTION)] | None = None
    over: Over | None = None
    treatment: Treatment | None = None

    def said_of(self, parts: Iterable[tuple[str, float]], premix: bool) -> core.SaidEntry:
        """The entry in the core's terms, with its inks by their keys and shares."""
        return core.SaidEntry(
            parts=tuple(parts),
            premix=premix,
            treatment=self.treatment,
            tool=self.tool,
            load=self.load,
            passes=self.passes,
            dose=self.dose,
            dilution=self.dilution,
            over=self.over,
        )

    def check_whole(self, ink: bool, mix: bool) -> None:
        """Raise `ValueError` unless it is a lay-down or a treatment; `ink` and `mix` say which of the two it names."""
        words = [word for word in ("tool", "load", "passes") if getattr(self, word) is not None]
        if self.treatment is not None:
            if len(self.model_dump(exclude_none=True)) > 1:
                raise ValueError("a treatment stands alone in its entry")
        elif ink == mix:
            raise ValueError("an entry names either an ink, a mix or a treatment")
        elif self.dose is not None and words:
            raise ValueError(f"an entry gives either a dose or tool, load and passes, not dose and {words[0]}")
        elif self.dose is None and self.tool is None:
            raise ValueError("an entry needs either a dose or a tool")


class Entry(EntryWords):
    """A lay-down (`ink` or `mix`) or a `treatment`."""

    ink: Key | None = None
    mix: Annotated[list[MixPart], Field(min_length=1, max_length=MAX_INKS)] | None = None

    @model_validator(mode="after")
    def _whole(self) -> Entry:
        self.check_whole(self.ink is not None, self.mix is not None)
        return self

    def to_core(self, load: Load = Load.NORMAL) -> core.Entry:
        """The entry in the core's terms; `load` is what the ink's pad gives unless it says otherwise."""
        if self.mix is not None:
            return self.said_of([(part.ink, part.share) for part in self.mix], True).laid(load)
        return self.said_of([] if self.ink is None else [(self.ink, 1.0)], False).laid(load)


class Stash(_Model):
    """Inks and cards at hand, for fixes."""

    inks: Annotated[dict[Key, Ink], few(MAX_STASH), Field(max_length=MAX_STASH)] = {}
    cards: Annotated[dict[Key, Cardstock], few(MAX_STASH), Field(max_length=MAX_STASH)] = {}

    def to_core(self) -> core.Stash:
        return core.Stash(
            tuple((key, ink.to_core()) for key, ink in self.inks.items()),
            tuple((key, card.to_core()) for key, card in self.cards.items()),
        )


class Job(_Model):
    """A job, version 1."""

    wempa: Literal[1]
    cardstock: Cardstock
    inks: Annotated[dict[Key, Ink], few(MAX_INKS), Field(max_length=MAX_INKS)]
    stack: Annotated[list[Entry], Field(max_length=MAX_STACK)]
    illuminant: Illuminant | None = None
    mud_line: Annotated[Number, Field(ge=0, le=100)] | None = None
    look: Look | None = None
    fixes: bool | None = None
    stash: Stash | None = None
    constants: Overrides | None = None

    def to_core(self) -> core.Job:
        """The job in the core's terms.

        Raises
        ------
        JobError
            An ink is not declared, or a constant is not in the craft table or
            outside its range.
        """
        for index, entry in enumerate(self.stack):
            named = [entry.ink] if entry.ink is not None else [part.ink for part in entry.mix or []]
            for key in named:
                if key not in self.inks:
                    raise JobError(f"the ink {quoted(key)} is not declared under inks", ("stack", index))
        return core.Job(
            cardstock=self.cardstock.to_core(),
            inks=tuple((key, ink.to_core()) for key, ink in self.inks.items()),
            stack=tuple(entry.to_core(self._load(entry)) for entry in self.stack),
            illuminant=self.illuminant or Illuminant.D65,
            mud_line=DEFAULT_MUD_LINE if self.mud_line is None else self.mud_line,
            look=self.look or Look.DRY,
            fixes=bool(self.fixes),
            stash=(self.stash or Stash()).to_core(),
            constants=checked_constants(self.constants or {}),
        )

    def _load(self, entry: Entry) -> Load:
        pad = None if entry.ink is None else self.inks[entry.ink].pad
        return Load.NORMAL if pad is None else PAD_LOAD[pad]


def checked_constants(given: Mapping[str, float]) -> table.Overrides:
    """Overrides of the craft table by name; raises `JobError` where there is no such row or it may not be so."""
    return _own(given, None)


def _own(given: Mapping[str, float], prefix: str | None) -> tuple[tuple[str, float], ...]:
    for name, value in given.items():
        try:
            table.check_override(name if prefix is None else f"{prefix}.{name}", value)
        except ConstantError as error:
            raise JobError(str(error), ("constants", name)) from error
    return tuple(sorted(given.items()))


def read_jobs(text: str | bytes) -> tuple[list[core.Job], bool]:
    """Jobs of a JSON document, and whether it was a list.

    Raises
    ------
    JobError
        Not JSON, not a job, or a job of the list is bad; the place begins with
        the job's index if it is a list.
    """
    return read_data(load_json(text))


def load_json(text: str | bytes) -> Any:
    """Parse JSON strictly: no NaN, no infinity, no repeated keys.

    Raises
    ------
    JobError
        The text is not such JSON.
    """

    def refuse(word: str) -> float:
        raise JobError(f"{word} is not a number that JSON allows")

    def pairs(items: list[tuple[str, Any]]) -> dict[str, Any]:
        found: dict[str, Any] = {}
        for key, value in items:
            if key in found:
                raise JobError(f"the key {quoted(key)} stands twice in one object")
            found[key] = value
        return found

    def whole(digits: str) -> int:
        # Python refuses longer ones, and takes a while over those that it reads.
        if len(digits) > MAX_DIGITS:
            raise JobError(f"a number of {len(digits)} digits is more than Wempa reads")
        return int(digits)

    try:
        return json.loads(text, parse_constant=refuse, parse_int=whole, object_pairs_hook=pairs)
    except json.JSONDecodeError as error:
        raise JobError(f"not JSON: {error.msg} in line {error.lineno}, column {error.colno}") from error
    except UnicodeDecodeError as error:
        raise JobError("not JSON: the file is not UTF-8 text") from error
    except RecursionError as error:
        raise JobError("not a job: nested too deeply") from error


def read_data(data: Any) -> tuple[list[core.Job], bool]:
    """Jobs of parsed JSON, and whether it was a list; raises `JobError`."""
    if not isinstance(data, list):
        return [read_one(data)], False
    if len(data) > MAX_JOBS:
        raise JobError(f"a list may hold {MAX_JOBS} jobs, not {len(data)}")
    jobs = []
    for index, item in enumerate(data):
        try:
            jobs.append(read_one(item))
        except JobError as error:
            raise JobError(error.message, (index, *error.place)) from error
    return jobs, True


def read_one(data: Any) -> core.Job:
    """One job of parsed JSON; raises `JobError`."""
    if not isinstance(data, dict):
        raise JobError("a job is a JSON object")
    try:
        return Job.model_validate(data).to_core()
    except ValidationError as error:
        message, place = first_problem(error)
        raise JobError(message, place) from error


def first_problem(error: ValidationError) -> tuple[str, tuple[str | int, ...]]:
    """One sentence and the place, for the weightiest of a model's complaints."""
    problems = error.errors(include_url=False)
    # A colour or card that fits no form complains once per form; the deepest place
    # is in the form that was meant.
    problem = max(problems, key=lambda p: (len(p["loc"]), p["type"] != "literal_error"))
    if any(len(p["loc"]) == 1 for p in problems) and problem["loc"][0] != problems[0]["loc"][0]:
        problem = problems[0]
    place = tuple(part for part in problem["loc"] if not (isinstance(part, str) and part in _FORMS))
    return complaint(problem), place


_FORMS = {"Cardstock", "literal['white','job']"}


def place_text(place: tuple[str | int, ...]) -> str:
    """A place as people write it: ``stack[2].ink``."""
    text = ""
    for part in place:
        said = part if isinstance(part, int) or len(part) <= 80 else f"{part[:80]}…"
        text += f"[{said}]" if isinstance(said, int) else f".{said}" if text else said
    return text


def error_text(error: WempaError) -> str:
    """One line that names the place."""
    place = error.place
    if place and isinstance(place[0], int):
        inner = place_text(place[1:])
        return f"job {place[0]}: {inner + ': ' if inner else ''}{error.message}"
    where = place_text(place)
    return f"{where}: {error.message}" if where else error.message
