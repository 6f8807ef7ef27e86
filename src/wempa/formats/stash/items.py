"""Inks, cards, tools and ranges of a stash as JSON, checked in one place.

The service, the workspace file and the tables of inks all go through these models;
every bad field becomes one sentence that names it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date
from typing import Annotated, Any, Literal, Self

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, model_validator

from wempa.craft import constants as table
from wempa.craft.errors import ConstantError, JobError
from wempa.craft.stash.photo_reading import MOST_SEEN, PhoneProfile
from wempa.craft.stash.upkeep import grams_per_square_metre, pad_state
from wempa.craft.vocabulary import Basis, Family, Formula, Illuminant, PadKind, PadState, Place, Standing, Tool, ToolSet
from wempa.formats.job import Cardstock, Ink, Number, Overrides, Swatch, Switch
from wempa.formats.plain_names import PLAIN
from wempa.formats.stored import StoredItem, read_by
from wempa.optics.photo import SeenSwatch, ToneCurve

Name = Annotated[str, Field(min_length=1, max_length=120), PLAIN]
Notes = Annotated[str, Field(max_length=4000)]
Millimetres = Annotated[Number, Field(gt=0, le=2000)]


class _Model(BaseModel):
    model_config = ConfigDict(extra="forbid", defer_build=True)


class InkItem(StoredItem):
    """An ink of the book: what a job needs of it, and what its owner keeps about it."""

    model_config = ConfigDict(defer_build=True)
    kind = "ink"
    name: Name
    range: Annotated[str, Field(max_length=120)] = ""
    formula: Formula = Formula.UNKNOWN
    ink: Ink
    """As in a job (docs/job-format.md); its `name` and `formula` are those above."""
    standing: Standing = Standing.OWNED
    place: Place | None = None
    refill: Switch = False
    discontinued: Switch = False
    pad_kind: PadKind | None = None
    pad: PadState | None = None
    """As the owner says; else it follows from `re_inked`."""
    re_inked: date | None = None
    other_swatches: Annotated[list[Swatch], Field(max_length=20)] = []
    notes: Notes = ""

    @model_validator(mode="after")
    def _computes(self) -> InkItem:
        # Overrides are checked against the table where a job is read; a stash is read once.
        try:
            self.ink.model_copy(update={"formula": self.formula}).to_core()
        except JobError as error:
            raise ValueError(error.message) from error
        return self

    def stored(self) -> dict[str, Any]:
        """As the store lays it out."""
        whole = self.model_dump(mode="json", exclude_none=True)
        body = {**whole.pop("ink"), "name": self.name, "formula": str(self.formula)}
        body.pop("pad", None)
        columns = {key: whole.pop(key) for key in ("name", "range", "formula")}
        return {**columns, "body": body, "details": _lean(whole, InkItem)}

    def job_ink(self, ranges: Mapping[str, Overrides], today: date, rows: Mapping[str, float]) -> Ink:
        """The ink object of a job: the ink's own, its range's overrides, its pad as it is today.

        `ranges` maps a range to its overrides, `rows` is the craft table.
        """
        own = {**ranges.get(self.range, {}), **self.ink.constants}
        said = {"name": self.name, "formula": self.formula, "constants": own, "pad": self.pad_today(today, rows)}
        return self.ink.model_copy(update=said)

    def pad_today(self, today: date, rows: Mapping[str, float]) -> PadState | None:
        """What its pad is like; `rows` is the craft table."""
        return pad_state(self.pad_kind, self.pad, self.re_inked, today, rows)

    @classmethod
    def from_row(cls, row: Mapping[str, Any]) -> Self:
        """From what the store holds."""
        columns = {key: row[key] for key in ("name", "range", "formula")}
        # What an ink is called and made of is said once; its job object says the same.
        body = {**row["body"], "name": row["name"], "formula": row["formula"]}
        return cls.model_validate({**columns, "ink": body, **row["details"]})


class Weight(_Model):
    """Weight of a card: g/m², or pounds of a basis."""

    value: Annotated[Number, Field(gt=0, le=2000)]
    unit: Literal["gsm", "lb"] = "gsm"
    basis: Basis | None = None

    @model_validator(mode="after")
    def _whole(self) -> Weight:
        if (self.unit == "lb") != (self.basis is not None):
            raise ValueError("a weight in lb names its basis (cover, text, index, bristol), one in gsm has none")
        return self

    def grams(self) -> float:
        """g/m²."""
        return self.value if self.basis is None else grams_per_square_metre(self.value, self.basis)


class SheetSize(_Model):
    """Size of a sheet, kept in millimetres."""

    width: Millimetres
    height: Millimetres


class CardItem(StoredItem):
    """A cardstock."""

    model_config = ConfigDict(defer_build=True)
    kind = "card"
    name: Name
    card: Cardstock
    """As in a job."""
    weight: Weight | None = None
    sheet: SheetSize | None = None
    left: Annotated[Number, Field(ge=0, le=100_000)] | None = None
    notes: Notes = ""

    @model_validator(mode="after")
    def _computes(self) -> CardItem:
        try:
            self.card.to_core()
        except JobError as error:
            raise ValueError(error.message) from error
        return self

    def stored(self) -> dict[str, Any]:
        """As the store lays it out."""
        whole = self.model_dump(mode="json", exclude_none=True)
        body = whole.pop("card")
        return {
            "name": whole.pop("name"),
            "surface": str(self.card.surface),
            "body": body,
            "details": _lean(whole, CardItem),
        }

    @classmethod
    def from_row(cls, row: Mapping[str, Any]) -> Self:
        """From what the store holds."""
        return cls.model_validate({"name": row["name"], "card": row["body"], **row["details"]})


class ToolItem(StoredItem):
    """A brush, a foam or another tool."""

    model_config = ConfigDict(defer_build=True)
    kind = "tool"
    name: Name
    tool: Tool
    size: Millimetres | None = None
    family: Family | None = None
    """The colours it is kept for."""
    kept_for: ToolSet | None = None
    foam_changed: date | None = None
    worn: Switch = False
    notes: Notes = ""

    def stored(self) -> dict[str, Any]:
        """As the store lays it out."""
        whole = self.model_dump(mode="json", exclude_none=True)
        columns = {key: whole.pop(key) for key in ("name", "tool")}
        return {**columns, "details": _lean(whole, ToolItem)}

    @classmethod
    def from_row(cls, row: Mapping[str, Any]) -> Self:
        """From what the store holds."""
        return cls.model_validate({"name": row["name"], "tool": row["tool"], **row["details"]})


class RangeItem(StoredItem):
    """Overrides of the craft table that hold for every ink of a range."""

    model_config = ConfigDict(defer_build=True)
    kind = "range"
    name: Name
    constants: Overrides = {}
    """Columns of the formula, such as ``lift``."""
    notes: Notes = ""

    @model_validator(mode="after")
    def _known(self) -> RangeItem:
        for column, value in self.constants.items():
            try:
                table.check_override(f"formula.{Formula.DYE}.{column}", value)
            except ConstantError as error:
                raise ValueError(str(error).replace(f"formula.{Formula.DYE}.", "")) from error
        return self


_Light = Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)]
_SeenRow = Annotated[list[_Light], Field(min_length=6, max_length=6)]


class PhoneItem(StoredItem):
    """What known swatches taught of one phone."""

    model_config = ConfigDict(defer_build=True)
    kind = "phone"
    name: Name
    seen: dict[Illuminant, Annotated[list[_SeenRow], Field(max_length=MOST_SEEN)]] = {}
    """By lamp, of each known swatch: balanced light as the phone saw it, and true light, red, green and blue."""
    curve: Annotated[list[Annotated[list[_Light], Field(min_length=3, max_length=3)]], Field(max_length=256)] = []
    """Light of the codes 0 to 255, by channel; empty where nobody knows it."""

    @model_validator(mode="after")
    def _whole(self) -> PhoneItem:
        if len(self.curve) not in (0, 256):
            raise ValueError("a tone curve has 256 rows")
        return self

    def profile(self) -> PhoneProfile:
        """For the core."""
        seen = {
            lamp: tuple(SeenSwatch((r[0], r[1], r[2]), (r[3], r[4], r[5])) for r in rows)
            for lamp, rows in self.seen.items()
        }
        return PhoneProfile(self.name, seen, ToneCurve(np.array(self.curve)) if self.curve else None)

    @classmethod
    def of_profile(cls, profile: PhoneProfile) -> PhoneItem:
        """From the core."""
        seen = {
            lamp: [[round(v, 5) for v in (*one.light, *one.true)] for one in rows]
            for lamp, rows in profile.seen.items()
        }
        curve = [] if profile.curve is None else profile.curve.table.round(6).tolist()
        return cls.model_validate({"name": profile.name, "seen": seen, "curve": curve})


AnyItem = InkItem | CardItem | ToolItem | RangeItem | PhoneItem
ITEMS: dict[str, type[AnyItem]] = {
    "ink": InkItem,
    "card": CardItem,
    "tool": ToolItem,
    "range": RangeItem,
    "phone": PhoneItem,
}


def read_item(kind: str, data: Any) -> AnyItem:
    """An item of JSON data.

    Raises
    ------
    JobError
        A field is bad; one sentence and its place.
    """
    how: Callable[[Any], AnyItem] = ITEMS[kind].model_validate
    return read_by(how, data, kind)


def _lean(details: dict[str, Any], model: type[BaseModel]) -> dict[str, Any]:
    """Without what is default anyway."""
    return {key: value for key, value in details.items() if value != model.model_fields[key].default}
