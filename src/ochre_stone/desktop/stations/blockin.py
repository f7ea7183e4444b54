"""Block in: the sheet as it will print, for a canvas of this size."""

from PyQt6.QtWidgets import QComboBox, QDoubleSpinBox, QGridLayout, QLabel, QWidget

from ochre_stone.core.paint.cautions import cautions
from ochre_stone.core.project.document import Canvas
from ochre_stone.core.project.massing import fine_masses
from ochre_stone.core.project.planning import Sheet, make_sheet
from ochre_stone.desktop.stations.base import Station, button, clear, quietly
from ochre_stone.desktop.widgets.swatch import RibbonSwatch
from ochre_stone.export.pdf import sheet_pdf
from ochre_stone.export.tables import ribbon_words

SIZES = (
    "8 x 10 in",
    "9 x 12 in",
    "12 x 16 in",
    "16 x 20 in",
    "18 x 24 in",
    "30 x 40 cm",
    "40 x 50 cm",
    "50 x 70 cm",
)


class BlockIn(Station):
    title = "Block in"
    side = "sheet"
    needs_strings = True
    shows_marks = False

    def build(self) -> None:
        self.label("Block in", "title")
        self.format = QComboBox()
        self.format.setAccessibleName("Canvas format")
        self.format.addItems([*SIZES, "own size"])
        self.format.activated.connect(self._choose_format)
        self.width_, self.height_, self.unit = QDoubleSpinBox(), QDoubleSpinBox(), QComboBox()
        for box, field in ((self.width_, "width"), (self.height_, "height")):
            box.setRange(1, 1000)
            box.setDecimals(1)
            box.setMinimumWidth(72)
            box.setAccessibleName(f"Canvas {field}")
            box.valueChanged.connect(lambda v, f=field: self._set("Canvas size", "canvas", **{f: v}))
        self.unit.addItems(["cm", "in"])
        self.unit.setAccessibleName("Unit")
        self.unit.activated.connect(lambda _: self._set("Canvas unit", unit=self.unit.currentText()))
        self.rows.addWidget(self.format)
        self.row(self.width_, QLabel("×"), self.height_, self.unit)
        self.thickness, self.thickness_shown = self.slider(
            "Paint thickness", 5, 100, "Millimetres of wet paint: .1 thin, .2 usual, .5 generous"
        )
        self.thickness.valueChanged.connect(lambda v: self._set("Paint thickness", "thickness", thickness=v / 100))
        self.spare, self.spare_shown = self.slider("To spare", 0, 100, "Extra for waste and corrections")
        self.spare.valueChanged.connect(lambda v: self._set("To spare", "spare", spare=v / 100))
        self.paper = QComboBox()
        self.paper.addItems(["A4", "Letter"])
        self.paper.setAccessibleName("Paper")
        self.paper.activated.connect(lambda _: self._set("Paper", paper=self.paper.currentText()))
        self.save = button("Save the PDF…", "The sheet as it is shown (Ctrl+P)", "main")
        self.save.clicked.connect(lambda: self.window_.filing.export_pdf())
        self.row(self.paper, self.save, None)
        self.state = self.label("", "quiet")
        self.go = button("", "")
        self.go.clicked.connect(lambda: self.window_.go_to(self._missing_station()))
        self.rows.addWidget(self.go)
        self.amount_head = self.label("To squeeze out", "head")
        self.amounts_box = QWidget()
        self.amounts = QGridLayout(self.amounts_box)
        self.amounts.setContentsMargins(0, 0, 0, 0)
        self.amounts.setColumnStretch(1, 1)
        self.rows.addWidget(self.amounts_box)
        self.white = self.label("", "quiet")
        self.care_head = self.label("Cautions", "head")
        self.care = self.label("", "quiet")
        self.sheet: Sheet | None = None
        self.pdf = b""
        self._made_for: object = None
        self.studio.mixed_changed.connect(self.refresh_if_here)
        self.studio.masses_changed.connect(self.refresh_if_here)
        self.studio.mixing_progress.connect(lambda _: self._state())

    def _set(self, text: str, kind: str = "", **fields: object) -> None:
        canvas = Canvas.model_validate(self.document.canvas.model_dump() | fields)
        self.studio.change(text, self.document.model_copy(update={"canvas": canvas}), kind)

    def _choose_format(self, index: int) -> None:
        if index >= len(SIZES):
            return
        a, _, b, unit = SIZES[index].split(" ")
        picture = self.studio.picture
        wide = picture is not None and picture.width > picture.height
        small, large = sorted((float(a), float(b)))
        self._set("Canvas format", width=large if wide else small, height=small if wide else large, unit=unit)

    def _missing_station(self) -> str:
        if self.studio.picture is None:
            return "Look"
        return "Note" if not self.document.notes else "Mix"

    def refresh(self) -> None:
        c = self.document.canvas
        small, large = sorted((c.width, c.height))
        known = f"{small:g} x {large:g} {c.unit}"
        with (
            quietly(self.format),
            quietly(self.unit),
            quietly(self.paper),
            quietly(self.width_),
            quietly(self.height_),
        ):
            self.format.setCurrentText(known if known in SIZES else "own size")
            self.width_.setValue(c.width)
            self.height_.setValue(c.height)
            self.unit.setCurrentText(c.unit)
            self.paper.setCurrentText(c.paper)
        with quietly(self.thickness), quietly(self.spare):
            self.thickness.setValue(round(c.thickness * 100))
            self.spare.setValue(round(c.spare * 100))
        self.thickness_shown.setText(f"{c.thickness:g} mm")
        self.spare_shown.setText(f"{c.spare:.0%}")
        self._make()
        self._state()

    def _ready(self) -> bool:
        d = self.document
        return self.studio.picture is not None and bool(d.mixed.strings) and self.studio.strings_ready()

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
        self.save.setEnabled(bool(self.pdf) and self._ready() and not making)

    def _make(self) -> None:
        picture, document = self.studio.picture, self.document
        if not self._ready() or picture is None:
            self.pdf, self._made_for = b"", None
            self.window_.sheet.show_pdf(b"")
            self._amounts()
            return
        if document is self._made_for:
            return
        self._made_for = document

        def work(_: object) -> tuple[Sheet, bytes]:
            sheet = make_sheet(picture, document, fine_masses(picture, document))
            return sheet, sheet_pdf(sheet)

        def arrived(answer: tuple[Sheet, bytes]) -> None:
            self.sheet, self.pdf = answer
            self.window_.sheet.show_pdf(self.pdf)
            self._amounts()
            self._state()

        self.studio.jobs.start("sheet", work, arrived, self.studio.failed.emit)

    def _amounts(self) -> None:
        clear(self.amounts)
        shown = bool(self.pdf) and self.sheet is not None
        for w in (self.amount_head, self.white, self.care_head, self.care):
            w.setVisible(shown)
        if self.sheet is None or not shown:
            return
        for row, (tube_id, ml) in enumerate(self.sheet.amounts.tubes.items()):
            t = self.sheet.document.mixed.tube(tube_id)
            self.amounts.addWidget(RibbonSwatch(t.lab), row, 0)
            self.amounts.addWidget(QLabel(t.short), row, 1)
            self.amounts.addWidget(QLabel(ribbon_words(ml)), row, 2)
        a = self.sheet.amounts
        self.white.setText(f"{a.total:.0f} ml in all, {a.white_share:.0%} of it white.")
        self.care.setText("\n".join(cautions(self.sheet.tubes)))

    def done_words(self) -> str:
        return self.document.canvas.words
