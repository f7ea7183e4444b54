"""The Palettes page of the Paint box: which tubes lie on a palette, what each is there, what it does to a colour."""

from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QInputDialog, QListWidgetItem

from ochre_stone.core.advice.roles import FOUR, answers, middle, roles
from ochre_stone.core.paint.box import OwnPalette
from ochre_stone.core.paint.palettes import MOST_TUBES
from ochre_stone.core.paint.tubes import Tube, all_tubes
from ochre_stone.core.paint.typed import Typed, palette_name, tubes_typed, unclear_words
from ochre_stone.core.store.atomic import write_bytes
from ochre_stone.desktop.session.palettes import Palettes
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.widgets.asking import ask_save
from ochre_stone.desktop.widgets.lay import PaletteLay
from ochre_stone.desktop.widgets.parts import ListBox, button, enable, narrow, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray
from ochre_stone.desktop.widgets.typedlist import TypedList

MIDDLE = "middle"


class PalettesPage:
    """The palette in hand, laid out beside the picture."""

    def __init__(self, tray: Tray, palettes: Palettes, piles: Piles, settings: Settings) -> None:
        self.palettes, self.studio, self.keeper = palettes, palettes.studio, palettes.keeper
        self.piles, self.tray, self.settings = piles, tray, settings
        self.panel = PaletteLay()
        self.panel.chosen.connect(self.choose_tube)
        self.tube_id: str | None = None
        self.about = tray.label("", "quiet")
        self.list = ListBox("Tubes of this palette, in their order", 88)
        self.list.currentItemChanged.connect(
            lambda item, _: self.choose_tube(item.data(Qt.ItemDataRole.UserRole)) if item is not None else None
        )
        tray.list(self.list)
        self.up, self.down = button("Up", "Earlier on the palette", "small"), button("Down", "Later", "small")
        self.off = button("Take off", "Off this palette; it stays in the box", "small")
        self.up.clicked.connect(lambda: self.move(-1))
        self.down.clicked.connect(lambda: self.move(1))
        self.off.clicked.connect(self.take_off)
        self.new = button("New…", "A palette of your own from the names of its tubes", "small")
        self.new.clicked.connect(self.ask_new)
        tray.row(self.up, self.down, self.off, None, self.new)
        self.more = TypedList("A tube to lay on the palette")
        self.more.entered.connect(self.lay_typed)
        self.lay = button("Lay on", "Put the chosen tube on this palette", "small")
        self.lay.clicked.connect(self.lay_typed)
        tray.row(self.more, self.lay).setStretch(0, 1)
        self.copy = button("Copy", "A palette of your own, to change", "small")
        self.copy.clicked.connect(self.ask_copy)
        self.rename = button("Rename…", "", "small")
        self.rename.clicked.connect(self.ask_rename)
        self.delete = button("Delete", "The palette goes, its tubes stay (it can be undone)", "small")
        self.delete.clicked.connect(self.delete_palette)
        self.save = button("Print…", "As PDF, CSV or JSON", "small")
        self.save.clicked.connect(self.ask_save)
        tray.row(self.copy, self.rename, self.delete, self.save, None)
        tray.label("What does what", "head")
        self.base = narrow(QComboBox())
        self.base.setAccessibleName("Colour to add to")
        self.base.activated.connect(lambda _: self._effects())
        tray.rows.addWidget(self.base)
        self.four = tray.label("")
        self.one = tray.label("", "quiet")

    # What is done

    def choose_tube(self, tube_id: str) -> None:
        """Take a tube of the palette in hand."""
        if tube_id != self.tube_id:
            self.tube_id = tube_id
            self.refresh()

    def _mine(self) -> OwnPalette | None:
        """The palette in hand where it is the painter's own; otherwise it is said how to make it so."""
        p = next((p for p in self.keeper.box.palettes if p.id == self.palettes.in_hand), None)
        if p is None:
            self.studio.told.emit("This palette is none of your own: copy it, and change the copy.")
        return p

    def _put(self, words: str, **fields: object) -> bool:
        p = self._mine()
        return p is not None and self.keeper.attempt(
            words, lambda: self.keeper.box.with_palette(OwnPalette.model_validate(p.model_dump() | fields))
        )

    def lay_on(self, tube_id: str | None) -> None:
        """One more tube."""
        p = self._mine()
        if p is None or tube_id is None:
            return
        if tube_id in p.paints:
            self.studio.told.emit(f"{self.keeper.box.tube(tube_id).name} lies on it already.")
        elif len(p.paints) >= MOST_TUBES:
            self.studio.told.emit(f"A palette holds at most {MOST_TUBES} tubes: take one off first.")
        elif self._put(f"Lay {self.keeper.box.tube(tube_id).name} on", paints=(*p.paints, tube_id)):
            self.choose_tube(tube_id)
            self.studio.told.emit(f"{self.keeper.box.tube(tube_id).name} lies on {p.name} now.")

    def lay_typed(self) -> None:
        """The tube whose name stands in the field: a name of the list, or any usual one that was typed."""
        text = self.more.currentText()
        at = self.more.findText(text.strip(), Qt.MatchFlag.MatchFixedString)
        if at >= 0:
            self.lay_on(self.more.itemData(at))
            return
        typed = tubes_typed(text, self._own())
        if len(typed.paints) == 1 and not typed.unclear:
            self.lay_on(typed.paints[0])
        else:
            self.studio.told.emit(self._unclear(typed) or "Type the name of one tube.")

    def _own(self) -> list[Tube]:
        return [t.tube() for t in self.keeper.box.tubes if not t.archived]

    def _unclear(self, typed: Typed) -> str:
        return unclear_words(typed, {t.id: t.name for t in self.keeper.box.tubes})

    def take_off(self) -> None:
        """The tube in hand goes off the palette."""
        p = self._mine()
        if p is not None and self.tube_id in p.paints:
            if len(p.paints) == 1:
                self.studio.told.emit("A palette keeps at least one tube: delete the palette instead.")
                return
            name = self.keeper.box.tube(self.tube_id).name
            self._put(f"Take {name} off", paints=tuple(i for i in p.paints if i != self.tube_id))

    def move(self, step: int) -> None:
        """The tube in hand goes up or down in the order."""
        p = self._mine()
        if p is None or self.tube_id not in p.paints:
            return
        at = p.paints.index(self.tube_id)
        to = min(max(at + step, 0), len(p.paints) - 1)
        order = list(p.paints)
        order.insert(to, order.pop(at))
        self._put("Order the palette", paints=tuple(order))

    def ask_new(self) -> None:
        """A palette of the painter's own, typed as names with commas."""
        text, fine = QInputDialog.getText(
            self.tray.widget, "A palette of your own", "Its tubes, with commas (white, ochre, ultramarine ...):"
        )
        if fine and text.strip():
            self.new_of(text)

    def new_of(self, text: str) -> None:
        """Make a palette of the tubes that a text names; what is not understood is told with the nearest."""
        typed, box = tubes_typed(text, self._own()), self.keeper.box
        unclear = self._unclear(typed)
        if not typed.paints:
            self.studio.failed.emit(unclear or "No tube is named: type names with commas.")
            return
        chosen = [box.tube(i) for i in typed.paints[:MOST_TUBES]]
        name = palette_name([t.short for t in chosen if not t.is_white], [p.name for p in box.palettes])
        made = box.fresh_id(name)
        own = OwnPalette(id=made, name=name, paints=typed.paints[:MOST_TUBES])
        if self.keeper.attempt(f"New palette {name}", lambda: box.with_palette(own)):
            self.palettes.take(made)
        more = f"A palette holds at most {MOST_TUBES} tubes: the first {MOST_TUBES} were taken."
        said = [more] if len(typed.paints) > MOST_TUBES else []
        said += [unclear] if unclear else []
        if said:
            self.studio.failed.emit(" ".join(said))

    def ask_copy(self) -> None:
        """A palette of the painter's own like the one in hand."""
        name, fine = QInputDialog.getText(
            self.tray.widget, "A palette of your own", "Its name:", text=f"My {self.palettes.chosen().name.lower()}"
        )
        if fine and name.strip():
            self.copy_as(name.strip())

    def copy_as(self, name: str) -> None:
        """Copy the palette in hand under a name."""
        box, chosen = self.keeper.box, self.palettes.chosen()
        made, laid = box.fresh_id(name), self.studio.document.mix.laid
        if laid is not None and laid.palette.id == chosen.id:  # from a box that is not here: its tubes come along
            for t in laid.tubes:
                box = box if box.own(t.id) is not None else box.with_tube(t)
        if self.keeper.attempt(
            f"New palette {name}",
            lambda: box.with_palette(
                OwnPalette(id=made, name=name[:80], about=chosen.about[:300], paints=chosen.paints)
            ),
        ):
            self.palettes.take(made)

    def ask_rename(self) -> None:
        """Another name for an own palette."""
        p = self._mine()
        if p is None:
            return
        name, fine = QInputDialog.getText(self.tray.widget, "Rename palette", "Its name:", text=p.name)
        if fine and name.strip():
            self._put(f"Rename {p.name}", name=name.strip()[:80])

    def delete_palette(self) -> None:
        """An own palette goes."""
        p = self._mine()
        if p is not None:
            self.keeper.change(f"Delete {p.name}", self.keeper.box.without_palette(p.id))

    def ask_save(self) -> None:
        """The palette as a file."""
        kinds, name = "To print (*.pdf);;Table (*.csv);;JSON (*.json)", f"{self.palettes.chosen().id}.pdf"
        path = ask_save(self.tray.widget, "Print the palette", self.settings.folder, name, kinds)
        if path is not None:
            self.save_file(path)

    def save_file(self, path: Path) -> None:
        """Write the palette by the file's suffix."""
        chosen, paper = self.palettes.chosen(), self.studio.document.canvas.paper

        def work(_: Any) -> None:
            from ochre_stone.export.palette import palette_csv, palette_json, palette_pdf

            make = {".csv": palette_csv, ".json": palette_json}.get(path.suffix.lower())
            write_bytes(path, make(chosen).encode() if make is not None else palette_pdf(chosen, paper))

        def arrived(_: Any) -> None:
            self.studio.told.emit(f"Wrote {path.name}.")

        self.studio.jobs.start("palette-file", work, arrived, self.studio.failed.emit, outlives=True)

    # Showing

    def refresh(self) -> None:
        chosen = self.palettes.chosen()
        tubes = chosen.tubes
        if self.tube_id not in chosen.paints:
            self.tube_id = chosen.paints[0]
        own = any(p.id == chosen.id for p in self.keeper.box.palettes)
        laid = self.keeper.box.laid(chosen.id)
        self.about.setText((laid.strangers(chosen.medium) if laid is not None else "") or chosen.about)
        self.about.setVisible(bool(self.about.text()))
        found = roles(tubes, self.settings.warmth)
        self.panel.show_roles(chosen.name, found, self.tube_id)
        with signals_blocked(self.list):
            self.list.clear()
            for r in found:
                item = QListWidgetItem(f"{r.tube.short}: {r.words}")
                item.setData(Qt.ItemDataRole.UserRole, r.tube.id)
                self.list.addItem(item)
                if r.tube.id == self.tube_id:
                    self.list.setCurrentItem(item)
        for b in (self.up, self.down, self.off, self.lay, self.more, self.rename, self.delete):
            enable(b, "" if own else "This palette is none of your own: copy it, and change the copy.")
        self._choices()
        with signals_blocked(self.base):
            before = self.base.currentData()
            self.base.clear()
            self.base.addItem("added to a warm halftone", MIDDLE)
            for t in tubes:
                self.base.addItem(f"added to {t.short}", t.id)
            pile = self.piles.spectra_in_hand()
            if pile is not None:
                self.base.addItem(f"added to the pile in hand at Mix ({pile[0]})", "pile")
            at = self.base.findData(before)
            self.base.setCurrentIndex(max(at, 0))
        self._effects()

    def _choices(self) -> None:
        wanted = [(f"{t.name} (mine)", t.id) for t in self.keeper.box.tubes if not t.archived]
        wanted += [(t.name, t.id) for t in all_tubes().values()]
        if [self.more.itemData(i) for i in range(self.more.count())] != [i for _, i in wanted]:
            with signals_blocked(self.more):
                self.more.clear()
                for name, tube_id in wanted:
                    self.more.addItem(name, tube_id)

    def _effects(self) -> None:
        chosen = self.palettes.chosen()
        base = self.base.currentData()
        pile = self.piles.spectra_in_hand()
        if base == "pile" and pile is not None:
            K, S, held = pile[1], pile[2], ""
        elif base == MIDDLE:
            (K, S), held = middle(chosen.tubes, self.settings.warmth, chosen.surface), ""
        else:
            t = chosen.tube(base)
            K, S, held = t.K, t.S, t.id
        others = [t for t in chosen.tubes if t.id != held]
        found = answers(K, S, others, chosen.surface)
        ways = {kind: ", ".join(e.name for e in found.ways[kind]) or "nothing here" for kind in FOUR}
        lines = [f"<b>{kind.capitalize()}</b>: {names}" for kind, names in ways.items()]
        if found.rest:
            lines.append("<b>Neither clearly</b>: " + ", ".join(e.name for e in found.rest))
        self.four.mark_up("<br>".join(lines))
        mine = next((e for e in found.tubes if e.tube.id == self.tube_id), None)
        how = "" if mine is None or mine.tube.is_white else "a little "  # of white enough to show it
        said = f"{how}{mine.tube.short}: {mine.words}." if mine is not None else ""
        self.one.setText(f"{said[:1].upper()}{said[1:]}")
