"""The first page of the sheet, to stand beside the palette: every pile in the order of mixing, its recipe in large
type, the mass map, and the block-in in these piles.

It is read at arm's length, so nothing stands on it that is not needed while mixing; all else comes on later pages.
"""

from dataclasses import dataclass

from reportlab.lib.colors import HexColor
from reportlab.lib.utils import simpleSplit
from reportlab.pdfbase.pdfmetrics import stringWidth

from ochre_stone.core.colour.spaces import Lab, lab_to_hex
from ochre_stone.core.mixing.recipe.nearness import MATCHES
from ochre_stone.core.mixing.recipe.recipe import dose_words
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.predict import spectra
from ochre_stone.core.planning.drying import drying, medium_words
from ochre_stone.core.planning.planning import Sheet
from ochre_stone.core.planning.steps import bases_before
from ochre_stone.export.massmap import PrintedMap
from ochre_stone.export.page import Page
from ochre_stone.export.printedblockin import PrintedBlockIn
from ochre_stone.export.style import BODY, BOLD, GREY_GROUND, LINE, PAGE_MARGIN, QUIET_INK

_SIZES = (15.0, 14.0, 13.0, 12.0, 11.0, 10.0)
_MOST, _LEAST = 31.0, 20.5
"""Height of a row, points."""
_THREE_LINES = 29.0
"""Height of a row from which a long name stands on two lines."""
_RECIPE, _FEWEST = 226.0, 4
"""Where recipes begin, points from the margin; the fewest rows that a second page holds."""
_PICTURE, _GAP = 0.345, 8.0
"""Width of the map and of the block-in, a share of the page's; points between them."""
_MAP, _MAP_LEAST = 0.24, 130.0
"""Height of the map: share of the page's, and points."""
ORIGINS = {"note": "measured", "between": "between two notes", "rule": "by a rule"}


@dataclass(frozen=True)
class _Row:
    """A pile, or a base pile that is made before it."""

    number: str
    name: str
    recipe: str
    colours: tuple[Lab, ...]
    """Target and mixture, and what it is wet, where that is seen; a base pile's own."""
    about: str
    short: str = ""
    """A shorter name."""


def first_page(page: Page, sheet: Sheet, title: str, masses: PrintedMap) -> None:
    """Draw it; where there are more piles than a page holds, they go on on the next."""
    groups = _groups(_rows(sheet))
    count = sum(map(len, groups))
    free = page.height - 2 * PAGE_MARGIN - 32 - _LEAST * count
    _head(page, sheet, title, masses, min(max(free, _MAP_LEAST), page.height * _MAP))
    left = page.y - PAGE_MARGIN - 16
    high = min(max(left / max(count, 1) - 1e-3, _LEAST), _MOST)  # sums of it are rounded
    here = int(left / high + 1e-6)
    if count > here:  # the next page holds no lone row
        here = max(min(here, count - _FEWEST), 1)
    room = page.width - PAGE_MARGIN - (PAGE_MARGIN + _RECIPE)
    size = min((page.fits(r.recipe, room, _SIZES) for g in groups for r in g), default=_SIZES[0])
    done = 0
    for group in groups:
        if done <= here < done + len(group):
            page.turn()  # a base pile stays beside what wants it
        for row in group:
            page.need(high)
            _row(page, row, high, size)
        done += len(group)


def _groups(rows: list[_Row]) -> list[list[_Row]]:
    """Each pile with the base piles that are made for it first."""
    out: list[list[_Row]] = [[]]
    for row in rows:
        out[-1].append(row)
        if row.number:
            out.append([])
    return [g for g in out if g]


def _head(page: Page, sheet: Sheet, title: str, masses: PrintedMap, map_high: float) -> None:
    """The map and the block-in, and beside them whose sheet this is."""
    d, laid = sheet.document, PrintedBlockIn(sheet)
    wide = min(map_high / masses.ratio, page.inner * (_PICTURE if laid.there else 0.5))
    high = wide * masses.ratio
    top = page.y
    masses.draw(page, PAGE_MARGIN, top - high, wide, 12)
    left = PAGE_MARGIN + wide
    if laid.there:
        laid.draw(page, left + _GAP, top - high, wide, 8)
        left += wide + _GAP
    x, y, room = left + 16, top - 18, page.inner - (left - PAGE_MARGIN) - 16
    page.text(x, y, title[:60], page.fits(title[:60], room, (20, 17, 14, 11)), BOLD)
    if sheet.dated:
        y -= 17
        page.text(x, y, sheet.dated, 12)
    piles = sum(len(s.piles) for s in sheet.strings)
    lines = [
        f"{d.canvas.words}, {medium_words(d.mix)}",
        d.mix.chosen().name,
        f"{piles} piles, about {sheet.amounts.total:.0f} ml of paint",
        sheet.statement.key,
    ]
    for line in lines:
        y -= 15
        page.text(x, y, line, page.fits(line, room, (11, 10, 9, 8), BODY))
    y -= 20
    said = [laid.words[:1].upper() + laid.words[1:] + "."] if laid.there else []
    said += [
        "Measured: the colour was taken from the picture. Between two notes, by a rule: worked out.",
        "Swatches: the target, the mixture, and where it differs what it looks like wet: mix to that.",
    ]
    for line in (cut for words in said for cut in simpleSplit(words, BODY, 8, room)):
        page.text(x, y, line, 8, ink=QUIET_INK)
        y -= 10
    page.y = min(top - high, y) - 8


def _rows(sheet: Sheet) -> list[_Row]:
    """Piles in the order of mixing, base piles before the first that wants them."""
    d, out = sheet.document, []
    first = bases_before(d)
    for p in sorted((p for s in sheet.strings for p in s.piles), key=lambda p: p.order):
        for base in first.get(p.id, ()):
            K, S = spectra([d.mixed.tube(i) for i, _ in base.shares], [c for _, c in base.shares])
            L, a, b = (float(x) for x in layer_lab(K, S, d.mix.chosen().surface))
            recipe = ", ".join(dose_words(d.mixed.tube(i).short, parts) for i, parts in base.parts)
            ml = sheet.amounts.bases.get(base.id, 0.0)
            out.append(_Row("", base.name, recipe, ((L, a, b),), f"make it first, {ml:.1f} ml"))
        dried = drying(d, p.recipe)
        colours = (p.target.lab, p.recipe.lab, *((dried.wet,) if dried.differs else ()))
        recipe = ", ".join(i.said for i in p.recipe.ingredients)
        about = f"{p.target.value:.1f}, {sheet.amounts.piles[p.id]:.1f} ml, "
        about += ORIGINS[p.target.origin] if p.nearness.grade == MATCHES else p.nearness.words
        out.append(_Row(str(p.order), p.name, recipe, colours, about, p.short))
    return out


def _name_lines(row: _Row, room: float, high: float) -> list[str]:
    """The name on one line, else the shorter one, else in full on two lines where the row is high enough."""
    for words in (row.name, row.short):
        if words and stringWidth(words, BOLD, 10) <= room:
            return [words]
    lines = simpleSplit(row.name, BOLD, 10, room)
    return lines if len(lines) == 2 and high >= _THREE_LINES else [row.short or row.name]


def _row(page: Page, row: _Row, high: float, size: float) -> None:
    """Swatch, number, name and recipe (in ``size``, that of all rows) on one line; under the name what it is."""
    bottom, wide = page.y - high, 46.0
    page.canvas.setFillColor(GREY_GROUND)
    page.canvas.rect(PAGE_MARGIN, bottom + 1, wide + 8, high - 2, fill=1, stroke=0)
    for k, lab in enumerate(row.colours):  # they touch
        page.canvas.setFillColor(HexColor(lab_to_hex(lab)))
        each = wide / len(row.colours)
        page.canvas.rect(PAGE_MARGIN + 4 + k * each, bottom + 4, each, high - 8, fill=1, stroke=0)
    x = PAGE_MARGIN + wide + 16
    middle, named = bottom + high / 2, _RECIPE - wide - 46
    page.text(x, middle - 1, row.number, 13, BOLD)
    name = _name_lines(row, named, high)
    for k, line in enumerate(name):
        page.text(x + 22, middle + 1 + 5.5 * (len(name) - 1) - 10 * k, page.cut(line, named, 10, BOLD), 10, BOLD)
    page.text(x + 22, middle - 9 - 3.5 * (len(name) - 1), page.cut(row.about, named, 8), 8, ink=QUIET_INK)
    at = PAGE_MARGIN + _RECIPE
    lines = simpleSplit(row.recipe, BOLD, size, page.width - PAGE_MARGIN - at)[:2]
    for k, line in enumerate(lines):
        page.text(at, middle - size * 0.36 + (len(lines) - 1) * size * 0.5 - k * size, line, size, BOLD)
    page.canvas.setStrokeColor(LINE)
    page.canvas.setLineWidth(0.4)
    page.canvas.line(PAGE_MARGIN, bottom, page.width - PAGE_MARGIN, bottom)
    page.y = bottom
