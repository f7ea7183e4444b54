"""Mass: few values in big shapes, light and shadow, the plan, its range, its edges, other hues at the same value."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QButtonGroup

from ochre_stone.core.masses.gradations import Turn, turns
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.masses.statement import Statement, state
from ochre_stone.core.picture.frame import Framed
from ochre_stone.core.project.choices import MOST_FOCUS, MOST_PAINTED, Area, MassChoice, PaintedArea, Point
from ochre_stone.desktop.massview import Overlay
from ochre_stone.desktop.stations.base import Station, button
from ochre_stone.desktop.stations.massedges import EdgesPage
from ochre_stone.desktop.stations.masslight import LightPage
from ochre_stone.desktop.stations.massplan import PlanPage
from ochre_stone.desktop.stations.massrange import RangePage
from ochre_stone.desktop.stations.massswap import SwapPage
from ochre_stone.desktop.stations.massvalues import ValuesPage
from ochre_stone.desktop.widgets.easel import Tool

MOST_POINTS = 400


class Mass(Station):
    title = "Mass"
    shows_scale = True
    shows_marks = False

    def build(self) -> None:
        self.show_masses = button("Masses", "The flat values (M)", "small", checkable=True)
        self.show_picture = button("Picture", "The picture under them (M)", "small", checkable=True)
        both = QButtonGroup(self)
        for b in (self.show_masses, self.show_picture):
            both.addButton(b)
            b.clicked.connect(lambda: self.window_.showing.repaint())
        self.show_masses.setChecked(True)
        self.title_row("Mass", self.show_masses, self.show_picture)
        self.pages_ = self.pages("Values", "Light", "Plan", "Range", "Edges", "Swap")
        self.tool_for = ""
        """What an area that is being drawn is for: "focus", "light", "shadow" or "" for no tool in hand."""
        self.found_turns: list[Turn] = []
        self._turns_of: object = None
        self._stated: tuple[MassPlan, Statement] | None = None
        with self.on(self.pages_, "Values"):
            self.values_page = ValuesPage(self)
        with self.on(self.pages_, "Light"):
            self.light_page = LightPage(self)
        with self.on(self.pages_, "Plan"):
            self.plan_page = PlanPage(self)
        with self.on(self.pages_, "Range"):
            self.range_page = RangePage(self)
        with self.on(self.pages_, "Edges"):
            self.edges_page = EdgesPage(self)
        with self.on(self.pages_, "Swap"):
            self.swap_page = SwapPage(self)
        self.refreshers: dict[str, Callable[[], None]] = {
            "Values": self.values_page.refresh,
            "Light": self.light_page.refresh,
            "Plan": self.plan_page.refresh,
            "Range": self.range_page.refresh,
            "Edges": self.edges_page.refresh,
            "Swap": self.swap_page.refresh,
        }
        self.pages_.changed = self._page_changed
        self.studio.masses_changed.connect(self._masses_changed)
        self.studio.picture_changed.connect(self._forget_turns)

    # The document

    @property
    def choice(self) -> MassChoice:
        return self.document.masses

    @property
    def plan(self) -> MassPlan | None:
        return self.studio.masses

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
        """Change fields of the mass choice as one step."""
        if self.choice.painted and {"division", "families"} & fields.keys():
            # Parted values may come together or part: masses change their numbers, and these hang on numbers.
            fields = {"edges": (), "swaps": ()} | fields
        changed = MassChoice.model_validate(self.choice.model_dump() | fields)
        self.studio.change(text, self.document.model_copy(update={"masses": changed}), kind)

    # Tools and clicks

    def draw_for(self, purpose: str) -> None:
        """Take the area tool in hand for a purpose, or put it away with ""."""
        self.tool_for = purpose
        self.window_.easel.take(Tool("area", 0) if purpose else None)
        if purpose:
            self.window_.easel.setFocus()
            self.studio.told.emit("Drag around the area, or click its corners and press Enter. Escape puts it away.")
        self.values_page.show_tool()
        self.light_page.show_tool()

    def drawn(self, name: str, points: list[Point]) -> None:
        kept = tuple(points[:: -(-len(points) // MOST_POINTS)])
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

    def tool_dropped(self) -> None:
        self.draw_for("")

    def spot_clicked(self, x: float, y: float) -> None:
        seen, plan = self.studio.seen, self.plan
        if seen is None or plan is None:
            return
        place = self._share(seen, x, y)
        if self.pages_.here == "Light":
            self.light_page.clicked(*place)
        elif self.pages_.here == "Swap":
            self.swap_page.clicked(*place)
        elif self.pages_.here == "Edges":
            self.edges_page.clicked(*place)

    @staticmethod
    def _share(seen: Framed, x: float, y: float) -> tuple[float, float]:
        fx, fy = seen.from_original(x, y)
        return fx / seen.width, fy / seen.height

    def cuts_moved(self, cuts: tuple[float, ...], index: int) -> None:
        """A handle of the value scale was dragged or nudged."""
        self.values_page.moved(cuts, index)

    def division_moved(self, value: float) -> None:
        """The division of light and shadow was dragged or nudged."""
        self.set("Divide light from shadow", "division", division=value)

    # Showing

    def enter(self) -> None:
        self._scale_mode()
        self.studio.mass_work.want_fine(True)
        super().enter()
        self._find_turns()

    def leave(self) -> None:
        self.studio.mass_work.want_fine(False)
        self.draw_for("")

    def _page_changed(self) -> None:
        self.draw_for("")
        self._scale_mode()
        self.refresh()
        self._find_turns()
        self.window_.showing.repaint()

    def _scale_mode(self) -> None:
        self.window_.scale.divides = self.pages_.here == "Light"
        self.window_.scale.update()

    def _masses_changed(self) -> None:
        self._find_turns()
        self.refresh_if_here()

    def _forget_turns(self) -> None:
        self.found_turns, self._turns_of = [], None

    def _find_turns(self) -> None:
        """Look for gradual turns, off the main thread, where the page that shows them is open."""
        plan, ground = self.plan, self.studio.ground
        if not self.active or self.pages_.here != "Edges" or plan is None or ground is None or plan is self._turns_of:
            return

        def arrived(found: list[Turn]) -> None:
            self.found_turns, self._turns_of = found, plan
            self.refresh_if_here()
            self.window_.showing.repaint()

        self.studio.jobs.start("turns", lambda _: turns(ground.lab, plan), arrived, self.studio.failed.emit)

    def overlay(self) -> Overlay | None:
        """What lies over the masses on this page."""
        here, plan, seen = self.pages_.here, self.plan, self.studio.seen
        if plan is None or seen is None:
            return None
        focus = [[self._share(seen, x, y) for x, y in a.points] for a in self.choice.focus]
        if here == "Values":
            return Overlay(areas=focus) if focus else None
        if here == "Light":
            painted = [[self._share(seen, x, y) for x, y in a.points] for a in self.choice.painted]
            return Overlay(families=True, areas=painted, broken=plan.culprits())
        if here == "Plan":
            said = self.statement
            return Overlay(areas=focus, strongest=said.strongest if said is not None else None)
        if here == "Edges":
            shown = [(t.x, t.y, t.direction) for t in self.found_turns]
            return Overlay(edges=True, turns=shown, said=self.choice.edges)
        return None

    @property
    def shows_swap(self) -> bool:
        """Whether the easel shows the picture with its swapped masses."""
        return self.active and self.pages_.here == "Swap" and self.show_masses.isChecked()

    def refresh(self) -> None:
        plan, ground = self.plan, self.studio.ground
        if plan is not None and ground is not None:
            self.window_.scale.show_plan(ground.counts, plan, self.choice.locked)
        self.refreshers[self.pages_.here]()

    def done_words(self) -> str:
        words = f"{self.choice.values} values"
        return words if self.choice.range.keep == "scene" else f"{words}, range eased"
