"""The Reach page of the Paint box: what a palette can mix, which notes it cannot, and which tube would help."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QListWidgetItem, QProgressBar

from ochre_stone.core.colour.reading import read
from ochre_stone.core.mixing.reach.slices import Addition, Nets, NoteReach, Slice, additions, reach_of
from ochre_stone.core.mixing.recipe.reasons import miss
from ochre_stone.core.paint.tubes import all_tubes
from ochre_stone.core.planning.rows import note_targets
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.jobs import Report
from ochre_stone.desktop.session.palettes import Palettes
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.widgets.parts import ListBox, button, enable, set_tip
from ochre_stone.desktop.widgets.slices import Dot, SliceView
from ochre_stone.desktop.widgets.tray import Tray

VALUES = tuple(v / 2 for v in range(2, 19))


@dataclass(frozen=True)
class _Reached:
    """What a palette reaches."""

    slices: list[Slice]
    notes: list[NoteReach]
    ids: list[str]
    """Of the notes."""


class ReachPage:
    """Slices beside the picture; the notes that lie outside in the tray."""

    def __init__(self, tray: Tray, palettes: Palettes) -> None:
        self.palettes, self.studio, self.keeper = palettes, palettes.studio, palettes.keeper
        self.panel = SliceView()
        self.panel.value_chosen.connect(self.choose_value)
        self.panel.note_chosen.connect(self.studio.select)
        self.value = 5.0
        jobs, failed = self.studio.jobs, self.studio.failed.emit
        self.reached: Question[_Reached] = Question(
            jobs, "reach", self._key, lambda _: self._fill(), failed, self._on_the_way
        )
        self.tubes: Question[list[Addition]] = Question(
            jobs, "help", self._key, self._show_tubes, failed, self._on_the_way
        )
        self.says = tray.label("", "head")
        self.list = ListBox("Notes that this palette does not reach", 96)
        self.list.itemClicked.connect(self._chosen)
        self.list.itemActivated.connect(self._chosen)
        tray.list(self.list)
        self.help = button("Which tube would help?", "Every pigment tried on this palette")
        self.help.clicked.connect(self.ask_help)
        self.from_box = QCheckBox("of my box only")
        tray.row(self.help, self.from_box)
        self.helps = tray.label("")
        self.stop = button("Stop", "", "small")
        self.stop.clicked.connect(self._stop)
        self.progress = QProgressBar()
        self.progress.setRange(0, 100)
        tray.row(self.progress, self.stop).setStretch(0, 1)
        self.studio.jobs.busy_changed.connect(self._busy)

    # Worked out

    def _key(self) -> tuple[Any, ...]:
        goal = tuple(tuple(g) for g in note_targets(self.studio.document).tolist())
        return self.palettes.chosen().tubes, self.palettes.chosen().medium, goal

    def refresh(self) -> None:
        if self.tubes.answer is None:
            self.helps.setText("")
        self._work()
        self._fill()

    @property
    def found(self) -> list[NoteReach]:
        """How the notes are reached."""
        return self.reached.answer.notes if self.reached.answer is not None else []

    @property
    def slices(self) -> list[Slice]:
        """What the palette reaches, value by value."""
        return self.reached.answer.slices if self.reached.answer is not None else []

    def _work(self) -> None:
        chosen, goal = self.palettes.chosen(), note_targets(self.studio.document)
        ids = [n.id for n in self.studio.document.notes]

        def work(report: Report) -> _Reached:
            nets = Nets(chosen.tubes, chosen.surface)
            slices = []
            for i, v in enumerate(VALUES):
                slices.append(nets.slice(v))
                report((i + 1) / len(VALUES) / 2)
            found = reach_of(goal, chosen.tubes, 4, chosen.surface, lambda s: report(0.5 + s / 2)) if len(goal) else []
            return _Reached(slices, found, ids)

        self.reached.ask(work)

    @property
    def _ids(self) -> list[str]:
        return self.reached.answer.ids if self.reached.answer is not None else []

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
        candidates = (
            [t.tube() for t in box.tubes if not t.archived]
            if self.from_box.isChecked()
            else [t for t in all_tubes().values() if not t.parts]
        )
        if not candidates:
            self.helps.setText("Your box is empty: put tubes into it on the Tubes page.")
            return

        self.tubes.forget()
        self.tubes.ask(lambda report: additions(outside, chosen.tubes, candidates, 4, chosen.surface, report))

    def _show_tubes(self, found: list[Addition]) -> None:
        total = sum(not r.inside for r in self.found)
        words = [f"<b>{a.tube.name}</b> brings {a.gained} of {total} in" for a in found[:4] if a.gained]
        self.helps.mark_up("<br>".join(words) or "No single tube brings one of them in.")

    def _stop(self) -> None:
        for kind in ("help", "reach"):  # begun anew on coming back
            self.studio.jobs.cancel(kind)
        self._fill()

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
        busy = self.studio.jobs.busy("reach")
        stopped = "Stopped: come to this page again to have it worked out."
        self.panel.hint = "What this palette reaches is being worked out." if busy else stopped
        self.panel.show_slices(self.slices, self.value, dots, self.studio.selected)
        inside = sum(d.inside for d in dots)
        if not self.studio.document.notes:
            self.says.setText("Take notes to see which of them it reaches.")
        elif not dots:
            self.says.setText("Working it out…" if busy else "Stopped.")
        else:
            self.says.setText(f"{inside} of {len(dots)} notes in reach of {self.palettes.chosen().name}")
        self.list.clear()
        for d, r in sorted(zip(dots, self.found, strict=False), key=lambda pair: -pair[1].far):
            if d.inside:
                continue
            item = QListWidgetItem(f"{d.name}: {r.far:.1f} off, {_nearest_words(r)}")
            set_tip(item, f"Value {numbers.value(d.value)}; the nearest mixture is {_nearest_words(r)}")
            item.setData(Qt.ItemDataRole.UserRole, d.note_id)
            self.list.addItem(item)
        self.list.setVisible(self.list.count() > 0)
        self._busy()

    def _busy(self) -> None:
        busy = self.studio.jobs.busy("help", "reach")
        self.progress.setVisible(busy)
        self.stop.setVisible(busy)
        why = "It is being worked out." if busy else "" if self.found else "Take notes first."
        enable(self.help, why)


def _nearest_words(r: NoteReach) -> str:
    """How the nearest mixture misses."""
    return miss(np.array(r.nearest), np.array(r.lab)) or "a little of each"
