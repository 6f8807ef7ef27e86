"""Cut static faces for print out of the variable fonts that the pages use (`formats/data/*.ttf`).

Run by hand: ``python -m tools.make_fonts``, after ``npm ci`` in `web`. The pages' faces know Latin letters; for
Greek and Cyrillic ones, and a few signs, a third family stands in.
"""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path
from typing import Any

from fontTools.merge import Merger
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

SOURCE = Path(__file__).parents[1] / "web/node_modules/@fontsource-variable"
OUT = Path(str(files("wempa.formats"))) / "data"
_ATKINSON = "atkinson-hyperlegible-next"
_ALL = ("latin", "latin-ext", "greek", "greek-ext", "cyrillic", "cyrillic-ext")
# File name, family as it is called in a file, package, its parts, weight.
FACES: tuple[tuple[str, str, str, tuple[str, ...], float], ...] = (
    ("text", "Wempa Text", _ATKINSON, ("latin", "latin-ext"), 400),
    ("bold", "Wempa Bold", _ATKINSON, ("latin", "latin-ext"), 700),
    ("names", "Wempa Names", "fraunces", ("latin", "latin-ext", "vietnamese"), 600),
    ("other", "Wempa Other", "noto-sans", _ALL, 400),
    ("other_bold", "Wempa Other Bold", "noto-sans", _ALL, 600),
)
# What a printed line needs of a face; the rest would be carried along for nothing.
_DROPPED = ("GSUB", "GPOS", "GDEF", "STAT", "meta", "DSIG", "avar", "HVAR", "MVAR", "gasp", "BASE")


def _static(path: Path, weight: float) -> TTFont:
    font: Any = TTFont(path)
    axes = {axis.axisTag: axis.defaultValue for axis in font["fvar"].axes}
    cut = instantiateVariableFont(font, {**axes, "wght": weight}, inplace=False)
    for table in _DROPPED:
        if table in cut:
            del cut[table]
    cut.flavor = None
    return cut


def _with_signs(font: Any, thick: int) -> None:
    """Add an empty box, which stands for a letter that no face has, and an arrow."""
    high = font["OS/2"].sCapHeight or 700
    wide = round(0.8 * high)
    left, right, top = 60 + thick, 60 + wide - thick, high - thick
    box = [
        [(60, 0), (60, high), (60 + wide, high), (60 + wide, 0)],
        [(left, thick), (right, thick), (right, top), (left, top)],
    ]
    end, below, above = 60 + wide, high // 2 - thick // 2, high // 2 + thick // 2
    head, barb = end - high // 4, high // 4
    shaft = [(60, below), (60, above), (head, above)]
    arrow = [[*shaft, (head, above + barb), (end, high // 2), (head, below - barb), (head, below)]]
    for code, name, outlines in ((0x25A1, "box", box), (0x2192, "arrow", arrow)):
        pen = TTGlyphPen(None)
        for points in outlines:
            pen.moveTo(points[0])
            for point in points[1:]:
                pen.lineTo(point)
            pen.closePath()
        font.setGlyphOrder([*font.getGlyphOrder(), name])
        font["glyf"][name] = pen.glyph()
        font["hmtx"][name] = (wide + 120, 60)
        for table in font["cmap"].tables:
            if table.isUnicode():
                table.cmap[code] = name


def main() -> None:
    """Write every face."""
    OUT.mkdir(exist_ok=True)
    for name, family, package, parts, weight in FACES:
        cuts = []
        for part in parts:
            cut = _static(SOURCE / package / "files" / f"{package}-{part}-wght-normal.woff2", weight)
            kept = OUT / f"{name}-{part}.ttf"
            cut.save(kept)
            cuts.append(kept)
        merged: Any = Merger().merge([str(cut) for cut in cuts])
        for record in merged["name"].names:
            if record.nameID in {1, 4, 6, 16}:
                record.string = family.replace(" ", "") if record.nameID == 6 else family
        if name.startswith("other"):
            _with_signs(merged, 120 if name.endswith("bold") else 80)
        merged["head"].created = merged["head"].modified = 0
        merged.save(OUT / f"{name}.ttf")
        for cut in cuts:
            cut.unlink()
        print(f"{name}.ttf: {(OUT / f'{name}.ttf').stat().st_size / 1000:.0f} kB, {len(merged.getBestCmap())} letters")


if __name__ == "__main__":
    main()
