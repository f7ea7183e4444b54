"""Look: see the reference as painters look, set its light, frame it, know what it lost, and read the scene itself."""

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QComboBox

from ochre_stone.desktop.stations.base import Station, button, quietly
from ochre_stone.desktop.stations.lookframe import FramePage
from ochre_stone.desktop.stations.looklight import LightPage
from ochre_stone.desktop.stations.lookscene import ScenePage

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QPushButton

GRIDS = {"none": "no grid", "thirds": "thirds", "squares": "squares of the canvas"}


class Look(Station):
    title = "Look"
    shows_marks = False

    def build(self) -> None:
        self.label("Look", "title")
        self.pages_ = self.pages("See", "Light", "Frame", "Scene")
        with self.on(self.pages_, "See"):
            self._build_see()
        with self.on(self.pages_, "Light"):
            self.light_page = LightPage(self)
        with self.on(self.pages_, "Frame"):
            self.frame_page = FramePage(self)
        with self.on(self.pages_, "Scene"):
            self.scene_page = ScenePage(self)
        self.pages_.changed = self._page_changed
        self.studio.lost_changed.connect(self.refresh_if_here)

    def _build_see(self) -> None:
        self.name = self.label("", "quiet")
        self.label("View", "head")
        self.as_is = button("As it is", "The picture in its colours, no view on (A)")
        self.as_is.clicked.connect(lambda: self.window_.showing.set_view(plain=True))
        self.views: dict[str, QPushButton] = {
            "value": button("Values", "Values only: hue cannot distract (V)", checkable=True),
            "squint": button("Squint", "Details melt, few shapes remain (S)", checkable=True),
            "isolate": button("Isolate", "A neutral card with a hole at the pointer (I)", checkable=True),
            "chroma": button("Chroma up", "Chroma exaggerated: which way does a grey lean? (C)", checkable=True),
            "mirror": button("Mirror", "See it reversed, with a fresh eye (H)", checkable=True),
            "lost": button("Lost", "Where the photo burnt out or crushed: rings and crosses (L)", checkable=True),
        }
        for key, b in self.views.items():
            b.clicked.connect(lambda on, k=key: self.window_.showing.set_view(**{k: on}))
        v = self.views
        self.row(self.as_is, v["value"], v["squint"])
        self.row(v["isolate"], v["chroma"], v["mirror"])
        self.grid = QComboBox()
        self.grid.setAccessibleName("Transfer grid")
        self.grid.setToolTip("Lines to carry the drawing over by (T)")
        for key, words in GRIDS.items():
            self.grid.addItem(words, key)
        self.grid.activated.connect(lambda: self.window_.showing.set_view(grid=self.grid.currentData()))
        self.row(v["lost"], self.grid)
        self.strength, self.strength_shown = self.slider("Squint how much", 0, 100, "How much detail melts")
        self.strength.valueChanged.connect(lambda s: self.window_.showing.set_view(strength=s / 100))
        self.label("What the photo lost", "head")
        self.lost = self.label("")
        self.label(
            "Views combine, and never change what is sampled. Hold B to see the photo as it was taken. "
            "Zoom with the wheel or + and −, drag to move, F to fit.",
            "quiet",
        )

    def arm(self, kind: str) -> None:
        """Make the next click set the light by a "grey", a "white" or a "card"."""
        self.pages_.show("Light")
        self.light_page.arm(kind)

    def _page_changed(self) -> None:
        self._put_away()
        self.window_.showing.reframe()
        self.refresh()

    def _put_away(self) -> None:
        self.light_page.arm(None)
        self.frame_page.put_away()

    def leave(self) -> None:
        self._put_away()

    @property
    def framing(self) -> bool:
        """Whether the whole picture is shown with the cut on it."""
        return self.active and self.pages_.here == "Frame"

    def spot_clicked(self, x: float, y: float) -> None:
        if self.pages_.here == "Light":
            self.light_page.spot_clicked(x, y)
        elif self.pages_.here == "Scene":
            self.scene_page.spot_clicked(x, y)

    def drawn(self, name: str, points: list[tuple[float, float]]) -> None:
        if name == "chart":
            self.light_page.chart_marked(points)
        else:
            self.frame_page.drawn(name, points)

    def tool_dropped(self) -> None:
        self._put_away()
        self.refresh()

    def refresh(self) -> None:
        picture, view = self.studio.picture, self.window_.showing.view
        if picture is not None:
            facts = f"{picture.name}, {picture.width} × {picture.height}, {picture.depth}"
            self.name.setText("\n".join([facts, *(f"{r[0].upper()}{r[1:]}." for r in picture.remarks)]))
        else:
            self.name.setText("Open a photo to begin: File, Open, or drop it on the easel.")
        for b in (*self.views.values(), self.as_is, self.strength, self.grid):
            b.setEnabled(picture is not None)
        for key, b in self.views.items():
            b.setChecked(bool(getattr(view, key)))
        with quietly(self.strength), quietly(self.grid):
            self.strength.setValue(round(view.strength * 100))
            self.grid.setCurrentIndex(list(GRIDS).index(view.grid))
        self.strength.setEnabled(view.squint)
        self.strength_shown.setText(f"{view.strength * 100:.0f} %")
        self.lost.setText(self.studio.losses.words if self.studio.losses is not None else "")
        self.light_page.refresh()
        self.frame_page.refresh()
        self.scene_page.refresh()

    def done_words(self) -> str:
        if self.studio.picture is None:
            return "open a photo"
        d = self.document
        said = ["light set" if self.light_page.is_set(d) else "as photographed"]
        if not d.frame.is_whole:
            said.append("framed")
        return ", ".join(said)
