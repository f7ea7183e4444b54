"""Controls for an answer that is a setting: a place on a scale, patches that are moved, cuts, paint that is put in."""

import itertools
from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QSlider, QVBoxLayout, QWidget

from ochre_stone.core.colour.reading import chroma_word, hue_word
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.bench import bench as acts
from ochre_stone.core.mixing.bench.bench import PART_ML, Bench
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.paint.predict import predict
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.practice.drill import GivenAnswer
from ochre_stone.core.practice.trial import Adjust, Match, Number, PlacedCuts, Trial
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.stations.bench.supplies import ShownSupply, SuppliesView
from ochre_stone.desktop.stations.practice.view import DrillView
from ochre_stone.desktop.widgets.parts import Words, button, signals_blocked

_FINE = 100


class Answering(QWidget):
    """Whatever the question needs; ``given`` is called with the answer."""

    def __init__(self, view: DrillView, given: Callable[[GivenAnswer], None], find: Callable[[str], Tube]) -> None:
        super().__init__()
        self.view, self._given, self._find = view, given, find
        self.trial: Trial | None = None
        self.bench = Bench()
        self.before: list[Bench] = []
        self.put_in: list[str] = []
        """Ids of the paints that went in, dose by dose."""
        rows = QVBoxLayout(self)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(6)
        self.words = Words("")
        self.words.setWordWrap(True)
        rows.addWidget(self.words)
        self.sliders = [QSlider(Qt.Orientation.Horizontal) for _ in range(4)]
        for k, s in enumerate(self.sliders):
            s.setAccessibleName("Your answer" if k == 0 else f"Cut {k + 1}")
            s.valueChanged.connect(lambda _: self._moved())
            rows.addWidget(s)
        self.on, self.back = button("", "", ""), button("", "", "")
        for b, step in ((self.on, 1), (self.back, -1)):
            b.setAutoRepeat(True)
            b.clicked.connect(lambda _, n=step: self.step(n))
            rows.addWidget(b)
        self.supplies = SuppliesView()
        self.supplies.dosed.connect(self.dose)
        rows.addWidget(self.supplies)
        self.undo = button("Take that back", "The last dose; it does not count then", "small")
        self.undo.clicked.connect(self.take_back)
        rows.addWidget(self.undo)
        self.ready = button("That is it", "Enter", "main")
        self.ready.clicked.connect(self.give)
        rows.addWidget(self.ready)
        self.in_hand = 0
        view.picked.connect(self._picked)
        view.stepped.connect(self.step)

    def show_trial(self, trial: Trial | None, open_: bool) -> None:
        """The controls for a question, while it is open."""
        new = trial is not self.trial
        self.trial = trial
        asked = trial.asked if trial is not None and open_ else None
        number, adjust, cuts, match = (
            isinstance(asked, Number),
            isinstance(asked, Adjust),
            isinstance(asked, PlacedCuts),
            isinstance(asked, Match),
        )
        for k, s in enumerate(self.sliders):
            s.setVisible((number and k == 0) or (isinstance(asked, PlacedCuts) and k < asked.count))
        for b in (self.on, self.back):
            b.setVisible(adjust)
        self.supplies.setVisible(match)
        self.undo.setVisible(match)
        self.ready.setVisible(number or adjust or cuts or match)
        self.words.setVisible(number or adjust or cuts or match)
        if new and trial is not None:
            self._begin(trial)
        self._tell()

    def _begin(self, trial: Trial) -> None:
        asked = trial.asked
        self.in_hand, self.view.places, self.view.cuts, self.view.mixed = 0, (), (), None
        if isinstance(asked, Number):
            with signals_blocked(self.sliders[0]):
                self.sliders[0].setRange(round(asked.low * _FINE), round(asked.high * _FINE))
                self.sliders[0].setSingleStep(round(asked.step * _FINE))
                self.sliders[0].setPageStep(round(5 * asked.step * _FINE))
                self.sliders[0].setValue(round((asked.low + asked.high) / 2 * _FINE))
        elif isinstance(asked, PlacedCuts):
            for k, s in enumerate(self.sliders[: asked.count]):
                with signals_blocked(s):
                    s.setRange(0, 10 * _FINE)
                    s.setSingleStep(10)
                    s.setPageStep(50)
                    s.setValue(round((k + 1) / (asked.count + 1) * 10 * _FINE))
            self._moved()
        elif isinstance(asked, Adjust):
            self.view.places = asked.start
            self.on.setText(f"{asked.words[0][0].upper()}{asked.words[0][1:]}")
            self.back.setText(f"{asked.words[1][0].upper()}{asked.words[1][1:]}")
        elif isinstance(asked, Match):
            doses = [Dose.of_tube(i, ml, name=i) for i, ml in asked.start]
            self.bench, self.before, self.put_in = acts.lay(Bench(), "your pile", doses), [], []
            shown = [ShownSupply(s.id, s.name, self._find(s.id).lab, True) for s in asked.supplies]
            self.supplies.show_supplies(shown, asked.supplies[0].id)
            self._mixed()

    # Hands

    def _picked(self, index: int) -> None:
        self.in_hand = index

    def _moved(self) -> None:
        asked = self.trial.asked if self.trial is not None else None
        if isinstance(asked, PlacedCuts):
            self.view.cuts = tuple(sorted(s.value() / _FINE for s in self.sliders[: asked.count]))
            self.view.update()
        self._tell()

    def step(self, by: int) -> None:
        """Move the patch in hand along its row."""
        asked = self.trial.asked if self.trial is not None else None
        if not isinstance(asked, Adjust) or not self.isVisible():
            return
        places = list(self.view.places)
        k = self.in_hand
        places[k] = min(max(places[k] + by, 0), len(asked.ladders[k]) - 1)
        self.view.places = tuple(places)
        self.view.show_trial(self.trial, None, self.in_hand)

    def dose(self, size: str) -> None:
        """Put a dose of the paint in hand into the pile."""
        asked = self.trial.asked if self.trial is not None else None
        if not isinstance(asked, Match) or self.supplies.held is None:
            return
        supply = next(s for s in asked.supplies if s.id == self.supplies.held)
        ml = PART_ML * {"part": 1.0, "tip": 0.125}.get(size, 0.25)
        self.before.append(self.bench)
        self.bench = acts.add(self.bench, self.bench.piles[0].id, supply, ml)
        self.put_in.append(supply.id)
        self._mixed()

    def take_back(self) -> None:
        """Undo the last dose."""
        if self.before:
            self.bench = self.before.pop()
            self.put_in.pop()
            self._mixed()

    def _mixed(self) -> None:
        self.view.mixed = self._lab()
        self.view.update()
        self._tell()

    def _lab(self) -> Lab:
        asked = self.trial.asked if self.trial is not None else None
        assert isinstance(asked, Match)
        return predict(self.bench.piles[0].amounts, self._find, asked.surface).lab

    def additions(self) -> int:
        """How many doses went in; doses of one paint in a row are one addition."""
        return sum(1 for _ in itertools.groupby(self.put_in))

    def give(self) -> None:
        """This is the answer."""
        asked = self.trial.asked if self.trial is not None else None
        if isinstance(asked, Number):
            self._given(self.sliders[0].value() / _FINE)
        elif isinstance(asked, Adjust):
            self._given(self.view.places)
        elif isinstance(asked, PlacedCuts):
            self._given(self.view.cuts)
        elif isinstance(asked, Match):
            self._given((self._lab(), self.additions()))

    # Words

    def _tell(self) -> None:
        asked = self.trial.asked if self.trial is not None else None
        at = self.sliders[0].value() / _FINE
        if isinstance(asked, Number):
            self.words.mark_up(f"Your answer: <b>{_place_words(asked.what, at)}</b>")
        elif isinstance(asked, Adjust):
            self.words.setText(
                "The patch in hand is moved by the buttons, or by Page up and Page down."
                if len(asked.ladders) > 1
                else "Press for each touch; held, it goes on."
            )
        elif isinstance(asked, PlacedCuts):
            self.words.setText(", ".join(numbers.value(v) for v in self.view.cuts))
        elif isinstance(asked, Match):
            n = self.additions()
            self.words.setText(f"{n} addition{'s' * (n != 1)} so far. A press is a touch; Shift+Enter a part.")


def _place_words(what: str, at: float) -> str:
    """A place on a scale as painters say it."""
    if what == "value":
        return numbers.value(at)
    return hue_word(at) if what == "hue" else f"{at:.1f}, {chroma_word(at)}"
