"""The See page of Look: the views, the transfer grid, and what the photo lost."""

from PyQt6.QtWidgets import QComboBox, QPushButton

from ochre_stone.desktop.session.sight import Sight
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.desktop.widgets.parts import button, enable, set_tip, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray

GRID_WORDS = {"none": "no grid", "thirds": "thirds", "squares": "squares of the canvas"}


class SeePage:
    """How the picture is looked at."""

    def __init__(self, tray: Tray, studio: Studio, sight: Sight) -> None:
        self.studio, self.sight = studio, sight
        self.name = tray.label("", "quiet")
        tray.label("View", "head")
        self.as_is = button("As it is", "The picture in its colours, no view on (A)")
        self.as_is.clicked.connect(lambda: sight.set(plain=True))
        self.views: dict[str, QPushButton] = {
            "value": button("Values", "Values only: hue cannot distract (V)", checkable=True),
            "squint": button("Squint", "Details melt, few shapes remain (S)", checkable=True),
            "isolate": button("Isolate", "A neutral card with a hole at the pointer (I)", checkable=True),
            "chroma": button("Chroma up", "Chroma exaggerated: which way does a grey lean? (C)", checkable=True),
            "mirror": button("Mirror", "See it reversed, with a fresh eye (H)", checkable=True),
            "lost": button("Lost", "Where the photo burnt out or crushed: rings and crosses (L)", checkable=True),
        }
        for key, b in self.views.items():
            b.clicked.connect(lambda on, k=key: sight.set(**{k: on}))
        v = self.views
        tray.row(self.as_is, v["value"], v["squint"])
        tray.row(v["isolate"], v["chroma"], v["mirror"])
        self.grid = QComboBox()
        self.grid.setAccessibleName("Transfer grid")
        set_tip(self.grid, "Lines to carry the drawing over by (T)")
        for key, words in GRID_WORDS.items():
            self.grid.addItem(words, key)
        self.grid.activated.connect(lambda: sight.set(grid=self.grid.currentData()))
        tray.row(v["lost"], self.grid)
        self.strength, self.strength_shown = tray.slider("Squint how much", 0, 100, "How much detail melts")
        self.strength.valueChanged.connect(lambda s: sight.set(strength=s / 100))
        tray.label("What the photo lost", "head")
        self.lost = tray.label("")
        tray.label(
            "Views combine, and never change what is sampled. Hold B to see the photo as it was taken. "
            "Zoom with the wheel or + and −, drag to move, F to fit.",
            "quiet",
        )

    def refresh(self) -> None:
        """Show the present view."""
        picture, view = self.studio.picture, self.sight.view
        if picture is not None:
            facts = f"{picture.name}, {picture.width} × {picture.height}, {picture.depth}"
            self.name.setText("\n".join([facts, *(f"{r[0].upper()}{r[1:]}." for r in picture.remarks)]))
        else:
            self.name.setText("Open a photo to begin: File, Open, or drop it anywhere.")
        for b in (*self.views.values(), self.as_is, self.strength, self.grid):
            enable(b, "" if picture is not None else "Open a photo first.")
        for key, b in self.views.items():
            b.setChecked(bool(getattr(view, key)))
        with signals_blocked(self.strength), signals_blocked(self.grid):
            self.strength.setValue(round(view.strength * 100))
            self.grid.setCurrentIndex(list(GRID_WORDS).index(view.grid))
        enable(self.strength, "Open a photo first." if picture is None else "" if view.squint else "Squint first (S).")
        self.strength_shown.setText(f"{view.strength * 100:.0f} %")
        self.lost.setText(self.studio.measuring.losses.words if self.studio.measuring.losses is not None else "")
