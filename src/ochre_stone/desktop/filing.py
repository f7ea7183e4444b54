"""Opening, saving, exporting, and keeping unsaved work safe."""

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QFileDialog, QMessageBox

from ochre_stone.core.errors import OchreError
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.picture.load import SUFFIXES
from ochre_stone.core.project.atomic import write_bytes
from ochre_stone.core.project.files import SUFFIX, save
from ochre_stone.core.project.massing import fine_masses
from ochre_stone.core.project.planning import make_sheet
from ochre_stone.desktop import settings as memory
from ochre_stone.export.board import board_bytes
from ochre_stone.export.outlines import outlines_svg, tiling, transfer_pdf
from ochre_stone.export.pdf import sheet_png, sheet_svg
from ochre_stone.resources import resource

if TYPE_CHECKING:
    from ochre_stone.desktop.window import Window

_AUTOSAVE_MS = 60_000
_READABLE = " ".join(f"*{s} *{s.upper()}" for s in SUFFIXES)


_DRAWN = "PDF (*.pdf);;SVG (*.svg);;PNG (*.png)"


def _ending(name: str, kind: str) -> Path:
    """The place with the ending of the chosen kind, where it was given none of ours."""
    path = Path(name)
    if path.suffix.lower() in (".pdf", ".svg", ".png"):
        return path
    return path.with_name(path.name + (kind[kind.find("*") + 1 : kind.find(")")] if "*" in kind else ".pdf"))


def _safe_copy(path: Path) -> Path:
    """Where unsaved changes to a project are kept safe: hidden beside it."""
    return path.with_name(f".{path.stem}.autosave{SUFFIX}")


READABLE = f"Photos ({_READABLE});;All files (*)"


class Filing(QObject):
    """The window's dealings with files."""

    def __init__(self, window: "Window") -> None:
        super().__init__(window)
        self.window_ = window
        self._timer = QTimer(self)
        self._timer.setInterval(_AUTOSAVE_MS)
        self._timer.timeout.connect(self.autosave)
        self._timer.start()

    def ask_open(self) -> None:
        """Ask for a photo or a project."""
        if not self.may_go_on():
            return
        name, _ = QFileDialog.getOpenFileName(
            self.window_, "Open a photo or a project", self.window_.settings.folder,
            f"Photos and projects ({_READABLE} *{SUFFIX});;Projects (*{SUFFIX});;All files (*)",
        )  # fmt: skip
        if name:
            self.open(Path(name), asked=True)

    def open(self, path: Path, asked: bool = False) -> None:
        """Open a photo or a project; unsaved work is asked about first."""
        if not asked and not self.may_go_on():
            return

        def done() -> None:
            self.window_.settings.remember(path)
            memory.store(self.window_.settings)
            self.window_.show_title()
            if self.window_.last_told == opening:
                self.window_.tell(f"Opened {path.name}.")

        opening = f"Opening {path.name}…"
        self.window_.tell(opening)
        if path.suffix == SUFFIX and self._rescue(path, done):
            return
        self.window_.studio.load(path, done, may_replace=self.may_go_on)

    def _rescue(self, path: Path, done: Callable[[], None]) -> bool:
        """Where a newer safe copy lies beside a project: offer it, and open it in the project's place as unsaved."""
        copy = _safe_copy(path)
        if not copy.exists() or (path.exists() and copy.stat().st_mtime <= path.stat().st_mtime):
            return False
        if not self._ask(f"The last time “{path.stem}” ended before it was saved. Bring the unsaved work back?"):
            copy.unlink(missing_ok=True)
            return False

        def arrived() -> None:
            self.window_.studio.path = path
            self.window_.studio.undo.resetClean()
            done()

        self.window_.studio.load(copy, arrived, as_copy=True)
        return True

    def _ask(self, words: str) -> bool:
        buttons = QMessageBox.StandardButton
        return bool(
            QMessageBox.question(self.window_, "Ochre Stone", words, buttons.Yes | buttons.No, buttons.Yes)
            == buttons.Yes
        )

    def ask_demo(self) -> None:
        """Open the demo, unless unsaved work is wanted."""
        if self.may_go_on():
            self.open_demo()

    def open_demo(self) -> None:
        """Open the demo project as an untitled copy: the shipped one is never written to."""
        words = "This is a copy of the demo: try anything; Save asks where to keep it."
        self.window_.studio.load(
            resource("demo", "orchard-keeper.ochre"), lambda: self.window_.tell(words), as_copy=True
        )

    def save(self) -> bool:
        """Save; asks where when that is not known."""
        if self.window_.studio.path is None:
            return self.save_as()
        return self.save_to(self.window_.studio.path)

    def save_as(self) -> bool:
        """Ask where to save."""
        start = str(Path(self.window_.settings.folder or Path.home()) / f"{self.window_.studio.title}{SUFFIX}")
        name, _ = QFileDialog.getSaveFileName(self.window_, "Save the project", start, f"Projects (*{SUFFIX})")
        if not name:
            return False
        path = Path(name)
        return self.save_to(path if path.suffix == SUFFIX else path.with_name(path.name + SUFFIX))

    def save_to(self, path: Path) -> bool:
        """Save to a file; says what went wrong and gives False when it could not."""
        wrong = self.window_.studio.save(path)
        if wrong:
            self.window_.complain(wrong)
            return False
        self.window_.settings.remember(path)
        memory.store(self.window_.settings)
        memory.autosave_file().unlink(missing_ok=True)
        _safe_copy(path).unlink(missing_ok=True)
        self.window_.tell(f"Saved {path.name}.")
        self.window_.show_title()
        return True

    def export_pdf(self) -> bool:
        """Ask where to save the sheet, as PDF, SVG or PNG."""
        block_in = self.window_.block_in
        if not block_in.pdf or self.window_.station is not block_in:
            self.window_.go_to("Block in")
            if not block_in.pdf:
                self.window_.tell("The sheet is being made: save it when it is shown.")
                return False
        start = str(Path(self.window_.settings.folder or Path.home()) / f"{self.window_.studio.title} sheet.pdf")
        name, kind = QFileDialog.getSaveFileName(self.window_, "Save the sheet", start, _DRAWN)
        return bool(name) and self.write_sheet(_ending(name, kind))

    def write_sheet(self, path: Path) -> bool:
        """Write the sheet that is shown: the PDF at once; pages as SVG or PNG files, numbered, off the main thread."""
        block_in = self.window_.block_in
        suffix = path.suffix.lower()
        if suffix == ".pdf":
            return self._written(path, block_in.pdf)
        sheet = block_in.sheet
        if sheet is None or suffix not in (".svg", ".png"):
            self.window_.complain(f"'{path.name}' cannot be written: choose .pdf, .svg or .png.")
            return False

        def work(_: Any) -> int:
            pages = [p.encode() for p in sheet_svg(sheet)] if suffix == ".svg" else sheet_png(sheet)
            for n, page in enumerate(pages, 1):
                write_bytes(path if len(pages) == 1 else path.with_name(f"{path.stem} {n}{suffix}"), page)
            return len(pages)

        self.window_.studio.jobs.start(
            "sheet-pages", work, lambda n: self.window_.tell(f"Saved {path.stem}, {n} page{'s' * (n > 1)}."),
            self.window_.studio.failed.emit,
        )  # fmt: skip
        return True

    def export_board(self) -> None:
        """Ask where to save the palette laid out."""
        start = str(Path(self.window_.settings.folder or Path.home()) / f"{self.window_.studio.title} palette.pdf")
        name, kind = QFileDialog.getSaveFileName(self.window_, "Save the palette's layout", start, _DRAWN)
        if name:
            self.write_board(_ending(name, kind))

    def write_board(self, path: Path) -> None:
        """Write the palette laid out, off the main thread."""
        studio = self.window_.studio
        picture, document = studio.picture, studio.document
        if picture is None or not studio.strings_ready() or not document.mixed.strings:
            studio.failed.emit("There are no piles to lay out yet: open a picture, take notes, and come to Mix.")
            return
        surface = self.window_.settings.palette_surface

        def work(_: Any) -> None:
            sheet = make_sheet(picture, document, fine_masses(picture, document))
            write_bytes(path, board_bytes(sheet, path.suffix.lower().lstrip("."), surface))

        studio.jobs.start("board-file", work, lambda _: self.window_.tell(f"Saved {path.name}."), studio.failed.emit)

    def _written(self, path: Path, data: bytes) -> bool:
        try:
            write_bytes(path, data)
        except OchreError as error:
            self.window_.complain(str(error))
            return False
        self.window_.tell(f"Saved {path.name}.")
        return True

    def _ask_place(self, words: str, ending: str, kind: str) -> Path | None:
        """Ask where to write; None where the painter thought better of it."""
        studio = self.window_.studio
        start = Path(self.window_.settings.folder or Path.home()) / f"{studio.title}{ending}"
        name, _ = QFileDialog.getSaveFileName(self.window_, words, str(start), kind)
        if not name:
            return None
        suffix = Path(ending).suffix
        return Path(name) if Path(name).suffix.lower() == suffix else Path(name + suffix)

    def export_outlines(self) -> None:
        """Ask where to write the outlines as SVG."""
        place = self._ask_place("Outlines of the masses", " outlines.svg", "SVG (*.svg)")
        if place is not None:
            self.write_outlines(place)

    def write_outlines(self, path: Path) -> None:
        """Write the outlines of the masses as SVG, off the main thread."""
        studio = self.window_.studio
        title, canvas = studio.title, studio.document.canvas
        self._write_masses(path, lambda plan: outlines_svg(plan, title, canvas=canvas).encode(), "outlines")

    def export_transfer(self) -> None:
        """Ask where to write the transfer."""
        place = self._ask_place("Transfer at canvas size", " transfer.pdf", "PDF (*.pdf)")
        if place is not None:
            self.write_transfer(place)

    def write_transfer(self, path: Path) -> None:
        """Write the outlines at the size of the canvas over several pages, off the main thread."""
        studio = self.window_.studio
        title, canvas = studio.title, studio.document.canvas
        words = f"transfer for {canvas.words}, {tiling(canvas).pages + 1} pages"
        self._write_masses(path, lambda plan: transfer_pdf(plan, canvas, title), words)

    def _write_masses(self, path: Path, made: Callable[[MassPlan], bytes], words: str) -> None:
        studio = self.window_.studio
        picture, document = studio.picture, studio.document
        if picture is None:
            studio.failed.emit("There are no masses yet: open a picture first.")
            return

        def work(_: Any) -> None:
            write_bytes(path, made(fine_masses(picture, document)))

        self.window_.tell(f"Writing the {words}…")
        studio.jobs.start(
            "outlines", work, lambda _: self.window_.tell(f"Wrote the {words}: {path.name}."), studio.failed.emit
        )

    def may_go_on(self) -> bool:
        """False when there is unsaved work that the painter wants to keep at hand."""
        if self.window_.studio.undo.isClean():
            return True
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self.window_, "Ochre Stone", f"Save the changes to “{self.window_.studio.title}” first?",
            buttons.Save | buttons.Discard | buttons.Cancel, buttons.Save,
        )  # fmt: skip
        if answer == buttons.Save:
            return self.save()
        return bool(answer == buttons.Discard)

    def autosave(self) -> None:
        """Keep a copy of unsaved work, off the main thread."""
        document, picture = self.window_.studio.document, self.window_.studio.picture
        if self.window_.studio.undo.isClean() or (picture is None and not document.notes):
            return
        path = self.window_.studio.path
        place = _safe_copy(path) if path is not None else memory.autosave_file()

        def work(_: Any) -> None:
            place.parent.mkdir(parents=True, exist_ok=True)
            save(place, document, picture)

        self.window_.studio.jobs.start("autosave", work, lambda _: None, self.window_.tell)

    def offer_autosave(self) -> bool:
        """After a crash: bring unsaved work back, if the painter wants it. True when it is on its way."""
        place = memory.autosave_file()
        if not place.exists():
            return False
        if self._ask("The last time ended before the work was saved. Bring it back?"):
            self.window_.studio.load(place, self.window_.studio.undo.resetClean, as_copy=True)
            return True
        place.unlink(missing_ok=True)
        return False

    def begin(self, path: str | None, demo: bool) -> None:
        """What the window starts with: unsaved work of the last time, else the demo or the file that was asked for."""
        if self.offer_autosave():
            return
        if demo:
            self.open_demo()
        elif path is not None:
            self.open(Path(path), asked=True)

    def close(self) -> None:
        """The window goes: what was saved or given up needs no safe copy."""
        self._timer.stop()
        path = self.window_.studio.path
        memory.autosave_file().unlink(missing_ok=True)
        if path is not None:
            _safe_copy(path).unlink(missing_ok=True)
