"""The Reach page of the Paint box: what a palette can mix, which notes it cannot, which tube would help, how few do."""

from typing import Any

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QDoubleSpinBox, QListWidget, QListWidgetItem, QProgressBar, QSpinBox

from ochre_stone.core.colour.reading import read
from ochre_stone.core.mixing.reach.slices import Addition, Nets, NoteReach, Slice, additions, reach_of
from ochre_stone.core.mixing.reach.smallest import LEAST_SIZE, MOST_SIZE, Smallest, Wanted, smallest_palette
from ochre_stone.core.mixing.recipe.reasons import miss
from ochre_stone.core.paint.box import OwnPalette
from ochre_stone.core.paint.palettes import MOST_TUBES, ONE_OF_EACH
from ochre_stone.core.paint.tubes import Tube, all_tubes
from ochre_stone.core.project.planning import means_of
from ochre_stone.core.project.rows import note_targets
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.palettes import Palettes
from ochre_stone.desktop.widgets.parts import button, plain
from ochre_stone.desktop.widgets.slices import Dot, SliceView
from ochre_stone.desktop.widgets.tray import Tray

VALUES = tuple(v / 2 for v in range(2, 19))


class ReachPage:
    """Slices beside the picture; the notes that lie outside in the tray."""

    def __init__(self, tray: Tray, palettes: Palettes) -> None:
        self.palettes, self.studio, self.keeper = palettes, palettes.studio, palettes.keeper
        self.panel = SliceView()
        self.panel.value_chosen.connect(self.choose_value)
        self.panel.note_chosen.connect(self.studio.select)
        self.value = 5.0
        self.slices: list[Slice] = []
        self.found: list[NoteReach] = []
        self._ids: list[str] = []
        self._made_for: object = None
        self.says = tray.label("", "head")
        self.list = QListWidget()
        self.list.setAccessibleName("Notes that this palette does not reach")
        self.list.setFixedHeight(132)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.itemClicked.connect(self._chosen)
        self.list.itemActivated.connect(self._chosen)
        tray.rows.addWidget(self.list)
        self.help = button("Which tube would help?", "Every pigment tried on this palette")
        self.help.clicked.connect(self.ask_help)
        self.from_box = QCheckBox("of my box only")
        tray.row(self.help, self.from_box)
        self.helps = tray.label("")
        tray.label("The fewest tubes", "head")
        self.pool = QComboBox()
        self.pool.setAccessibleName("Tubes to choose from")
        self.pool.addItem("from this palette", "palette")
        self.pool.addItem("from my box", "box")
        self.pool.addItem("from one of each kind", "kinds")
        self.pool.activated.connect(lambda _: self._fill_keep())
        self.tolerance = QDoubleSpinBox()
        self.tolerance.setRange(0.5, 15)
        self.tolerance.setValue(2.0)
        self.tolerance.setDecimals(1)
        self.tolerance.setPrefix("within ")
        self.tolerance.setToolTip("How far off a mixture may be: 2 is seen only side by side, 5 at a glance")
        self.tolerance.setAccessibleName("How far off a mixture may be")
        self.size = QSpinBox()
        self.size.setRange(LEAST_SIZE, MOST_SIZE)
        self.size.setValue(MOST_SIZE)
        self.size.setPrefix("at most ")
        self.size.setAccessibleName("Tubes at most")
        tray.rows.addWidget(self.pool)
        tray.row(self.tolerance, self.size)
        self.safe, self.lasting = QCheckBox("rather without hazards"), QCheckBox("rather lasting")
        tray.row(self.safe, self.lasting)
        self.keep = QListWidget()
        self.keep.setAccessibleName("Tubes that stay on the palette")
        self.keep.setToolTip("Tick the tubes that are to stay on the palette whatever they bring")
        self.keep.setFixedHeight(92)
        tray.label("Keep", "quiet")
        tray.rows.addWidget(self.keep)
        self.find = button("Find them", "Solved to proven optimality", "main")
        self.find.clicked.connect(self.ask_smallest)
        self.stop = button("Stop", "", "small")
        self.stop.clicked.connect(self._stop)
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        tray.row(self.find, self.progress, self.stop).setStretch(1, 1)
        self.answer = tray.label("")
        self.take = button("Make it a palette", "An own palette of these tubes")
        self.take.clicked.connect(self.make_palette)
        tray.rows.addWidget(self.take)
        self.smallest: Smallest | None = None
        self.studio.jobs.busy_changed.connect(self._busy)

    # Worked out

    def _key(self) -> tuple[Any, ...]:
        goal = tuple(tuple(g) for g in note_targets(self.studio.document).tolist())
        return self.palettes.chosen().tubes, self.palettes.chosen().medium, goal

    def refresh(self) -> None:
        key = self._key()
        if key != self._made_for:
            self._made_for = key
            self.slices, self.found, self.smallest = [], [], None
            self.helps.setText("")
            self._work(key)
        self._fill()

    def _work(self, key: tuple[Any, ...]) -> None:
        chosen, goal = self.palettes.chosen(), note_targets(self.studio.document)
        ids = [n.id for n in self.studio.document.notes]

        def work(report: Any) -> tuple[list[Slice], list[NoteReach]]:
            nets = Nets(chosen.tubes, chosen.surface)
            slices = []
            for i, v in enumerate(VALUES):
                slices.append(nets.slice(v))
                report((i + 1) / len(VALUES) / 2)
            found = reach_of(goal, chosen.tubes, 4, chosen.surface, lambda s: report(0.5 + s / 2)) if len(goal) else []
            return slices, found

        def arrived(answer: tuple[list[Slice], list[NoteReach]]) -> None:
            if key == self._made_for:
                self.slices, self.found = answer
                self._ids = ids
                self._fill()

        self.studio.jobs.start("reach", work, arrived, self.studio.failed.emit, self._on_the_way)

    def _on_the_way(self, share: float) -> None:
        self.progress.setValue(round(share * 100))

    def ask_help(self) -> None:
        """Try tubes on the palette for the notes outside."""
        chosen = self.palettes.chosen()
        outside = [r.lab for r in self.found if not r.inside]
        if not outside:
            self.helps.setText("Every note is inside: no tube is needed.")
            return
        box = self.keeper.box
        candidates = [t.tube() for t in box.tubes if not t.archived] if self.from_box.isChecked() else [
            t for t in all_tubes().values() if not t.parts
        ]  # fmt: skip
        if not candidates:
            self.helps.setText("Your box is empty: put tubes into it on the Tubes page.")
            return

        asked = self._made_for

        def arrived(found: list[Addition]) -> None:
            if asked != self._made_for:
                return  # another palette, or other notes, meanwhile
            total = len(outside)
            words = [f"<b>{a.tube.name}</b> brings {a.gained} of {total} in" for a in found[:4] if a.gained]
            self.helps.mark_up("<br>".join(words) or "No single tube brings one of them in.")

        self.studio.jobs.start(
            "help", lambda report: additions(outside, chosen.tubes, candidates, 4, chosen.surface, report), arrived,
            self.studio.failed.emit, self._on_the_way,
        )  # fmt: skip

    def _pool_tubes(self) -> list[Tube]:
        which = self.pool.currentData()
        if which == "palette":
            return list(self.palettes.chosen().tubes)
        if which == "box":
            return [t.tube() for t in self.keeper.box.tubes if not t.archived][:MOST_TUBES]
        return [all_tubes()[i] for i in ONE_OF_EACH]

    def _kept(self) -> set[str]:
        items = [self.keep.item(i) for i in range(self.keep.count())]
        ticked = Qt.CheckState.Checked
        return {i.data(Qt.ItemDataRole.UserRole) for i in items if i is not None and i.checkState() == ticked}

    def _fill_keep(self) -> None:
        """The tubes to choose from, each to be kept or not; what was ticked stays ticked."""
        pool, kept = self._pool_tubes(), self._kept()
        there = [self.keep.item(i) for i in range(self.keep.count())]
        if [i.data(Qt.ItemDataRole.UserRole) for i in there if i is not None] == [t.id for t in pool]:
            return
        self.keep.clear()
        for t in pool:
            item = QListWidgetItem(t.name)
            item.setData(Qt.ItemDataRole.UserRole, t.id)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked if t.id in kept else Qt.CheckState.Unchecked)
            self.keep.addItem(item)

    def ask_smallest(self) -> None:
        """The fewest tubes that reach every note."""
        pool, goal = self._pool_tubes(), note_targets(self.studio.document)
        if not pool:
            self.answer.setText("Your box is empty: put tubes into it on the Tubes page.")
            return
        there = sum(not t.archived for t in self.keeper.box.tubes)
        if self.pool.currentData() == "box" and there > MOST_TUBES:
            self.studio.told.emit(f"Only the first {MOST_TUBES} tubes of your box are tried: put some away first.")
        wanted = Wanted(
            tolerance=self.tolerance.value(), fixed=tuple(t.id for t in pool if t.id in self._kept()),
            size=self.size.value(), price=means_of(self.keeper.box).price, avoid_hazards=self.safe.isChecked(),
            avoid_fugitive=self.lasting.isChecked(), surface=self.palettes.chosen().surface,
        )  # fmt: skip
        asked = self._made_for

        def arrived(found: Smallest) -> None:
            if asked == self._made_for:
                self.smallest = found
                self._answer()

        self.smallest = None
        self.studio.jobs.start(
            "smallest", lambda report: smallest_palette(goal, pool, wanted, report), arrived,
            self.studio.failed.emit, self._on_the_way,
        )  # fmt: skip

    def make_palette(self) -> None:
        """The tubes found as an own palette."""
        found, box = self.smallest, self.keeper.box
        if found is None:
            return
        name = f"Fewest tubes, {len(found.tubes)}"
        made = box.fresh_id(name)
        own = OwnPalette(id=made, name=name, about="The fewest tubes that reach the notes.",
                         paints=tuple(t.id for t in found.tubes))  # fmt: skip
        if self.keeper.attempt(f"New palette {name}", lambda: box.with_palette(own)):
            self.palettes.take(made)

    def _stop(self) -> None:
        for kind in ("help", "smallest", "reach"):
            self.studio.jobs.cancel(kind)

    # Showing

    def choose_value(self, value: float) -> None:
        """Show another slice."""
        self.value = value
        self._fill()

    def _chosen(self, item: QListWidgetItem) -> None:
        note_id = item.data(Qt.ItemDataRole.UserRole)
        self.studio.select(note_id)
        reach = self.found[self._ids.index(note_id)]
        self.choose_value(min(max(round(read(reach.lab).value * 2) / 2, 1.0), 9.0))

    def _dots(self) -> list[Dot]:
        names = {n.id: n.name for n in self.studio.document.notes}
        return [
            Dot(i, names.get(i, ""), r.lab, r.nearest, r.inside, read(r.lab).value)
            for i, r in zip(self._ids, self.found, strict=False)
        ]

    def _fill(self) -> None:
        dots = self._dots()
        self._fill_keep()
        self.panel.hint = "What this palette reaches is being worked out."
        self.panel.show_slices(self.slices, self.value, dots, self.studio.selected)
        inside = sum(d.inside for d in dots)
        if not self.studio.document.notes:
            self.says.setText("Take notes to see which of them it reaches.")
        elif not dots:
            self.says.setText("Working it out…")
        else:
            self.says.setText(f"{inside} of {len(dots)} notes in reach of {self.palettes.chosen().name}")
        self.list.clear()
        for d, r in sorted(zip(dots, self.found, strict=False), key=lambda pair: -pair[1].far):
            if d.inside:
                continue
            item = QListWidgetItem(f"{d.name}: {r.far:.1f} off, {_nearest_words(r)}")
            item.setToolTip(plain(f"Value {numbers.value(d.value)}; the nearest mixture is {_nearest_words(r)}"))
            item.setData(Qt.ItemDataRole.UserRole, d.note_id)
            self.list.addItem(item)
        self.list.setVisible(self.list.count() > 0)
        self._answer()
        self._busy()

    def _answer(self) -> None:
        s = self.smallest
        self.take.setVisible(s is not None and bool(s.tubes))
        if s is None or not s.tubes:
            self.answer.setText("" if s is None else "None of the notes can be reached from these tubes.")
            return
        names = ", ".join(t.short for t in s.tubes)
        proof = "fewer cannot" if s.proven else f"at least {s.bound} are needed"
        missing = len(s.reached) - sum(s.reached)
        note = f" {len(s.impossible)} cannot be reached by any of them." if s.impossible else ""
        more = f" {missing - len(s.impossible)} more would need more tubes." if missing > len(s.impossible) else ""
        self.answer.mark_up(
            f"<b>{len(s.tubes)} tubes</b> reach {sum(s.reached)} of {len(s.reached)} notes; {proof}: {names}."
            f"{note}{more}"
        )

    def _busy(self) -> None:
        busy = self.studio.jobs.busy("help", "smallest", "reach")
        self.progress.setVisible(busy)
        self.stop.setVisible(busy)
        self.find.setEnabled(bool(self.studio.document.notes) and not busy)
        self.help.setEnabled(bool(self.found) and not busy)


def _nearest_words(r: NoteReach) -> str:
    """How the nearest mixture misses."""
    return miss(np.array(r.nearest), np.array(r.lab)) or "a little of each"
