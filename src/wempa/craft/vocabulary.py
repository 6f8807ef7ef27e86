"""The words of the job: the one list of each, generated for the front end."""

from __future__ import annotations

from .codes import FixCode as FixCode
from .codes import NoteCode as NoteCode
from .formulas import Formula as Formula
from .formulas import ToolSet as ToolSet
from .layouts import BandLine as BandLine
from .layouts import Layout as Layout
from .layouts import Meeting as Meeting
from .tools import Tool as Tool
from .treatments import Treatment as Treatment
from .words import Word


class Surface(Word):
    """Presets of a card's texture and absorbency."""

    GLOSSY = "glossy"
    COATED = "coated"
    SMOOTH = "smooth"
    TEXTURED = "textured"
    WATERCOLOUR = "watercolour"
    ABSORBENT = "absorbent"


class Load(Word):
    """How much ink the tool carries."""

    BLOTTED = "blotted"
    LIGHT = "light"
    NORMAL = "normal"
    JUICY = "juicy"


class Over(Word):
    """What a lay-down comes over: something dried, or still wet."""

    DRY = "dry"
    WET = "wet"


class Look(Word):
    """The look of the inked card: dried, or still wet."""

    DRY = "dry"
    WET = "wet"


class Known(Word):
    """How a colour is known, which decides how far it can be trusted."""

    LID = "lid", "the colour of the lid"
    EYE = "eye", "matched by eye"
    TYPED = "typed", "typed in"
    PHOTO = "photo", "read off a photo"
    READER = "reader", "a hand-held reader"
    MEASURED = "measured", "a measured spectrum"
    FITTED = "fitted", "fitted to swatches"


class PadState(Word):
    """How much ink a pad gives: just re-inked, as usual, drying out, or all but dry."""

    FRESH = "fresh", "freshly re-inked"
    GOOD = "good", "in good order"
    DRYING = "drying", "drying out"
    DRY = "dry", "all but dry"


class PadKind(Word):
    """What the pad is made of."""

    FELT = "felt", "felt pad"
    FOAM = "foam", "foam pad"


class Standing(Word):
    """What an ink of the book is to its owner."""

    OWNED = "owned"
    WANTED = "wanted"
    REFERENCE = "reference", "only a reference"
    USED_UP = "used_up"


class Place(Word):
    """An ink's place in its set of shades."""

    LIGHT = "light"
    MIDDLE = "middle"
    DARK = "dark"


class Family(Word):
    """Families of hue."""

    RED = "red", "reds"
    ORANGE = "orange", "oranges"
    YELLOW = "yellow", "yellows"
    GREEN = "green", "greens"
    BLUE = "blue", "blues"
    PURPLE = "purple", "purples"
    BROWN = "brown", "browns"
    GREY = "grey", "greys"
    WHITE = "white", "whites"
    BLACK = "black", "blacks"


class EyeFamily(Word):
    """Families of colours as somebody looks for a colour by eye."""

    PINK = "pink", "pinks"
    RED = "red", "reds"
    ORANGE = "orange", "oranges and corals"
    YELLOW = "yellow", "yellows"
    GREEN = "green", "greens"
    TEAL = "teal", "teals and aquas"
    BLUE = "blue", "blues"
    PURPLE = "purple", "purples"
    BROWN = "brown", "browns"
    WHITE = "white", "whites and creams"
    GREY = "grey", "greys"
    BLACK = "black", "blacks"


class EyeLight(Word):
    """The light on a swatch that is held beside the screen."""

    DAYLIGHT = "daylight"
    LED = "led", "an LED lamp"
    WARM = "warm", "a warm lamp"


class Doubt(Word):
    """What is asked about an ink before it goes onto the shelf."""

    TWICE = "twice", "is in the list twice"
    OWNED = "owned", "is on the shelf already"
    ALIKE = "alike", "looks like another"
    FORMULA = "formula", "has no known formula"
    COLOUR = "colour", "is only roughly this colour"


class Basis(Word):
    """What a weight in pounds counts: 500 sheets of the basic size of its kind."""

    COVER = "cover"
    TEXT = "text"
    INDEX = "index"
    BRISTOL = "bristol"


class HomeTestSign(Word):
    """What the home test for an unknown formula looks at."""

    OPAQUE = "opaque"
    BLOTCHY = "blotchy"
    OVER_BLACK = "over_black"
    LIFTS = "lifts"
    STAYS_WET = "stays_wet"


class Page(Word):
    """Paper sizes that sheets are printed on."""

    A4 = "a4"
    LETTER = "letter"


class Illuminant(Word):
    """Viewing light: daylight, horizon daylight, warm room lamp, LED."""

    D65 = "D65", "Daylight", "daylight"
    D50 = "D50", "Soft daylight", "soft daylight"
    A = "A", "Warm room lamp", "a warm room lamp"
    LED_B3 = "LED-B3", "LED lamp", "an LED lamp"


class VerdictKind(Word):
    """The verdict on an overlap."""

    CLEAN = "clean", "Clean"
    MUTED = "muted", "Muted"
    MUDDY = "muddy", "Muddy"
    SWAMPED = "swamped", "Swamped"
    NO_NEW_COLOUR = "no_new_colour", "No new colour"


class Towards(Word):
    """Which way a colour is nudged."""

    WARMER = "warmer"
    COOLER = "cooler"
    PINKER = "pinker"
    GREENER = "greener"
    LIGHTER = "lighter"
    DARKER = "darker"
    CLEANER = "cleaner"


class Board(Word):
    """What stands beside a verdict: what would save it, nudges, or the colour itself."""

    HELP = "help"
    NUDGE = "nudge"
    COLOUR = "colour"


class Preset(Word):
    """Ready-made ways of putting inks together."""

    STAMPED_OVER = "stamped_over", "Stamped over"
    BLENDED_INTO = "blended_into", "Blended into one another"
    COLOURED_CARD = "coloured_card", "On coloured card"
    LAYERED_DRIED = "layered_dried", "Layered and dried"
    DIPPED_AGAIN = "dipped_again", "Dipped again and again"
    WHITE_BARRIER = "white_barrier", "White barrier below"
    FORMULAS = "formulas", "One colour in several formulas"


class ChartOrder(Word):
    """In which order the inks of a chart stand."""

    HUE = "hue", "by hue"
    VERDICT = "verdict", "cleanest first"
    NEWNESS = "newness", "newest first"


class Blend(Word):
    """What a set of inks in good company is wanted for."""

    FAMILY = "family", "One family"
    RAINBOW = "rainbow", "Rainbow"
    MANY = "many", "Few inks, many colours"
    BRIDGE = "bridge", "Opposites with a bridge"


class School(Word):
    """In which order the inks of a panel are laid."""

    LIGHTEST_FIRST = "lightest_first", "Lightest first"
    DARKEST_FIRST = "darkest_first", "Darkest first"
    MIDDLE_FIRST = "middle_first", "Middle first"
    AS_LISTED = "as_listed", "As the bands stand"


class Hand(Word):
    """How deep an ink is built up where nobody says its passes."""

    LIGHT = "light", "a light hand"
    USUAL = "usual", "the usual hand"
    DEEP = "deep", "built up deep"


class BandShape(Word):
    """How the depth of a band changes over its own width; where it meets a neighbour it fades into that in any case."""

    EVEN = "even", "even"
    DEEPER = "deeper", "deeper towards the edge"
    FADING = "fading", "fades to bare card"
    CENTRE = "centre", "begun in its centre"


class PanelDo(Word):
    """What one does to a panel: put all of it as it becomes, or change its bands."""

    SET = "set"
    LAY = "lay"
    TAKE_OUT = "take_out"
    MOVE_BAND = "move_band"
    BRING_BACK = "bring_back"
    EVEN_OUT = "even_out"
    MOVE_BOUNDARY = "move_boundary"


class StackDo(Word):
    """What one does to a stack."""

    LAY = "lay"
    CHANGE = "change"
    TREAT = "treat"
    TAKE_OUT = "take_out"
    MOVE = "move"
    MIX = "mix"
    UNMIX = "unmix"
    SWAP = "swap"
    APPLY = "apply"
    AMOUNTS = "amounts"


class FieldZone(Word):
    """What the mixes in a part of a field of amounts are like."""

    LOVELY = "lovely"
    DUSKY = "dusky"
    MUD = "mud"


class Upper(Word):
    """Which of two neighbouring inks comes over the other: as the order of laying has it, or as said."""

    ORDER = "order"
    FIRST = "first"
    SECOND = "second"


class Edge(Word):
    """What a ribbon is inked along."""

    CUT = "cut", "a cut edge"
    TORN = "torn", "a torn edge"


class Topping(Word):
    """What comes on top of a panel's bands, all over or through a stencil."""

    INK = "ink", "Ink through a stencil"
    WATER = "water", "Water"
    GLAZE = "glaze", "Clear topcoat"


class Motif(Word):
    """Openings of a stencil, marks of a stamp, or drops."""

    ALL = "all", "all over"
    DOTS = "dots"
    LINES = "lines", "slanting lines"
    HEARTS = "hearts"
    DROPS = "drops", "scattered drops"
    OWN = "own", "your own shape"


class Opening(Word):
    """Shapes that a panel is cut to, or seen through."""

    RECTANGLE = "rectangle", "Rectangle"
    CIRCLE = "circle", "Circle"
    HEART = "heart", "Heart"
    BANNER = "banner", "Banner"
    OWN = "own", "Your own shape"


class Frame(Word):
    """What stands around the inked area: nothing, bare card that was masked off, or a mat of another card."""

    NONE = "none", "nothing"
    BORDER = "border", "a bare border"
    MAT = "mat", "a mat of another card"


class Way(Word):
    """How the colour of an overlap came about."""

    SEEN_THROUGH = "seen_through", "seen through each other"
    MIXED_WET = "mixed_wet"
    COVERED = "covered", "covered by the upper ink"


class OwnVerdict(Word):
    """What somebody thinks of a swatch of theirs."""

    LOVELY = "lovely"
    FINE = "fine"
    DULL = "dull"
    MUD = "mud"


class BookOrder(Word):
    """How the swatches of the book are ordered or put together."""

    DATE = "date", "newest first"
    INK = "ink", "by ink"
    CARD = "card", "by card"
    COLOUR = "colour", "by colour"
    VERDICT = "verdict", "by verdict"
    NAME = "name", "by name"
    OFF = "off", "farthest off first"


class ImportStatus(Word):
    """What an item of a file is beside what is here already."""

    NEW = "new"
    CHANGED = "changed", "different"
    CONFLICT = "conflict", "changed here since"
    SAME = "same", "the same already"
    BAD = "bad", "cannot be read"


class CopyReason(Word):
    """Why a copy of the workspace was made."""

    START = "start", "when Wempa started"
    DAILY = "daily", "once a day"
    ASKED = "asked", "because you asked"
    BEFORE = "before", "before a copy was put back"


class Do(Word):
    """What is done at one step of an evening at the table."""

    CUT = "cut", "Cut"
    READY = "ready", "Make ready"
    OPEN_PADS = "open_pads", "Open the pads"
    TRY_SMALL = "try_small", "Try it small"
    DAB = "dab", "Dab off"
    MIX = "mix", "Mix"
    LOAD = "load", "Load"
    TURN = "turn", "Turn the card"
    STENCIL = "stencil", "Lay the stencil"
    LAY = "lay", "Lay"
    BLEND = "blend", "Blend"
    BACK = "back", "Go back"
    WIPE = "wipe", "Wipe"
    WASH = "wash", "Wash"
    CLEAN_MAT = "clean_mat", "Clean the mat"
    DRY = "dry", "Let dry"
    TEST = "test", "Test"
    TREAT = "treat", "Treat"
    LABEL = "label", "Label"
    CLOSE_PADS = "close_pads", "Close the pads"
    LOG = "log", "Log it"


class DryingSchool(Word):
    """How what was laid is dried before the next layer."""

    AIR = "air", "in the air"
    HEAT = "heat", "heat-set"


class Cleaning(Word):
    """Whether brush and mat are cleaned between two inks."""

    ALWAYS = "always", "always"
    CARRY_OVER = "carry_over", "let it carry over in rainbow order"


class SharedBrush(Word):
    """Whether one brush serves reactive and plain dyes."""

    WIPED = "wiped", "one brush, wiped"
    SEPARATE = "separate", "a brush of its own"


class Together(Word):
    """Whether a panel is finished before the next, or an ink is laid on every panel before the next ink."""

    AT_ONCE = "at_once", "a panel at a time"
    INK_BY_INK = "ink_by_ink", "one ink on all panels"


class HandSide(Word):
    """The hand that holds the tool."""

    RIGHT = "right", "right hand"
    LEFT = "left", "left hand"


class PieceKind(Word):
    """What an evening at the table is about."""

    PANEL = "panel"
    OVERLAP = "overlap"
    SQUARES = "squares"


class Fault(Word):
    """What somebody sees before them and wonders about."""

    PATCHY = "patchy", "Patchy, still wet"
    STREAKS = "streaks", "Streaks"
    FOAM_EDGE = "foam_edge", "Foam's edge"
    WHITE_SPOT = "white_spot", "A white spot"
    LINE = "line", "A line"
    MUD = "mud", "Mud at a seam"
    TOO_DARK = "too_dark", "Too dark"
    TOO_PALE = "too_pale", "Too pale"
    OFF_HUE = "off_hue", "Too pink, too green"
