"""A palette as it is laid out: light above, dark below, warm left, cool right, neutral in the middle."""

from collections.abc import Sequence

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.paint.roles import Role
from ochre_stone.desktop import numbers, theme
from ochre_stone.desktop.widgets.shapes import dab, paint_colour

_DAB, _WIDE, _HIGH = 46.0, 116.0, 74.0


class PaletteLay(QWidget):
    """Each tube a dab at its value and warmth; arrow keys go from one to the next."""

    chosen = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumSize(QSize(300, 300))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The palette, light above, dark below, warm left, cool right")
        self._roles: Sequence[Role] = ()
        self._selected: str | None = None
        self.title = ""

    def show_roles(self, title: str, roles: Sequence[Role], selected: str | None) -> None:
        """The tubes of a palette with their roles."""
        self.title, self._roles, self._selected = title, roles, selected
        self.setAccessibleDescription("; ".join(f"{r.tube.short}: {r.words}" for r in roles))
        self.update()

    def places(self) -> list[QRectF]:
        """Where each tube lies; those that would lie on each other are moved apart."""
        if not self._roles:
            return []
        inner = QRectF(self.rect()).adjusted(20 + _WIDE / 2, 62 + _DAB / 2, -20 - _WIDE / 2, -40 - _HIGH / 2)
        low, high = min(r.value for r in self._roles), max(r.value for r in self._roles)
        reach = max(0.2, max(abs(r.warmth) for r in self._roles))
        at = [
            QPointF(inner.center().x() - r.warmth / reach * inner.width() / 2,
                    inner.bottom() - (r.value - low) / max(high - low, 0.5) * inner.height())
            for r in self._roles
        ]  # fmt: skip
        for _ in range(60):
            for i in range(len(at)):
                for j in range(i + 1, len(at)):
                    dx, dy = at[j].x() - at[i].x(), at[j].y() - at[i].y()
                    over_x, over_y = _WIDE - abs(dx), _HIGH - abs(dy)
                    if over_x > 0 and over_y > 0:
                        # Along the shorter way; sideways where they lie level, so that values stay true.
                        if over_x < over_y * 2.2:
                            push = QPointF((over_x / 2 + 0.5) * (1 if dx >= 0 else -1), 0)
                        else:
                            push = QPointF(0, (over_y / 2 + 0.5) * (1 if dy >= 0 else -1))
                        at[i] -= push
                        at[j] += push
            for p in at:
                p.setX(min(max(p.x(), inner.left()), inner.right()))
                p.setY(min(max(p.y(), inner.top()), inner.bottom()))
        return [QRectF(p.x() - _WIDE / 2, p.y() - _DAB / 2, _WIDE, _HIGH) for p in at]

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        for role, box in zip(self._roles, self.places(), strict=True):
            if box.contains(event.position()):
                self.chosen.emit(role.tube.id)

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
        painter = QPainter(self)
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
        for role, box in zip(self._roles, self.places(), strict=True):
            path = dab(role.tube.id, QRectF(box.center().x() - _DAB / 2, box.top(), _DAB, _DAB))
            painter.fillPath(path, paint_colour(role.tube.lab))
            if role.tube.id == self._selected:
                painter.setPen(QPen(theme.colour("accent"), 2.2))
                painter.drawPath(
                    dab(role.tube.id, QRectF(box.center().x() - _DAB / 2 - 4, box.top() - 4, _DAB + 8, _DAB + 8))
                )
            painter.setPen(theme.colour("on_surround"))
            painter.setFont(theme.face(9))
            name = painter.fontMetrics().elidedText(role.tube.short, Qt.TextElideMode.ElideRight, round(_WIDE))
            under = QRectF(box.left(), box.top() + _DAB, _WIDE, 14)
            painter.drawText(under, Qt.AlignmentFlag.AlignCenter, name)
            painter.drawText(under.translated(0, 13), Qt.AlignmentFlag.AlignCenter, numbers.value(role.value))
