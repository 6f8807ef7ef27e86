"""The forms that a drawing is given in: each one's word, media type and what renders it, in one place.

Renderers are loaded when they are used: that takes a while, and most days nobody prints.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from io import BytesIO, StringIO
from typing import TYPE_CHECKING, Any, NamedTuple, Self

from wempa.craft.errors import JobError
from wempa.craft.words import Word

if TYPE_CHECKING:
    from reportlab.graphics.shapes import Drawing


# A4 at 300 dots per inch has 9 million; more than this no viewer likes.
_MOST_PIXELS = 60_000_000


def pdf(drawing: Drawing) -> bytes:
    """A PDF page of the drawing, at its real size."""
    from reportlab.graphics import renderPDF

    return bytes(renderPDF.drawToString(drawing, msg="", autoSize=1))


def pdf_pages(drawings: Sequence[Drawing]) -> bytes:
    """Drawings as pages of one PDF, at real size."""
    from reportlab.graphics import renderPDF
    from reportlab.pdfgen.canvas import Canvas

    out = BytesIO()
    canvas = Canvas(out)
    for drawing in drawings:
        canvas.setPageSize((drawing.width, drawing.height))
        renderPDF.draw(drawing, canvas, 0, 0)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def svg(drawing: Drawing) -> str:
    """The drawing as SVG, its faces in it and its colours as they are.

    The library's own canvas rounds colours to whole per cents, and hopes that there are the faces.
    """
    from reportlab.graphics import renderSVG

    from .faces import embedded, known

    used: set[str] = set()

    class Exact(renderSVG.SVGCanvas):  # type: ignore[misc]
        def setFillColor(self, color: Any) -> None:  # noqa: N802
            super().setFillColor(color)
            if color is not None:
                self.style["fill"] = f"#{color.hexval()[2:]}"

        def setFont(self, font: Any, fontSize: Any) -> None:  # noqa: N802, N803
            super().setFont(font, fontSize)
            if known(str(font)):
                used.add(str(font))

        def setStrokeColor(self, color: Any) -> None:  # noqa: N802
            super().setStrokeColor(color)
            if color is not None:
                self.style["stroke"] = f"#{color.hexval()[2:]}"

    canvas = Exact((drawing.width, drawing.height))
    renderSVG.draw(drawing, canvas)
    out = StringIO()
    canvas.save(out)
    text = out.getvalue()
    inside = text.index(">", text.index("<svg")) + 1
    style = "".join(embedded(face) for face in sorted(used))
    return f"{text[:inside]}<style>{style}</style>{text[inside:]}" if style else text


def png(drawing: Drawing, dpi: int = 300) -> bytes:
    """The drawing as PNG: its PDF page painted at `dpi`."""
    import pypdfium2

    pixels = drawing.width * drawing.height * (dpi / 72) ** 2
    if pixels > _MOST_PIXELS:
        raise JobError(f"a picture of {pixels / 1e6:.0f} million points is too large; take the PDF or SVG")
    document = pypdfium2.PdfDocument(pdf(drawing))
    try:
        picture = document[0].render(scale=dpi / 72).to_pil()
        out = BytesIO()
        picture.save(out, "PNG", dpi=(dpi, dpi))
        return out.getvalue()
    finally:
        document.close()


class FormRow(NamedTuple):
    """What a form is as a file."""

    media: str
    render: Callable[[Drawing], str | bytes]


class DrawnForm(Word):
    """A form that a drawing is given in."""

    row: FormRow

    def __new__(cls, value: str, said: str, row: FormRow) -> Self:
        member = cls._made(value, said)
        member.row = row
        return member

    PDF = "pdf", "a page (PDF)", FormRow("application/pdf", pdf)
    SVG = "svg", "a drawing (SVG)", FormRow("image/svg+xml", svg)
    PNG = "png", "a picture (PNG, 300 dpi)", FormRow("image/png", png)
