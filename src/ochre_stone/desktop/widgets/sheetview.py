"""The page as it will print: the very PDF, drawn by Qt."""

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice
from PyQt6.QtGui import QPalette
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPdfWidgets import QPdfView
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ochre_stone.desktop.widgets import theme


class SheetView(QWidget):
    """Shows PDF bytes, all pages, as wide as there is room."""

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
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.view)
        self.restyle()

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
