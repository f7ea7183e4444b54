"""A round of a drill in the window: the question that is asked, the answer, and what comes next."""

import time
import uuid
from typing import Any

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.paint.palettes import PALETTES
from ochre_stone.core.paint.usual import PALETTE
from ochre_stone.core.picture.load import load
from ochre_stone.core.picture.picture import Floats
from ochre_stone.core.practice.drill import Drill, GivenAnswer, Material, judge
from ochre_stone.core.practice.every import DRILLS
from ochre_stone.core.practice.progress import Figure, Proposed, figure, next_level, practice_plan, said
from ochre_stone.core.practice.trial import Trial, Verdict
from ochre_stone.desktop.session.logkeeper import LogKeeper
from ochre_stone.desktop.session.settings import Settings, store
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.logbook import entry
from ochre_stone.resources import resource

PICTURE_PIXELS = 160_000


class Practising(QObject):
    """Asks, judges and keeps; all drawing is the station's."""

    changed = pyqtSignal()
    """Another question, its answer, or the end of a round."""
    learnt = pyqtSignal()
    """The answers of the past are read."""

    def __init__(self, studio: Studio, log: LogKeeper, settings: Settings) -> None:
        super().__init__(studio)
        self.studio, self.log, self.settings = studio, log, settings
        self.rng = np.random.default_rng()
        self.answers: list[entry.Answer] = []
        """All that were ever given, as far as they are read."""
        self.drill: Drill | None = None
        self.trial: Trial | None = None
        self.verdict: Verdict | None = None
        self.given: GivenAnswer | None = None
        self.done: list[entry.Answer] = []
        """Answers of this round."""
        self._picture: tuple[object, Floats] | None = None
        studio.replaced.connect(self._replaced)

    # What there is to do

    def read(self) -> None:
        """Read the answers of the past."""

        def arrived(found: list[entry.Answer]) -> None:
            if found != self.answers:
                self.answers = found
                self.learnt.emit()

        self.log.ask(lambda book: book.answers(), arrived)

    def proposed(self) -> list[Proposed]:
        """What to practise now."""
        return practice_plan(self.answers, time.time(), hue=not self.settings.value_drills)

    @property
    def share_right(self) -> float:
        """Share of right answers of all; 0 for none."""
        return sum(a.right for a in self.answers) / len(self.answers) if self.answers else 0.0

    def figure_of(self, drill: Drill) -> Figure | None:
        """How the painter does at a drill."""
        return figure(drill, self.answers)

    def words_of(self, drill: Drill) -> str:
        """The same in words."""
        return said(drill, self.figure_of(drill))

    def leave_hues_out(self, on: bool) -> None:
        """Propose no drill that cannot be done without telling hues."""
        self.settings.value_drills = on
        store(self.settings)
        self.learnt.emit()

    def _replaced(self) -> None:
        self.done, self._picture = [], None
        self.stop()

    # A round

    @property
    def under_way(self) -> bool:
        """Whether a round is being done."""
        return self.drill is not None

    @property
    def number(self) -> int:
        """Which question of the round it is, from 1."""
        return len(self.done) + (self.verdict is None)

    def start(self, drill_id: str) -> None:
        """Begin a round of a drill."""
        self.drill, self.done = DRILLS[drill_id], []
        self._ask()

    def stop(self) -> None:
        """End the round; answers that were given stay."""
        self.drill, self.trial, self.verdict, self.given = None, None, None, None
        self.changed.emit()

    def answer(self, given: GivenAnswer) -> None:
        """Judge an answer, and keep it."""
        if self.trial is None or self.verdict is not None or self.drill is None:
            return
        self.verdict, self.given = judge(self.trial, given), given
        kept = entry.Answer(
            uid=uuid.uuid4().hex,
            at=time.time(),
            drill=self.drill.id,
            level=self.trial.level,
            right=self.verdict.right,
            error=float(np.clip(self.verdict.error, -9999, 9999)),
            told=self.verdict.words[:200],
        )
        self.done.append(kept)
        self.answers.append(kept)
        self.log.answer(kept)
        self.changed.emit()

    def go_on(self) -> None:
        """The next question; after the last the round is over."""
        if self.drill is None or self.verdict is None:
            return
        if len(self.done) >= self.drill.questions:
            self._over()
        else:
            self._ask()

    def _over(self) -> None:
        drill = self.drill
        assert drill is not None
        right = sum(a.right for a in self.done)
        self.studio.told.emit(f"{drill.name}: {right} of {len(self.done)} right. {self.words_of(drill)}")
        self.stop()
        self.learnt.emit()

    def _ask(self) -> None:
        drill = self.drill
        assert drill is not None
        level, rng = next_level(drill, self.answers), self.rng
        mix, picture = self.studio.document.mix.chosen(), self.studio.picture
        document = self.studio.document
        held = self._picture

        def work(_: Any) -> tuple[Trial, tuple[object, Floats] | None]:
            seen = held
            if drill.picture and (seen is None or seen[0] is not picture):
                if picture is not None:
                    seen = picture, document.seen(picture, PICTURE_PIXELS)
                else:
                    seen = None, load(resource("demo", "orchard_keeper.png")).reduced(PICTURE_PIXELS)
            tubes = mix.tubes if any(t.is_white for t in mix.tubes) and len(mix.tubes) > 3 else ()
            chosen = mix if tubes else PALETTES[PALETTE]
            linear = seen[1].astype(float) if seen is not None else None
            material = Material(linear, chosen.tubes, chosen.surface)
            try:
                trial = drill.make(rng, level, material)
            except ValueError:  # a palette without a red or a blue
                usual = PALETTES[PALETTE]
                trial = drill.make(rng, level, Material(material.linear, usual.tubes, usual.surface))
            return trial, seen

        def arrived(made: tuple[Trial, tuple[object, Floats] | None]) -> None:
            if self.drill is drill:
                self.trial, self._picture = made
                self.verdict, self.given = None, None
                self.changed.emit()

        self.trial, self.verdict, self.given = None, None, None
        self.changed.emit()
        self.studio.jobs.start("drill", work, arrived, self.studio.failed.emit)
