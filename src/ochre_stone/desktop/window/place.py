"""Where the window was when it was left, and comes back to."""

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QMainWindow

from ochre_stone.desktop.session.settings import Settings, store
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.window.stage import Stage


class Place:
    """Size, place and widths of a window, kept in the settings."""

    def __init__(self, window: QMainWindow, stage: Stage, held: Settings) -> None:
        self.window, self.stage, self.held = window, stage, held

    def come_back(self) -> None:
        """As the window was left, as far as the screen has room for it."""
        screen, held = self.window.screen(), self.held
        room = screen.availableSize() if screen is not None else QSize(1280, 800)
        self.window.setMinimumSize(QSize(1024, 700).boundedTo(room))
        self.window.resize(room.boundedTo(QSize(held.width, held.height)))
        self.stage.share(held.scale_width, held.tray_width, self.window.width())

    def grow(self) -> None:
        """Fill the screen, where the window did."""
        if self.held.maximised:
            self.window.setWindowState(self.window.windowState() | Qt.WindowState.WindowMaximized)

    def remember_widths(self) -> None:
        """Widths of scale and tray, as they would be at the usual size of text."""
        sizes = self.stage.sizes()
        self.held.scale_width, self.held.tray_width = (round(s / theme.sized(100) * 100) for s in (sizes[0], sizes[2]))

    def remember(self, station: str, page: str) -> None:
        """Keep all of it for the next time, with the station and page in hand."""
        held = self.held
        held.maximised = self.window.isMaximized()
        if not held.maximised:
            held.width, held.height = self.window.width(), self.window.height()
        self.remember_widths()
        held.station, held.page = station, page
        store(held)
