"""Swatches: a colour between pure white and pure black, and a target touching its mixture."""

from collections.abc import Callable

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPainterPath, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.shapes import dab, ink_on, paint_colour, pile, stacked

SURFACES: dict[str, Lab] = {"white": (94.0, 0.0, 1.0), "grey": (51.6, 0.0, 0.0), "wood": (55.0, 11.0, 27.0)}
"""Palette surfaces: white, middle grey, and oiled wood; common practice, no source."""


class NoteSwatch(QWidget):
    """One colour touching pure white, the palette's own surface, and pure black; a gradation runs to its other end."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(84)
        self._lab: Lab | None = None
        self._other: Lab | None = None
        self.surface = "grey"
        """Of the palette: a key of ``SURFACES``."""

    def show_colour(self, lab: Lab | None, other: Lab | None = None) -> None:
        """A colour, and the other end where it is part of a gradation."""
        self._lab, self._other = lab, other
        self.setAccessibleName(read(lab).name if lab is not None else "no note in hand")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, 84)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if self._lab is None:
            return
        box = QRectF(self.rect()).adjusted(12, 12, -12, -12)
        end = round(box.width() * 0.14)
        painter.fillRect(QRectF(box.left(), box.top(), end, box.height()), QColor("white"))
        painter.fillRect(QRectF(box.right() - end, box.top(), end, box.height()), QColor("black"))
        middle = QRectF(box.left() + end, box.top(), box.width() - 2 * end, box.height())
        if self._other is None:
            painter.fillRect(middle, paint_colour(self._lab))
        else:
            steps = 48
            for i in range(steps):
                t = i / (steps - 1)
                L, a, b = (p + (q - p) * t for p, q in zip(self._lab, self._other, strict=True))
                left, right = (round(middle.left() + middle.width() * k / steps) for k in (i, i + 1))
                painter.fillRect(QRectF(left, middle.top(), right - left, middle.height()), paint_colour((L, a, b)))
        ground = SURFACES[self.surface]
        strip = QRectF(middle.left(), middle.bottom() - round(middle.height() * 0.3), middle.width(), 0)
        strip.setBottom(middle.bottom())
        painter.fillRect(strip, paint_colour(ground))
        painter.setPen(ink_on(ground))
        painter.setFont(theme.face(8))
        words = {"white": "white palette", "grey": "grey palette", "wood": "wooden palette"}[self.surface]
        painter.drawText(strip, Qt.AlignmentFlag.AlignCenter, words)


class HalvesSwatch(QWidget):
    """Two colours as the halves of one shape, without a gap: where the border vanishes, they match."""

    def __init__(self, height: int = 76, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(height)
        self._parts: tuple[tuple[str, Lab], ...] = ()
        self._shape: Callable[[QRectF], QPainterPath] = lambda box: dab("halves", box)

    def show_pair(self, upper: Lab, lower: Lab, upper_name: str, lower_name: str) -> None:
        """Two colours and their names."""
        self.show_stacked((upper_name, upper), (lower_name, lower))

    def show_stacked(self, *parts: tuple[str, Lab]) -> None:
        """Names and colours from top to bottom."""
        self._parts = parts
        self.setAccessibleName(", touching ".join(f"{name}, {read(lab).name}" for name, lab in parts))
        self.update()

    def clear(self) -> None:
        """Show nothing."""
        self._parts = ()
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, theme.sized(self.minimumHeight()))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if not self._parts:
            return
        box = QRectF(self.rect()).adjusted(13, 9, -13, -9)
        stacked(painter, self._shape(box), [lab for _, lab in self._parts])
        painter.setFont(theme.face(9))
        metrics = QFontMetricsF(painter.font())
        places = (0.27, 0.73) if len(self._parts) == 2 else (0.19, 0.5, 0.81)
        for (name, lab), place in zip(self._parts, places, strict=True):
            painter.setPen(ink_on(lab))
            words = metrics.elidedText(name, Qt.TextElideMode.ElideRight, box.width() * 0.55)
            at = QRectF(box.left(), box.top() + box.height() * place - 9, box.width(), 18)
            painter.drawText(at, Qt.AlignmentFlag.AlignCenter, f"{words}  {numbers.value(read(lab).value)}")


class PileSwatch(HalvesSwatch):
    """A pile: target above, mixture below, wet at the foot where it differs."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(62, parent)

    def show_pile(self, seed: str, target: Lab, mixture: Lab, wet: Lab | None = None) -> None:
        """A pile in the form that belongs to it; what it looks like wet where that is seen."""
        self._shape = lambda box: pile(seed, box)
        parts = (("target", target), ("mixture" if wet is None else "dry", mixture))
        self.show_stacked(*parts, *([("wet", wet)] if wet is not None else []))
