"""Swatches: a colour between pure white and pure black, and a target touching its mixture."""

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.reading import read
from ochre_stone.desktop import theme
from ochre_stone.desktop.widgets.shapes import Lab, halves, ink_on, paint_colour, pile, ribbon


class NoteSwatch(QWidget):
    """One colour on neutral grey, touching white on one side and black on the other."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(96)
        self._lab: Lab | None = None

    def show_colour(self, lab: Lab | None) -> None:
        self._lab = lab
        self.setAccessibleName(read(lab).name if lab is not None else "no note in hand")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, 96)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if self._lab is None:
            return
        box = QRectF(self.rect()).adjusted(12, 12, -12, -12)
        end = round(box.width() * 0.14)
        painter.fillRect(QRectF(box.left(), box.top(), end, box.height()), QColor("white"))
        painter.fillRect(QRectF(box.right() - end, box.top(), end, box.height()), QColor("black"))
        painter.fillRect(
            QRectF(box.left() + end, box.top(), box.width() - 2 * end, box.height()), paint_colour(self._lab)
        )


class PileSwatch(QWidget):
    """A pile in two halves: target above, mixture below. Where the border vanishes, it matches."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(100)
        self._pair: tuple[str, Lab, Lab] | None = None

    def show_pile(self, seed: str, target: Lab, mixture: Lab) -> None:
        self._pair = (seed, target, mixture)
        self.setAccessibleName(f"target {read(target).name}, mixture {read(mixture).name}")
        self.update()

    def clear(self) -> None:
        self._pair = None
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if self._pair is None:
            return
        seed, target, mixture = self._pair
        box = QRectF(self.rect()).adjusted(14, 10, -14, -10)
        halves(painter, pile(seed, box), target, mixture)
        painter.setFont(theme.face(9.5))
        for words, lab, top in (("target", target, 0.24), ("mixture", mixture, 0.76)):
            painter.setPen(ink_on(lab))
            place = QRectF(box.left(), box.top() + box.height() * top - 10, box.width(), 20)
            painter.drawText(place, Qt.AlignmentFlag.AlignCenter, f"{words} {read(lab).value:.1f}")


class RibbonSwatch(QWidget):
    """A short ribbon of a tube's colour."""

    def __init__(self, lab: Lab, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._lab = lab
        self.setFixedSize(38, 18)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        painter.fillPath(ribbon(QRectF(self.rect()).adjusted(4, 4, -4, -4)), paint_colour(self._lab))
