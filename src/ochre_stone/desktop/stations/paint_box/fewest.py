"""The Fewest page of the Paint box: the fewest tubes that reach the notes, and a palette of them."""

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QDoubleSpinBox, QListWidgetItem, QProgressBar, QSpinBox

from ochre_stone.core.mixing.reach.smallest import LEAST_SIZE, MOST_SIZE, Smallest, Wanted, smallest_palette
from ochre_stone.core.paint.box import OwnPalette
from ochre_stone.core.paint.palettes import MOST_TUBES, ONE_OF_EACH
from ochre_stone.core.paint.tubes import Tube, all_tubes
from ochre_stone.core.planning.planning import means_of
from ochre_stone.core.planning.rows import note_targets
from ochre_stone.desktop.session.palettes import Palettes
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.stations.paint_box.reach import ReachPage
from ochre_stone.desktop.widgets.parts import ListBox, button, enable, set_tip
from ochre_stone.desktop.widgets.tray import Tray


class FewestPage:
    """Which tubes would do; the slices stand beside it as on Reach."""

    def __init__(self, tray: Tray, palettes: Palettes, reach: ReachPage) -> None:
        self.palettes, self.studio, self.keeper, self.reach = palettes, palettes.studio, palettes.keeper, reach
        tray.label("The fewest tubes that reach every note, proven or with a bound.", "quiet")
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
        set_tip(self.tolerance, "How far off a mixture may be: 2 is seen only side by side, 5 at a glance")
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
        self.keep = ListBox("Tubes that stay on the palette", 92)
        set_tip(self.keep, "Tick the tubes that are to stay on the palette whatever they bring")
        tray.label("Keep whatever they bring", "head")
        tray.list(self.keep)
        self.find = button("Find them", "Solved to proven optimality", "main")
        self.find.clicked.connect(self.ask_smallest)
        self.stop = button("Stop", "", "small")
        self.stop.clicked.connect(lambda: self.studio.jobs.cancel("smallest"))
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        tray.row(self.find, self.progress, self.stop).setStretch(1, 1)
        self.answer = tray.label("")
        self.take = button("Make it a palette", "An own palette of these tubes")
        self.take.clicked.connect(self.make_palette)
        tray.rows.addWidget(self.take)
        self.question: Question[Smallest] = Question(
            self.studio.jobs,
            "smallest",
            self._key,
            lambda _: self._answer(),
            self.studio.failed.emit,
            lambda share: self.progress.setValue(round(share * 100)),
        )
        self.studio.jobs.busy_changed.connect(self._busy)

    def _key(self) -> tuple[Any, ...]:
        goal = tuple(tuple(g) for g in note_targets(self.studio.document).tolist())
        return self.palettes.chosen().tubes, self.palettes.chosen().medium, goal

    def refresh(self) -> None:
        """Show the choice of tubes, and what was found for it."""
        self.reach.refresh()
        self._fill_keep()
        self._answer()
        self._busy()

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
            tolerance=self.tolerance.value(),
            fixed=tuple(t.id for t in pool if t.id in self._kept()),
            size=self.size.value(),
            price=means_of(self.keeper.box).price,
            avoid_hazards=self.safe.isChecked(),
            avoid_fugitive=self.lasting.isChecked(),
            surface=self.palettes.chosen().surface,
        )
        self.question.forget()
        self.question.ask(lambda report: smallest_palette(goal, pool, wanted, report))

    @property
    def smallest(self) -> Smallest | None:
        """What was found, for the palette and the notes of now."""
        return self.question.answer

    def make_palette(self) -> None:
        """The tubes found as an own palette."""
        found, box = self.smallest, self.keeper.box
        if found is None:
            return
        name = f"Fewest tubes, {len(found.tubes)}"
        made = box.fresh_id(name)
        own = OwnPalette(
            id=made, name=name, about="The fewest tubes that reach the notes.", paints=tuple(t.id for t in found.tubes)
        )
        if self.keeper.attempt(f"New palette {name}", lambda: box.with_palette(own)):
            self.palettes.take(made)

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
        busy = self.studio.jobs.busy("smallest")
        self.progress.setVisible(busy)
        self.stop.setVisible(busy)
        missing = "" if self.studio.document.notes else "Take notes first."
        enable(self.find, "It is being worked out." if busy else missing)
