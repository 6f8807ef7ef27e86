"""The words of the job and its limits: the one list, generated for the front end."""

from __future__ import annotations

from enum import StrEnum
from typing import Self

OLD_WORDS = {"fusion": "reactive_pigment", "smoosh": "dip"}
"""Words of earlier jobs and files, and what they are called now: read for ever, never written."""


class _Renamed(StrEnum):
    """Words of which some had another name once."""

    @classmethod
    def _missing_(cls, value: object) -> Self | None:
        now = OLD_WORDS.get(value) if isinstance(value, str) else None
        return None if now is None or now not in {str(member) for member in cls} else cls(now)


class Formula(_Renamed):
    """What an ink is made of."""

    DYE = "dye"
    REACTIVE_DYE = "reactive_dye"
    HYBRID = "hybrid"
    REACTIVE_PIGMENT = "reactive_pigment"
    PIGMENT = "pigment"
    FLUORESCENT = "fluorescent"
    UNKNOWN = "unknown"


class Surface(StrEnum):
    """Presets of a card's texture and absorbency."""

    GLOSSY = "glossy"
    COATED = "coated"
    SMOOTH = "smooth"
    TEXTURED = "textured"
    WATERCOLOUR = "watercolour"
    ABSORBENT = "absorbent"


class Tool(_Renamed):
    """How ink gets onto the card."""

    BRUSH = "brush"
    FOAM = "foam"
    STAMP = "stamp"
    BRAYER = "brayer"
    PAD = "pad"
    DIP = "dip"
    PAINTBRUSH = "paintbrush"


class Load(StrEnum):
    """How much ink the tool carries."""

    BLOTTED = "blotted"
    LIGHT = "light"
    NORMAL = "normal"
    JUICY = "juicy"


class Over(StrEnum):
    """What a lay-down comes over: something dried, or still wet."""

    DRY = "dry"
    WET = "wet"


class Treatment(StrEnum):
    """What is done to everything below it."""

    SPRITZ = "spritz"
    HEAT = "heat"
    GLAZE = "glaze"
    BLOT = "blot"


class Look(StrEnum):
    """The look of the inked card: dried, or still wet."""

    DRY = "dry"
    WET = "wet"


class Known(StrEnum):
    """How a colour is known, which decides how far it can be trusted."""

    LID = "lid"
    EYE = "eye"
    TYPED = "typed"
    PHOTO = "photo"
    READER = "reader"
    MEASURED = "measured"
    FITTED = "fitted"


class PadState(StrEnum):
    """How much ink a pad gives: just re-inked, as usual, drying out, or all but dry."""

    FRESH = "fresh"
    GOOD = "good"
    DRYING = "drying"
    DRY = "dry"


class PadKind(StrEnum):
    """What the pad is made of."""

    FELT = "felt"
    FOAM = "foam"


class Standing(StrEnum):
    """What an ink of the book is to its owner."""

    OWNED = "owned"
    WANTED = "wanted"
    REFERENCE = "reference"
    USED_UP = "used_up"


class Place(StrEnum):
    """An ink's place in its set of shades."""

    LIGHT = "light"
    MIDDLE = "middle"
    DARK = "dark"


class ToolSet(StrEnum):
    """Which inks a brush or foam is kept for."""

    DYE = "dye"
    HYBRID = "hybrid"
    PIGMENT = "pigment"
    WHITE = "white"


class Family(StrEnum):
    """Families of hue."""

    RED = "red"
    ORANGE = "orange"
    YELLOW = "yellow"
    GREEN = "green"
    BLUE = "blue"
    PURPLE = "purple"
    BROWN = "brown"
    GREY = "grey"
    WHITE = "white"
    BLACK = "black"


class Basis(StrEnum):
    """What a weight in pounds counts: 500 sheets of the basic size of its kind."""

    COVER = "cover"
    TEXT = "text"
    INDEX = "index"
    BRISTOL = "bristol"


class Observation(StrEnum):
    """What the home test for an unknown formula looks at."""

    OPAQUE = "opaque"
    BLOTCHY = "blotchy"
    OVER_BLACK = "over_black"
    LIFTS = "lifts"
    STAYS_WET = "stays_wet"


class Page(StrEnum):
    """Paper sizes that sheets are printed on."""

    A4 = "a4"
    LETTER = "letter"


class Illuminant(StrEnum):
    """Viewing light: daylight, horizon daylight, warm room lamp, LED."""

    D65 = "D65"
    D50 = "D50"
    A = "A"
    LED_B3 = "LED-B3"


class VerdictKind(StrEnum):
    """The verdict on an overlap."""

    CLEAN = "clean"
    MUTED = "muted"
    MUDDY = "muddy"
    SWAMPED = "swamped"
    NO_NEW_COLOUR = "no_new_colour"


class Towards(StrEnum):
    """Which way a colour is nudged."""

    WARMER = "warmer"
    COOLER = "cooler"
    PINKER = "pinker"
    GREENER = "greener"
    LIGHTER = "lighter"
    DARKER = "darker"
    CLEANER = "cleaner"


class Board(StrEnum):
    """What stands beside a verdict: what would save it, nudges, or the colour itself."""

    HELP = "help"
    NUDGE = "nudge"
    COLOUR = "colour"


class Preset(StrEnum):
    """Ready-made ways of putting inks together."""

    STAMPED_OVER = "stamped_over"
    BLENDED_INTO = "blended_into"
    COLOURED_CARD = "coloured_card"
    LAYERED_DRIED = "layered_dried"
    DIPPED_AGAIN = "dipped_again"
    WHITE_BARRIER = "white_barrier"
    FORMULAS = "formulas"


class Blend(StrEnum):
    """What a set of inks in good company is wanted for."""

    FAMILY = "family"
    RAINBOW = "rainbow"
    MANY = "many"
    BRIDGE = "bridge"


class Layout(StrEnum):
    """How the bands of a panel lie.

    Side by side and blended, apart as stripes, rings, a fan round a point, in from the
    edges, ribbons along a torn or cut edge, side by side on one roller.
    """

    STRAIGHT = "straight"
    STRIPES = "stripes"
    RINGS = "rings"
    FAN = "fan"
    EDGE = "edge"
    RIBBONS = "ribbons"
    ROLLER = "roller"


class School(StrEnum):
    """In which order the inks of a panel are laid."""

    LIGHTEST_FIRST = "lightest_first"
    DARKEST_FIRST = "darkest_first"
    MIDDLE_FIRST = "middle_first"
    AS_LISTED = "as_listed"


class Hand(StrEnum):
    """How deep an ink is built up where nobody says its passes."""

    LIGHT = "light"
    USUAL = "usual"
    DEEP = "deep"


class Upper(StrEnum):
    """Which of two neighbouring inks comes over the other: as the order of laying has it, or as said."""

    ORDER = "order"
    FIRST = "first"
    SECOND = "second"


class Edge(StrEnum):
    """What a ribbon is inked along."""

    CUT = "cut"
    TORN = "torn"


class Topping(StrEnum):
    """What comes on top of a panel's bands, all over or through a stencil."""

    INK = "ink"
    WATER = "water"
    GLAZE = "glaze"


class Motif(StrEnum):
    """Openings of a stencil, marks of a stamp, or drops."""

    ALL = "all"
    DOTS = "dots"
    LINES = "lines"
    HEARTS = "hearts"
    DROPS = "drops"
    OWN = "own"


class Opening(StrEnum):
    """Shapes that a panel is cut to, or seen through."""

    RECTANGLE = "rectangle"
    CIRCLE = "circle"
    HEART = "heart"
    BANNER = "banner"
    OWN = "own"


class Frame(StrEnum):
    """What stands around the inked area: nothing, bare card that was masked off, or a mat of another card."""

    NONE = "none"
    BORDER = "border"
    MAT = "mat"


class Way(StrEnum):
    """How the colour of an overlap came about."""

    SEEN_THROUGH = "seen_through"
    MIXED_WET = "mixed_wet"
    COVERED = "covered"


def current_name(name: str) -> str:
    """The name of a row of the craft table, of which a part may be an old word."""
    return ".".join(OLD_WORDS.get(part, part) for part in name.split("."))
