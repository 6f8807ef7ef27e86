"""The faces of what is printed: those of the pages, and another family for the letters that they lack.

Cut by ``tools/make_fonts.py``; embedded in every PDF (only the letters that stand in it) and in every SVG.
"""

from __future__ import annotations

import unicodedata
from base64 import b64encode
from functools import cache
from importlib.resources import files
from threading import Lock
from typing import NamedTuple

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

TEXT, BOLD, NAMES = "Wempa Text", "Wempa Bold", "Wempa Names"
"""What one reads, what stands out in it, and headings and names of colours."""


class _Face(NamedTuple):
    file: str
    instead: str | None
    """The face that has what this one lacks."""


_OTHER, _OTHER_BOLD = "Wempa Other", "Wempa Other Bold"
_FACES: dict[str, _Face] = {
    TEXT: _Face("text.ttf", _OTHER),
    BOLD: _Face("bold.ttf", _OTHER_BOLD),
    NAMES: _Face("names.ttf", _OTHER_BOLD),
    _OTHER: _Face("other.ttf", None),
    _OTHER_BOLD: _Face("other_bold.ttf", None),
}
_LOADING = Lock()
# Signs that none of the faces has are drawn as this one, which all have: an empty box says more than nothing.
_BOX = "\N{WHITE SQUARE}"


def _bytes_of(face: str) -> bytes:
    return files("wempa.formats").joinpath(f"data/{_FACES[face].file}").read_bytes()


@cache
def _letters(face: str) -> frozenset[int]:
    """Code points that a face has; it is known to the PDF library from then on."""
    with _LOADING:
        font = TTFont(face, str(files("wempa.formats").joinpath(f"data/{_FACES[face].file}")))
        pdfmetrics.registerFont(font)
        return frozenset(font.face.charToGlyph)


def runs(text: str, face: str) -> list[tuple[str, str]]:
    """A line as pieces, each with the face that has its letters.

    Letters and their marks are put together first. What no face has is taken apart (a ligature, a wide letter),
    and drawn as an empty box where that does not help.
    """
    pieces: list[tuple[str, str]] = []
    for letter in _drawable(text, face):
        of = face if ord(letter) in _letters(face) else _FACES[face].instead or face
        if pieces and pieces[-1][1] == of:
            pieces[-1] = (pieces[-1][0] + letter, of)
        else:
            pieces.append((letter, of))
    return pieces


def _drawable(text: str, face: str) -> str:
    def there(letter: str) -> bool:
        instead = _FACES[face].instead
        return ord(letter) in _letters(face) or (instead is not None and ord(letter) in _letters(instead))

    found = []
    for letter in unicodedata.normalize("NFC", text):
        if there(letter):
            found.append(letter)
        elif unicodedata.category(letter) in {"Mn", "Cf", "Cc"}:
            # A mark or a steering sign without a letter of its own.
            continue
        else:
            apart = [part for part in unicodedata.normalize("NFKD", letter) if unicodedata.category(part) != "Mn"]
            found += apart if apart and all(map(there, apart)) else [_BOX]
    return "".join(found)


def width_of(text: str, face: str, size: float) -> float:
    """Width of a line in points."""
    return sum(float(pdfmetrics.stringWidth(piece, of, size)) for piece, of in runs(text, face))


@cache
def embedded(face: str) -> str:
    """A face as a rule of a style sheet that carries it along."""
    data = b64encode(_bytes_of(face)).decode("ascii")
    return f"@font-face{{font-family:'{face}';src:url(data:font/ttf;base64,{data})}}"


def known(face: str) -> bool:
    """Whether a face is one of these."""
    return face in _FACES
