"""A page that is written from the top down, on any surface that takes a canvas's calls."""

from collections.abc import Callable, Sequence
from typing import Any

from reportlab.lib.colors import Color
from reportlab.lib.utils import simpleSplit
from reportlab.pdfbase import pdfmetrics

from ochre_stone.export.style import BODY, BOLD, INK, PAGE_MARGIN


class Page:
    """A cursor that runs down the page and starts a new one when it is full."""

    def __init__(self, canvas: Any, size: tuple[float, float], footer: Callable[["Page"], None]) -> None:
        self.canvas, (self.width, self.height), self.footer = canvas, size, footer
        self.number = 1
        self.y = self.height - PAGE_MARGIN

    @property
    def inner(self) -> float:
        return self.width - 2 * PAGE_MARGIN

    def need(self, space: float) -> None:
        if self.y - space < PAGE_MARGIN + 16:
            self.turn()

    def turn(self) -> None:
        """On to a new page."""
        self.finish()
        self.number += 1
        self.y = self.height - PAGE_MARGIN

    def finish(self) -> None:
        self.footer(self)
        self.canvas.showPage()

    def fits(self, words: str, room: float, sizes: Sequence[float], font: str = BOLD) -> float:
        """The largest of ``sizes``, falling, at which words fit the room; the last where none does."""
        return next((z for z in sizes if pdfmetrics.stringWidth(words, font, z) <= room), sizes[-1])

    @staticmethod
    def cut(words: str, room: float, size: float, font: str = BODY) -> str:
        """As many of the words as fit the room, with an ellipsis where some are left out."""
        if pdfmetrics.stringWidth(words, font, size) <= room:
            return words
        while words and pdfmetrics.stringWidth(f"{words}…", font, size) > room:
            words = words[:-1]
        return f"{words.rstrip(' ,')}…"

    def text(self, x: float, y: float, words: str, size: float = 9, font: str = BODY, ink: Color = INK) -> None:
        self.canvas.setFont(font, size)
        self.canvas.setFillColor(ink)
        self.canvas.drawString(x, y, words)

    def right(self, x: float, y: float, words: str, size: float = 9, font: str = BODY, ink: Color = INK) -> None:
        self.text(x - pdfmetrics.stringWidth(words, font, size), y, words, size, font, ink)

    def paragraph(self, words: str, size: float = 9, ink: Color = INK, lead: float = 1.3, indent: float = 0) -> None:
        for line in simpleSplit(words, BODY, size, self.inner - indent):
            self.need(size * lead)
            self.y -= size * lead
            self.text(PAGE_MARGIN + indent, self.y, line, size, ink=ink)

    def heading(self, words: str, size: float = 13, before: float = 14, keep: float = 40) -> None:
        self.need(size + before + keep)
        self.y -= size + before
        self.text(PAGE_MARGIN, self.y, words, size, BOLD)
        self.y -= 5
