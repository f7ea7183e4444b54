"""Start the window."""

import gc
import logging
import os
import sys
from types import TracebackType

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication

from ochre_stone.desktop.session import settings as memory
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.window.window import Window
from ochre_stone.resources import resource

_log = logging.getLogger(__name__)


def make_app(argv: list[str]) -> QApplication:
    """The application with its face and theme."""
    app = QApplication(argv)
    app.setApplicationName("Ochre Stone")
    app.setDesktopFileName("org.ochrestone.OchreStone")
    app.setWindowIcon(QIcon(str(resource("icons", "ochre-stone.svg"))))
    theme.learn_desktop(app.font().pointSizeF())
    theme.load_fonts()
    return app


def _collect() -> None:
    """Let go of what is no longer used, from now on; what is there by then stays until the end, and is left out."""
    gc.freeze()
    gc.enable()


def open_window() -> tuple[QApplication, Window]:
    """The application and its window, shown."""
    app = make_app(sys.argv[:1])
    settings = memory.load_settings()
    theme.scale_text(settings.text_size / 100 * theme.of_the_desktop())
    theme.apply(app, settings.surround)
    window = Window(settings)
    window.show()
    return app, window


def run(path: str | None, demo: bool, bring: str = "") -> int:
    """Open the window on a file, the demo, unsaved work (the name of its folder) or nothing; returns the exit code."""
    if sys.platform.startswith("linux") and not any(
        os.environ.get(k) for k in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    ):
        print(
            "ochre-stone: There is no display: start it from a desktop, or use the commands (ochre-stone --help).",
            file=sys.stderr,
        )
        return 1
    app, window = open_window()

    def unexpected(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        _log.error("unexpected", exc_info=(kind, error, trace))
        window.tell("Something went wrong inside the program; your work is kept. Save and start again.")

    sys.excepthook = unexpected
    window.built.connect(_collect)
    QTimer.singleShot(0, lambda: window.files.begin(path, demo, bring))
    return app.exec()
