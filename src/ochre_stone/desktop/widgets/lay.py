"""A palette as it is laid out: light above, dark below, warm left, cool right, neutral in the middle."""

from collections.abc import Sequence

import numpy as np
from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QPen

from ochre_stone.core.advice.roles import Role
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items
from ochre_stone.desktop.widgets.shapes import dab, paint_colour

_FAR = 0.7
"""A tube that has to go farther than this from where it belongs, in heights of its box, asks for smaller boxes."""
_GRAIN = 6.0
"""Places are tried so far apart, in pixels."""
_STEEP = 3.0
"""How much worse it is to stand a pixel too high than a pixel too far to the side."""
_SIZES = (
    (116.0, 74.0), (108.0, 72.0), (100.0, 70.0), (92.0, 66.0), (84.0, 62.0), (76.0, 58.0), (68.0, 54.0), (58.0, 48.0),
)  # fmt: skip
"""Room of a tube with its name, from roomy to tight."""


def flow_laid(
    roles: Sequence[tuple[float, float]], room: QRectF, wide: float, high: float
) -> tuple[list[QRectF], float]:
    """Boxes of ``wide`` by ``high`` in ``room`` for tubes of (value, warmth): light above, warm left.

    Each takes the free place nearest to where it belongs, rather to the side than up or down, so that values stay true.
    Also told is how far the worst of them had to go, in its own heights; without boxes where there is no room for all.
    """
    if not roles:
        return [], 0.0
    value, warmth = np.array(roles).T
    inner = room.adjusted(wide / 2, high / 2, -wide / 2, -high / 2)
    # Half by value and half by rank: most palettes crowd at the dark end, and order is what the eye looks for.
    height = (value - value.min()) / max(float(np.ptp(value)), 0.5)
    rank = value.argsort().argsort() / max(len(value) - 1, 1)
    home = np.stack(
        [
            inner.center().x() - warmth / max(0.2, float(np.abs(warmth).max())) * inner.width() / 2,
            inner.bottom() - (0.5 * height + 0.5 * rank) * inner.height(),
        ],
        axis=1,
    )
    x, y = (
        np.arange(low, high_end + 0.5, _GRAIN)
        for low, high_end in ((inner.left(), inner.right()), (inner.top(), inner.bottom()))
    )
    free = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    out: dict[int, QRectF] = {}
    worst = 0.0
    for i in np.argsort(-value):
        if not len(free):
            return [], np.inf
        away = free - home[i]
        cost = np.hypot(away[:, 0] / _STEEP, away[:, 1])
        nearest = int(cost.argmin())
        at, worst = free[nearest], max(worst, float(cost[nearest]) / high)
        free = free[(np.abs(free - at) >= (wide, high)).any(axis=1)]
        out[int(i)] = QRectF(at[0] - wide / 2 + 1, at[1] - high / 2 + 1, wide - 2, high - 2)
    return [out[i] for i in range(len(roles))], worst


class PaletteLay(Items):
    """Each tube a dab at its value and warmth; arrow keys go from one to the next."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__("The palette, light above, dark below, warm left, cool right")
        self.setMinimumSize(QSize(300, 300))
        self._roles: Sequence[Role] = ()
        self._selected: str | None = None
        self._placed: tuple[object, list[QRectF]] | None = None
        self.title = ""
        self.taken.connect(self.chosen)

    def show_roles(self, title: str, roles: Sequence[Role], selected: str | None) -> None:
        """The tubes of a palette with their roles."""
        self.title, self._roles, self._selected = title, roles, selected
        self.setAccessibleDescription("; ".join(f"{r.tube.short}: {r.words}" for r in roles))
        self.set_items([Item(r.tube.id, r.tube.name, f"value {numbers.value(r.value)}, {r.words}") for r in roles])
        self.hold(selected)

    def boxes(self) -> list[QRectF]:
        return self.places()

    def places(self) -> list[QRectF]:
        """Where each tube lies: those that would lie on each other are moved apart, and all get smaller where there is
        no room. Remembered for the roles and the size of the widget."""
        key = (tuple((r.value, r.warmth) for r in self._roles), self.width(), self.height())
        if self._placed is None or self._placed[0] != key:
            room = QRectF(self.rect()).adjusted(14, 52, -14, -26)
            tried = []
            for wide, high in _SIZES:
                tried.append(flow_laid(key[0], room, wide, high))
                if tried[-1][1] < _FAR:
                    break
            boxes = min(tried, key=lambda t: t[1])[0]
            self._placed = key, boxes
        return self._placed[1]

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}.get(
            Qt.Key(event.key())
        )
        if step is None or not self._roles:
            super().keyPressEvent(event)
            return
        ids = [r.tube.id for r in self._roles]
        now = ids.index(self._selected) if self._selected in ids else -1
        self.chosen.emit(ids[(now + step) % len(ids)])

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self.viewport_())
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        painter.setPen(theme.colour("on_surround"))
        painter.setFont(theme.face(12, bold=True))
        painter.drawText(QRectF(14, 8, self.width() - 28, 22), Qt.AlignmentFlag.AlignLeft, self.title)
        painter.setFont(theme.face(9))
        wide, high = self.width(), self.height()
        for box, words, flag in (
            (QRectF(14, 32, wide - 28, 16), "light", Qt.AlignmentFlag.AlignHCenter),
            (QRectF(14, high - 22, wide - 28, 16), "dark", Qt.AlignmentFlag.AlignHCenter),
            (QRectF(14, high / 2 - 8, wide - 28, 16), "warm", Qt.AlignmentFlag.AlignLeft),
            (QRectF(14, high / 2 - 8, wide - 28, 16), "cool", Qt.AlignmentFlag.AlignRight),
        ):
            painter.drawText(box, flag, words)
        for role, box in zip(self._roles, self.places(), strict=False):
            self._paint(painter, role, box)

    def _paint(self, painter: QPainter, role: Role, box: QRectF) -> None:
        size = box.height() - 28
        place = QRectF(box.center().x() - size / 2, box.top(), size, size)
        painter.fillPath(dab(role.tube.id, place), paint_colour(role.tube.lab))
        if role.tube.id == self._selected:
            painter.setPen(QPen(theme.colour("accent"), 2.2))
            painter.drawPath(dab(role.tube.id, place.adjusted(-4, -4, 4, 4)))
        painter.setPen(theme.colour("on_surround"))
        painter.setFont(theme.face(9))
        name = painter.fontMetrics().elidedText(role.tube.short, Qt.TextElideMode.ElideRight, round(box.width()))
        under = QRectF(box.left(), place.bottom(), box.width(), 14)
        painter.drawText(under, Qt.AlignmentFlag.AlignCenter, name)
        painter.drawText(under.translated(0, 13), Qt.AlignmentFlag.AlignCenter, numbers.value(role.value))
