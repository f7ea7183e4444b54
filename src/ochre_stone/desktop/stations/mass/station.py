"""Mass: few values in big shapes, light and shadow, the plan, its range, its edges, other hues at the same value."""

from collections.abc import Callable, Iterator, Sequence
from typing import TYPE_CHECKING

from ochre_stone.core.picture.frame import Framed, Point
from ochre_stone.core.picture.picture import Floats, linear_to_lab
from ochre_stone.core.picture.views import View
from ochre_stone.desktop.easel import scenes
from ochre_stone.desktop.easel.scenes import Drawing
from ochre_stone.desktop.easel.tools import tool_named
from ochre_stone.desktop.scale.face import Shows
from ochre_stone.desktop.stations.station import Command, Station
from ochre_stone.desktop.widgets.scenebar import PHOTO, SceneWord
from ochre_stone.desktop.widgets.tray import Pages

if TYPE_CHECKING:
    from ochre_stone.desktop.easel.masscover import Overlay

MASSES = SceneWord("masses", "Masses", "The flat values; M goes between them and the photo")


class MassStation(Station):
    title = "Mass"
    order = 3
    shows = Shows.MASSES
    shows_marks = False
    sees_block_in = True

    def build(self) -> Iterator[None]:
        from ochre_stone.desktop.stations.mass.choice import Masses
        from ochre_stone.desktop.stations.mass.edges import EdgesPage
        from ochre_stone.desktop.stations.mass.light import FamilyPage
        from ochre_stone.desktop.stations.mass.plan import OtherPlansPage
        from ochre_stone.desktop.stations.mass.range import RangePage
        from ochre_stone.desktop.stations.mass.swap import SwapPage
        from ochre_stone.desktop.stations.mass.values import ValuesPage

        self.masses = masses = Masses(self.studio)
        self.tray.title("Mass")
        self.pages = pages = Pages(self.tray, "Values", "Light", "Plan", "Range", "Edges", "Swap")
        scale = self.desk.scale
        self.values_page = pages.fill("Values", lambda tray: ValuesPage(tray, masses, scale))
        yield
        self.light_page = pages.fill("Light", lambda tray: FamilyPage(tray, masses))
        yield
        self.plan_page = pages.fill(
            "Plan", lambda tray: OtherPlansPage(tray, masses, self.ask_outlines, self.ask_transfer)
        )
        yield
        self.range_page = pages.fill("Range", lambda tray: RangePage(tray, masses))
        yield
        self.edges_page = pages.fill("Edges", lambda tray: EdgesPage(tray, masses))
        yield
        self.swap_page = pages.fill("Swap", lambda tray: SwapPage(tray, masses))
        self.refreshers: dict[str, Callable[[], None]] = {
            "Values": self.values_page.refresh,
            "Light": self.light_page.refresh,
            "Plan": self.plan_page.refresh,
            "Range": self.range_page.refresh,
            "Edges": self.edges_page.refresh,
            "Swap": self.swap_page.refresh,
        }
        pages.changed = self._page_changed
        masses.tool_changed.connect(self._tool_changed)
        masses.turns_found.connect(self._turns_found)
        scale.chosen_changed.connect(lambda _: self.refresh_if_here())
        scale.division_moved.connect(masses.divide)
        self.studio.masses_changed.connect(self._masses_changed)

    def commands(self) -> list[Command]:
        return [
            Command("File", "Outlines of the masses as S&VG…", ("Ctrl+E",), self.ask_outlines, needs="picture"),
            Command("File", "Print a &transfer at canvas size…", ("Ctrl+T",), self.ask_transfer, needs="picture"),
            Command("View", "&Masses or photo", ("M",), self.toggle_masses, needs="picture"),
            Command("Go", "Draw a f&ocus area", ("U",), lambda: self.draw_on("Values", "focus"), needs="picture"),
            Command("Go", "Paint into the lig&ht", ("Y",), lambda: self.draw_on("Light", "light"), needs="picture"),
            Command("Go", "Paint into the sha&dow", ("J",), lambda: self.draw_on("Light", "shadow"), needs="picture"),
            Command("Go", "To the val&ue scale", ("Q",), self.to_scale),
        ]

    # What is done

    def ask_outlines(self) -> None:
        """Ask where to write the outlines."""
        from ochre_stone.desktop.stations.saving import save_outlines

        save_outlines(self, self.session)

    def ask_transfer(self) -> None:
        """Ask where to write the transfer."""
        from ochre_stone.desktop.stations.saving import save_transfer

        save_transfer(self, self.session)

    def toggle_masses(self) -> None:
        """Show the photo instead of the masses, or back."""
        self.see(PHOTO.key if self.scene_now == MASSES.key else MASSES.key)

    def scenes(self) -> Sequence[SceneWord]:
        return (MASSES, *super().scenes())

    def to_scale(self) -> None:
        """Come here with the keys on the value scale."""
        self.come()
        self.desk.scale.setFocus()

    def draw_on(self, page: str, purpose: str) -> None:
        """Come to a page with the area tool in hand."""
        self.session.go.emit(self.title, page)
        self.masses.draw_for(purpose)

    def _tool_changed(self) -> None:
        purpose = self.masses.tool_for
        self.desk.easel.take(tool_named("area") if purpose else None)
        if purpose:
            self.desk.easel.setFocus()
            self.studio.told.emit("Drag around the area, or click its corners and press Enter. Escape puts it away.")

    # The easel

    def drawn(self, name: str, points: list[Point]) -> None:
        self.masses.add_area(points)

    def tool_dropped(self) -> None:
        self.masses.draw_for("")

    def spot_clicked(self, x: float, y: float) -> None:
        seen, here = self.studio.seen, self._here
        if seen is None or self.masses.plan is None:
            return
        place = self._share(seen, x, y)
        if here == "Light":
            self.light_page.clicked(*place)
        elif here == "Swap":
            self.swap_page.clicked(*place, (x, y))
        elif here == "Edges":
            self.edges_page.clicked(*place)

    @staticmethod
    def _share(seen: Framed, x: float, y: float) -> tuple[float, float]:
        fx, fy = seen.from_original(x, y)
        return fx / seen.width, fy / seen.height

    def overlay(self) -> "Overlay | None":
        """What lies over the masses on this page."""
        from ochre_stone.desktop.easel.masscover import Overlay

        here, plan, seen, masses = self._here, self.masses.plan, self.studio.seen, self.masses
        if plan is None or seen is None:
            return None
        focus = [[self._share(seen, x, y) for x, y in a.points] for a in masses.choice.focus]
        if here == "Values":
            return Overlay(areas=focus, hues=masses.choice.hues) if focus or masses.choice.hues else None
        if here == "Light":
            painted = [[self._share(seen, x, y) for x, y in a.points] for a in masses.choice.painted]
            return Overlay(families=True, areas=painted, broken=plan.culprits())
        if here == "Plan":
            said = masses.statement
            return Overlay(areas=focus, strongest=said.strongest if said is not None else None)
        if here == "Edges":
            shown = [(t.x, t.y, t.direction) for t in masses.turns]
            return Overlay(edges=True, turns=shown, said=masses.choice.edges)
        return None

    def drawing(self, screen: Floats, view: View) -> Drawing | None:
        plan, picture, document = self.masses.plan, self.studio.picture, self.document
        if self.scene_now != MASSES.key or plan is None or picture is None:
            return None
        fine = self.studio.fine or plan
        if self._here != "Swap":
            return scenes.the_masses(plan, fine, picture, document, screen, self.studio.ground, self.overlay())
        ground = self.studio.ground
        if ground is None or ground.lab.shape[:2] != plan.labels.shape:
            return None

        def recolour(linear: Floats) -> Floats:
            from ochre_stone.core.masses.shapes import enlarge
            from ochre_stone.core.masses.swap import swapped
            from ochre_stone.core.planning.massing import recoloured_labels

            height, width = linear.shape[:2]
            labels, colours = recoloured_labels(plan, fine, ground, picture, document)
            large = enlarge(labels, int(labels.max()) + 1, width, height)
            return swapped(linear_to_lab(linear), large, colours)

        return scenes.other_colours(screen, recolour, view)

    # Showing

    @property
    def _here(self) -> str:
        assert self.pages is not None
        return self.pages.here

    def enter(self) -> None:
        self._scale_mode()
        self.studio.mass_work.want_fine(True)
        super().enter()
        self._find_turns()

    def leave(self) -> None:
        self.studio.mass_work.want_fine(False)
        self.masses.draw_for("")

    def _page_changed(self) -> None:
        self.masses.draw_for("")
        self._scale_mode()
        self.refresh()
        self._find_turns()
        self.desk.showing.repaint()

    def _scale_mode(self) -> None:
        self.desk.scale.cuts.divides = self._here == "Light"
        self.fill_scale()
        self.desk.scale.update()

    def _masses_changed(self) -> None:
        self._find_turns()
        self.refresh_if_here()

    def _find_turns(self) -> None:
        """Turns are looked for where the page that shows them is open."""
        if self.active and self._here == "Edges":
            self.masses.find_turns()

    def _turns_found(self) -> None:
        self.refresh_if_here()
        self.desk.showing.repaint()

    def refresh(self) -> None:
        self.fill_scale()
        self.refreshers[self._here]()

    def fill_scale(self) -> None:
        ground = self.studio.ground
        counts = ground.counts if ground is not None else None
        self.desk.scale.show_plan(counts, self.masses.plan, self.masses.choice.locked)

    def done_words(self) -> str:
        choice = self.document.masses
        words = f"{choice.values} values"
        return words if choice.range.keep == "scene" else f"{words}, range eased"
