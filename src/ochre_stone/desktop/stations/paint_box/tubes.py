"""The Tubes page of the Paint box: what is in it, what each tube is, how sure its figures are."""

from datetime import date
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QRectF
from PyQt6.QtWidgets import QComboBox, QLineEdit, QScrollArea, QToolButton

from ochre_stone.core.colour.reading import read
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.recipe.recipe import count_words
from ochre_stone.core.paint.box import OwnTube, PigmentPart
from ochre_stone.core.paint.cautions import is_safe, substitutes, tube_cautions
from ochre_stone.core.paint.media import MEDIA, seen
from ochre_stone.core.paint.predict import uncertainty
from ochre_stone.core.paint.tubes import Tube, all_tubes, find
from ochre_stone.core.store.atomic import write_bytes
from ochre_stone.core.store.boxfile import box_json, read_import, tubes_csv
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.box import BoxKeeper
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.desktop.stations.paint_box.dialog import TubeDialog
from ochre_stone.desktop.widgets.asking import ask_open, ask_save
from ochre_stone.desktop.widgets.parts import Aside, button, enable, narrow, set_tip, signals_blocked
from ochre_stone.desktop.widgets.shelf import OPACITIES, Shelf, Shown, strength_words
from ochre_stone.desktop.widgets.swatch import HalvesSwatch
from ochre_stone.desktop.widgets.tray import Tray

WHICH = {"own": "In my box", "all": "All pigments", "away": "Put away"}


class TubesPage:
    """The shelf beside the picture, and the tube in hand."""

    def __init__(self, tray: Tray, keeper: BoxKeeper, studio: Studio, settings: Settings) -> None:
        self.tray, self.keeper, self.studio, self.settings = tray, keeper, studio, settings
        self.shelf = Shelf()
        self.panel = QScrollArea()
        self.panel.setObjectName("surround")
        self.panel.setWidgetResizable(True)
        self.panel.setWidget(self.shelf)
        self.shelf.chosen.connect(self.choose)
        self.shelf.opened.connect(lambda _: self.edit() if self.own() is not None else self.add())
        self.shelf.stepped.connect(self._into_sight)
        self.selected: str | None = None
        self.which = QComboBox()
        self.which.setAccessibleName("Which tubes are shown")
        for key, words in WHICH.items():
            self.which.addItem(words, key)
        self.which.setCurrentIndex(0 if self.keeper.box.tubes else 1)
        self.which.activated.connect(lambda _: self.refresh())
        self.search = QLineEdit()
        self.search.setPlaceholderText("name, or PB29")
        self.search.setAccessibleName("Search for tubes")
        self.search.setClearButtonEnabled(True)
        for b in self.search.findChildren(QToolButton):  # comes with the line, without a word
            b.setAccessibleName("Clear the search")
            set_tip(b, "Show all tubes again")
        self.search.textChanged.connect(lambda _: self.refresh())
        tray.row(self.which, self.search)
        self.sure = Aside("Where the figures come from")
        self.name = tray.head("", self.sure)
        self.swatch = HalvesSwatch(62)
        tray.rows.addWidget(self.swatch)
        self.says = tray.label("")
        self.drying = tray.label("", "quiet")
        self.figures = narrow(QComboBox())
        self.figures.setAccessibleName("Figures that hold")
        set_tip(self.figures, "Generic figures, or one of your calibrations")
        self.figures.activated.connect(lambda _: self._use(self.figures.currentData()))
        tray.rows.addWidget(self.figures)
        self.caution = tray.label("", "warning")
        self.add_button = button("Put into my box", "A tube of this pigment, for you to name", "main")
        self.add_button.clicked.connect(self.add)
        self.edit_button = button("Edit…", "Name, pigments, stock, price")
        self.edit_button.clicked.connect(self.edit)
        self.away_button = button("Put away", "Off the shelf, but kept")
        self.away_button.clicked.connect(self.put_away)
        self.remove_button = button("Remove", "Out of the box for good (it can be undone)")
        self.remove_button.clicked.connect(self.remove)
        tray.row(self.add_button, self.edit_button, self.away_button, self.remove_button)
        self.import_button = button("Import…", "Tubes from a CSV or JSON file", "small")
        self.import_button.clicked.connect(self.ask_import)
        self.export_button = button("Export…", "All tubes as CSV, or everything as JSON", "small")
        self.export_button.clicked.connect(self.ask_export)
        tray.row(self.import_button, self.export_button, None)

    def own(self) -> OwnTube | None:
        """The own tube in hand."""
        return self.keeper.box.own(self.selected) if self.selected else None

    def tube(self) -> Tube | None:
        """The tube in hand, own or generic."""
        own = self.own()
        return own.tube() if own is not None else all_tubes().get(self.selected or "")

    def choose(self, tube_id: str) -> None:
        """Take a tube in hand."""
        self.selected = tube_id
        self.refresh()

    def _into_sight(self, row: QRectF) -> None:
        self.panel.ensureVisible(20, round(row.center().y()), 0, round(row.height()))

    def _shown(self) -> list[Shown]:
        words, which = self.search.text(), self.which.currentData()
        if which == "all":
            return [Shown(t) for t in find(words)]
        wanted = words.lower().split()
        out = []
        for own in self.keeper.box.tubes:
            t = own.tube()
            text = " ".join((own.name, t.ci, *(p.pigment for p in own.parts))).lower()
            if own.archived == (which == "away") and all(w in text for w in wanted):
                out.append(Shown(t, f"{own.stock_ml:g} ml"))
        return out

    # What is done

    def add(self) -> None:
        """A tube of the pigment in hand (or of titanium white) into the box."""
        box = self.keeper.box
        t = self.tube() or all_tubes()["titanium-white"]
        pigment = t.id if t.id in all_tubes() else "titanium-white"
        parts = tuple(PigmentPart(pigment=i, parts=n) for i, n in t.parts) or (PigmentPart(pigment=pigment),)
        start = OwnTube(id=box.fresh_id(t.plain_name), name=t.plain_name, parts=parts, opened=date.today().isoformat())
        made = self._asked(start, "A tube for the box")
        if made is not None and self.keeper.attempt(f"Add {made.name}", lambda: box.with_tube(made)):
            with signals_blocked(self.which):
                self.which.setCurrentIndex(0)
            self.search.clear()
            self.choose(made.id)

    def edit(self) -> None:
        """Change the tube in hand."""
        own = self.own()
        if own is None:
            return
        made = self._asked(own, own.name)
        if made is not None:
            self.keeper.attempt(f"Edit {made.name}", lambda: self.keeper.box.with_tube(made))

    def _asked(self, start: OwnTube, title: str) -> OwnTube | None:
        dialog = TubeDialog(self.tray.widget, start, title)
        return dialog.made if dialog.exec() else None

    def put_away(self) -> None:
        """Archive the tube in hand, or take it out again."""
        own = self.own()
        if own is not None:
            words = f"{'Take out' if own.archived else 'Put away'} {own.name}"
            self.keeper.change(words, self.keeper.box.with_tube(own.model_copy(update={"archived": not own.archived})))

    def remove(self) -> None:
        """Out of the box; refused while a palette holds it."""
        own = self.own()
        if own is not None:
            self.keeper.attempt(f"Remove {own.name}", lambda: self.keeper.box.without_tube(own.id))

    def _use(self, which: int) -> None:
        own = self.own()
        if own is not None and own.using != which:
            words = "Generic figures" if which < 0 else "Calibrated figures"
            self.keeper.change(
                f"{words} for {own.name}", self.keeper.box.with_tube(own.model_copy(update={"using": which}))
            )

    def ask_import(self) -> None:
        """Tubes from a file."""
        path = ask_open(self.tray.widget, "Tubes to import", self.settings.folder, "Tubes (*.csv *.json)")
        if path is not None:
            self.import_file(path)

    def import_file(self, path: Path) -> None:
        """Add the tubes of a file."""
        try:
            box, count = read_import(path, self.keeper.box)
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return
        self.keeper.change(f"Import {path.name}", box)
        self.studio.told.emit(f"{count} tube{'' if count == 1 else 's'} came from {path.name}.")

    def ask_export(self) -> None:
        """All tubes to a file."""
        kinds = "Tubes (*.csv);;Everything (*.json)"
        path = ask_save(self.tray.widget, "Export the paint box", self.settings.folder, "paints.csv", kinds)
        if path is not None:
            self.export_file(path)

    def export_file(self, path: Path) -> None:
        """Write the tubes, by the file's suffix as CSV or JSON."""
        text = box_json(self.keeper.box) if path.suffix.lower() == ".json" else tubes_csv(self.keeper.box)
        try:
            write_bytes(path, text.encode())
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return
        self.studio.told.emit(f"Wrote {path.name}.")

    # Showing

    def refresh(self) -> None:
        shown = self._shown()
        if self.selected not in {s.tube.id for s in shown}:
            self.selected = shown[0].tube.id if shown else None
        self.shelf.hint = (
            "Nothing is called so."
            if self.search.text()
            else "Your box is empty: choose “All pigments” and put those into it that you have."
            if self.which.currentData() == "own"
            else "Nothing was put away."
        )
        self.shelf.show_tubes(shown, self.selected)
        own, t = self.own(), self.tube()
        for w in (self.name, self.swatch, self.says, self.drying, self.sure):
            w.setVisible(t is not None)
        self._buttons(own, t)
        self.caution.hide()
        if t is None:
            return
        self.name.setText(t.name)
        self.swatch.show_pair(t.lab, t.undertone, "as it comes", "over white")
        r = read(t.lab)
        parts = f"Mixed of {', '.join(all_tubes()[i].short for i, _ in t.parts)}. " if len(t.parts) > 1 else ""
        also = f"Also called {', '.join(t.common)}. " if t.common else ""
        strength = "" if t.is_white else f", {strength_words(t)} ({t.tinting_strength:.2g} of ultramarine)"
        self.says.mark_up(
            f"<b>Value {numbers.value(r.value)}</b>, {r.name}. {t.ci}, {OPACITIES[t.opacity]}{strength}, "
            f"lightfastness {t.lightfastness}. {parts}{also}"
        )
        self._drying(own, t)
        self._cautions(t)
        off = uncertainty([t], np.ones(1))
        where = "calibrated by you" if own is not None and own.using >= 0 else "generic, from memory, not measured"
        self.sure.setText(
            f"Figures: {where}. Strength may be off by {100 * t.tolerance.strength:.0f} %, the hue by "
            f"{t.tolerance.hue_nm:.0f} nm; the mass tone by {off:.1f} in all."
        )

    def _drying(self, own: OwnTube | None, t: Tube) -> None:
        medium = MEDIA[own.medium if own is not None else self.studio.document.mix.chosen().medium]
        values = [numbers.value(read(seen(t.K, t.S, medium, state)).value) for state in ("wet", "dry")]
        change = f"wet {values[0]}, dry {values[1]}. " if values[0] != values[1] else ""
        grain = f" Granulation in watercolour: {t.granulation}." if t.granulation != "none" else ""
        oil = f" Dries in oil: {t.drying}." if medium.id == "oil" else ""
        paid = f" {own.price_per_ml:.2f} a ml." if own is not None and own.price else ""
        self.drying.setText(f"{medium.name}: {change}{medium.words}{oil}{grain}{paid}")

    def _cautions(self, t: Tube) -> None:
        said = list(tube_cautions(t))
        if not is_safe(t):
            near = substitutes(t, 2)
            said.append(
                "Safe and lasting, nearest: "
                + "; ".join(
                    f"{s.tube.plain_name.lower()} ({s.far:.0f} apart, {count_words(round(s.parts, 1))} for one)"
                    for s in near
                )
                + "."
            )
        self.caution.setText("\n".join(said))
        self.caution.setVisible(bool(said))

    def _buttons(self, own: OwnTube | None, t: Tube | None) -> None:
        self.add_button.setVisible(own is None and t is not None)
        for b in (self.edit_button, self.away_button, self.remove_button):
            b.setVisible(own is not None)
        enable(self.export_button, "" if self.keeper.box.tubes else "Your box is empty.")
        self.figures.setVisible(own is not None and bool(own.corrections))
        if own is None:
            return
        self.away_button.setText("Take out" if own.archived else "Put away")
        with signals_blocked(self.figures):
            self.figures.clear()
            self.figures.addItem("Generic figures", -1)
            for i, c in enumerate(own.corrections):
                self.figures.addItem(f"{c.made or 'calibrated'}: {c.words}, {c.before:.1f} to {c.after:.1f}", i)
            self.figures.setCurrentIndex(self.figures.findData(own.using))
