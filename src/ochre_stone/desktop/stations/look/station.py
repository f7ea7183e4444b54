"""Look: see the reference as painters look, set its light, frame it, know what it lost, and read the scene itself."""

from collections.abc import Callable, Iterator

from PyQt6.QtCore import QRectF

from ochre_stone.core.document.document import Document
from ochre_stone.core.picture.frame import Frame
from ochre_stone.desktop.scale.face import Shows
from ochre_stone.desktop.stations.station import Command, Station
from ochre_stone.desktop.widgets.tray import Pages


class Look(Station):
    title = "Look"
    order = 1
    shows_marks = False
    shows = Shows.CURVE

    def build(self) -> Iterator[None]:
        from ochre_stone.desktop.stations.look.frame import FramePage
        from ochre_stone.desktop.stations.look.light import LightPage
        from ochre_stone.desktop.stations.look.scene import ScenePage
        from ochre_stone.desktop.stations.look.see import SeePage

        session, studio, easel, showing = self.session, self.studio, self.desk.easel, self.desk.showing
        self.tray.label("Look", "title")
        self.pages = pages = Pages(self.tray, "See", "Light", "Frame", "Scene")
        self.see_page = pages.fill("See", lambda tray: SeePage(tray, studio, session.sight))
        yield
        self.light_page = pages.fill("Light", lambda tray: LightPage(tray, studio, easel))
        yield
        self.frame_page = pages.fill("Frame", lambda tray: FramePage(tray, studio, easel, showing.reframe))
        yield
        self.scene_page = pages.fill(
            "Scene", lambda tray: ScenePage(tray, session.reader, session.notes, showing.read_with_reader)
        )
        pages.changed = self._page_changed
        studio.measuring.lost_changed.connect(self.refresh_if_here)
        studio.masses_changed.connect(self.refresh_if_here)
        session.sight.changed.connect(lambda old, new: self.refresh_if_here())
        session.reader.changed.connect(self._reader_changed)

    def commands(self) -> list[Command]:
        sight, showing = self.session.sight, self.desk.showing
        seeing = (
            ("&Values", "V", "value"), ("&Squint", "S", "squint"), ("&Isolate", "I", "isolate"),
            ("&Chroma up", "C", "chroma"), ("Mirror (&hand mirror)", "H", "mirror"), ("What is &lost", "L", "lost"),
        )  # fmt: skip

        def toggling(part: str) -> Callable[[], None]:
            return lambda: sight.toggle(part)

        return [
            Command("View", "&As it is", ("A",), lambda: sight.set(plain=True)),
            *(Command("View", words, (key,), toggling(part)) for words, key, part in seeing),
            Command("View", "&Transfer grid", ("T",), sight.next_grid),
            Command("View", "&Before, while held", ("B",), showing.hold_before, repeats=False, needs="picture"),
            Command("Go", "Set the light by a &grey", ("G",), lambda: self.arm("grey"), apart=True, needs="picture"),
            Command("Go", "Set the light by a &white", ("W",), lambda: self.arm("white"), needs="picture"),
        ]

    def arm(self, kind: str) -> None:
        """Come here and make the next click set the light by a "grey", a "white" or a "card"."""
        self.session.go.emit(self.title, "Light")
        self.light_page.arm(kind)

    @property
    def _here(self) -> str:
        assert self.pages is not None
        return self.pages.here

    def _page_changed(self) -> None:
        self._put_away()
        self.desk.showing.reframe()
        self.refresh()

    def _put_away(self) -> None:
        if self.active:
            self.light_page.arm(None)
            self.frame_page.put_away()

    def leave(self) -> None:
        self._put_away()

    def document_changed(self, old: Document, new: Document) -> None:
        super().document_changed(old, new)
        if self.framing and (old.frame != new.frame or old.canvas != new.canvas):
            self.desk.showing.reframe()

    # The easel

    @property
    def framing(self) -> bool:
        """Whether the whole picture is shown with the cut on it."""
        return self.active and self._here == "Frame"

    def plane(self) -> Frame | None:
        return self.frame_page.plane() if self.framing else None

    def cut(self) -> tuple[QRectF | None, float | None]:
        return (self.frame_page.cut() if self.framing else None), self.frame_page.aspect()

    def spot_clicked(self, x: float, y: float) -> None:
        if self._here == "Light":
            self.light_page.spot_clicked(x, y)
        elif self._here == "Scene":
            self.scene_page.spot_clicked(x, y)

    def drawn(self, name: str, points: list[tuple[float, float]]) -> None:
        if name == "chart":
            self.light_page.chart_marked(points)
        else:
            self.frame_page.drawn(name, points)

    def tool_dropped(self) -> None:
        self._put_away()
        self.refresh()

    # Showing

    def _reader_changed(self) -> None:
        self.scene_page.refresh()
        self._hold_reader()

    def _hold_reader(self) -> None:
        """While the Scene page is open, clicks point the reader."""
        if self.active and self._here == "Scene":
            self.desk.easel.take(self.scene_page.tool())

    def refresh(self) -> None:
        self.see_page.refresh()
        self.light_page.refresh()
        self.frame_page.refresh()
        self.scene_page.refresh()
        self._hold_reader()
        self.fill_scale()

    def fill_scale(self) -> None:
        ground, lost = self.studio.ground, self.studio.measuring.losses
        if self.studio.picture is None or ground is None:
            self.desk.scale.show_curve(None)
        elif lost is None:
            self.desk.scale.show_curve(ground.counts)
        else:
            self.desk.scale.show_curve(ground.counts, lost.lights_share, lost.darks_share)

    def done_words(self) -> str:
        if self.studio.picture is None:
            return "open a photo"
        d = self.document
        said = ["light set" if d.light_is_set else "as photographed"]
        if not d.frame.is_whole:
            said.append("framed")
        return ", ".join(said)
