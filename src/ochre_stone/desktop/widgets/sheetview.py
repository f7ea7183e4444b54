"""The page as it will print: the very PDF, drawn by Qt."""

from collections.abc import Collection

from PyQt6.QtCore import QBuffer, QByteArray, QEvent, QIODevice, QObject, QPointF, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPalette
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPdfWidgets import QPdfView
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ochre_stone.desktop.widgets import theme

_ROW, _SAME = 14.0, 8.0
"""Points above and below a click within which words are of its row, and within which they are of one line."""


class SheetView(QWidget):
    """Shows PDF bytes, all pages, as wide as there is room."""

    clicked = pyqtSignal(int, float)
    """A page and how far down it was clicked, in points."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("surround")
        self._document = QPdfDocument(self)
        self._buffer = QBuffer(self)
        self.view = QPdfView(self)
        self.view.setDocument(self._document)
        self.view.setPageMode(QPdfView.PageMode.MultiPage)
        self.view.setZoomMode(QPdfView.ZoomMode.FitToWidth)
        self.view.setAccessibleName("Preview of the sheet")
        self._paper = self.view.viewport()
        if self._paper is not None:
            self._paper.installEventFilter(self)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.view)
        self.restyle()

    def place_of(self, page: int, x: float, y: float) -> QPointF:
        """Where a place of a page, in points from its top left corner, lies in the view as it is scrolled."""
        assert self._paper is not None
        margins, top = self.view.documentMargins(), 0.0
        for k in range(page):
            top += self._document.pagePointSize(k).height() * self._scale(k) + self.view.pageSpacing()
        across, down = self.view.horizontalScrollBar(), self.view.verticalScrollBar()
        scale = self._scale(page)
        left = margins.left() - (across.value() if across is not None else 0)
        above = margins.top() + top - (down.value() if down is not None else 0)
        return QPointF(left + x * scale, above + y * scale)

    def found_at(self, words: Collection[str], page: int, y: float) -> str | None:
        """Which of these words stand in the row at ``y`` points down a page: on the nearest line, the first from the
        left; None where none do."""
        text = self._document.getAllText(page).text()
        best: tuple[int, float, str] | None = None
        for said in words:
            at = text.find(said)
            while at >= 0:
                box = self._document.getSelectionAtIndex(page, at, len(said)).boundingRectangle()
                off = max(box.top() - y, y - box.bottom(), 0.0)
                place = int(off / _SAME), box.left()
                if off < _ROW and (best is None or place < best[:2]):
                    best = (*place, said)
                at = text.find(said, at + 1)
        return best[2] if best is not None else None

    def _scale(self, page: int) -> float:
        """Pixels for a point of a page: it is as wide as the view."""
        assert self._paper is not None
        margins = self.view.documentMargins()
        wide = self._paper.width() - margins.left() - margins.right()
        return float(wide / max(self._document.pagePointSize(page).width(), 1.0))

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """A click tells the line that was clicked."""
        if isinstance(event, QMouseEvent) and event.type() == QEvent.Type.MouseButtonRelease:
            for page in range(self.pages):
                corner, scale = self.place_of(page, 0.0, 0.0), self._scale(page)
                size = self._document.pagePointSize(page)
                y = (event.position().y() - corner.y()) / scale
                if 0 <= y < size.height():
                    self.clicked.emit(page, y)
        return super().eventFilter(watched, event)

    def restyle(self) -> None:
        """Take the surround of the theme."""
        palette = self.view.palette()
        palette.setColor(QPalette.ColorRole.Dark, theme.colour("surround"))
        palette.setColor(QPalette.ColorRole.Base, theme.colour("surround"))
        self.view.setPalette(palette)

    def show_pdf(self, data: bytes) -> None:
        """Show other bytes; empty for nothing."""
        self._document.close()
        self._buffer.close()
        if data:
            self._buffer.setData(QByteArray(data))
            self._buffer.open(QIODevice.OpenModeFlag.ReadOnly)
            self._document.load(self._buffer)

    @property
    def pages(self) -> int:
        return self._document.pageCount()
