"""Take a picture of every station with the demo project, into docs/screenshots/. Run through ``make screenshots``.

python tools/make_screenshots.py [FOLDER [STATION[, PAGE] ...]]
"""

import os
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
from PyQt6.QtWidgets import QApplication, QWidget

from ochre_stone.core.paint.calibrate import Swatch
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.predict import spectra
from ochre_stone.core.store import boxfile, safecopy
from ochre_stone.desktop.app import make_app
from ochre_stone.desktop.session import settings as memory
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.window.window import Window
from ochre_stone.resources import resource
from tests.support.drawn import perturbed

SHOTS = (
    "Start", "Look", "Note", "Mass", "Mass, Light", "Harmonise", "Mix", "Mix, Correct", "Mix, Plan", "Mix, Photo",
    "Mix, Bench", "Mix, Palettes", "Block in", "Block in, Missing", "Easel", "Paint box", "Paint box, Reach", "Log",
    "Practice",
)  # fmt: skip


def settle(app: QApplication, window: Window, seconds: float = 20.0) -> None:
    """Let everything that is under way finish."""
    end = time.monotonic() + seconds
    quiet = 0
    while time.monotonic() < end and quiet < 6:
        app.processEvents()
        built = all(station.built for station in window.stations)
        busy = not (built and window.studio.idle and window.session.log.idle)
        quiet = 0 if busy else quiet + 1
        time.sleep(0.03)


def push_about(window: Window) -> None:
    """Some paint on the bench: a pile that was cut and pushed, a darker one, and a ladder of the first."""
    work = window.session.bench
    for supply, parts in (("titanium-white", 8), ("yellow-ochre", 3), ("cadmium-red-light", 1), ("raw-umber", 1)):
        work.choose_supply(supply)
        for _ in range(parts):
            work.add("touch")
    work.cut()
    work.choose_supply("burnt-sienna")
    work.add("touch")
    work.take("")
    for supply, parts in (("ultramarine-blue", 3), ("burnt-sienna", 4), ("titanium-white", 1)):
        work.choose_supply(supply)
        for _ in range(parts):
            work.add("touch")
    work.take("bench-1")
    work.mix_toward_pile("skin-3")
    work.make("yellower", ["bench-1"])
    work.ask_nearer()


def prepare(app: QApplication, window: Window, station: str, page: str) -> None:
    """Set the stage for one picture; whatever is changed is undone after it."""
    if station == "Note":
        window.studio.select("n4")
        window.at("Note").pages.show(page or "Read")
    if station == "Look":
        window.at("Look").pages.show(page or "See")
        window.session.sight.set(plain=True)
    if station == "Mix":
        pages = {"": "Pile", "Photo": "Correct", "Palettes": "Pile"}
        window.at("Mix").pages.show(pages.get(page, page))
        window.at("Mix").see("palettes" if page == "Palettes" else "panel")
        window.session.piles.choose("skin-3" if page != "Correct" else "skin-4")
        if page == "Correct":
            L, a, b = window.session.piles.found()[1].recipe.lab
            window.at("Mix").correct_page.work.take_reading((L + 5.0, a - 2.0, b - 4.0), "reader")
        if page == "Bench":
            push_about(window)
        if page == "Palettes":
            settle(app, window, 90)
            window.session.trying.look_at("four-tube-earth")
        if page == "Photo":
            correct = window.at("Mix").correct_page
            correct.all_from_photo()
            correct.photo_of_all.how.example.click()
            while not correct.photo_of_all.check.seen:
                app.processEvents()
            correct.photo_of_all.check.list.setCurrentRow(0)
    if station == "Block in":
        window.at("Block in").pages.show(page if page and page != "Missing" else "Piles")
        window.at("Block in").see("missing" if page == "Missing" else "block-in")
        if page == "Missing":
            settle(app, window)
            window.session.laid.choose_missed(0)
        elif page:
            settle(app, window)
            window.at("Block in").lay_page.slider.setValue(2)
    if station == "Look" and page == "Light":
        window.at("Look").light_page.lift.setValue(40)
    if station == "Mass":
        window.at("Mass").pages.show(page or "Values")
        settle(app, window)
        mass(window, page)
    if station == "Harmonise":
        window.at("Harmonise").pages.show(page or "Scheme")
        if page == "Ladders":
            window.at("Harmonise").ladders_page.distance.click()
            window.at("Harmonise").ladders_page.sky.click()
        elif not page:
            window.at("Harmonise").see("pulled")
    if station == "Practice":
        practice(app, window, page)
    if station == "Log":
        window.at("Log").pages.show(page or "Pile")
        settle(app, window)
        if not page:
            window.at("Log").take("demo-pile-0013")
    if station == "Paint box":
        paint_box(app, window, page)
    if page == "Frame":
        window.at("Look").frame_page.canvas.setCurrentText("16 × 20 in")
        window.at("Look").frame_page.canvas.activated.emit(0)
        window.at("Look").frame_page.angle.setValue(1.5)
    if page == "Scene":
        window.session.reader.connect_to("", ("--warm-up", "0"))
        settle(app, window)
        window.session.reader.calibrate()
        settle(app, window)
        window.at("Look").spot_clicked(1172, 1046)


def paint_box(app: QApplication, window: Window, page: str) -> None:
    """What each page of the Paint box is shown with."""
    box = window.at("Paint box")
    box.pages.show(page or "Tubes")
    window.session.palettes.take("four-tube-earth" if page in ("Charts", "Calibrate") else "portrait-ten")
    settle(app, window)
    if not page:
        box.tubes_page.search.setText("blue")
        box.tubes_page.choose("cobalt-blue")
    if page == "Palettes":
        box.palettes_page.choose_tube("burnt-sienna")
    if page == "Reach":
        box.reach_page.choose_value(5.0)
        box.reach_page.ask_help()
    if page == "Charts":
        window.studio.select("n4")
        box.charts_page.find_note()
    if page == "Calibrate":
        box.charts_page.refresh()
        settle(app, window)
        chart = box.charts_page.chart
        assert chart is not None
        rng, swatches = np.random.default_rng(7), []
        real = {t.id: perturbed(t, rng) for t in window.session.palettes.chosen().tubes}
        for c in chart.cells:
            lab = layer_lab(*spectra([real[i] for i, _ in c.parts], [n for _, n in c.parts])) + rng.normal(0, 0.7, 3)
            L, a, b = lab.tolist()
            swatches.append(Swatch(c.label, dict(c.parts), (L, a, b)))
        box.calibrate_page.add(swatches)
        box.calibrate_page.fit()


def practice(app: QApplication, window: Window, page: str) -> None:
    """A question, or the results."""
    station, work = window.at("Practice"), window.session.practising
    window.settings.card_seen = True
    work.rng = np.random.default_rng(4)
    settle(app, window)
    if page in ("Today", "Results"):
        station.pages.show(page)
        return
    station.start(page.lower() or "which-way")
    settle(app, window)


def mass(window: Window, page: str) -> None:
    """What each page of Mass is shown with."""
    seen = [(780, 150), (1300, 150), (1300, 560), (1000, 620), (780, 420)]
    if page == "Light":
        window.at("Mass").masses.draw_for("shadow")
        window.at("Mass").drawn("area", [(1250, 250), (1599, 225), (1599, 560), (1450, 500), (1330, 330)])
        window.at("Mass").masses.draw_for("")
    if page == "Plan":
        window.at("Mass").masses.draw_for("focus")
        window.at("Mass").drawn("area", [(float(x), float(y)) for x, y in seen])
        window.at("Mass").masses.draw_for("")
    if page == "Range":
        window.at("Mass").range_page.finish.setCurrentIndex(0)
        window.at("Mass").range_page.finish.activated.emit(0)
        window.at("Mass").range_page.keep.setCurrentIndex(1)
        window.at("Mass").range_page.keep.activated.emit(1)
    if page == "Swap":
        window.at("Mass").swap_page.which.setCurrentIndex(1)
        window.at("Mass").swap_page.refresh()
        window.at("Mass").swap_page.hue.setValue(345)


def save(widget: QWidget, folder: Path, title: str) -> None:
    name = title.lower().replace(", ", "-").replace(" ", "-")
    widget.grab().save(str(folder / f"{name}.png"))
    print(folder / f"{name}.png")


def start(app: QApplication, window: Window, home: Path, folder: Path) -> None:
    """The start page, with work of late."""
    os.environ["HOME"] = str(home)
    pictures = home / "Pictures"
    pictures.mkdir()
    for name, source in (("garden wall.png", "orchard_keeper.png"), ("orchard keeper.ochre", "orchard-keeper.ochre")):
        path = pictures / name
        path.write_bytes(resource("demo", source).read_bytes())
        os.utime(path, (1.77e9, 1.77e9))
        window.settings.remember(path)
    window.start.refresh()
    settle(app, window)
    save(window, folder, "Start")


def main() -> None:
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else Path(__file__).parents[1] / "docs" / "screenshots"
    folder.mkdir(parents=True, exist_ok=True)
    app = make_app(sys.argv[:1])
    theme.apply(app, "middle")
    with tempfile.TemporaryDirectory() as home:
        memory.user_config_path = lambda name: Path(home) / name  # type: ignore[assignment]
        boxfile.user_data_path = lambda name: Path(home) / name  # type: ignore[assignment]
        safecopy.user_state_path = lambda name: Path(home) / name  # type: ignore[assignment]
        window = Window(memory.Settings())
        window.resize(1280, 800)
        window.show()
        if "Start" in (sys.argv[2:] or SHOTS):
            start(app, window, Path(home), folder)
        window.files.open_demo()
        settle(app, window)
        for title in sys.argv[2:] or SHOTS:
            station, _, page = title.partition(", ")
            if station == "Start":
                continue
            window.go_to(station if station != "Easel" else "Mix")
            prepare(app, window, station, page)
            settle(app, window)
            time.sleep(0.3)
            settle(app, window)
            bar = window.statusBar()
            if bar is not None:
                bar.clearMessage()
            easel = window.easel_page
            if station == "Easel":
                window.session.piles.choose("skin-3")
                easel.resize(1280, 800)
                easel.step = 2
            photo = window.at("Mix").correct_page.photo_of_all
            save(easel if station == "Easel" else photo if page == "Photo" else window, folder, title)
            if photo is not None:
                photo.close()
            while window.studio.undo.canUndo():
                window.studio.undo.undo()
            settle(app, window)
        window.session.reader.close()
        window.studio.undo.setClean()
        window.close()


if __name__ == "__main__":
    main()
