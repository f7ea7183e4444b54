"""The Meet page of Harmonise: what two notes share, and whether they go dull or stay lively where they meet."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QListWidgetItem

from ochre_stone.core.colour.spaces import as_lab
from ochre_stone.core.harmony.thirds import OPPOSITE, shared
from ochre_stone.core.mixing.technique.meeting import Meeting, meetings
from ochre_stone.core.planning.rows import note_targets
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.desktop.widgets.meetswatch import MeetSwatch
from ochre_stone.desktop.widgets.parts import ListBox, set_tip
from ochre_stone.desktop.widgets.tray import Tray

_MOST = 400  # pairs in the list: nobody reads on
_SHOWS = ("all pairs, dullest first", "pairs with the note in hand", "opposites that share a third")

_PLURAL = {"goes dull": "go dull", "stays lively": "stay lively", "greys a little": "grey a little"}


class MeetPage:
    """Pairs of notes, mixed half and half with the palette in use."""

    def __init__(self, tray: Tray, studio: Studio) -> None:
        self.studio = studio
        self.words = tray.label("", "quiet")
        self.shows = QComboBox()
        self.shows.addItems(_SHOWS)
        self.shows.setAccessibleName("Which pairs")
        self.shows.activated.connect(lambda _: self._fill())
        tray.rows.addWidget(self.shows)
        self.list = ListBox("Pairs of notes", 150)
        self.list.currentItemChanged.connect(lambda now, _: self._show(now))
        tray.list(self.list)
        self.swatch = MeetSwatch()
        tray.rows.addWidget(self.swatch)
        self.says = tray.label("")
        self.question: Question[list[Meeting]] = Question(
            self.studio.jobs, "meet", self._key, lambda _: self._fill(), self.studio.failed.emit, self._on_the_way
        )

    def refresh(self) -> None:
        d, goal = self.studio.document, self._labs()
        chosen, most = d.mix.chosen(), d.mix.most_tubes
        if len(goal) < 2:
            self.question.forget()
        else:
            self.question.ask(lambda told: meetings(goal, chosen.tubes, chosen.name, most, chosen.surface, told))
        self._fill()

    @property
    def found(self) -> list[Meeting]:
        """The meetings of the notes as they are now."""
        return self.question.answer or []

    def _labs(self) -> list[tuple[float, float, float]]:
        return [as_lab(g) for g in note_targets(self.studio.document)]

    def _key(self) -> object:
        d = self.studio.document
        return tuple(self._labs()), tuple(n.name for n in d.notes), d.mix.chosen(), d.mix.most_tubes

    def _on_the_way(self, share: float) -> None:
        self.words.setText(f"Mixing each note with {self.studio.document.mix.chosen().name}: {share:.0%}…")

    def _wanted(self, m: Meeting, labs: list[tuple[float, float, float]]) -> bool:
        notes = self.studio.document.notes
        if self.shows.currentIndex() == 1:
            return self.studio.selected in (notes[m.first].id, notes[m.second].id)
        if self.shows.currentIndex() == 2:
            s = shared(labs[m.first], labs[m.second])
            return bool(s.thirds) and s.apart >= OPPOSITE
        return True

    def _fill(self) -> None:
        notes = self.studio.document.notes
        now = self.list.currentItem()
        old = now.data(Qt.ItemDataRole.UserRole) if now is not None else None
        self.list.clear()
        labs = self._labs()
        shown = [m for m in self.found if self._wanted(m, labs)][:_MOST]
        for m in shown:
            item = QListWidgetItem(f"{m.verdict}:  {notes[m.first].name}  and  {notes[m.second].name}")
            set_tip(item, f"Mixed half and half it keeps {m.kept:.0%} of their chroma")
            item.setData(Qt.ItemDataRole.UserRole, m)
            self.list.addItem(item)
            if old is not None and (m.first, m.second) == (old.first, old.second):
                self.list.setCurrentItem(item)
        if self.list.currentItem() is None and shown:
            self.list.setCurrentRow(0)
        if not self.studio.jobs.busy("meet"):
            name = self.studio.document.mix.chosen().name
            dull = sum(m.verdict == "goes dull" for m in self.found)
            self.words.setText(
                "Take at least two notes that are no greys."
                if not self.found
                else f"Each pair mixed half and half with {name}: {dull} of {len(self.found)} go dull."
                if shown
                else "No pair is of this kind."
            )
        self._show(self.list.currentItem())

    def _show(self, item: QListWidgetItem | None) -> None:
        m: Meeting | None = item.data(Qt.ItemDataRole.UserRole) if item is not None else None
        if m is None:
            self.swatch.clear()
            self.says.setText("")
            return
        first, second = (labs := self._labs())[m.first], labs[m.second]
        self.swatch.show_meeting(first, m.lab, second)
        names = [self.studio.document.notes[i].name for i in (m.first, m.second)]
        palette = self.studio.document.mix.chosen()
        tubes = ", ".join(palette.tube(t).short for t in m.tubes)
        s = shared(first, second)
        self.says.mark_up(
            f"<b>{names[0]}</b> and <b>{names[1]}</b>. <b>Stirred</b> half and half they {_PLURAL[m.verdict]}: "
            f"{m.kept:.0%} of their chroma is left. <b>Side by side</b>, unstirred, they {s.words}. "
            + (f"Both recipes hold {tubes}." if tubes else "Their recipes share no tube but white.")
        )
