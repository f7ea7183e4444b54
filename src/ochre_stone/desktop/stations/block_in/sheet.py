"""The Sheet page of Block in: the canvas, and the sheet as it will print, with what it takes."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QDate, QTimer
from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox

from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.session.amounts import grams, shopping
from ochre_stone.core.paint.cautions import cautions, hazards
from ochre_stone.core.paint.media import MEDIA
from ochre_stone.core.planning.massing import fine_masses
from ochre_stone.core.planning.planning import Sheet, make_sheet, means_of
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.session.session import Session
from ochre_stone.desktop.widgets.amountsview import AmountsView
from ochre_stone.desktop.widgets.parts import Words, button, enable, narrow, set_tip, signals_blocked
from ochre_stone.desktop.widgets.sheetview import SheetView
from ochre_stone.desktop.widgets.tray import Tray

CANVAS_SIZES = (
    "8 x 10 in",
    "9 x 12 in",
    "12 x 16 in",
    "16 x 20 in",
    "18 x 24 in",
    "30 x 40 cm",
    "40 x 50 cm",
    "50 x 70 cm",
)


class SheetPage:
    """The canvas and the sheet; ``save`` and ``transfer`` ask where to write them."""

    def __init__(self, tray: Tray, session: Session, save: Callable[[], None], transfer: Callable[[], None]) -> None:
        self.studio, self.keeper, self.piles = session.studio, session.keeper, session.piles
        self.view = SheetView()
        self.view.clicked.connect(self._clicked)
        self.format = QComboBox()
        self.format.setAccessibleName("Canvas format")
        self.format.addItems([*CANVAS_SIZES, "own size"])
        self.format.activated.connect(self._choose_format)
        self.width_, self.height_, self.unit = QDoubleSpinBox(), QDoubleSpinBox(), QComboBox()
        for box, field in ((self.width_, "width"), (self.height_, "height")):
            box.setRange(1, 1000)
            box.setDecimals(1)
            box.setMinimumWidth(72)
            box.setAccessibleName(f"Canvas {field}")
            box.valueChanged.connect(lambda v, f=field: self.set_canvas("Canvas size", "canvas", **{f: v}))
        self.unit.addItems(["cm", "in"])
        self.unit.setAccessibleName("Unit")
        self.unit.activated.connect(lambda _: self.set_canvas("Canvas unit", unit=self.unit.currentText()))
        self.paper = QComboBox()
        self.paper.addItems(["A4", "A3", "Letter"])
        self.paper.setAccessibleName("Paper")
        set_tip(self.paper, "Paper of the sheet")
        self.paper.activated.connect(lambda _: self.set_canvas("Paper", paper=self.paper.currentText()))
        tray.row(narrow(self.format), Words("on"), self.paper).setStretch(0, 1)
        tray.row(self.width_, Words("×"), self.height_, self.unit)
        self.thickness, self.thickness_shown = tray.slider(
            "Thickness", 5, 100, "Millimetres of wet paint: .1 thin, .2 usual, .5 generous", one_row=True
        )
        self.thickness.valueChanged.connect(
            lambda v: self.set_canvas("Paint thickness", "thickness", thickness=v / 100)
        )
        self.spare, self.spare_shown = tray.slider("To spare", 0, 100, "Extra for waste and corrections", one_row=True)
        self.spare.valueChanged.connect(lambda v: self.set_canvas("To spare", "spare", spare=v / 100))
        self.save = button("Save the sheet…", "As PDF, SVG or PNG (Ctrl+P)", "main")
        self.save.clicked.connect(lambda: save())
        self.transfer = button("Transfer…", "The block-in's outlines at canvas size, over pages of this paper")
        self.transfer.clicked.connect(lambda: transfer())
        self.usual = button("", "The usual thickness of this medium", "small")
        self.usual.clicked.connect(lambda: self.set_canvas("Usual thickness", thickness=self._usual()))
        tray.row(self.save, self.transfer, self.usual, None)
        self.state = tray.label("", "quiet")
        self.go = button("", "")
        self.go.clicked.connect(lambda: session.go.emit(self._missing_station(), ""))
        tray.rows.addWidget(self.go)
        self.amount_head = tray.label("To squeeze out", "head")
        self.amounts = AmountsView()
        tray.rows.addWidget(self.amounts)
        self.buy = tray.label("", "warning")
        self.care = tray.label("", "warning")
        self.cared: Callable[[Sequence[str]], None] = lambda said: None
        """Is told the cautions of what the sheet takes."""
        self.sheet: Sheet | None = None
        self.pdf = b""
        self.question: Question[tuple[Sheet, bytes]] = Question(
            self.studio.jobs, "sheet", lambda: self.document, self._arrived, self.studio.failed.emit
        )

        self.studio.strings.progress.connect(lambda _: self._state())

    def _clicked(self, page: int, y: float) -> None:
        """The pile whose line was clicked is taken in hand: the small picture shows where it goes."""
        names = {name: pile for pile, name in self.piles.names().items()}
        found = self.view.found_at(names, page, y)
        if found is not None:
            self.piles.choose(names[found])

    @property
    def document(self) -> Document:
        return self.studio.document

    def set_canvas(self, text: str, kind: str = "", **fields: object) -> None:
        """Change fields of the canvas as one step."""
        self.studio.adjust("canvas", text, kind, **fields)

    def _choose_format(self, index: int) -> None:
        if index >= len(CANVAS_SIZES):
            return
        a, _, b, unit = CANVAS_SIZES[index].split(" ")
        picture = self.studio.picture
        wide = picture is not None and picture.width > picture.height
        small, large = sorted((float(a), float(b)))
        self.set_canvas("Canvas format", width=large if wide else small, height=small if wide else large, unit=unit)

    def _missing_station(self) -> str:
        if self.studio.picture is None:
            return "Look"
        return "Note" if not self.document.notes else "Mix"

    def refresh(self) -> None:
        """Show the sheet once it is made."""
        self._make()
        self._state()

    def show_canvas(self) -> None:
        """Show the canvas as it is chosen."""
        c = self.document.canvas
        small, large = sorted((c.width, c.height))
        known = f"{small:g} x {large:g} {c.unit}"
        with (
            signals_blocked(self.format),
            signals_blocked(self.unit),
            signals_blocked(self.paper),
            signals_blocked(self.width_),
            signals_blocked(self.height_),
        ):
            self.format.setCurrentText(known if known in CANVAS_SIZES else "own size")
            self.width_.setValue(c.width)
            self.height_.setValue(c.height)
            self.unit.setCurrentText(c.unit)
            self.paper.setCurrentText(c.paper)
        with signals_blocked(self.thickness), signals_blocked(self.spare):
            self.thickness.setValue(round(c.thickness * 100))
            self.spare.setValue(round(c.spare * 100))
        self.thickness_shown.setText(f"{c.thickness:g} mm")
        self.spare_shown.setText(f"{c.spare:.0%}")
        medium = self.document.mix.chosen().medium
        self.usual.setText(f"{medium}: {self._usual():g} mm")
        self.usual.setVisible(abs(self._usual() - c.thickness) > 1e-9)

    def _usual(self) -> float:
        """Wet thickness that is usual for the palette's medium."""
        return MEDIA[self.document.mix.chosen().medium].film_mm

    def _ready(self) -> bool:
        d = self.document
        return self.studio.picture is not None and bool(d.mixed.strings) and self.studio.strings.ready()

    def _state(self) -> None:
        making = self.studio.jobs.busy("sheet")
        mixing = self.studio.jobs.busy("mix")
        words = ""
        if self.studio.picture is None:
            words = "A picture is missing."
        elif not self.document.notes:
            words = "Notes are missing: strings are built from them."
        elif mixing:
            words = "The strings are being worked out…"
        elif not self._ready():
            words = "No strings are chosen." if not making else ""
        elif making:
            words = "Drawing the sheet…"
        self.state.setText(words)
        self.state.setVisible(bool(words))
        missing = not self._ready() and not mixing
        self.go.setVisible(missing)
        self.go.setText(f"Go to {self._missing_station()}")
        made = bool(self.pdf) and self._ready() and not making
        enable(self.save, "" if made else words or "The sheet is not made yet.")
        enable(self.transfer, "" if self.studio.picture is not None else "Open a photo first.")

    def _make(self) -> None:
        picture, document = self.studio.picture, self.document
        if not self._ready() or picture is None:
            self.pdf = b""
            self.question.forget()
            self.view.show_pdf(b"")
            self._amounts()
            return

        def work(_: object) -> tuple[Sheet, bytes]:
            today = QDate.currentDate().toString("yyyy-MM-dd")
            sheet = make_sheet(picture, document, fine_masses(picture, document), today)
            from ochre_stone.export.pdf import sheet_pdf

            return sheet, sheet_pdf(sheet)

        self.question.ask(work)

    def _arrived(self, answer: tuple[Sheet, bytes]) -> None:
        self.sheet, self.pdf = answer
        self.view.show_pdf(self.pdf)
        QTimer.singleShot(0, self._shown)  # the page is drawn in one turn, the tray in the next

    def _shown(self) -> None:
        self._amounts()
        self._state()

    def _amounts(self) -> None:
        shown = bool(self.pdf) and self.sheet is not None
        for w in (self.amount_head, self.amounts):
            w.setVisible(shown)
        self.buy.hide()
        self.care.hide()
        if self.sheet is None or not shown:
            return
        known = self.sheet.document.mixed.tube
        self.amounts.show_rows([(known(i).short, known(i).lab, ml) for i, ml in self.sheet.amounts.tubes.items()])
        a = self.sheet.amounts
        weight = sum(grams(ml, self.sheet.document.mixed.tube(i)) for i, ml in a.tubes.items())
        self.amount_head.setText(f"To squeeze out: {a.total:.0f} ml, {weight:.0f} g, {a.white_share:.0%} white")
        stock = means_of(self.keeper.box).stock
        missing = shopping(a, stock) if stock else []
        names = self.sheet.document.mixed
        rows = [f"{names.tube(m.tube).short} {m.short:.0f} ml ({m.to_buy()} of 40 ml)" for m in missing]
        self.buy.setText(f"To buy: {'; '.join(rows)}." if rows else "")
        self.buy.setVisible(bool(rows))
        risky = [t.short for t in self.sheet.tubes if hazards(t)]
        self.care.setText(f"Can hurt: {', '.join(risky)}; see Cautions.")
        self.care.setVisible(bool(risky))
        self.cared(cautions(self.sheet.tubes))
