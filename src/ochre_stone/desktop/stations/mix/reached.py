"""How many notes have their pile, said on a button beside the palette; and the tube that would bring the others in."""

import numpy as np
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QPushButton

from ochre_stone.core.mixing.reach.slices import additions
from ochre_stone.core.paint.tubes import all_tubes
from ochre_stone.core.planning.coverage import Covered, coverage, coverage_words
from ochre_stone.core.planning.rows import target_by_note
from ochre_stone.desktop.session.jobs import Report
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.desktop.widgets.parts import set_tip

_WAIT = 1200
"""Milliseconds of rest after which a missing tube is looked for: planning comes first."""
_SHOWN = 12


class Reached:
    """Keeps the words on a button true."""

    def __init__(self, button: QPushButton, studio: Studio) -> None:
        self.button, self.studio = button, studio
        self.question: Question[str] = Question(
            studio.jobs,
            "lacking",
            lambda: self.studio.document.mixed.fingerprint,
            lambda _: self.refresh(),
            studio.failed.emit,
        )
        """What the search for a tube was made for, and what it found, in words."""
        self._waiting = QTimer(button)
        self._waiting.setSingleShot(True)
        self._waiting.setInterval(_WAIT)
        self._waiting.timeout.connect(self.look_for_tubes)

    def refresh(self) -> None:
        """Count anew, and look for a tube where something is out of reach."""
        document = self.studio.document
        found = coverage(document)
        count = f"{sum(c.has_pile for c in found.values())} of {len(found)}" if found else "Reach"
        self.button.setText(f"{count}…")
        said = coverage_words(found) if found else "What this palette reaches."
        tubes = self.question.answer
        if tubes:
            said = f"{said[:-1]}: {tubes}."
        elif self._outside(found) and self.studio.strings.ready():
            self._waiting.start()
        names = {n.id: n.name for n in document.notes}
        lacking = [
            f"{names[c.note]}: {self._off(c)}"
            for c in sorted(found.values(), key=lambda c: (c.has_pile, -c.de00))
            if not c.has_pile or c.is_near
        ]
        set_tip(self.button, "\n".join([f"{said} More in the Paint box.", *lacking[:_SHOWN]]))
        self.button.setAccessibleName(said)

    @staticmethod
    def _off(c: Covered) -> str:
        if c.near is not None and c.is_near:
            return c.near.words
        return f"{c.de00:.1f} off, {c.why or 'no pile of its own'}"

    @staticmethod
    def _outside(found: dict[str, Covered]) -> list[str]:
        return [c.note for c in found.values() if c.own and c.is_out]

    def look_for_tubes(self) -> None:
        """Which single tube would bring most of the notes in that are out of reach, off the main thread."""
        document = self.studio.document
        outside, goal = self._outside(coverage(document)), target_by_note(document)
        if not outside or not self.studio.strings.ready():
            return
        chosen, most = document.mix.chosen(), document.mix.most_tubes
        labs = np.array([goal[i] for i in outside])
        candidates = [t for t in all_tubes().values() if not t.parts]

        def work(report: Report) -> str:
            found = additions(labs, chosen.tubes, candidates, most, chosen.surface, report)
            best = [a for a in found[:1] if a.gained]
            all_of = "all" if best and best[0].gained == len(outside) > 1 else f"{best[0].gained}" if best else ""
            what = "it" if len(outside) == 1 else all_of
            return f"{best[0].tube.name} would bring {what} in" if best else "no single tube brings one in"

        self.question.ask(work)
