"""The words of the job and its limits: the one list, generated for the front end."""

from __future__ import annotations

from enum import StrEnum


class Formula(StrEnum):
    """What an ink is made of."""

    DYE = "dye"
    REACTIVE_DYE = "reactive_dye"
    HYBRID = "hybrid"
    FUSION = "fusion"
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


class Tool(StrEnum):
    """How ink gets onto the card."""

    BRUSH = "brush"
    FOAM = "foam"
    STAMP = "stamp"
    BRAYER = "brayer"
    PAD = "pad"
    SMOOSH = "smoosh"
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
    TYPED = "typed"
    PHOTO = "photo"
    READER = "reader"
    MEASURED = "measured"
    FITTED = "fitted"


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


class Way(StrEnum):
    """How the colour of an overlap came about."""

    SEEN_THROUGH = "seen_through"
    MIXED_WET = "mixed_wet"
    COVERED = "covered"


MAX_STACK = 60
"""Entries in one stack."""
MAX_CROSSING = 6
"""Lay-downs shown as swatches that cross."""
MAX_INKS = 24
"""Inks declared in one job."""
MAX_STASH = 500
"""Inks, and cards, a job may offer for fixes."""
MAX_JOBS = 10_000
"""Jobs in one list."""
MAX_PASSES = 200
MAX_DOSE = 20.0
MAX_DILUTION = 0.95
DEFAULT_MUD_LINE = 50
WHITE_CARD = "#f8f7f4"
"""The smooth white card that a swatch lies on unless it says otherwise."""
