"""Under which light a photo is read: what it tells by itself, and what somebody says."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import pytest

from wempa.craft import constants
from wempa.craft.codes import NoteCode
from wempa.craft.stash import photo_reading
from wempa.craft.vocabulary import Illuminant
from wempa.optics import photo as optics

TABLE = constants.AS_SHIPPED
SURE = TABLE["photo.lamp_sure"]
D65, D50, A, LED = Illuminant.D65, Illuminant.D50, Illuminant.A, Illuminant.LED_B3
PHOTO: Any = SimpleNamespace(white=None, strength=None, kind=None)


def chances(**said: float) -> dict[str, float]:
    return {str(D65): 0.0, str(D50): 0.0, str(A): 0.0, str(LED): 0.0} | {
        {"day": str(D65), "soft": str(D50), "warm": str(A), "led": str(LED)}[name]: value
        for name, value in said.items()
    }


@pytest.mark.parametrize(
    ("seen", "said", "read_under", "code"),
    [
        # What somebody says stands, also where the photo leans to another light.
        ({"warm": 0.5, "led": 0.3, "day": 0.2}, LED, LED, None),
        ({"warm": 0.5, "led": 0.3, "day": 0.2}, D65, D65, None),
        # A photo that is sure of another light is doubted aloud, and read as somebody says all the same.
        ({"warm": 1.0}, LED, LED, NoteCode.LAMP_DOUBTED),
        ({"warm": 1.0}, A, A, None),
        # Both daylights are one light to a photo.
        ({"soft": 1.0}, D65, D65, None),
        ({"day": 1.0}, D50, D50, None),
        # Where nobody says anything, the likeliest; a lamp that is not sure is told.
        ({"warm": 1.0}, None, A, None),
        ({"warm": SURE - 0.01, "led": 1.01 - SURE}, None, A, NoteCode.LAMP_UNSURE),
        ({"warm": SURE, "led": 1 - SURE}, None, A, None),
        ({"day": 0.3, "soft": 0.3, "warm": 0.4}, None, D65, None),
    ],
)
def test_the_light_that_a_photo_is_read_under(
    monkeypatch: pytest.MonkeyPatch,
    seen: dict[str, float],
    said: Illuminant | None,
    read_under: Illuminant,
    code: NoteCode | None,
) -> None:
    monkeypatch.setattr(optics, "likely_lamp", lambda *_: chances(**seen))
    lamp, notes = photo_reading._lamp_of(PHOTO, [], said, TABLE)
    assert (lamp, [note.code for note in notes]) == (read_under, [code] if code else [])
