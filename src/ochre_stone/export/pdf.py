"""The block-in sheet as a PDF: a page to stand beside, then the plan, strings in full, amounts and cautions."""

import io
from typing import Any

from PIL import Image
from reportlab import rl_config
from reportlab.lib.colors import Color, HexColor
from reportlab.lib.utils import ImageReader, simpleSplit
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from ochre_stone.core.colour.spaces import lab_to_hex
from ochre_stone.core.harmony.schemes import TITLES
from ochre_stone.core.masses.laying import LAYINGS, order
from ochre_stone.core.masses.tone import KEEPS
from ochre_stone.core.mixing.recipe.finding import by_eye_words
from ochre_stone.core.mixing.recipe.nearness import MATCHES
from ochre_stone.core.mixing.recipe.recipe import base_words
from ochre_stone.core.mixing.session.minutes import mixing_time
from ochre_stone.core.mixing.strings.subjects import RULE_BY_ID
from ochre_stone.core.mixing.strings.targets import MixString, Pile
from ochre_stone.core.paint.cautions import cautions
from ochre_stone.core.paint.predict import Prediction
from ochre_stone.core.picture.picture import linear_to_code
from ochre_stone.core.planning.coverage import coverage, coverage_words
from ochre_stone.core.planning.drying import drying, medium_words
from ochre_stone.core.planning.loosening import brought_words, chosen_loose
from ochre_stone.core.planning.naming import also_for
from ochre_stone.core.planning.planning import Sheet, blend_words
from ochre_stone.core.planning.rows import ADDED_ROWS, LADDERS
from ochre_stone.core.planning.stepping import stepped
from ochre_stone.core.planning.steps import steps_of
from ochre_stone.export.board import board_of, draw_board, surface_colour
from ochre_stone.export.firstpage import first_page
from ochre_stone.export.massmap import PrintedMap
from ochre_stone.export.page import Page
from ochre_stone.export.style import BODY, BOLD, GREY_GROUND, LINE, PAGE_MARGIN, QUIET_INK, paper_size, register_fonts
from ochre_stone.export.surfaces import PngSurface, SvgSurface, png_bytes
from ochre_stone.export.tables import ordinal, ribbon_words

PAGE_ROW = 51.0
_COUNTED = (
    "What these cover is counted with the strings of their notes: a little of each is listed, mix more as you need."
)


def sheet_pdf(sheet: Sheet) -> bytes:
    """The sheet as PDF bytes, on the document's paper. The same sheet gives the same bytes."""
    rl_config.useA85 = 0  # binary streams: smaller and quicker, every reader takes them
    out = io.BytesIO()
    size = paper_size(sheet.document.canvas.paper)
    _drawn(sheet, Canvas(out, pagesize=size, invariant=1, pageCompression=1), size)
    return out.getvalue()


def sheet_svg(sheet: Sheet) -> list[str]:
    """The sheet as SVG documents, one per page."""
    size = paper_size(sheet.document.canvas.paper)
    return list(_drawn(sheet, SvgSurface(size), size).pages)


def sheet_png(sheet: Sheet, dpi: float = 150.0) -> list[bytes]:
    """The sheet as PNG files, one per page."""
    size = paper_size(sheet.document.canvas.paper)
    return [png_bytes(page, dpi) for page in _drawn(sheet, PngSurface(size, dpi), size).pages]


def _drawn(sheet: Sheet, canvas: Any, size: tuple[float, float]) -> Any:
    """The sheet on a canvas, or on a surface that takes a canvas's calls."""
    register_fonts()
    title = sheet.document.title or sheet.picture.name
    canvas.setTitle(f"Block-in sheet: {title}")
    canvas.setAuthor("Ochre Stone")
    canvas.setSubject("Mass map, mixing strings, amounts and cautions")

    def footer(page: Page) -> None:
        words = f"Ochre Stone block-in sheet: {title}"[:70] + (f"  ·  {sheet.dated}" if sheet.dated else "")
        page.text(PAGE_MARGIN, PAGE_MARGIN - 14, words, 8, ink=QUIET_INK)
        page.right(page.width - PAGE_MARGIN, PAGE_MARGIN - 14, f"page {page.number}", 8, ink=QUIET_INK)

    page = Page(canvas, size, footer)
    masses = PrintedMap(sheet)
    first_page(page, sheet, title, masses)
    page.turn()
    _front(page, sheet, title, masses)
    _strings(page, sheet)
    _session(page, sheet)
    _steps(page, sheet)
    _loose(page, sheet)
    _tubes(page, sheet)
    _board(page, sheet)
    _cautions(page, sheet)
    page.finish()
    canvas.save()
    return canvas


def _front(page: Page, sheet: Sheet, title: str, masses: PrintedMap) -> None:
    d = sheet.document
    page.y -= 18
    page.text(PAGE_MARGIN, page.y, title[:60], 20, BOLD)
    page.y -= 15
    piles = sum(len(s.piles) for s in sheet.strings)
    facts = (
        f"{d.canvas.words}  ·  {d.mix.chosen().name}, {medium_words(d.mix)}  ·  {sheet.statement.key}  ·  "
        f"{len(sheet.strings)} strings, {piles} piles  ·  "
        f"about {sheet.amounts.total:.0f} ml of paint, {sheet.amounts.white_share:.0%} white"
    )
    page.text(PAGE_MARGIN, page.y, facts, 9.5, ink=QUIET_INK)
    page.y -= 12
    for said in filter(None, (mixing_time(sheet.strings).words, sheet.amounts.uncovered_words)):
        page.text(PAGE_MARGIN, page.y, said, 9.5, ink=QUIET_INK)
        page.y -= 12
    map_width = page.inner * 0.74
    map_height = map_width * masses.ratio
    limit = page.height * 0.5
    if map_height > limit:
        map_width, map_height = limit / masses.ratio, limit
    page.y -= map_height
    left, bottom = PAGE_MARGIN, page.y
    masses.draw(page, left, bottom, map_width, 11)
    _mass_key(page, sheet, left + map_width + 14, bottom + map_height)
    small = linear_to_code(d.seen(sheet.picture, 120_000))
    strip = min(page.width - PAGE_MARGIN - (left + map_width + 14), 130)
    key_height = 26 + 22 * len(sheet.masses.masses)
    if strip > 60 and map_height - key_height > strip * small.shape[0] / small.shape[1]:
        height = strip * small.shape[0] / small.shape[1]
        page.canvas.drawImage(ImageReader(Image.fromarray(small)), left + map_width + 14, bottom, strip, height)
    page.y -= 8
    page.heading("Order of laying in", 11, 6, 30)
    family = {m.index: m.family for m in sheet.masses.masses}
    sequence = ", ".join(f"{i + 1} ({family[i]})" for i in order(sheet.masses.masses, d.canvas.school))
    words, reason = LAYINGS[d.canvas.school]
    light_ground = d.canvas.ground[0] > 70
    first = "The first strokes look too dark against a light ground: trust the value." if light_ground else ""
    page.paragraph(
        f"{words.capitalize()} by mass: {sequence}. {reason} Cover everything once before correcting anything. {first}",
        9,
    )
    _intent(page, sheet)
    page.y -= 4
    wet = any(drying(d, p.recipe).differs for s in sheet.strings for p in s.piles)
    page.paragraph(
        "Colours are predicted from generic pigment data that was not measured, and no printer shows them as "
        "paint does: mix a little first, compare on a card, and trust the values. In each swatch the target is left, "
        + (
            "the mixture beside it, and at the right what it looks like wet: mix to that."
            if wet
            else "the mixture right."
        ),
        8,
        QUIET_INK,
    )


def _intent(page: Page, sheet: Sheet) -> None:
    """The plan in words: key and contrast, edges, blends, range and what harmony does."""
    said, plan, d = sheet.statement, sheet.masses, sheet.document
    page.heading("The plan", 11, 6, 24)
    page.paragraph(
        f"{said.key.capitalize()}, {said.range}: {said.contrast:.1f} steps from darkest to lightest. {said.size_words} "
        f"{said.place_words}",
        9,
    )
    if d.masses.range.keep != "scene":
        r = d.masses.range
        page.paragraph(
            f"Range: {KEEPS[r.keep]}; the scene's values {r.low:.1f} to {r.high:.1f} go into {r.black:.1f} to "
            f"{r.white:.1f}: "
            + "; ".join(f"{m.index + 1} from {m.measured:.1f} to {m.value:.1f}" for m in plan.masses)
            + ".",
            9,
        )
    cover = coverage(d)
    if cover:
        names = {n.id: n.name for n in d.notes}
        lacking = ", ".join(f"{names[c.note]} ({c.de00:.0f} off)" for c in cover.values() if not c.has_pile)
        page.paragraph(coverage_words(cover) + (f" These are {lacking}." if lacking else ""), 9)
    harmony = _harmony_words(sheet)
    if harmony:
        page.paragraph(harmony, 9)
    by_hand = {(a, b) for a, b, _ in d.masses.edges}
    meets = [b for b in plan.borders if b.length > 0.03 or (b.a, b.b) in by_hand or b.glows][:9]
    if meets:
        words = "; ".join(
            f"{b.a + 1} to {b.b + 1} {b.kind}{', held by hue' if b.glows else ''} ({b.step:.1f} steps)" for b in meets
        )
        page.heading("Edges between masses", 11, 6, 24)
        page.paragraph(words + ".", 9)
    blends = blend_words(d)
    if blends:
        page.heading("Blends, not flats", 11, 6, 24)
        page.paragraph("; ".join(blends) + ".", 9)


def _harmony_words(sheet: Sheet) -> str:
    """What was done to hues; "" for nothing."""
    h, said = sheet.document.harmony, []
    if h.scheme != "none" and h.amount > 0:
        said.append(f"{TITLES[h.scheme].lower()}, notes pulled by {h.amount:.0%}")
    if h.push:
        said.append(f"light and shadow {'pushed' if h.push > 0 else 'calmed'} by {abs(h.push):.0%}")
    if sheet.document.masses.swaps:
        numbers = ", ".join(str(s.mass + 1) for s in sorted(sheet.document.masses.swaps, key=lambda s: s.mass))
        said.append(f"other hues at the same value tried in mass {numbers}")
    return f"Harmony: {'; '.join(said)}. Values are kept." if said else ""


def _mass_key(page: Page, sheet: Sheet, x: float, top: float) -> None:
    page.text(x, top - 9, "Masses", 10, BOLD)
    y = top - 18
    greys = sheet.masses.greys()
    for m in reversed(sheet.masses.masses):
        y -= 22
        page.canvas.setFillColor(Color(*[float(greys[m.index]) / 255] * 3))
        page.canvas.rect(x, y, 22, 18, fill=1, stroke=0)
        words = str(m.index + 1)
        ink = HexColor("#ffffff") if greys[m.index] < 128 else HexColor("#000000")
        page.text(x + 11 - pdfmetrics.stringWidth(words, BOLD, 10) / 2, y + 5.5, words, 10, BOLD, ink)
        was = f" (was {m.measured:.1f})" if abs(m.value - m.measured) >= 0.05 else ""
        page.text(x + 28, y + 10, f"value {m.value:.1f}{was}", 8.5, BOLD)
        page.text(x + 28, y + 1, f"{m.share:.0%}, {m.family}", 8, ink=QUIET_INK)


def _strings(page: Page, sheet: Sheet) -> None:
    for s in sheet.strings:
        page.heading(s.name, 13, 16, PAGE_ROW * 2)
        page.canvas.setStrokeColor(LINE)
        page.canvas.line(PAGE_MARGIN, page.y, page.width - PAGE_MARGIN, page.y)
        if s.bases:
            words = "; ".join(
                f"{base_words(b, lambda i: sheet.document.mixed.tube(i).short)} "
                f"({sheet.amounts.bases.get(b.id, 0):.1f} ml)"
                for b in s.bases
            )
            page.paragraph(f"First make {words}.", 8.5)
            page.y -= 4
        if s.id in LADDERS or s.id in ADDED_ROWS:
            page.paragraph(_ladder_words(sheet, s.id), 8.5, QUIET_INK)
            page.y -= 4
        for p in reversed(s.piles):
            _pile(page, sheet, s, p)


def _ladder_words(sheet: Sheet, string_id: str) -> str:
    """Where the steps of a ladder, or of a string that a rule adds, come from."""
    if string_id in ADDED_ROWS:
        return f"{RULE_BY_ID[string_id].why} {_COUNTED}"
    h, notes = sheet.document.harmony, {n.id: n.name for n in sheet.document.notes}
    if string_id == "distance" and h.distance is not None:
        way = "by the air" if h.distance.way == "air" else "by the painters' rule"
        return (
            f"From {notes.get(h.distance.near, 'the near note')} to the horizon, {way}: {h.distance.first:g} to "
            f"{h.distance.last:g} km. {_COUNTED}"
        )
    band = f", with a {h.sky.band} band low down" if h.sky is not None and h.sky.band != "none" else ""
    return f"From the horizon to overhead{band}. {_COUNTED}"


def _pile(page: Page, sheet: Sheet, string: MixString, p: Pile) -> None:
    wide = page.inner - 232
    r = p.recipe
    recipe = ",  ".join(i.said for i in r.ingredients)
    down = stepped(sheet.document, p.id)
    said = f"{also_for(sheet.document, p)} {r.why}".lstrip()
    said = f"{said} Step down: {down.words}." if down is not None else said
    why = simpleSplit(f"{said} {by_eye_words(r).capitalize()}.", BODY, 8, wide)[:3]
    page.need(PAGE_ROW)
    top = page.y - 3
    page.y -= PAGE_ROW
    page.canvas.setFillColor(GREY_GROUND)
    page.canvas.rect(PAGE_MARGIN, page.y + 1, 74, PAGE_ROW - 3, fill=1, stroke=0)
    # Target, mixture and what it is wet touch in one shape, without a gap.
    dried = drying(sheet.document, r)
    parts = [p.target.lab, r.lab, *([dried.wet] if dried.differs else [])]
    for k, lab in enumerate(parts):
        page.canvas.setFillColor(HexColor(lab_to_hex(lab)))
        page.canvas.rect(
            PAGE_MARGIN + 6 + 62 * k / len(parts), page.y + 6, 62 / len(parts), PAGE_ROW - 13, fill=1, stroke=0
        )
    x = PAGE_MARGIN + 84
    page.text(x, top - 10, f"{p.order}", 12, BOLD)
    room = page.width - PAGE_MARGIN - 96 - (x + 18)
    page.text(x + 18, top - 9, page.cut(p.name, room, 9, BOLD), 9, BOLD)
    page.text(x + 18, top - 19, page.cut(recipe, room, 9, BODY), 9)
    for k, line in enumerate(why):
        page.text(x + 18, top - 28 - 8.6 * k, line, 8, ink=QUIET_INK)
    right = page.width - PAGE_MARGIN
    page.right(right, top - 10, f"value {p.target.value:.1f}  ·  {sheet.amounts.piles[p.id]:.1f} ml", 8.5, BOLD)
    error = (
        "value right"
        if abs(r.value_error) < 0.05
        else f"value {abs(r.value_error):.1f} too {'light' if r.value_error > 0 else 'dark'}"
    )
    page.right(right, top - 20.5, f"mix {ordinal(p.order)}, {error}", 8, ink=QUIET_INK)
    reach = Prediction(r.lab, r.uncertainty).trust if p.nearness.grade == MATCHES else p.nearness.words
    page.right(right, top - 29, reach, 8, ink=QUIET_INK)


def _session(page: Page, sheet: Sheet) -> None:
    """What is mixed when, and on from what."""
    names = {p.id: p.name for s in sheet.strings for p in s.piles}
    plan = sheet.document.mixed.branching
    piles = sorted((p for s in sheet.strings for p in s.piles), key=lambda p: p.order)
    if not piles:
        return
    page.heading("In this order", 13, 18, 60)
    if plan is not None:
        page.paragraph(f"{plan.words} What goes on into another pile is mixed on top, and counted.", 8.5, QUIET_INK)
        page.y -= 3
    half = page.inner / 2
    rows = -(-len(piles) // 2)
    for k in range(rows):
        page.need(12.5)
        page.y -= 12.5
        for column, p in enumerate(piles[k::rows][:2]):
            source = next((i.id for i in p.recipe.ingredients if i.id in names), None)
            x = PAGE_MARGIN + column * half
            page.text(x, page.y, f"{p.order}", 8.5, BOLD)
            how = f"from {names[source]}" if source is not None else "main pile, from tubes"
            onward = sheet.amounts.onward(p.id)
            more = f", {onward:.1f} ml of it goes on" if onward >= 0.05 else ""
            words = f"{names[p.id]}: {how}; {sheet.amounts.piles[p.id]:.1f} ml{more}"
            page.text(x + 18, page.y, words[:64], 8.5)


def _steps(page: Page, sheet: Sheet) -> None:
    """Each pile's additions in order: followed to the letter they end at its recipe."""
    piles = sorted((p for s in sheet.strings for p in s.piles), key=lambda p: p.order)
    if not piles:
        return
    names = {p.id: p.name for s in sheet.strings for p in s.piles}
    page.heading("Step by step", 13, 18, 60)
    page.paragraph(
        "Where a pile is cut, one half stays as it is; what follows is for the other half, and goes into the half kept "
        "as well when that one is right.",
        8.5,
        QUIET_INK,
    )
    page.y -= 2
    for p in piles:
        said = [s.told for s in steps_of(sheet.document, p, sheet.amounts)]
        page.paragraph(f"{p.order}  {names[p.id]}: {'; '.join(said)}.", 8.5)
        page.y -= 1.5


def _loose(page: Page, sheet: Sheet) -> None:
    """Piles that are mixed loosely."""
    d = sheet.document
    found = [one for one in chosen_loose(d) if one.made is not None]
    if not found:
        return
    names = {p.id: p.name for s in sheet.strings for p in s.piles}
    page.heading("Mixed loosely", 13, 18, 60)
    page.paragraph(
        "Each parent is brought to the pile's value first; strokes side by side keep most of the chroma, two turns of "
        "the knife less.",
        8.5,
        QUIET_INK,
    )
    for one in found:
        made = one.made
        assert made is not None
        rows = [f"{parts:g} of ({brought_words(d, p)})" for parts, p in zip(made.parts, made.parents, strict=True)]
        strokes, turned, stirred = made.kept
        page.paragraph(
            f"{names[one.pile]}: {', '.join(rows)}. Chroma as strokes {strokes:.0%}, after two turns {turned:.0%}, "
            f"stirred {stirred:.0%}.",
            9,
        )


def _board(page: Page, sheet: Sheet) -> None:
    """Where each pile goes on the palette."""
    board, labs, names = board_of(sheet)
    if not board.spots:
        return
    per_cm = min(page.inner / board.width, page.height * 0.42 / board.height)
    page.heading("On the palette", 13, 18, board.height * per_cm + 24)
    page.paragraph(board.words, 8.5, QUIET_INK)
    page.y -= board.height * per_cm + 6
    draw_board(page.canvas, board, labs, names, PAGE_MARGIN, page.y, per_cm, surface_colour("grey"))


def _tubes(page: Page, sheet: Sheet) -> None:
    page.heading("To squeeze out", 13, 18, 60)
    d = sheet.document
    page.paragraph(
        f"For {d.canvas.words}, {d.canvas.thickness:g} mm thick, {d.canvas.spare:.0%} spare. "
        "A ribbon of 8 mm: 1 ml is about 2 cm.",
        8.5,
        QUIET_INK,
    )
    page.y -= 4
    half = page.inner / 2
    items = list(sheet.amounts.tubes.items())
    for k in range(0, len(items), 2):
        page.need(15)
        page.y -= 15
        for column, (tube_id, ml) in enumerate(items[k : k + 2]):
            t = d.mixed.tube(tube_id)
            x = PAGE_MARGIN + column * half
            page.canvas.setFillColor(HexColor(lab_to_hex(t.lab)))
            page.canvas.rect(x, page.y - 2, 18, 11, fill=1, stroke=0)
            page.text(x + 24, page.y, f"{t.plain_name}  {t.ci}", 9)
            page.right(x + half - 16, page.y, ribbon_words(ml), 9, BOLD)


def _cautions(page: Page, sheet: Sheet) -> None:
    page.heading("Cautions", 13, 18, 50)
    strangers = sheet.document.mix.strangers
    for text in [*([strangers] if strangers else []), *cautions(sheet.tubes)]:
        page.paragraph(text, 8.5)
        page.y -= 2
