"""What is written for the painter, off the main thread: the sheet's pages, the palette laid out, outlines, transfer.

What writes PDF is loaded with the first of them.
"""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject

from ochre_stone.core.errors import OchreError
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.planning.blockin import LaidIn, block_in
from ochre_stone.core.planning.massing import fine_masses
from ochre_stone.core.planning.planning import Sheet, make_sheet
from ochre_stone.core.store.atomic import write_bytes
from ochre_stone.desktop.session.studio import Studio


class Exports(QObject):
    """Each says what it wrote, or in one sentence why it did not."""

    def __init__(self, studio: Studio) -> None:
        super().__init__(studio)
        self.studio = studio

    def sheet(self, path: Path, sheet: Sheet | None, pdf: bytes) -> bool:
        """Write a sheet: its PDF at once; pages as SVG or PNG files, numbered, off the main thread."""
        suffix = path.suffix.lower()
        if suffix == ".pdf":
            return self._written(path, pdf)
        if sheet is None or suffix not in (".svg", ".png"):
            self.studio.failed.emit(f"'{path.name}' cannot be written: choose .pdf, .svg or .png.")
            return False

        def work(_: Any) -> int:
            from ochre_stone.export.pdf import sheet_png, sheet_svg

            pages = [p.encode() for p in sheet_svg(sheet)] if suffix == ".svg" else sheet_png(sheet)
            for n, page in enumerate(pages, 1):
                write_bytes(path if len(pages) == 1 else path.with_name(f"{path.stem} {n}{suffix}"), page)
            return len(pages)

        def arrived(pages: int) -> None:
            self.studio.told.emit(f"Saved {path.stem}, {pages} page{'s' * (pages > 1)}.")

        self.studio.jobs.start("sheet-pages", work, arrived, self.studio.failed.emit, outlives=True)
        return True

    def _written(self, path: Path, data: bytes) -> bool:
        try:
            write_bytes(path, data)
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return False
        self.studio.told.emit(f"Saved {path.name}.")
        return True

    def board(self, path: Path, surface: str) -> None:
        """Write the palette laid out on a ``surface``, one of those of the painter's settings."""
        picture, document = self.studio.picture, self.studio.document
        if picture is None or not self.studio.strings.ready() or not document.mixed.strings:
            self.studio.failed.emit("There are no piles to lay out yet: open a picture, take notes, and come to Mix.")
            return

        def work(_: Any) -> None:
            from ochre_stone.export.board import board_bytes

            sheet = make_sheet(picture, document, fine_masses(picture, document))
            write_bytes(path, board_bytes(sheet, path.suffix.lower().lstrip("."), surface))

        def arrived(_: Any) -> None:
            self.studio.told.emit(f"Saved {path.name}.")

        self.studio.jobs.start("board-file", work, arrived, self.studio.failed.emit, outlives=True)

    def outlines(self, path: Path) -> None:
        """Write the outlines of the masses as SVG."""
        title, canvas = self.studio.title, self.studio.document.canvas

        def made(plan: MassPlan) -> tuple[bytes, str]:
            from ochre_stone.export.outlines import outlines_svg

            return outlines_svg(plan, title, canvas=canvas).encode(), ""

        self._masses(path, made, "outlines")

    def transfer(self, path: Path) -> None:
        """Write the outlines at the size of the canvas over several pages."""
        title, canvas = self.studio.title, self.studio.document.canvas

        def made(plan: MassPlan) -> tuple[bytes, str]:
            from ochre_stone.export.outlines import tiling, traced_masses, transfer_pdf

            return transfer_pdf(traced_masses(plan), canvas, title), f", {tiling(canvas).pages + 1} pages"

        self._masses(path, made, f"transfer for {canvas.words}")

    def block_in(self, path: Path) -> None:
        """Write the block-in's outlines with numbers at the size of the canvas, as PDF, SVG (with fills) or PNG."""
        title, canvas = self.studio.title, self.studio.document.canvas

        def made(found: LaidIn) -> tuple[bytes, str]:
            from ochre_stone.export.blockoutlines import block_in_bytes

            kind = path.suffix.lower().lstrip(".")
            return block_in_bytes(found, kind, canvas, title, 0, kind == "png"), ""

        self._laid_in(path, made, f"outlines of the block-in for {canvas.words}")

    def block_in_transfer(self, path: Path) -> None:
        """Write the block-in's outlines at the size of the canvas over several pages."""
        title, canvas = self.studio.title, self.studio.document.canvas

        def made(found: LaidIn) -> tuple[bytes, str]:
            from ochre_stone.export.blockoutlines import traced_piles
            from ochre_stone.export.outlines import tiling, transfer_pdf

            return transfer_pdf(traced_piles(found, canvas), canvas, title), f", {tiling(canvas).pages + 1} pages"

        self._laid_in(path, made, f"transfer of the block-in for {canvas.words}")

    def _laid_in(self, path: Path, made: Callable[[LaidIn], tuple[bytes, str]], words: str) -> None:
        picture, document = self.studio.picture, self.studio.document
        if picture is None or not self.studio.strings.ready() or not document.mixed.strings:
            self.studio.failed.emit("There is no block-in yet: open a picture, take notes, and come to Mix.")
            return

        def work() -> tuple[bytes, str]:
            found = block_in(picture, document)
            assert found is not None  # there are strings
            return made(found)

        self._write(path, work, words)

    def _masses(self, path: Path, made: Callable[[MassPlan], tuple[bytes, str]], words: str) -> None:
        """``made``: the file, and what is said of it besides ``words``."""
        picture, document = self.studio.picture, self.studio.document
        if picture is None:
            self.studio.failed.emit("There are no masses yet: open a picture first.")
            return

        self._write(path, lambda: made(fine_masses(picture, document)), words)

    def _write(self, path: Path, made: Callable[[], tuple[bytes, str]], words: str) -> None:
        def work(_: Any) -> str:
            data, more = made()
            write_bytes(path, data)
            return more

        def arrived(more: str) -> None:
            self.studio.told.emit(f"Wrote the {words}{more}: {path.name}.")

        self.studio.told.emit(f"Writing the {words}…")
        self.studio.jobs.start("outlines", work, arrived, self.studio.failed.emit, outlives=True)
