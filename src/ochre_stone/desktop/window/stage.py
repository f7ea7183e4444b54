"""The window's middle: value scale, centre and tray; the easel in the centre, shared with a panel, or at the tray's
foot."""

from dataclasses import dataclass

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QSplitter, QStackedWidget, QVBoxLayout, QWidget

from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.scale.face import LEAST, WIDE
from ochre_stone.desktop.scale.scale import ValueScale
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.scenebar import SceneBar

TRAY, LEAST_TRAY = 350, 330
_STEP = 8
_LEAST_PICTURE = 200
_MARGIN = 28
_FOOT = 152
"""Height of the small picture at the tray's foot in a window 800 high."""


@dataclass(frozen=True)
class Share:
    """How picture and panel stand in the centre."""

    beside: bool
    """Side by side; else the picture above the panel."""
    panel: int
    """Width or height of the panel."""


def share_of(width: int, height: int, aspect: float, least: int) -> Share:
    """What :func:`best_share` finds."""
    return best_share(width, height, aspect, least)[1]


def picture_area(width: float, height: float, aspect: float) -> float:
    """Pixels of a picture, ``aspect`` wide for its height, in an easel of that size."""
    w, h = max(width - _MARGIN, 1), max(height - _MARGIN, 1)
    return min(w, h * aspect) * min(h, w / aspect)


def best_share(width: int, height: int, aspect: float, least: int) -> tuple[float, Share]:
    """How good the best share is, and that.

    Both as large as the room allows: the greatest product of the picture's area and of the square that fits into the
    panel, which is at least ``least`` wide and high where there is room for that.

    ``aspect``: width over height of the picture.
    """
    found = (-1.0, Share(False, least))
    for beside in (False, True):
        whole, across = (width, height) if beside else (height, width)
        smallest = min(least, whole - _LEAST_PICTURE)
        for panel in range(smallest, max(whole - _LEAST_PICTURE, smallest) + 1, _STEP):
            side = min(panel, across)
            size = (whole - panel, across) if beside else (across, whole - panel)
            area = picture_area(*size, aspect)
            if side >= min(smallest, across):
                found = max(found, (area * side * side, Share(beside, panel)), key=lambda f: f[0])
    return found


class _Centre(QWidget):
    """Easel and panels, laid out by hand."""

    def __init__(self, easel: Easel, sides: QStackedWidget) -> None:
        super().__init__()
        self.setObjectName("surround")
        self.easel, self.sides = easel, sides
        self.kind, self.least = "", 0
        self._cover: QWidget | None = None
        self.bar = SceneBar()
        self.bar.setParent(self)
        easel.setParent(self)
        sides.setParent(self)
        self.setMinimumSize(QSize(300, 300))

    def cover(self, page: QWidget) -> None:
        """A page that lies over all else while it is shown."""
        page.setParent(self)
        self._cover = page
        page.setGeometry(self.rect())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self.arrange()

    def arrange(self) -> None:
        """Give each its part."""
        whole, full = self.rect(), self.easel.full_size()
        aspect = full[0] / full[1] if full[1] else 4 / 3
        above, beside = self.bar.high(whole.width()), self.bar.wide()

        def worth(room: QRect) -> float:
            """How large all is that stands in a room."""
            if self.kind == "beside":
                return best_share(room.width(), room.height(), aspect, self.least)[0]
            return picture_area(room.width(), room.height(), aspect)

        below, right_of = whole.adjusted(0, above, 0, 0), whole.adjusted(beside, 0, 0, 0)
        # The words stand where the picture leaves room: above a lying one, at the left of an upright one.
        if self.kind != "instead" and above and worth(right_of) > worth(below):
            self.bar.setGeometry(0, 0, beside, whole.height())
            whole = right_of
        else:
            self.bar.setGeometry(0, 0, whole.width(), above)
            whole = below
        if self._cover is not None:
            self._cover.setGeometry(self.rect())
            self._cover.raise_()
        if self.kind == "instead":
            self.sides.setGeometry(whole)
        elif self.kind == "beside":
            s = share_of(whole.width(), whole.height(), aspect, self.least)
            if s.beside:
                self.easel.setGeometry(whole.adjusted(0, 0, -s.panel, 0))
                self.sides.setGeometry(whole.adjusted(whole.width() - s.panel, 0, 0, 0))
            else:
                self.easel.setGeometry(whole.adjusted(0, 0, 0, -s.panel))
                self.sides.setGeometry(whole.adjusted(0, whole.height() - s.panel, 0, 0))
        else:
            self.easel.setGeometry(whole)


class Stage(QSplitter):
    """Scale, centre and tray from left to right; both outer parts can be made wider or narrower."""

    def __init__(self, easel: Easel, scale: ValueScale) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self.easel, self.scale = easel, scale
        self.sides, self.trays = QStackedWidget(), QStackedWidget()
        self.centre = _Centre(easel, self.sides)
        self.foot = QWidget()
        self.foot.setObjectName("foot")
        self._foot_rows = QVBoxLayout(self.foot)
        self._foot_rows.setContentsMargins(16, 4, 16, 10)
        right = QWidget()
        rows = QVBoxLayout(right)
        rows.setContentsMargins(0, 0, 0, 0)
        rows.setSpacing(0)
        rows.addWidget(self.trays, 1)
        rows.addWidget(self.foot)
        right.setMinimumWidth(LEAST_TRAY)
        self.setHandleWidth(3)
        self.setChildrenCollapsible(False)
        for w in (scale, self.centre, right):
            self.addWidget(w)
        scale.setMinimumWidth(LEAST)
        for i, stretch in enumerate((0, 1, 0)):
            self.setStretchFactor(i, stretch)
        self.right = right
        self.foot.hide()

    def share(self, scale: int = WIDE, tray: int = TRAY, whole: int | None = None) -> None:
        """Give scale and tray their widths, the centre what is left of ``whole``."""
        width = whole if whole is not None else self.width()
        scale, tray = theme.sized(scale), theme.sized(tray)
        self.right.setMinimumWidth(theme.sized(LEAST_TRAY))
        self.scale.setMinimumWidth(theme.sized(LEAST))
        self.setSizes([scale, max(width - scale - tray - 2 * self.handleWidth(), 300), tray])

    def parts(self) -> list[QWidget]:
        """What is styled besides the trays, which are so one by one."""
        handles = [h for i in range(1, self.count()) if (h := self.handle(i)) is not None]
        return [self.centre, self.centre.bar, self.foot, *handles]

    def refresh_style(self) -> None:
        """Style the tray that is to be shown, where the greys have changed since it was seen."""
        here = self.trays.currentWidget()
        for part in (here, self.foot):
            if part is not None:
                theme.fresh(part)

    def arrange(self, kind: str, least: int) -> None:
        """``kind``: "" for the easel alone, "beside" a panel (at least ``least`` pixels of it), "instead" of it."""
        c = self.centre
        c.kind, c.least = kind, least
        at_foot = kind == "instead"
        if at_foot != (self.easel.parent() is self.foot):
            if at_foot:
                self._foot_rows.addWidget(self.easel)
            else:
                self._foot_rows.removeWidget(self.easel)
                self.easel.setParent(c)
        self.easel.show()
        self.foot.setVisible(at_foot)
        self.sides.setVisible(kind != "")
        self._fit_foot()
        c.arrange()

    def _fit_foot(self) -> None:
        self.foot.setFixedHeight(min(max(round(self.height() * 0.165), 104), 320) if self.height() > 100 else _FOOT)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit_foot()
