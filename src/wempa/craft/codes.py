"""Codes of what Wempa tells: stable names by which programs know a reason, a note or a flag."""

from __future__ import annotations

from typing import NewType

from .words import Word


class NoteCode(Word):
    """What a note, reason or flag is about."""

    # What comes of inks that meet, and why.
    BARE = "bare"
    CHROMA_LOST = "chroma_lost"
    CARD_DULLS = "card_dulls"
    NEAR_MUD = "near_mud"
    HUES_MIXED_WET = "hues_mixed_wet"
    TOO_ALIKE = "too_alike"
    DULL_PARENT = "dull_parent"
    GROUND = "ground"
    OWNED_COLOUR = "owned_colour"
    COVERED = "covered"
    SWAMPED_BY_INK = "swamped_by_ink"
    SWAMPED_BY_CARD = "swamped_by_card"
    KEEPS_PROMISE = "keeps_promise"
    SINGLE = "single"
    SOAKS_UP = "soaks_up"
    OPPOSITES = "opposites"
    # Of the inks, the card and the prediction.
    OUTSIDE_SCREEN = "outside_screen"
    WIDE_MARGIN = "wide_margin"
    IN_PATCHES = "in_patches"
    BEYOND_SURFACE_COLOURS = "beyond_surface_colours"
    MORE_THAN_ALL = "more_than_all"
    IMPOSSIBLE_SWATCH = "impossible_swatch"
    PAD = "pad"
    # Of a layer.
    DRIES_TOO_SOON = "dries_too_soon"
    MARKS_STAY = "marks_stay"
    WET_ON_DRY = "wet_on_dry"
    NOTHING_WET = "nothing_wet"
    # Of a light.
    PARTED_BY_LIGHT = "parted_by_light"
    # Of bands and seams.
    SHORT_SEAM = "short_seam"
    BARE_GAP = "bare_gap"
    IN_PARTS = "in_parts"
    NO_ROOM = "no_room"
    DRY_BETWEEN_ROLLS = "dry_between_rolls"
    STREAKS = "streaks"
    HARD_LINE = "hard_line"
    MUDDY = "muddy"
    READS_AS_ONE = "reads_as_one"
    TOO_NARROW = "too_narrow"
    WIDENED = "widened"
    SWAMPED = "swamped"
    NOT_ITSELF = "not_itself"
    NO_NEW_COLOUR = "no_new_colour"
    # Of an evening at the table.
    WET_TOO_LATE = "wet_too_late"
    SECOND_TOOL = "second_tool"
    WEAK_PAD = "weak_pad"
    TIMES_UNKNOWN = "times_unknown"
    OTHER_TOOL = "other_tool"
    DOSE_BY_HAND = "dose_by_hand"
    TOOL_SUPPOSED = "tool_supposed"
    WRONG_SET = "wrong_set"
    WORN_TOOL = "worn_tool"
    NEW_FOAM = "new_foam"
    WASHED_BETWEEN = "washed_between"
    NOTHING_ON_IT = "nothing_on_it"
    # Of a photo.
    RAW = "raw"
    COPIED = "copied"
    NO_SHEET = "no_sheet"
    BLURRED = "blurred"
    KNOWN_PHONE = "known_phone"
    SHADOW = "shadow"
    NO_STEPS = "no_steps"
    KEPT_TONES = "kept_tones"
    GLOWS = "glows"
    CLIPPED = "clipped"
    BLOTCHY = "blotchy"
    OTHER_LIGHT = "other_light"
    LAMP_UNSURE = "lamp_unsure"
    LAMP_DOUBTED = "lamp_doubted"
    PALE_YELLOW = "pale_yellow"
    UNEVEN = "uneven"
    PHOTO_GONE = "photo_gone"
    # Of what was learned.
    TOO_FEW = "too_few"
    CONTRARY = "contrary"
    STRANGE = "strange"
    NOT_BETTER = "not_better"


class FixCode(Word):
    """What a change that helps an overlap or a seam does; its title is how it is said."""

    SWAP_ORDER = "swap_order", "Swap the order"
    OTHER_ORDER = "other_order", "The other order"
    LET_DRY = "let_dry", "Let it dry"
    INTO_THE_WET = "into_the_wet", "Into the wet"
    ONCE_MORE = "once_more", "Once more, lightly"
    LIGHTER_HAND = "lighter_hand", "Lighter hand"
    BARRIER = "barrier", "White barrier"
    STAND_IN = "stand_in", "Another ink"
    OTHER_CARD = "other_card", "Another card"
    BRIDGE = "bridge", "A bridge between"
    NARROWER_OVERLAP = "narrower_overlap", "Narrow seam or gap"
    NARROWER = "narrower", "A short seam"
    SOFTER = "softer", "Softer"
    GAP = "gap", "A gap"
    SWAP_NEIGHBOURS = "swap_neighbours", "Change places"


Caution = NewType("Caution", str)
"""The code of a treatment's caution: ``caution_`` and the treatment."""
