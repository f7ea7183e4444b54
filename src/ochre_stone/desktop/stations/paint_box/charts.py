"""The Charts page of the Paint box: charts of a palette to look at, to print, to paint into, and to find a note in."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from PyQt6.QtCore import QRectF
from PyQt6.QtWidgets import QCheckBox, QScrollArea, QSpinBox

from ochre_stone.core.colour.reading import read
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.chart import (
    CHART_KINDS,
    LEAST_VALUES,
    MOST_VALUES,
    Cell,
    Chart,
    cell_number,
    chart_values,
    make_chart,
    nearest_cells,
    readable_kinds,
)
from ochre_stone.core.paint.palettes import Palette
from ochre_stone.core.paint.predict import Prediction, uncertainty
from ochre_stone.core.planning.rows import note_targets
from ochre_stone.core.store.atomic import write_bytes
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.jobs import Report
from ochre_stone.desktop.session.notes import Notes
from ochre_stone.desktop.session.palettes import Palettes
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.widgets.asking import ask_save
from ochre_stone.desktop.widgets.chartview import ChartView
from ochre_stone.desktop.widgets.parts import button, counts, enable, set_tip
from ochre_stone.desktop.widgets.swatch import HalvesSwatch
from ochre_stone.desktop.widgets.tray import Tray

_KIND_WORDS = {"singles": "singles", "darkened": "with black", "pairs": "pairs", "triples": "triples"}


class ChartsPage:
    """The chart beside the picture; what is on it, and the cell in hand, in the tray."""

    def __init__(
        self, tray: Tray, palettes: Palettes, notes: Notes, settings: Settings, to_bench: Callable[[Cell], None]
    ) -> None:
        self.notes = notes
        self.palettes, self.studio, self.keeper = palettes, palettes.studio, palettes.keeper
        self.tray, self.settings = tray, settings
        self.view = ChartView()
        self.panel = QScrollArea()
        self.panel.setObjectName("surround")
        self.panel.setWidgetResizable(True)
        self.panel.setWidget(self.view)
        self.view.chosen.connect(self.choose)
        self.view.stepped.connect(self._into_sight)
        self.chart: Chart | None = None
        self.selected = ""
        self.question: Question[Chart | str] = Question(
            self.studio.jobs, "palette-chart", self._key, self._arrived, self.studio.failed.emit, outlives=True
        )
        self._kinds_of: str | None = None
        self.values = QSpinBox()
        self.values.setRange(LEAST_VALUES, MOST_VALUES)
        self.values.setValue(6)
        counts(self.values, "step")
        set_tip(self.values, "Cells of a row, from its mass tone to nearly white")
        self.values.setAccessibleName("Steps of a row")
        self.values.valueChanged.connect(lambda _: self.refresh())
        self.same = QCheckBox("same values")
        set_tip(self.same, "All rows at the same values, in columns, instead of equal steps from each mass tone")
        self.same.clicked.connect(lambda _: self.refresh())
        self.kinds = {k: QCheckBox(_KIND_WORDS[k]) for k in CHART_KINDS}
        for box in self.kinds.values():
            box.clicked.connect(lambda _: self.refresh())
        tray.row(*list(self.kinds.values())[:2], None)
        tray.row(*list(self.kinds.values())[2:], None)
        tray.row(self.values, self.same, None)
        self.says = tray.label("", "quiet")
        self.head = tray.label("", "head")
        self.swatch = HalvesSwatch(64)
        tray.rows.addWidget(self.swatch)
        self.recipe = tray.label("")
        self.find = button("Find the note in hand", "The cells that come nearest, as a start for a recipe (/)")
        self.find.clicked.connect(self.find_note)
        self.into_notes = button("Note this cell", "Its colour becomes a note, which gets a pile at Mix")
        self.into_notes.clicked.connect(self.note_cell)
        self.bench = button("On the bench", "Mix this cell on the bench, and push it on from there", "small")
        self.bench.clicked.connect(lambda: self._to_bench(to_bench))
        tray.row(self.find, self.into_notes)
        tray.row(self.bench, None)
        self.found = tray.label("")
        tray.label("To print", "head")
        self.save = button("Save the chart…", "As PDF, SVG, CSV or CGATS")
        self.blank = button("Save a blank one…", "With its parts, to paint into")
        self.save.clicked.connect(lambda: self.ask_save(False))
        self.blank.clicked.connect(lambda: self.ask_save(True))
        tray.row(self.save, self.blank)
        self.near: list[tuple[Cell, float]] = []
        self._note_found: str | None = None
        self._finds = False

    def _into_sight(self, box: QRectF) -> None:
        self.panel.ensureVisible(round(box.center().x()), round(box.center().y()), 0, 60)

    def wanted(self) -> tuple[str, ...]:
        """Kinds of rows that are ticked."""
        return tuple(k for k, box in self.kinds.items() if box.isChecked())

    def choose(self, label: str) -> None:
        """Take a cell in hand."""
        self.selected = label
        self._fill()

    def find_soon(self) -> None:
        """Find the note in hand now, or once the chart is made."""
        self._finds = self.chart is None
        if not self._finds:
            self.find_note()

    def find_note(self) -> None:
        """The cells nearest to the note in hand."""
        document, chosen = self.studio.document, self.studio.selected
        if self.chart is None:
            return
        if chosen is None:
            self.found.setText("Take a note in hand first: click it on the scale.")
            return
        index = [n.id for n in document.notes].index(chosen)
        self.near = nearest_cells(self.chart, note_targets(document)[index])
        self._note_found = chosen
        if self.near:
            self.selected = self.near[0][0].label
            box = self.view.box_of(self.selected)
            if box is not None:
                self._into_sight(box)
        self._fill()

    def note_cell(self) -> None:
        """Note the colour of the chosen cell."""
        cell = next((c for c in self.chart.cells if c.label == self.selected), None) if self.chart else None
        if cell is not None and self.chart is not None:
            note = self.notes.note_colour(cell.lab, f"chart cell {cell.label}: {self._parts(cell)}")
            self.studio.told.emit(f"Noted: {note.name}, the chart's {cell.label}.")

    def _to_bench(self, to_bench: Callable[[Cell], None]) -> None:
        cell = next((c for c in self.chart.cells if c.label == self.selected), None) if self.chart else None
        if cell is not None:
            to_bench(cell)

    def ask_save(self, blank: bool) -> None:
        """The chart as a file."""
        if self.chart is None:
            return
        kinds = "To print (*.pdf);;Drawing (*.svg)" + ("" if blank else ";;Table (*.csv);;CGATS (*.txt *.cgats)")
        words = "Save a blank chart" if blank else "Save the chart"
        path = ask_save(self.tray.widget, words, self.settings.folder, f"{self.chart.palette.id}-chart.pdf", kinds)
        if path is not None:
            self.save_file(path, blank)

    def save_file(self, path: Path, blank: bool = False) -> None:
        """Write the chart by the file's suffix, off the main thread."""
        chart, paper = self.chart, self.studio.document.canvas.paper
        if chart is None:
            return

        def work(_: Any) -> str:
            from ochre_stone.export.chart import chart_bytes

            write_bytes(path, chart_bytes(chart, path.suffix, paper, blank))
            return path.name

        self.studio.told.emit(f"Writing {path.name}…")
        self.studio.jobs.start(
            "chart-file",
            work,
            lambda name: self.studio.told.emit(f"Wrote {name}."),
            self.studio.failed.emit,
            outlives=True,
        )

    # Showing

    def refresh(self) -> None:
        chosen = self.palettes.chosen()
        if chosen.id != self._kinds_of:
            self._kinds_of = chosen.id
            for k, box in self.kinds.items():
                box.setChecked(k in readable_kinds(chosen))
        if not self.question.ask(self._work(chosen)) and self.chart is not None:
            self.chart, self.near, self._note_found = None, [], None
            self.view.hint = "The chart is being worked out."
        self._fill()

    def _key(self) -> object:
        chosen = self.palettes.chosen()
        return chosen.tubes, chosen.name, chosen.surface, self.values.value(), self.same.isChecked(), self.wanted()

    def _work(self, chosen: Palette) -> Callable[[Report], Chart | str]:
        count, kinds = self.values.value(), self.wanted()
        values = chart_values(count) if self.same.isChecked() else count

        def work(_: Any) -> Chart | str:
            try:
                return make_chart(chosen, values, kinds)
            except OchreError as error:
                return str(error)  # no accident: it is said where the chart would stand

        return work

    def _arrived(self, answer: Chart | str) -> None:
        self.chart = answer if isinstance(answer, Chart) else None
        self.view.hint = answer if isinstance(answer, str) else ""
        self._fill()
        if self._finds:
            self.find_soon()

    def _fill(self) -> None:
        chart = self.chart
        cells = {c.label: c for c in chart.cells} if chart is not None else {}
        if self.selected not in cells:
            self.selected = next(iter(cells), "")
        if self._note_found != self.studio.selected:
            self.near, self._note_found = [], None
        note = self._note()
        self.view.show_chart(chart, self.selected, {c.label for c, _ in self.near}, note)
        self.says.setText(f"{len(chart.rows)} rows, {len(cells)} cells, {chart.palette.name}." if chart else "")
        cell = cells.get(self.selected)
        for w in (self.head, self.swatch, self.recipe):
            w.setVisible(cell is not None)
        for b in (self.save, self.blank, self.find, self.into_notes, self.bench):
            enable(b, "" if chart is not None else "There is no chart yet.")
        self.found.mark_up("<br>".join(f"<b>{c.label}</b> {self._parts(c)}: {d:.1f} off" for c, d in self.near))
        if cell is None or chart is None:
            return
        self.head.setText(f"{cell.label}, value {numbers.value(cell.value)}: {cell.words}")
        if note is not None:
            self.swatch.show_pair(note, cell.lab, "note", cell.label)
        else:
            self.swatch.show_pair(cell.lab, cell.lab, cell.label, read(cell.lab).name)
        tubes = [chart.palette.tube(i) for i, _ in cell.parts]
        off = uncertainty(tubes, np.array([n for _, n in cell.parts]), chart.palette.surface)
        self.recipe.setText(f"{self._parts(cell)}. {Prediction(cell.lab, off).trust.capitalize()}.")

    def _note(self) -> tuple[float, float, float] | None:
        if self._note_found is None:
            return None
        ids = [n.id for n in self.studio.document.notes]
        if self._note_found not in ids:
            return None
        L, a, b = note_targets(self.studio.document)[ids.index(self._note_found)].tolist()
        return L, a, b

    def _parts(self, cell: Cell) -> str:
        palette = self.palettes.chosen()
        return ", ".join(
            f"{cell_number(round(n * 4) / 4) if n >= 0.25 else f'{n:.2g}'} {palette.tube(i).short}"
            for i, n in cell.parts
        )
