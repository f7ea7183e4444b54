"""What a calibration did: each swatch as measured, between the predictions before and after."""

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from ochre_stone.core.paint.calibrate import Swatch, Told
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.touching import across

_ROW, _HEAD = 34.0, 30.0
_BLOCK = 74.0


class Proofs(QWidget):
    """Rows of swatches; before a fit only what was measured."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("Swatches, measured and predicted")
        self._told: Sequence[Told] = ()
        self._raw: Sequence[Swatch] = ()
        self.hint = ""

    def show_swatches(self, swatches: Sequence[Swatch]) -> None:
        """Swatches that wait to be learned from."""
        self._raw, self._told = swatches, ()
        self._sized(len(swatches), "; ".join(s.label for s in swatches[:80]))

    def show_told(self, told: Sequence[Told]) -> None:
        """What became of them, the worst first."""
        self._raw, self._told = (), sorted(told, key=lambda t: (not t.outlier, -t.gap_after))
        words = (f"{t.swatch.label}: {t.gap_before:.1f} before, {t.gap_after:.1f} after" for t in self._told[:80])
        self._sized(len(told), "; ".join(words))

    def _sized(self, rows: int, words: str) -> None:
        self.setMinimumHeight(round(_HEAD + max(rows, 1) * _ROW + 10))
        self.setAccessibleDescription(words)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(460, self.minimumHeight())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.colour("surround"))
        painter.setPen(theme.colour("on_surround"))
        if not self._told and not self._raw:
            painter.setFont(theme.face(11))
            painter.drawText(
                QRectF(self.rect()).adjusted(30, 0, -30, 0),
                Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                self.hint,
            )
            return
        painter.setFont(theme.face(9))
        left = self.width() - 3 * _BLOCK - 150
        heads = ("before", "measured", "after") if self._told else ("", "measured", "")
        for k, word in enumerate(heads):
            painter.drawText(QRectF(left + k * _BLOCK, 6, _BLOCK, 18), Qt.AlignmentFlag.AlignCenter, word)
        for i, t in enumerate(self._told):
            y = _HEAD + i * _ROW
            across(painter, QRectF(left, y, 3 * _BLOCK, _ROW - 4), (t.before, t.swatch.lab, t.after))
            words = f"{t.gap_before:.1f} → {t.gap_after:.1f}"
            self._words(painter, QRectF(left + 3 * _BLOCK + 10, y, 134, _ROW - 4), words)
            said = t.swatch.label
            if t.outlier:
                said += " – left out" + (f", looks like {t.resembles}" if t.resembles else "")
            self._words(painter, QRectF(10, y, left - 18, _ROW - 4), said)
        for i, s in enumerate(self._raw):
            y = _HEAD + i * _ROW
            across(painter, QRectF(left + _BLOCK, y, _BLOCK, _ROW - 4), (s.lab,))
            self._words(painter, QRectF(10, y, left - 18, _ROW - 4), s.label)

    @staticmethod
    def _words(painter: QPainter, box: QRectF, words: str) -> None:
        painter.setPen(theme.colour("on_surround"))
        short = QFontMetricsF(painter.font()).elidedText(words, Qt.TextElideMode.ElideRight, box.width())
        painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, short)
