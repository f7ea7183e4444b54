"""Take a picture of every station with the demo project, into docs/screenshots/. Run through ``make screenshots``.

python tools/make_screenshots.py [FOLDER [STATION ...]]
"""

import sys
import tempfile
import time
from pathlib import Path

from PyQt6.QtWidgets import QApplication

from ochre_stone.desktop import settings as memory
from ochre_stone.desktop import theme
from ochre_stone.desktop.app import make_app
from ochre_stone.desktop.window import Window

SHOTS = ("Look", "Note", "Mass", "Harmonise", "Mix", "Block in")


def settle(app: QApplication, window: Window, seconds: float = 20.0) -> None:
    """Let everything that is under way finish."""
    end = time.monotonic() + seconds
    quiet = 0
    while time.monotonic() < end and quiet < 6:
        app.processEvents()
        busy = window.studio.jobs.busy() or window.studio._later.isActive()
        quiet = 0 if busy else quiet + 1
        time.sleep(0.03)


def main() -> None:
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else Path(__file__).parents[1] / "docs" / "screenshots"
    folder.mkdir(parents=True, exist_ok=True)
    app = make_app(sys.argv[:1])
    theme.apply(app, "middle")
    with tempfile.TemporaryDirectory() as home:
        memory.user_config_path = lambda name: Path(home) / name  # type: ignore[assignment]
        window = Window(memory.Settings())
        window.resize(1280, 800)
        window.show()
        window.filing.open_demo()
        settle(app, window)
        for title in sys.argv[2:] or SHOTS:
            window.go_to(title)
            if title == "Note":
                window.studio.select("n6")
            if title == "Mix":
                window.mix.choose("skin-3")
            settle(app, window)
            time.sleep(0.3)
            settle(app, window)
            bar = window.statusBar()
            if bar is not None:
                bar.clearMessage()
            name = title.lower().replace(" ", "-")
            window.grab().save(str(folder / f"{name}.png"))
            print(folder / f"{name}.png")
        window.studio.undo.setClean()
        window.close()


if __name__ == "__main__":
    main()
