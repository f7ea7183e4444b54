"""A palette to print and to keep: its tubes with their tints, labels and cautions."""

import io
import json
from collections.abc import Sequence

from reportlab import rl_config
from reportlab.lib.colors import HexColor
from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas

from ochre_stone.core.advice.roles import roles
from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import lab_to_hex
from ochre_stone.core.paint import tabled
from ochre_stone.core.paint.cautions import cautions, hazards
from ochre_stone.core.paint.palettes import Palette
from ochre_stone.export.figures import tube_json
from ochre_stone.export.style import BODY, BOLD, GREY_GROUND, INK, PAGE_MARGIN, QUIET_INK, paper_size, register_fonts

_ROW, _BLOCK = 44.0, 30.0


def palette_pdf(palette: Palette, paper: str = "A4") -> bytes:
    """The palette as PDF: each tube as it comes, its tints and undertone on neutral grey, its role here, its labels."""
    register_fonts()
    rl_config.useA85 = 0
    size = paper_size(paper)
    out = io.BytesIO()
    pdf = Canvas(out, pagesize=size, invariant=1, pageCompression=1)
    pdf.setTitle(f"Palette: {palette.name}")
    pdf.setAuthor("Ochre Stone")
    width, y = size[0] - 2 * PAGE_MARGIN, size[1] - PAGE_MARGIN

    def text(x: float, at: float, words: str, points: float = 9, font: str = BODY, ink: HexColor = INK) -> None:
        pdf.setFont(font, points)
        pdf.setFillColor(ink)
        pdf.drawString(x, at, words)

    text(PAGE_MARGIN, y - 14, palette.name, 15, BOLD)
    text(PAGE_MARGIN, y - 28, palette.about, 9, ink=QUIET_INK)
    y -= 44
    for role in roles(palette.tubes):
        t = role.tube
        if y - _ROW < PAGE_MARGIN:
            pdf.showPage()
            y = size[1] - PAGE_MARGIN
        pdf.setFillColor(GREY_GROUND)
        pdf.rect(PAGE_MARGIN, y - _ROW + 6, _BLOCK * 6 + 20, _ROW - 6, stroke=0, fill=1)
        shown = [t.lab, *(n[1:4] for n in t.tints), t.undertone]
        for k, lab in enumerate(shown):
            pdf.setFillColor(HexColor(lab_to_hex((lab[0], lab[1], lab[2]))))
            pdf.rect(
                PAGE_MARGIN + 8 + k * _BLOCK + (4 if k == len(shown) - 1 else 0),
                y - _ROW + 12,
                _BLOCK,
                _ROW - 18,
                stroke=0,
                fill=1,
            )
        x = PAGE_MARGIN + _BLOCK * 6 + 32
        text(x, y - 12, t.name, 11, BOLD)
        seen = read(t.lab)
        text(x, y - 24, f"value {seen.value:.1f}, {seen.name}; {role.words} here", 8.5)
        lasting = f"{t.ci}, {t.opacity}, lightfastness {t.lightfastness}, dries {t.drying} in oil"
        text(x, y - 35, lasting + (f", {', '.join(hazards(t))}" if hazards(t) else ""), 8.5, ink=QUIET_INK)
        y -= _ROW
    y -= 8
    for words in cautions(palette.tubes):
        for line in simpleSplit(words, BODY, 8.5, width):
            if y - 12 < PAGE_MARGIN:
                pdf.showPage()
                y = size[1] - PAGE_MARGIN
            y -= 11.5
            text(PAGE_MARGIN, y, line, 8.5)
    pdf.showPage()
    pdf.save()
    return out.getvalue()


def palette_csv(palette: Palette) -> str:
    """One line per tube."""
    table: list[Sequence[object]] = []
    table.append(
        [
            "id",
            "name",
            "ci",
            "opacity",
            "lightfastness",
            "hazards",
            "drying",
            "value",
            "munsell",
            "srgb",
            "role",
            "tinting_strength",
        ]
    )
    for r in roles(palette.tubes):
        t, seen = r.tube, read(r.tube.lab)
        table.append(
            [
                t.id,
                t.name,
                t.ci,
                t.opacity,
                t.lightfastness,
                " ".join(hazards(t)),
                t.drying,
                f"{seen.value:.2f}",
                t.munsell,
                seen.srgb,
                r.words,
                f"{t.tinting_strength:.3g}",
            ]
        )
    return tabled.as_text(table)


def palette_json(palette: Palette) -> str:
    """The palette with everything that is known of its tubes."""
    data = {
        "id": palette.id,
        "name": palette.name,
        "about": palette.about,
        "medium": palette.medium,
        "paints": [tube_json(t) for t in palette.tubes],
    }
    return json.dumps(data, ensure_ascii=False, indent=1) + "\n"
