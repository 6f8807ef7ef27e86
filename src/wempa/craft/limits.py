"""Sizes, counts and defaults that bound a job: the one list, generated for the front end."""

from __future__ import annotations

MAX_STACK = 60
"""Entries in one stack."""


MAX_CROSSING = 6
"""Lay-downs shown as swatches that cross."""


LEAST_PASSES = 0.0001
"""Passes of a tool; what is given as less counts as so much, for nobody could tell it from none."""


DOSE_STEPS = 12
"""Steps of a dose strip, from a breath to saturated."""


MAX_INKS = 24
"""Inks declared in one job."""


MAX_OVERRIDES = 1000
"""Rows of the craft table that one job, ink, card or range may override; there are fewer."""


MAX_STASH = 500
"""Inks, and cards, a job may offer for fixes."""


MAX_JOBS = 10_000
"""Jobs in one list."""


MAX_OBSERVATIONS = 1000
"""Logged swatches that one fit learns from."""


MAX_HELD_OUT = 2000
"""Swatches that a fit is asked about."""


MAX_CHART = 250
"""Inks of one chart."""


MAX_MATCH = 250
"""Inks that a match looks among."""


MAX_PRINTED = 60
"""Inks of a chart that is printed at real size."""


MOST_DIFFERENT = 24
"""Mixes of a chart that are told as the most different ones."""


MAX_ITEMS = 2000
"""Inks, cards or tools in one workspace."""


MAX_NAME_LIST = 100_000
"""Letters of a list of names that is pasted."""


MAX_UPLOAD = 25_000_000
"""Bytes of a photo."""


MAX_PHOTOS = 40
"""Photos kept in one workspace, of those that nothing was read off."""


MAX_REFERRED = 80
"""Photos kept beyond that, because swatches of the book were read off them."""


JOURNAL_DAYS = 365
"""Days for which the journal of changes is kept."""


JOURNAL_MEGABYTES = 200
"""Megabytes that the journal of changes may hold."""


SMALL_PHOTO = 480
"""Pixels across up to which a photo is a picture of one swatch, and kept as long as that."""


MAX_SMALL_PHOTOS = 8000
"""Such pictures kept in one workspace."""


MAX_SIGHTINGS = 12
"""Looks at one swatch."""


MAX_TAGS = 20
"""Tags of one swatch."""


MAX_DEVICES = 12
"""Tablets and phones paired with one workspace."""


MAX_COPIES = 10
"""Copies of a workspace that are kept beside one of every month."""


MAX_PIXELS = 50_000_000
"""Pixels of a photo."""


MAX_IMPORT = 10_000_000
"""Bytes of a file of inks or measurements, or of a job."""


MAX_WORKSPACE = 50_000_000
MAX_PALETTE = 1_000_000
"""Bytes of a workspace as JSON, without photos."""


MAX_ARCHIVE = 250_000_000
"""Bytes of a workspace file with its photos, packed or not."""


MAX_LINES = 200_000
"""Lines of a file of inks or measurements, empty ones too."""


MAX_ROWS = 5000
"""Rows of a file of inks or measurements."""


MAX_COLUMNS = 500
"""Columns of such a file."""


MAX_DIGITS = 400
"""Digits of a whole number in a file: more than the largest float has."""


MAX_NUMBER = 80
"""Characters of a number in a table."""


MAX_PASSES = 200


MAX_DOSE = 20.0


MAX_BANDS = 40
"""Bands of one panel."""


MAX_TOPS = 4
"""Layers on top of a panel's bands."""


MAX_SIDE_MM = 1000
"""Longest side of a panel or a sheet of card, in mm."""


MIN_SIDE_MM = 10
"""Shortest side of a panel, of what is inked of it and of a sheet, in mm: less is not held while it is inked."""


MIN_BAND_MM = 1.0
"""Narrowest band, in mm: less cannot be laid, not even along a torn edge."""


MAX_DRAWN_PIECES = 200
"""Panels drawn on a sheet that is cut; of more of them the first so many."""


MIN_STEP_MM = 2
"""Motifs of a stencil, stamp or drops stand at least so far apart, in mm."""


MAX_PATH = 20_000
"""Characters of an SVG path."""


PANEL_SIZES: dict[str, tuple[float, float]] = {
    "4 1/4 × 5 1/2 in": (107.95, 139.7),
    "5 × 7 in": (127.0, 177.8),
    "5 × 5 in": (127.0, 127.0),
    "3 1/2 × 8 1/2 in": (88.9, 215.9),
    "3 × 6 in": (76.2, 152.4),
    "A6": (105.0, 148.0),
    "DL": (99.0, 210.0),
}
"""Common card fronts, width and height in mm, standing."""


SHEET_SIZES: dict[str, tuple[float, float]] = {
    "A4": (210.0, 297.0),
    "8 1/2 × 11 in": (215.9, 279.4),
    "12 × 12 in": (304.8, 304.8),
    "A3": (297.0, 420.0),
}
"""Common sheets of card, in mm."""


MAX_DILUTION = 0.95


MAX_PIECES = 40
"""Panels, overlaps and squares of one evening at the table."""


MAX_PLAN = 4_000_000
"""Characters of one planned evening."""


MAX_MARKS = 10_000
"""Steps ticked off in one evening."""


DEFAULT_MUD_LINE = 50


WHITE_CARD = "#f8f7f4"
"""The smooth white card that a swatch lies on unless it says otherwise."""
FIRST_BANDS = 3
"""Inks that a new panel begins with."""
FIRST_LAYERS = 2
"""Inks that cross on a new overlap."""


MAX_CHOICES = 200
"""Overlaps, and panels, that are offered to be brought to the table: the newest."""

INCH_MM = 25.4

# Rulers have sixteenths.
INCH_PARTS = 16
