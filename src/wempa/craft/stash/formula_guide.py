"""The formula guide: how each formula behaves, said from the craft table's numbers.

Change a number and the sentence changes with it; an owner's overrides for a range
are set beside the defaults.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from wempa.craft.constants import TABLE, Overrides, values
from wempa.craft.vocabulary import Formula, Surface


@dataclass(frozen=True, slots=True)
class GuideLine:
    """One aspect: a sentence, why, and the numbers it was said from."""

    aspect: str
    text: str
    numbers: tuple[tuple[str, float, str], ...]
    """Name of the table's column, value, unit."""


@dataclass(frozen=True, slots=True)
class GuidePage:
    """Everything about one formula."""

    formula: Formula
    lines: tuple[GuideLine, ...]


def guide_page(formula: Formula, rows: Overrides, own: Overrides = ()) -> GuidePage:
    """The guide to a formula by the table with `rows`; `own` overrides its columns (``lift``, ``hiding``, …)."""
    table = values(tuple({**dict(rows), **{f"formula.{formula}.{column}": value for column, value in own}}.items()))

    def at(column: str) -> float:
        return table[f"formula.{formula}.{column}"]

    said = (
        ("Blends", _blends(at("open_time"), at("film_share"), table), ("open_time", "film_share")),
        ("Stamps", _stamps(at("habit"), at("film_share"), at("says_blotchy"), table), ("habit",)),
        ("Embosses", _embosses(at("open_time"), table), ("open_time",)),
        ("Dries", _dries(at("dry_time"), at("heat_paling"), at("wet_scatter"), table), ("dry_time", "heat_paling")),
        ("Covers", _covers(at("hiding"), table), ("hiding",)),
        ("Water", _water(at("lift"), at("milk"), table), ("lift", "milk")),
        ("Glaze", _glaze(at("glaze_scatter"), at("hiding"), table), ("glaze_scatter",)),
        ("Happy on", _surfaces(at("film_share"), table), ("film_share",)),
        ("Tools", _tools(at("film_share"), at("strength"), table), ("film_share", "strength")),
        ("Keep apart", _apart(formula, at("lift"), at("film_share"), table), ()),
    )
    return GuidePage(
        formula,
        tuple(
            GuideLine(
                aspect,
                text,
                tuple((column, at(column), TABLE[f"formula.{formula}.{column}"].unit) for column in columns),
            )
            for aspect, text, columns in said
        ),
    )


def duration(seconds: float) -> str:
    """A time in words: seconds up to a minute and a half, then minutes, then hours."""
    if seconds < 90:
        return f"{seconds:.0f} s"
    if seconds < 5400:
        return f"{seconds / 60:.0f} min"
    return f"{seconds / 3600:.1f} h"


def _blends(open_time: float, film: float, table: Mapping[str, float]) -> str:
    stays = f"It stays open for about {duration(open_time)}"
    if open_time < table["guide.open_briefly"]:
        return f"{stays}: work two neighbours at once, or let one dry and see it through the other."
    mixes = (
        "mixes with what comes next into one new colour"
        if film > table["guide.mixes"]
        else "partly mixes with what comes next"
    )
    return f"{stays} and {mixes}; let it dry to keep the colours apart."


def _stamps(habit: float, film: float, blotchy: float, table: Mapping[str, float]) -> str:
    solid = "prints solids evenly" if blotchy < table["guide.even"] else "may pool or print solids blotchy"
    if film >= table["guide.on_top"]:
        return f"Crisp, and it {solid}; it lies on top, so give it time before you touch it."
    rough = " On rough card it leaves more bare specks." if habit >= table["guide.speckles"] else ""
    return f"It {solid}.{rough} A stamped print is darker than a blend of the same pad."


def _embosses(open_time: float, table: Mapping[str, float]) -> str:
    if open_time >= table["guide.open_long"]:
        return "It stays wet long enough to take embossing powder without hurry."
    if open_time >= table["guide.open_quick"]:
        return "It takes embossing powder if you are quick; a juicy pad helps."
    return "Only a juicy impression stays wet long enough; test that a panel is dry before embossing over it."


def _dries(dry_time: float, paling: float, wet_scatter: float, table: Mapping[str, float]) -> str:
    text = f"Ready for the next layer after about {duration(60 * dry_time)} on smooth card, longer with more ink"
    if dry_time >= table["guide.dries_long"]:
        text += " and much longer on coated card"
    text += ". On drying it gets lighter" + (" and turns cloudy" if wet_scatter < table["guide.cloudy"] else "")
    return text + (
        f"; a heat tool costs up to {100 * paling:.0f} % of the colour." if paling >= table["guide.pales"] else "."
    )


def _covers(hiding: float, table: Mapping[str, float]) -> str:
    if hiding < table["guide.transparent"]:
        return "Transparent: what lies below shows through, the card's own colour mixes in, and over black it vanishes."
    white = (
        " A white one laid thinly under other inks is a barrier against coloured card."
        if hiding > table["guide.barrier"]
        else ""
    )
    if hiding < table["guide.covers"]:
        return "Half covering: a light one still shows over black, and what lies below greys it." + white
    return "It covers most of what lies below." + white


def _water(lift: float, milk: float, table: Mapping[str, float]) -> str:
    if lift < table["guide.lifts"]:
        return "Water hardly moves it once it is dry."
    how = "almost to white" if lift > table["guide.lifts_all"] else "a little"
    if table["guide.lifts_clearly"] < lift <= table["guide.lifts_all"]:
        how = "clearly"
    milky = " and leaves it milky" if milk > table["guide.milky"] else ""
    return f"A drop of water lifts it {how}{milky}; keep water-based glue and gel pens away from it."


def _glaze(scatter: float, hiding: float, table: Mapping[str, float]) -> str:
    if hiding < table["guide.transparent"]:
        return "A clear topcoat makes it a little deeper."
    if scatter < table["guide.chalk"]:
        return "A clear topcoat takes the chalk away: deeper, more vivid, and colours hidden below come up."
    return "A clear topcoat makes it deeper; it goes on covering."


def _surfaces(film: float, table: Mapping[str, float]) -> str:
    if film >= table["guide.on_top"]:
        return "Any card that lets it dry; on coated and glossy card it takes far longer."
    coated = table[f"surface.{Surface.COATED}.absorbency"]
    if film > 0:
        return "Smooth, absorbent and textured card; on gloss its film builds up layer by layer as each dries."
    held = (
        "hardly gets darker with a second layer"
        if coated < table["guide.holds_little"]
        else "takes some more with a second layer"
    )
    return f"Smooth and absorbent card, which gets deeper with every layer; on coated card it {held}."


def _tools(film: float, strength: float, table: Mapping[str, float]) -> str:
    tool = "Foam suits it" if film >= table["guide.suits_foam"] else "A soft brush suits it"
    hand = (
        " It comes on strong, so begin with a light hand."
        if strength > table["guide.strong"]
        else " Build the depth up."
    )
    return f"{tool}; stamps, brayer and the pad itself work too.{hand}"


def _apart(formula: Formula, lift: float, film: float, table: Mapping[str, float]) -> str:
    if film >= table["guide.on_top"]:
        return "Brushes and foams of its own, and one more set for white: its film sticks and greys dyes."
    if film > 0:
        return "Brushes and foams apart from those for plain dyes: the pigment in it clouds them."
    if formula is Formula.FLUORESCENT:
        return "Brushes that no other ink has touched: a trace of grey puts the glow out."
    if lift > table["guide.wipes"]:
        return "Brushes may be shared with plain dyes if they are wiped; keep wet hands and spray bottles away."
    return "Brushes may be shared among dyes if they are wiped; never with pigments. Light before dark."
