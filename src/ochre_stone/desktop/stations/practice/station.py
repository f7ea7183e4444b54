"""Practice: what to drill now, the drill, and results over time."""

from collections.abc import Iterator
from datetime import datetime

from PyQt6.QtGui import QUndoStack
from PyQt6.QtWidgets import QCheckBox, QListWidgetItem, QStackedWidget, QVBoxLayout, QWidget

from ochre_stone.core.paint.tubes import Tube
from ochre_stone.desktop.scale.face import Shows
from ochre_stone.desktop.session import display
from ochre_stone.desktop.session.settings import store
from ochre_stone.desktop.stations.station import Command, Station
from ochre_stone.desktop.widgets.parts import ListBox, button, enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Pages, Tray

_IDLE = "Choose a drill at the right: a minute or two each. After each answer the truth is shown, large and touching."

_UNKNOWN = (
    "No profile is known of this screen: values and hues are trained as it shows them. The test card (Ctrl+G) "
    "shows whether its greys are true enough."
)


class Practice(Station):
    title = "Practice"
    order = 102
    panel = "instead"
    shows = Shows.COVERED
    shows_marks = False
    by_itself = True

    def prepare(self) -> None:
        self._nothing_done = QUndoStack(self)  # an answer cannot be taken back, and nothing of elsewhere unseen

    def build(self) -> Iterator[None]:
        from ochre_stone.core.practice.every import DRILLS
        from ochre_stone.desktop.stations.practice.view import DrillView

        self.work, self.drills = self.session.practising, DRILLS
        yield
        self.tray.title("Practice")
        self.pages = pages = Pages(self.tray, "Today", "Drill", "Results")
        self.view = DrillView()
        self.view.hint = _IDLE
        self.view.answered.connect(self.work.answer)
        pages.fill("Today", self._build_today)
        yield
        pages.fill("Drill", self._build_drill)
        yield
        pages.fill("Results", self._build_results)
        self._build_plots()
        self.side = self._panels = QStackedWidget()
        self._panels.addWidget(self.view)
        self._panels.addWidget(self.plots)
        pages.changed = self.refresh
        self.work.changed.connect(self._asked)
        self.work.learnt.connect(self.refresh_if_here)
        self.session.log.changed.connect(self._log_changed)
        self._log_changed()

    def _build_today(self, tray: Tray) -> None:
        tray.label("To practise now", "head")
        self.today = ListBox("Drills that are due", 110)
        self.today.itemDoubleClicked.connect(lambda _: self.start_due())
        tray.list(self.today)
        self.begin = button("Begin", "The drill in hand", "main")
        self.begin.clicked.connect(self.start_due)
        tray.row(self.begin, None)
        tray.label("All drills", "head")
        self.all = ListBox("All drills", 150)
        for d in self.drills.values():
            item = QListWidgetItem(d.name)
            set_tip(item, d.about)
            self.all.addItem(item)
        self.all.itemDoubleClicked.connect(lambda _: self.start_chosen())
        tray.list(self.all)
        self.any = button("Begin this one", "The drill that is chosen in the list of all", "small")
        self.any.clicked.connect(self.start_chosen)
        tray.row(self.any, None)
        self.hues = QCheckBox("I do not tell hues well: values only")
        set_tip(self.hues, "For painters who are colour-blind: no drill is proposed that depends on hue")
        self.hues.clicked.connect(self.work.leave_hues_out)
        tray.rows.addWidget(self.hues)
        self.about_screen = tray.label("", "quiet")

    def _build_drill(self, tray: Tray) -> None:
        self.head = tray.label("", "head")
        self.about = tray.label("", "quiet")
        from ochre_stone.desktop.stations.practice.answering import Answering

        self.answering = Answering(self.view, self.work.answer, self._tube)
        tray.rows.addWidget(self.answering)
        self.verdict = tray.label("")
        self.on = button("Next", "Enter or N", "main")
        self.on.clicked.connect(self.go_on)
        self.stop = button("Stop", "Answers that were given stay", "small")
        self.stop.clicked.connect(self.work.stop)
        tray.row(self.on, self.stop, None)
        self.own_way = tray.label("")

    def _build_results(self, tray: Tray) -> None:
        tray.label("Results", "head")
        self.results = ListBox("Drills with their results", 200)
        self.results.currentRowChanged.connect(lambda _: self._plot())
        tray.list(self.results)
        self.figure = tray.label("")
        tray.label("Figures are within this screen. What is typical is our judgement, not fact.", "quiet")

    def _build_plots(self) -> None:
        from ochre_stone.desktop.widgets.plot import PlotView

        self.plots = QWidget()
        self.plots.setObjectName("surround")
        self.over = PlotView("Figure over time", "round", "the less the better")
        self.share = PlotView("Right answers", "round", "share")
        rows = QVBoxLayout(self.plots)
        rows.setContentsMargins(0, 4, 8, 4)
        for plot in (self.over, self.share):
            plot.hint = "No round of this drill was done yet."
            rows.addWidget(plot, 1)

    def commands(self) -> list[Command]:
        return [Command("Go", "Begin the &drill that is due", ("Ctrl+B",), self.start_first)]

    def history(self) -> QUndoStack:
        return self._nothing_done

    def _tube(self, tube_id: str) -> Tube:
        return self.session.bench.paints.find_tube(tube_id)

    # What is done

    def start_first(self) -> None:
        """The first drill that is due, from wherever the painter is."""
        self.come()
        proposed = self.work.proposed()
        if proposed:
            self.start(proposed[0].drill.id)

    def start_due(self) -> None:
        """The drill in hand among those that are due."""
        proposed = self.work.proposed()
        row = self.today.currentRow()
        if 0 <= row < len(proposed):
            self.start(proposed[row].drill.id)

    def start_chosen(self) -> None:
        """The drill in hand among all."""
        row = self.all.currentRow()
        if row < 0:
            self.studio.told.emit("Choose a drill in the list first.")
        else:
            self.start(list(self.drills)[row])

    def start(self, drill_id: str) -> None:
        """Begin a round; before the first one ever the test card is shown."""
        if not self.session.settings.card_seen:
            self.session.settings.card_seen = True
            store(self.session.settings)
            self.session.test_card_wanted.emit()
        self.work.start(drill_id)
        assert self.pages is not None
        self.pages.show("Drill")
        self.view.setFocus()

    def go_on(self) -> None:
        """The next question."""
        self.work.go_on()
        if self.work.under_way:
            self.view.setFocus()
        elif self.pages is not None:
            self.pages.show("Today")

    # Showing

    def enter(self) -> None:
        self.work.read()
        super().enter()

    def leave(self) -> None:
        self.desk.scale.covered = False
        super().leave()

    def _log_changed(self) -> None:
        if not self.work.under_way and not self.work.done:
            self.work.read()

    def _asked(self) -> None:
        if self.active:
            self._show_drill()
            self._cover()
        self.session.words_changed.emit()

    def _cover(self) -> None:
        trial = self.work.trial
        asking = self.pages is not None and self.pages.here == "Drill" and self.work.under_way
        self.desk.scale.covered = asking and (trial is None or not trial.scale)
        self.desk.scale.update()

    def refresh(self) -> None:
        assert self.pages is not None
        here = self.pages.here
        self._panels.setCurrentWidget(self.plots if here == "Results" else self.view)
        self._show_today()
        self._show_drill()
        self._show_results()
        self._cover()

    def _show_today(self) -> None:
        row = max(self.today.currentRow(), 0)
        self.today.clear()
        for p in self.work.proposed():
            self.today.addItem(QListWidgetItem(f"{p.drill.name}: {p.why}"))
        none = not self.today.count()
        if none:
            self.today.addItem(QListWidgetItem("Nothing is due: what went well comes back in some days."))
        self.today.setCurrentRow(min(row, self.today.count() - 1))
        enable(self.begin, "Nothing is due now." if none else "")
        with signals_blocked(self.hues):
            self.hues.setChecked(self.session.settings.value_drills)
        known = display.screen().profile is not None
        self.about_screen.setText(_UNKNOWN if not known else "")
        self.about_screen.setVisible(not known)

    def _show_drill(self) -> None:
        work = self.work
        drill, trial, verdict = work.drill, work.trial, work.verdict
        self.head.setText(f"{drill.name}, {work.number} of {drill.questions}" if drill is not None else "No drill")
        self.about.setText(drill.about if drill is not None else "Begin one on the page Today.")
        self.answering.show_trial(trial, verdict is None)
        self.verdict.setText(verdict.words if verdict is not None else "")
        self.on.setVisible(verdict is not None)
        self.stop.setVisible(drill is not None)
        asked = trial.asked if trial is not None else None
        own = getattr(asked, "own_way", ()) if verdict is not None else ()
        self.own_way.setText(f"The program: {'; then '.join(own)}." if own else "")
        self.view.hint = "The question is being made…" if drill is not None and trial is None else _IDLE
        self.view.show_trial(trial, verdict, self.answering.in_hand)
        if verdict is not None:
            self.on.setFocus()

    def _show_results(self) -> None:
        row = max(self.results.currentRow(), 0)
        with signals_blocked(self.results):
            self.results.clear()
            for d in self.drills.values():
                found = self.work.figure_of(d)
                words = f"{found.value:.2g} ({d.measure.split(',')[-1].strip()})" if found is not None else "not yet"
                self.results.addItem(QListWidgetItem(f"{d.name}: {words}"))
            self.results.setCurrentRow(row)
        self._plot()

    def _plot(self) -> None:
        from ochre_stone.core.practice.progress import sittings
        from ochre_stone.core.practice.updown import EQUILIBRIUM
        from ochre_stone.desktop.widgets.plot import Line

        drill = list(self.drills.values())[max(self.results.currentRow(), 0)]
        rounds = sittings(drill, self.work.answers)
        known = [(k, s) for k, s in enumerate(rounds) if s.figure is not None]
        ticks = [(float(k), _day(s.at)) for k, s in enumerate(rounds)]
        points = tuple((float(k), s.figure.value) for k, s in known if s.figure is not None)
        band = tuple(
            (max(s.figure.value - s.figure.spread, 0), s.figure.value + s.figure.spread)
            for _, s in known
            if s.figure is not None
        )
        self.over.title, self.over.y_name = drill.name, drill.measure
        level = (drill.steady, "a steady eye, typically")
        self.over.show_lines([Line("", points, band, True)] if points else [], ticks, level if points else None)
        right = tuple((float(k), s.share) for k, s in enumerate(rounds))
        aim = EQUILIBRIUM if drill.asks is None else None
        self.share.show_lines(
            [Line("", right, strong=True)] if right else [],
            ticks,
            (aim, "what is aimed at") if aim is not None and right else None,
        )
        self.figure.setText(self.work.words_of(drill))

    def done_words(self) -> str:
        if not self.built:
            return "not begun"
        if self.work.under_way and self.work.drill is not None:
            return f"{self.work.number} of {self.work.drill.questions}"
        n = len(self.work.answers)
        return f"{n} answers, {self.work.share_right:.0%} right" if n else "not begun"


def _day(at: float) -> str:
    when = datetime.fromtimestamp(at)
    return f"{when.day} {when.strftime('%b')}"
