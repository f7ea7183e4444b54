"""Take a picture of every station with the demo project, into docs/screenshots/. Run through ``make screenshots``.

python tools/make_screenshots.py [FOLDER [STATION[, PAGE] ...]]
"""

import sys
import tempfile
import time
from pathlib import Path

from PyQt6.QtWidgets import QApplication, QWidget

from ochre_stone.desktop import settings as memory
from ochre_stone.desktop import theme
from ochre_stone.desktop.app import make_app
from ochre_stone.desktop.window import Window

SHOTS = (
    "Look", "Look, Light", "Look, Frame", "Look, Scene", "Note", "Note, Beside", "Note, Ledge", "Mass", "Mass, Light",
    "Mass, Plan", "Mass, Range", "Mass, Edges", "Mass, Swap", "Harmonise", "Harmonise, Balance", "Harmonise, Meet",
    "Harmonise, Ladders", "Mix", "Block in",
)  # fmt: skip


def settle(app: QApplication, window: Window, seconds: float = 20.0) -> None:
    """Let everything that is under way finish."""
    end = time.monotonic() + seconds
    quiet = 0
    while time.monotonic() < end and quiet < 6:
        app.processEvents()
        busy = window.studio.jobs.busy() or window.studio._later.isActive()
        quiet = 0 if busy else quiet + 1
        time.sleep(0.03)


def prepare(app: QApplication, window: Window, station: str, page: str) -> None:
    """Set the stage for one picture; whatever is changed is undone after it."""
    if station == "Note":
        window.studio.select("n6")
        window.note_station.pages_.show(page or "Read")
    if station == "Look":
        window.look.pages_.show(page or "See")
        window.showing.set_view(plain=True)
    if station == "Mix":
        window.mix.choose("skin-3")
    if station == "Look" and page == "Light":
        window.look.light_page.lift.setValue(40)
    if station == "Mass":
        window.mass.pages_.show(page or "Values")
        settle(app, window)
        mass(window, page)
    if station == "Harmonise":
        window.harmonise.pages_.show(page or "Scheme")
        if page == "Ladders":
            window.harmonise.ladders_page.distance.click()
            window.harmonise.ladders_page.sky.click()
        elif not page:
            window.harmonise.sees["pulled"].click()
    if page == "Frame":
        window.look.frame_page.canvas.setCurrentText("16 × 20 in")
        window.look.frame_page.canvas.activated.emit(0)
        window.look.frame_page.angle.setValue(1.5)
    if page == "Scene":
        window.reader.connect_to("", ("--warm-up", "0"))
        settle(app, window)
        window.reader.calibrate()
        settle(app, window)
        window.look.spot_clicked(1172, 1046)


def mass(window: Window, page: str) -> None:
    """What each page of Mass is shown with."""
    seen = [(780, 150), (1300, 150), (1300, 560), (1000, 620), (780, 420)]
    if page == "Light":
        window.mass.draw_for("shadow")
        window.mass.drawn("area", [(1250, 250), (1599, 225), (1599, 560), (1450, 500), (1330, 330)])
        window.mass.draw_for("")
    if page == "Plan":
        window.mass.draw_for("focus")
        window.mass.drawn("area", [(float(x), float(y)) for x, y in seen])
        window.mass.draw_for("")
    if page == "Range":
        window.mass.range_page.finish.setCurrentIndex(0)
        window.mass.range_page.finish.activated.emit(0)
        window.mass.range_page.keep.setCurrentIndex(1)
        window.mass.range_page.keep.activated.emit(1)
    if page == "Swap":
        window.mass.swap_page.which.setCurrentIndex(1)
        window.mass.swap_page.refresh()
        window.mass.swap_page.hue.setValue(345)


def save(widget: QWidget, folder: Path, title: str) -> None:
    name = title.lower().replace(", ", "-").replace(" ", "-")
    widget.grab().save(str(folder / f"{name}.png"))
    print(folder / f"{name}.png")


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
            station, _, page = title.partition(", ")
            window.go_to(station)
            prepare(app, window, station, page)
            settle(app, window)
            time.sleep(0.3)
            settle(app, window)
            bar = window.statusBar()
            if bar is not None:
                bar.clearMessage()
            save(window, folder, title)
            while window.studio.undo.canUndo():
                window.studio.undo.undo()
            settle(app, window)
        window.reader.close()
        window.studio.undo.setClean()
        window.close()


if __name__ == "__main__":
    main()
