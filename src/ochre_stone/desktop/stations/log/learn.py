"""The Learn page of Log: what the tubes really are, the painter's habits, and charts of both."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

from PyQt6.QtWidgets import QListWidgetItem, QVBoxLayout, QWidget

from ochre_stone.core.paint.box import OWN, OwnTube, PaintBox, PigmentPart
from ochre_stone.core.paint.optics import Surface
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.desktop.session.benchwork import BenchWork
from ochre_stone.desktop.session.box import BoxKeeper
from ochre_stone.desktop.session.logkeeper import LogKeeper
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.widgets.parts import ListBox, button, enable
from ochre_stone.desktop.widgets.plot import Line, PlotView
from ochre_stone.desktop.widgets.tray import Tray
from ochre_stone.logbook.book import Book
from ochre_stone.logbook.entry import Entry, TubeThen
from ochre_stone.logbook.habits import Course, DosingHabit, by_week, courses, firsts, habits
from ochre_stone.logbook.learning import Learnt, learn

HOME_OFF = 2.0
_MOST = 60
_SHOWN = 30


@dataclass(frozen=True)
class Lessons:
    """All that entries teach."""

    of: list[Entry]
    tubes: list[Learnt]
    habits: list[DosingHabit]
    courses: list[Course]
    weeks: list[tuple[date, float, int]]


def _learnt(entries: list[Entry], tubes: dict[str, TubeThen], find: Callable[[str], Tube], surface: Surface) -> Lessons:
    known, belief = learn(entries, tubes, find, surface)
    names = {k: t.name for k, t in tubes.items()}
    return Lessons(entries, known, habits(entries, belief, names), courses(entries), by_week(firsts(entries)))


class LearnPage:
    """Offered, never taken by itself."""

    def __init__(self, tray: Tray, log: LogKeeper, bench: BenchWork, keeper: BoxKeeper) -> None:
        self.log, self.bench, self.keeper, self.studio = log, bench, keeper, log.studio
        self.learnt: list[Learnt] = []
        self.habits: list[DosingHabit] = []
        self._entries: list[Entry] = []
        self.question: Question[Lessons] = Question(
            self.studio.jobs, "learn", lambda: self._entries, self._arrived, self.studio.failed.emit
        )
        """The entries that what is shown was learnt from."""
        self._build_panel()
        tray.label("The tubes, as your piles show them", "head")
        self.tubes = ListBox("Tubes", 130)
        self.tubes.currentRowChanged.connect(lambda _: self._chosen())
        tray.list(self.tubes)
        self.take = button("Take as a calibration", "The tube in your box is mixed with like this from now on")
        self.take.clicked.connect(self.take_calibration)
        tray.row(self.take, None)
        tray.label("Your habits", "head")
        self.hand = ListBox("Habits", 90)
        tray.list(self.hand)
        self.allow_for = button("Let the plan allow for it", "The plan doses for your hand")
        self.allow_for.clicked.connect(self.take_habits)
        self.forget = button("Not any more", "The plan doses as if you took what is meant", "small")
        self.forget.clicked.connect(lambda: self._set_habits(()))
        tray.row(self.allow_for, self.forget, None)
        self.says = tray.label("", "quiet")
        self.stop = button("Stop", "Stop looking through the log", "small")
        self.stop.clicked.connect(self.stop_learning)
        tray.row(self.stop, None)
        self.studio.jobs.busy_changed.connect(self._busy)
        self._busy()

    def _busy(self) -> None:
        self.stop.setVisible(self.studio.jobs.busy("learn"))

    def stop_learning(self) -> None:
        """Look through the log no further; what was learnt before stays."""
        self.studio.jobs.cancel("learn")
        self.says.setText("Stopped. Come here again to look through it.")

    def _build_panel(self) -> None:
        self.panel = QWidget()
        self.panel.setObjectName("surround")
        self.over = PlotView("Error over corrections", "looks at the pile", "CIEDE2000 from the target")
        self.weeks = PlotView("First mixes", "week", "median CIEDE2000 from the target")
        self.strength = PlotView("Strength of the tube", "sitting", "over its data")
        rows = QVBoxLayout(self.panel)
        rows.setContentsMargins(0, 4, 8, 4)
        rows.setSpacing(6)
        for plot in (self.over, self.weeks, self.strength):
            plot.hint = "Not enough was read yet."
            rows.addWidget(plot, 1)

    # What is done

    def one(self) -> Learnt | None:
        """The tube in hand."""
        row = self.tubes.currentRow()
        return self.learnt[row] if 0 <= row < len(self.learnt) else None

    def take_calibration(self) -> None:
        """Make what was learnt of the tube in hand its calibration; a generic one becomes a tube of the painter's."""
        x = self.one()
        if x is None:
            return
        correction, box = x.correction(date.today().isoformat()), self.keeper.box
        own = box.own(x.tube)

        def make() -> PaintBox:
            if own is not None:
                all_of_it = (*own.corrections, correction)
                new = OwnTube.model_validate(
                    own.model_dump() | {"corrections": [c.model_dump() for c in all_of_it], "using": len(all_of_it) - 1}
                )
                return box.with_tube(new)
            fields = {
                "id": box.fresh_id(f"my {x.name}"), "name": f"My {x.name}", "parts": (PigmentPart(pigment=x.tube),),
                "medium": self.bench.palette.medium, "corrections": (correction,), "using": 0,
                "remark": "as the log shows it",
            }  # fmt: skip
            return box.with_tube(OwnTube.model_validate(fields))

        if own is None and x.tube.startswith(OWN):
            self.studio.told.emit(f"{x.name} is not in your box any more.")
        elif self.keeper.attempt("Take what the log shows of a tube", make):
            where = "its calibration" if own is not None else f"“My {x.name}” in your paint box, to put on a palette"
            self.studio.told.emit(f"{x.name}: {where}; Undo at the Paint box takes it back.")

    def take_habits(self) -> None:
        """Let the plan's hand model have the habits of dosing."""
        self._set_habits(tuple((h.tube, round(min(max(h.factor, 0.2), 5.0), 3)) for h in self.habits if h.tube))

    def _set_habits(self, chosen: tuple[tuple[str, float], ...]) -> None:
        hand = self.studio.document.mix.hand.model_copy(update={"habits": chosen})
        self.studio.adjust("mix", "Habits of the hand", hand=hand.model_dump())
        self.refresh_buttons()

    # Showing

    def refresh(self) -> None:
        """Learn anew, off the main thread."""
        find, surface = self.bench.paints.find_tube, self.bench.palette.surface

        def read(book: Book) -> tuple[list[Entry], dict[str, TubeThen]]:
            return book.entries(book.read_lately(_MOST)), book.tubes()

        def think(found: tuple[list[Entry], dict[str, TubeThen]]) -> None:
            self._entries = found[0]
            if self.question.ask(lambda _: _learnt(*found, find, surface)):
                self.refresh_buttons()
            else:
                self.says.setText("Looking through the log…")

        self.log.ask(read, think)

    def _arrived(self, answer: Lessons) -> None:
        self.learnt, self.habits = answer.tubes, answer.habits
        self._show(answer.courses, answer.weeks)

    def _show(self, course: list[Course], weeks: list[tuple[date, float, int]]) -> None:
        row = max(self.tubes.currentRow(), 0)
        self.tubes.clear()
        for x in self.learnt:
            self.tubes.addItem(QListWidgetItem(x.words()))
        self.hand.clear()
        for h in self.habits:
            self.hand.addItem(QListWidgetItem(f"{h.words}: from {h.piles} piles"))
        self.hand.setVisible(bool(self.habits))
        if self.learnt:
            self.tubes.setCurrentRow(min(row, len(self.learnt) - 1))
        shown = course[-_SHOWN:]
        lines = [Line(c.name, tuple((k + 1.0, v) for k, v in enumerate(c.off)), strong=c is shown[-1]) for c in shown]
        most = max((len(c.off) for c in shown), default=1)
        ticks = [(float(k), str(k)) for k in range(1, most + 1)]
        self.over.show_lines(lines, ticks, (HOME_OFF, "matches") if lines else None)
        points = tuple((float(k), off) for k, (_, off, _) in enumerate(weeks))
        ticks = [(float(k), f"{d.day} {d.strftime('%b')}") for k, (d, _, _) in enumerate(weeks)]
        self.weeks.show_lines([Line("", points, strong=True)] if points else [], ticks)
        self._chosen()
        few = "" if self.learnt else "The log needs some readings by figures before it knows anything of the tubes. "
        none = "" if self.habits else "No habit shows in the numbers yet. "
        both = (
            "Colour alone cannot tell a stronger tube from more of it taken: take one of the two, not both."
            if self.learnt and any(h.tube for h in self.habits)
            else ""
        )
        self.says.setText(f"{few}{none}{both}")
        self.refresh_buttons()

    def _chosen(self) -> None:
        x = self.one()
        self.strength.title = f"Strength of {x.name}" if x is not None else "Strength of the tube"
        if x is None:
            self.strength.show_lines([], [])
            return
        points = tuple((float(k), p.strength) for k, p in enumerate(x.points))
        band = tuple((p.low, p.high) for p in x.points)
        ticks = [(float(k), f"{p.day.day} {p.day.strftime('%b')}") for k, p in enumerate(x.points)]
        last = float(len(points))
        lines = [Line("each sitting", points, band)] if points else []
        lines.append(Line("all together", ((last, x.strength),), ((x.low, x.high),), True))
        self.strength.show_lines(lines, [*ticks, (last, "all")], (1.0, "as its data"), from_zero=False)
        self.refresh_buttons()

    def refresh_buttons(self) -> None:
        """What can be taken over now."""
        x = self.one()
        enable(self.take, "" if x is not None and x.clear else "Nothing surely differs from its data here.")
        dosing = any(h.tube for h in self.habits)
        enable(self.allow_for, "" if dosing else "No habit of dosing shows in the numbers.")
        self.forget.setVisible(bool(self.studio.document.mix.hand.habits))
