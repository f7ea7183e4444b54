"""Drawing surfaces with the few calls that our pages use, so that what is printed is also had as SVG and PNG.

They take the calls of reportlab's canvas that :mod:`pdf` makes: points from the lower left corner, one page after
another. Letters in the SVG are text in the face that ships (embedded), so that they stay sharp and can be searched.
"""

import base64
import io
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape, quoteattr

from PIL import Image, ImageDraw, ImageFont
from reportlab.lib.utils import ImageReader

from ochre_stone.resources import resource

_FILES = {
    "Atkinson": "AtkinsonHyperlegibleNext_400Regular.ttf",
    "Atkinson-Bold": "AtkinsonHyperlegibleNext_700Bold.ttf",
}


def _css(colour: Any) -> str:
    r, g, b = (round(255 * v) for v in (colour.red, colour.green, colour.blue))
    return f"#{r:02x}{g:02x}{b:02x}"


def _image(source: ImageReader | Image.Image) -> Image.Image:
    if isinstance(source, Image.Image):
        return source
    held = getattr(source, "_image", None)
    if isinstance(held, Image.Image):
        return held
    raise TypeError("only pictures in memory are drawn")


class _Surface:
    """State that both kinds share."""

    def __init__(self, pagesize: tuple[float, float]) -> None:
        self.width, self.height = pagesize
        self.fill, self.stroke, self.line_width, self.dash = "#000000", "#000000", 1.0, False
        self.face, self.size = "Atkinson", 10.0
        self.begin()

    def begin(self) -> None:
        """A new page."""

    def setFont(self, name: str, size: float) -> None:
        self.face, self.size = name, size

    def setFillColor(self, colour: Any) -> None:
        self.fill = _css(colour)

    def setStrokeColor(self, colour: Any) -> None:
        self.stroke = _css(colour)

    def setLineWidth(self, width: float) -> None:
        self.line_width = width

    def setDash(self, *pattern: Any) -> None:
        self.dash = bool(pattern and pattern[0])

    def setTitle(self, words: str) -> None:
        self.title = words

    def setAuthor(self, words: str) -> None:
        """Pages of these kinds carry no author."""

    def setSubject(self, words: str) -> None:
        """Nor a subject."""


class SvgSurface(_Surface):
    """Pages as SVG documents, in ``pages``."""

    def __init__(self, pagesize: tuple[float, float]) -> None:
        self.pages: list[str] = []
        self._drawn: list[str] = []
        self.title = ""
        super().__init__(pagesize)

    def begin(self) -> None:
        self._out: list[str] = []
        self._name, self._told = "", ""

    def name_next(self, name: str, told: str) -> None:
        """The next rectangle has this id, and tells so much when it is pointed at."""
        self._name, self._told = name, told

    def drawString(self, x: float, y: float, words: str, anchor: str = "") -> None:
        weight = ' font-weight="700"' if self.face.endswith("Bold") else ""
        self._out.append(
            f'<text x="{x:.2f}" y="{self.height - y:.2f}" font-size="{self.size:g}"{weight}{anchor} '
            f'fill="{self.fill}">{escape(words)}</text>'
        )

    def drawRightString(self, x: float, y: float, words: str) -> None:
        self.drawString(x, y, words, ' text-anchor="end"')

    def rect(self, x: float, y: float, width: float, height: float, fill: int = 0, stroke: int = 1) -> None:
        ink = f' stroke="{self.stroke}" stroke-width="{self.line_width:g}"' if stroke else ""
        name = f" id={quoteattr(self._name)}" if self._name else ""
        told = f"><title>{escape(self._told)}</title></rect>" if self._told else "/>"
        self._out.append(
            f'<rect{name} x="{x:.2f}" y="{self.height - y - height:.2f}" width="{width:.2f}" height="{height:.2f}" '
            f'fill="{self.fill if fill else "none"}"{ink}{told}'
        )
        self._name, self._told = "", ""

    def circle(self, x: float, y: float, r: float, fill: int = 0, stroke: int = 1) -> None:
        ink = f' stroke="{self.stroke}" stroke-width="{self.line_width:g}"' if stroke else ""
        self._out.append(
            f'<circle cx="{x:.2f}" cy="{self.height - y:.2f}" r="{r:.2f}" fill="{self.fill if fill else "none"}"{ink}/>'
        )

    def line(self, x1: float, y1: float, x2: float, y2: float) -> None:
        dash = ' stroke-dasharray="4 3"' if self.dash else ""
        self._out.append(
            f'<line x1="{x1:.2f}" y1="{self.height - y1:.2f}" x2="{x2:.2f}" y2="{self.height - y2:.2f}" '
            f'stroke="{self.stroke}" stroke-width="{self.line_width:g}"{dash}/>'
        )

    def drawImage(self, source: Any, x: float, y: float, width: float, height: float) -> None:
        out = io.BytesIO()
        _image(source).save(out, "PNG")
        data = base64.b64encode(out.getvalue()).decode("ascii")
        self._out.append(
            f'<image x="{x:.2f}" y="{self.height - y - height:.2f}" width="{width:.2f}" height="{height:.2f}" '
            f'preserveAspectRatio="none" href="data:image/png;base64,{data}"/>'
        )

    def showPage(self) -> None:
        self._drawn.append("".join(self._out))
        self.pages.append(self._document(self._drawn[-1], self.height))
        self.begin()

    def stacked(self) -> str:
        """All pages under each other, as one document."""
        groups = [
            f'<g id="page-{n + 1}" transform="translate(0 {n * self.height:g})">{drawn}</g>'
            for n, drawn in enumerate(self._drawn)
        ]
        return self._document("\n".join(groups), self.height * len(groups))

    def _document(self, inside: str, height: float) -> str:
        faces = "".join(
            f"@font-face{{font-family:Atkinson;font-weight:{weight};src:url(data:font/ttf;base64,{_font(name)})}}"
            for name, weight in (("Atkinson", 400), ("Atkinson-Bold", 700))
        )
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{self.width:g}pt" height="{height:g}pt" '
            f'viewBox="0 0 {self.width:g} {height:g}"><title>{escape(self.title)}</title>'
            f"<style>{faces}text{{font-family:Atkinson,sans-serif;white-space:pre}}</style>"
            f'<rect width="100%" height="100%" fill="#ffffff"/>{inside}</svg>\n'
        )

    def save(self) -> None:
        """Nothing is left to do: every page is whole."""


class PngSurface(_Surface):
    """Pages as pictures, in ``pages``, ``dpi`` dots per inch."""

    def __init__(self, pagesize: tuple[float, float], dpi: float = 150.0) -> None:
        self.pages: list[Image.Image] = []
        self.dpi, self.scale = dpi, dpi / 72
        self._faces: dict[tuple[str, int], Any] = {}
        super().__init__(pagesize)

    def begin(self) -> None:
        size = round(self.width * self.scale), round(self.height * self.scale)
        self._page = Image.new("RGB", size, "#ffffff")
        self._draw = ImageDraw.Draw(self._page)

    def _at(self, x: float, y: float) -> tuple[float, float]:
        return x * self.scale, (self.height - y) * self.scale

    def drawString(self, x: float, y: float, words: str) -> None:
        key = self.face, round(self.size * self.scale)
        if key not in self._faces:
            self._faces[key] = ImageFont.truetype(str(resource("fonts", _FILES[self.face])), key[1])
        self._draw.text(self._at(x, y), words, fill=self.fill, font=self._faces[key], anchor="ls")

    def _ink(self, fill: int, stroke: int) -> dict[str, Any]:
        wide = max(1, round(self.line_width * self.scale))
        return {"fill": self.fill if fill else None, "outline": self.stroke if stroke else None, "width": wide}

    def rect(self, x: float, y: float, width: float, height: float, fill: int = 0, stroke: int = 1) -> None:
        left, bottom = self._at(x, y)
        right, top = self._at(x + width, y + height)
        box = (round(left), round(top), max(round(right) - 1, round(left)), max(round(bottom) - 1, round(top)))
        self._draw.rectangle(box, **self._ink(fill, stroke))

    def circle(self, x: float, y: float, r: float, fill: int = 0, stroke: int = 1) -> None:
        cx, cy = self._at(x, y)
        q = r * self.scale
        self._draw.ellipse((cx - q, cy - q, cx + q, cy + q), **self._ink(fill, stroke))

    def line(self, x1: float, y1: float, x2: float, y2: float) -> None:
        wide = max(1, round(self.line_width * self.scale))
        self._draw.line((*self._at(x1, y1), *self._at(x2, y2)), fill=self.stroke, width=wide)

    def drawImage(self, source: Any, x: float, y: float, width: float, height: float) -> None:
        left, top = self._at(x, y + height)
        size = max(1, round(width * self.scale)), max(1, round(height * self.scale))
        self._page.paste(
            _image(source).convert("RGB").resize(size, Image.Resampling.LANCZOS), (round(left), round(top))
        )

    def showPage(self) -> None:
        self.pages.append(self._page)
        self.begin()

    def save(self) -> None:
        """Nothing is left to do: every page is whole."""


def _font(name: str) -> str:
    return base64.b64encode(Path(str(resource("fonts", _FILES[name]))).read_bytes()).decode("ascii")


def png_bytes(page: Image.Image, dpi: float) -> bytes:
    """A page as a PNG file that knows its size."""
    out = io.BytesIO()
    page.save(out, "PNG", dpi=(dpi, dpi))
    return out.getvalue()
