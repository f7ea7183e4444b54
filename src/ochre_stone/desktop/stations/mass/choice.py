"""The masses as they are chosen at Mass: what all its pages show and change."""

from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.document.choices import MOST_FOCUS, MOST_PAINTED, Area, MassChoice, PaintedArea
from ochre_stone.core.masses.gradations import Turn, turns
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.masses.statement import Statement, state
from ochre_stone.core.picture.frame import Point
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.session.studio import Studio

_COUNTED = ("cuts", "locked", "families", "edges", "swaps")
"""Fields that hang on the number of masses."""
_MOST_POINTS = 400


class Masses(QObject):
    """Every change is one undoable step."""

    tool_changed = pyqtSignal()
    """The area tool was taken in hand for another purpose, or put away."""
    turns_found = pyqtSignal()
    refused = pyqtSignal()
    """A change came too early: controls are to show what holds."""

    def __init__(self, studio: Studio) -> None:
        super().__init__(studio)
        self.studio = studio
        self.tool_for = ""
        """What an area that is being drawn is for: "focus", "light", "shadow" or "" for no tool in hand."""
        self._turns: Question[list[Turn]] = Question(
            studio.jobs, "turns", lambda: id(self.plan), lambda _: self.turns_found.emit(), studio.failed.emit
        )
        self._stated: tuple[MassPlan, Statement] | None = None
        studio.picture_changed.connect(self._forget_turns)

    @property
    def choice(self) -> MassChoice:
        return self.studio.document.masses

    @property
    def plan(self) -> MassPlan | None:
        return self.studio.masses

    @property
    def behind(self) -> bool:
        """Whether the plan that is shown has another number of values than was asked for, and a new one is coming."""
        return self.plan is not None and len(self.plan.thresholds) + 1 != self.choice.values

    @property
    def statement(self) -> Statement | None:
        """What the plan is, for the page that says so and the overlay that shows it."""
        plan, ground = self.plan, self.studio.ground
        if plan is None or ground is None:
            return None
        if self._stated is None or self._stated[0] is not plan:
            self._stated = plan, state(plan, ground.focus)
        return self._stated[1]

    def set(self, text: str, kind: str = "", **fields: Any) -> None:
        """Change fields of the mass choice as one step. What counts masses waits until the plan has as many as were
        asked for."""
        if self.behind and "values" not in fields and any(fields.get(f) for f in _COUNTED):
            self.studio.told.emit("The masses are still being made: try again in a moment.")
            self.refused.emit()
            return
        if self.choice.painted and {"division", "families"} & fields.keys():
            # Parted values may come together or part: masses change their numbers, and these hang on numbers.
            fields = {"edges": (), "swaps": ()} | fields
        self.studio.adjust("masses", text, kind, **fields)

    def divide(self, value: float) -> None:
        """Part light from shadow at a Munsell value."""
        self.set("Divide light from shadow", "division", division=value)

    def draw_for(self, purpose: str) -> None:
        """Take the area tool in hand for a purpose, or put it away with ""."""
        self.tool_for = purpose
        self.tool_changed.emit()

    def add_area(self, points: list[Point]) -> None:
        """An area was drawn, in pixels of the photo, for what the tool is for."""
        kept = tuple(points[:: -(-len(points) // _MOST_POINTS)])
        drawn, most = (
            (self.choice.focus, MOST_FOCUS) if self.tool_for == "focus" else (self.choice.painted, MOST_PAINTED)
        )
        if len(drawn) >= most:
            self.studio.told.emit(f"There are {most} such areas already: take one back before you draw another.")
        elif self.tool_for == "focus":
            self.set("Draw a focus area", focus=(*self.choice.focus, Area(points=kept)))
        elif self.tool_for in ("light", "shadow"):
            area = PaintedArea.model_validate({"points": kept, "family": self.tool_for})
            self.set(f"Paint into the {self.tool_for}", painted=(*self.choice.painted, area), edges=(), swaps=())

    def find_turns(self) -> None:
        """Look for gradual turns in the plan, off the main thread, where that was not done."""
        plan, ground = self.plan, self.studio.ground
        if plan is None or ground is None:
            return
        self._turns.ask(lambda _: turns(ground.lab, plan))

    def _forget_turns(self) -> None:
        self._turns.forget()

    @property
    def turns(self) -> list[Turn]:
        """Gradual turns in the plan, as far as they were looked for."""
        return self._turns.answer or []
