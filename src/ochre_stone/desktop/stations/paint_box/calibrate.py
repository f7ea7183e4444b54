"""The Calibrate page of the Paint box: teach the program the painter's own tubes from swatches of them."""

from dataclasses import replace
from datetime import date
from pathlib import Path

import numpy as np
from PyQt6.QtWidgets import QLineEdit, QProgressBar, QScrollArea

from ochre_stone.core.colour.parse import parse_colour
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.box import OwnPalette, OwnTube, PaintBox, PigmentPart
from ochre_stone.core.paint.calibrate import NOISE, Calibrated, Swatch, calibrate
from ochre_stone.core.paint.palettes import PALETTES
from ochre_stone.core.paint.spectral import MOST_BYTES, read_text
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.paint.writing import parts_of
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.picture.reading import read_bytes
from ochre_stone.desktop.session.box import box_said
from ochre_stone.desktop.session.palettes import Palettes
from ochre_stone.desktop.session.photos import opened
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.stations.paint_box.charts import ChartsPage
from ochre_stone.desktop.stations.paint_box.photo import ChartPhoto
from ochre_stone.desktop.widgets.asking import PHOTOS, ask_open
from ochre_stone.desktop.widgets.parts import button, enable, set_tip
from ochre_stone.desktop.widgets.proofs import Proofs
from ochre_stone.desktop.widgets.tray import Tray


class CalibratePage:
    """Swatches are gathered, fitted, looked at, and kept."""

    def __init__(self, tray: Tray, palettes: Palettes, charts_page: ChartsPage, settings: Settings) -> None:
        self.palettes, self.studio, self.keeper = palettes, palettes.studio, palettes.keeper
        self.charts_page, self.tray, self.settings = charts_page, tray, settings
        self.view = Proofs()
        self.view.hint = (
            "Paint the chart of this palette, or only one tint of each tube, and read it here: from a photo, from a "
            "file of a measuring instrument, or swatch by swatch."
        )
        self.panel = QScrollArea()
        self.panel.setObjectName("surround")
        self.panel.setWidgetResizable(True)
        self.panel.setWidget(self.view)
        self._gathered: dict[str, list[Swatch]] = {}
        self.found: Calibrated | None = None
        self._for = ""
        self.photo = button(
            "From a photo of the chart…", "The chart of this palette, as set on the Charts page, painted"
        )
        self.photo.clicked.connect(self.ask_photo)
        self.file = button("From a file…", "CGATS or CSV: spectra or colours, by cell labels or parts")
        self.file.clicked.connect(self.ask_file)
        tray.rows.addWidget(self.photo)
        tray.row(self.file, None)
        tray.label("One swatch", "head")
        self.mixture = QLineEdit()
        self.mixture.setAccessibleName("Parts of the swatch")
        set_tip(self.mixture, "A cell of the chart, as B4, or parts by volume, as ultramarine-blue:1 titanium-white:5")
        self.colour = QLineEdit()
        self.colour.setPlaceholderText("lab 62 14 22, #c9a27e, munsell 5YR 6/4")
        self.colour.setAccessibleName("Colour of the swatch")
        tray.rows.addWidget(self.mixture)
        tray.rows.addWidget(self.colour)
        self.add_button = button("Add as typed", "", "small")
        self.add_button.clicked.connect(self.add_typed)
        self.note_button = button(
            "Add with the note in hand", "Its colour, and its spectrum where it was read", "small"
        )
        self.note_button.clicked.connect(self.add_note)
        tray.row(self.add_button, self.note_button, None)
        self.says = tray.label("", "head")
        self.fit_button = button("Fit my tubes", "", "main")
        self.fit_button.clicked.connect(self.fit)
        self.clear_button = button("Clear", "Forget these swatches", "small")
        self.clear_button.clicked.connect(self.clear)
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        self.stop = button("Stop", "", "small")
        self.stop.clicked.connect(lambda: self.studio.jobs.cancel("calibrate"))
        tray.row(self.fit_button, self.progress, self.stop, self.clear_button).setStretch(1, 1)
        self.result = tray.label("")
        self.keep_button = button("Keep these corrections", "As a new version of each tube (it can be undone)", "main")
        self.keep_button.clicked.connect(self.keep)
        tray.rows.addWidget(self.keep_button)
        self.studio.jobs.busy_changed.connect(self._busy)

    # Gathering

    @property
    def swatches(self) -> list[Swatch]:
        """What was gathered for the palette in hand, as far as its tubes still lie on it."""
        ids = {t.id for t in self.palettes.chosen().tubes}
        return [s for s in self._gathered.get(self.palettes.in_hand, []) if set(s.parts) <= ids]

    def _tubes(self) -> list[Tube]:
        """The palette's tubes by their generic figures: what is corrected."""
        own = {t.id: t for t in self.keeper.box.tubes}
        return [own[t.id].generic() if t.id in own else t for t in self.palettes.chosen().tubes]

    def _cells(self) -> dict[str, dict[str, float]]:
        chart = self.charts_page.chart
        fits = chart is not None and chart.palette.id == self.palettes.chosen().id
        return {c.label: dict(c.parts) for c in chart.cells} if chart is not None and fits else {}

    def _parts(self, text: str) -> tuple[str, dict[str, float]]:
        cells, word = self._cells(), text.strip()
        if word.upper() in cells:
            return word.upper(), cells[word.upper()]
        ids = [t.id for t in self.palettes.chosen().tubes]
        if not word:
            raise OchreError("Say what the swatch was mixed of: a cell as B4, or tubes with their parts.")
        out = parts_of(word)
        strange = [name for name in out if name not in ids]
        if strange:
            raise OchreError(f"“{strange[0]}” is no cell of the chart and no tube of this palette: {ids[0]} …")
        return word, out

    def add(self, found: list[Swatch], noise: float = NOISE["photo"]) -> None:
        """Gather swatches for the palette in hand; one that is there already is measured anew."""
        labels = {s.label for s in found}
        kept = [s for s in self._gathered.get(self.palettes.in_hand, []) if s.label not in labels]
        self._gathered[self.palettes.in_hand] = [*kept, *(replace(s, noise=noise) for s in found)]
        self.found = None
        self.refresh()

    def add_typed(self) -> None:
        """One swatch by its parts and a typed colour."""
        try:
            label, parts = self._parts(self.mixture.text())
            L, a, b = parse_colour(self.colour.text()).tolist()
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return
        self.add([Swatch(label, parts, (L, a, b))], NOISE["typed"])
        self.colour.clear()

    def add_note(self) -> None:
        """One swatch by its parts and the note in hand."""
        if self.studio.selected is None:
            self.studio.failed.emit("Take a note of the swatch in hand first: click it on the scale.")
            return
        note = self.studio.document.note(self.studio.selected)
        try:
            label, parts = self._parts(self.mixture.text())
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return
        kind = "reader" if note.source == "reader" else "photo"
        self.add([Swatch(label, parts, note.lab, note.spectrum)], NOISE[kind])

    def ask_file(self) -> None:
        """Swatches from a spectral file."""
        kinds = "Measured swatches (*.csv *.txt *.cgats *.ti3);;All files (*)"
        path = ask_open(self.tray.widget, "Measured swatches", self.settings.folder, kinds)
        if path is not None:
            self.read_file(path)

    def read_file(self, path: Path) -> None:
        """Swatches from a file: parts from its own columns, or by the labels of the chart's cells."""
        ids, cells = [t.id for t in self.palettes.chosen().tubes], self._cells()
        try:
            try:
                text = read_bytes(path, MOST_BYTES).decode("utf-8-sig", "replace")
            except OSError as error:
                raise OchreError(f"'{path}' cannot be read ({error.strerror}): check the file.") from None
            readings = read_text(text, path.name, ids)
            found = []
            for r in readings:
                parts = dict(r.parts) or cells.get(r.label, {})
                if not parts:
                    raise OchreError(
                        f"'{path.name}': “{r.label}” is no cell of the chart shown on the Charts page, and no column "
                        "names a tube of this palette."
                    )
                found.append(Swatch(r.label, parts, r.lab, r.spectrum))
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return
        self.add(found, NOISE["reader"])
        self.studio.told.emit(f"{len(found)} swatches read from {path.name}.")

    def ask_photo(self) -> None:
        """A photo of the painted chart."""
        if not self._cells():
            self.charts_page.refresh()
            self.studio.failed.emit("Set up this palette's chart on the Charts page first: the photo is read by it.")
            return
        path = ask_open(self.tray.widget, "A photo of the painted chart", self.settings.folder, f"Photos ({PHOTOS})")
        if path is not None:
            self.read_photo(path)

    def read_photo(self, path: Path) -> None:
        """Open a photo of the chart, and ask where its cells are."""

        def arrived(picture: Picture) -> None:
            dialog = self.dialog(picture)
            if dialog is not None and dialog.exec():
                self.add(dialog.swatches, NOISE["photo"])

        self.studio.told.emit(f"Opening {path.name}…")
        self.studio.jobs.start("chart-open", lambda _: opened(path), arrived, self.studio.failed.emit, outlives=True)

    def dialog(self, picture: Picture) -> ChartPhoto | None:
        """Where the cells are; None without a chart."""
        chart = self.charts_page.chart
        if chart is None:
            return None
        return ChartPhoto(self.tray.widget, self.studio, chart, picture, self.studio.document.canvas.paper)

    def clear(self) -> None:
        """Forget the swatches."""
        self._gathered.pop(self.palettes.in_hand, None)
        self.found = None
        self.refresh()

    # Fitting

    def fit(self) -> None:
        """Fit the tubes to the swatches, off the main thread."""
        tubes, swatches, today = self._tubes(), list(self.swatches), date.today().isoformat()
        surface = self.palettes.chosen().surface
        self._for = self.palettes.in_hand

        def arrived(found: Calibrated) -> None:
            self.found = found
            self.refresh()

        self.studio.jobs.start(
            "calibrate",
            lambda report: calibrate(tubes, swatches, NOISE["photo"], today, surface, report),
            arrived,
            self.studio.failed.emit,
            lambda s: self.progress.setValue(round(s * 100)),
            outlives=True,
        )

    def keep(self) -> None:
        """Give each tube its correction; generic tubes become tubes of the painter's own, on a palette of their own."""
        found, chosen = self.found, self.palettes.chosen()
        if found is None or self._for != chosen.id:
            return
        try:
            box, palette_id = kept_swatches(self.keeper.box, found, chosen.id, chosen.name, chosen.tubes)
        except ValueError as error:
            self.studio.failed.emit(box_said(error))
            return
        self.keeper.change("Calibrate", box)
        self._gathered.pop(chosen.id, None)
        self.found = None
        self.palettes.take(palette_id)
        self.studio.told.emit("The corrections hold. Each tube keeps its versions on the Tubes page.")

    # Showing

    def refresh(self) -> None:
        if self.found is not None and self._for != self.palettes.chosen().id:
            self.found = None
        example = next((t.id for t in self.palettes.chosen().tubes if not t.is_white), "")
        self.mixture.setPlaceholderText(f"B4, or {example}:1 …")
        n = len(self.swatches)
        self.says.setText(f"{n} swatch{'' if n == 1 else 'es'}" if n else "No swatches yet")
        if self.found is None:
            self.view.show_swatches(self.swatches)
            self.result.setText("")
        else:
            self.view.show_told(self.found.swatches)
            self.result.mark_up(self._words(self.found))
        self.keep_button.setVisible(self.found is not None)
        self._busy()

    def _words(self, found: Calibrated) -> str:
        out = found.outliers
        palette = self.palettes.chosen()
        strong = sorted(found.corrections.items(), key=lambda c: -abs(c[1].strength))[:3]
        said = []
        for tube_id, c in strong:
            share = float(np.expm1(c.strength))
            if abs(share) > 0.03:
                way = "stronger" if share > 0 else "weaker"
                said.append(f"{palette.tube(tube_id).short} {way} by {abs(share) * 100:.0f} %")
        left = f" {len(out)} left out: {', '.join(t.swatch.label for t in out[:5])}." if out else ""
        return (
            f"<b>Off by {found.before:.1f} before, {found.after:.1f} after</b>, on average over "
            f"{len(found.swatches) - len(out)} swatches.{left}" + (f" Most: {'; '.join(said)}." if said else "")
        )

    def _busy(self) -> None:
        busy = self.studio.jobs.busy("calibrate")
        self.progress.setVisible(busy)
        self.stop.setVisible(busy)
        why = "It is being worked out." if busy else "" if self.swatches else "Add swatches first."
        for b in (self.fit_button, self.clear_button):
            enable(b, why)


def kept_swatches(
    box: PaintBox, found: Calibrated, palette_id: str, name: str, tubes: tuple[Tube, ...]
) -> tuple[PaintBox, str]:
    """The box with each tube's correction as its newest version, and the id of the palette that holds those tubes."""
    renamed: dict[str, str] = {}
    by_id = {t.id: t for t in tubes}
    for tube_id, correction in found.corrections.items():
        own = box.own(tube_id)
        if own is None:
            t = by_id[tube_id]
            parts = tuple(PigmentPart(pigment=i, parts=n) for i, n in t.parts) or (PigmentPart(pigment=tube_id),)
            own = OwnTube(id=box.fresh_id(t.plain_name), name=t.plain_name, parts=parts)
            renamed[tube_id] = own.id
        corrections = (*own.corrections, correction)[-50:]
        fields = {"corrections": corrections, "using": len(corrections) - 1}
        box = box.with_tube(own.model_copy(update=fields))
    if not renamed:
        return box, palette_id
    paints = tuple(renamed.get(t.id, t.id) for t in tubes)
    if palette_id in PALETTES or box.laid(palette_id) is None:
        made = OwnPalette(id=box.fresh_id(f"my {name}"), name=f"My {name.lower()}"[:80], paints=paints)
        return box.with_palette(made), made.id
    old = next(p for p in box.palettes if p.id == palette_id)
    return box.with_palette(old.model_copy(update={"paints": paints})), palette_id
