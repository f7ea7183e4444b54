"""A glaze from its ground up: the colour after each coat, the last touching the target."""

from collections.abc import Callable

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.technique.glazes import Glaze
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.shapes import ink_on, paint_colour


class CoatsView(QWidget):
    """Bands side by side, no gap: the ground, each coat, the target."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._bands: list[tuple[str, Lab]] = []

    def show_coats(self, glaze: Glaze, target: Lab, name: Callable[[str], str]) -> None:
        """A glaze and its target."""
        coats = [(str(n), c.lab) for n, c in enumerate(glaze.coats, 1)]
        self._bands = [("under", glaze.under), *coats, ("target", target)]
        said = ", ".join(f"coat {n}: {name(c.tube)}" for n, c in enumerate(glaze.coats, 1))
        self.setAccessibleName(f"Glaze, {said}")
        self.setFixedHeight(58)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, 58)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("surround"))
        if not self._bands:
            return
        n = len(self._bands)
        edges = [round(8 + (self.width() - 16) * k / n) for k in range(n + 1)]
        painter.setFont(theme.face(9, bold=True))
        for k, (words, lab) in enumerate(self._bands):
            box = QRectF(edges[k], 7, edges[k + 1] - edges[k], 44)
            painter.fillRect(box, paint_colour(lab))
            painter.setPen(ink_on(lab))
            value = numbers.value(float(value_of_lightness(min(lab[0], 100.0))))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, f"{words}\n{value}")
