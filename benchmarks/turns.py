"""How long the window's main thread is away from its event loop while every station is walked through.

python -m benchmarks.turns [WALK ...]

Each walk is done twice, and of each step's longest turn the shorter is kept: what blocks does so each time, what a busy
machine adds does not. First visits are done once, in a window of a process of its own: what blocks them does so only
then. Beside it, in the same run, what NumPy takes to sort a million numbers.
"""

import gc
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Sequence
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
_home = tempfile.TemporaryDirectory(prefix="ochre-stone-turns-")
for _name in ("HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME"):
    os.environ[_name] = _home.name

import numpy as np  # noqa: E402
from PIL import Image  # noqa: E402
from PyQt6.QtWidgets import QApplication  # noqa: E402

from benchmarks.watchdog import Watchdog  # noqa: E402
from ochre_stone.core.paint.box import OwnPalette, OwnTube, PigmentPart  # noqa: E402
from ochre_stone.core.paint.calibration import TubeCorrection  # noqa: E402
from ochre_stone.core.paint.palettes import palette  # noqa: E402
from ochre_stone.desktop.app import make_app  # noqa: E402
from ochre_stone.desktop.session.settings import Settings  # noqa: E402
from ochre_stone.desktop.widgets import theme  # noqa: E402
from ochre_stone.desktop.window.window import Window  # noqa: E402

Step = Callable[[], object]
FRAME = 50.0
"""Milliseconds that nothing may block the main thread above."""
_QUICK = ("masses", "view", "light", "measure", "turns", "alternatives", "meet", "mix")


class Walk:
    """A window on the demo, and steps through it."""

    passes = 2
    idle_kinds: Sequence[str] = ()
    """Kinds of work that a step waits for; all where none is named."""

    def __init__(self, app: QApplication) -> None:
        self.app, self.window = app, Window(Settings())
        self.window.show()
        self.prepare()
        self.settle()

    def prepare(self) -> None:
        self.window.files.open_demo()

    def steps(self) -> list[Step]:
        raise AssertionError

    def again(self) -> None:
        """Back to where the walk begins."""
        while self.window.studio.undo.canUndo():
            self.window.studio.undo.undo()
        self.settle()

    def idle(self) -> bool:
        studio = self.window.studio
        return not studio.jobs.busy(*self.idle_kinds) and not studio.strings.waiting

    def settle(self) -> None:
        quiet = 0
        while quiet < 5:
            self.app.processEvents()
            quiet = quiet + 1 if self.window.studio.idle else 0
            time.sleep(0.005)

    def longest(self) -> list[float]:
        """Milliseconds of the longest turn of each step."""
        out: list[float] = []
        for _ in range(self.passes):
            found = []
            for step in self.steps():
                gc.collect()  # what the step before left is not this one's
                dog = Watchdog()
                dog.run(step, self.idle)
                found.append(dog.longest)
            out = [min(pair) for pair in zip(out, found, strict=True)] if out else found
            self.again()
        return out

    def close(self) -> None:
        self.window.studio.undo.setClean()
        self.window.close()
        self.window.deleteLater()
        self.app.processEvents()


class FirstVisits(Walk):
    """Everything for the first time, in a window that was opened just now: stations are built, visited while it is
    empty, the demo is opened, and each page is come to."""

    passes = 1

    def prepare(self) -> None:
        pass

    def settle(self) -> None:
        pass

    def again(self) -> None:
        pass

    def idle(self) -> bool:
        return super().idle() and all(s.built for s in self.window.stations)

    def steps(self) -> list[Step]:
        w = self.window
        titles = [s.title for s in w.stations]
        names = {
            "Look": ("See", "Light", "Frame", "Scene"),
            "Note": ("Read", "Beside", "Order"),
            "Mass": ("Values", "Light", "Plan", "Range", "Edges", "Swap"),
            "Harmonise": ("Scheme", "Balance", "Meet", "Ladders"),
            "Mix": ("Pile", "Ways", "Correct", "String", "All", "Plan", "Palette", "Loose", "Bench"),
            "Block in": ("Sheet", "Cautions", "Lay in"),
            "Paint box": ("Tubes", "Palettes", "Reach", "Fewest", "Charts", "Calibrate", "Bench"),
            "Log": ("Pile", "Find", "Left", "Learn", "Keep"),
            "Practice": ("Today", "Drill", "Results"),
        }
        return [
            lambda: None,  # the stations that nobody came to yet are built
            *(lambda t=title: w.go_to(t) for title in titles),
            w.files.open_demo,
            *(lambda t=title, n=name: w.go_to(t, n) for title in titles for name in names[title]),
            w.to_easel_view,
        ]


class LookAndNote(Walk):
    """A twelve-megapixel photo."""

    def prepare(self) -> None:
        self.path = Path(_home.name) / "large.jpg"
        small = np.random.default_rng(0).integers(0, 255, (75, 100, 3)).astype(np.uint8)
        Image.fromarray(small).resize((4000, 3000), Image.Resampling.BICUBIC).save(self.path, quality=90)
        self.window.files.open_demo()  # everything is loaded and drawn once before the watch begins
        self.settle()
        for title in ("Note", "Mass", "Harmonise", "Look"):
            self.window.go_to(title)
            self.settle()
        self.window.studio.undo.setClean()

    def again(self) -> None:
        self.window.studio.undo.setClean()

    def steps(self) -> list[Step]:
        w = self.window
        look, note, sight = w.at("Look"), w.at("Note"), w.session.sight
        return [
            lambda: w.files.open(self.path, asked=True),
            lambda: sight.set(plain=True),
            lambda: w.go_to("Note"),
            note.proposals.ask_whole,
            lambda: note.spot_clicked(2000, 1500),
            lambda: note.aperture.setValue(101),
            lambda: note.drawn("area", [(10, 10), (3900, 10), (3900, 2900), (10, 2900)]),
            lambda: note.drawn("line", [(100, 100), (3000, 2000)]),
            *(lambda p=page: note.pages.show(p) for page in ("Beside", "Order", "Read")),
            lambda: w.go_to("Look"),
            *(lambda p=part: sight.toggle(p) for part in ("value", "squint", "chroma", "mirror", "lost")),
            lambda: look.light_page.stops.setValue(5),
            lambda: look.light_page.lift.setValue(30),
            lambda: look.pages.show("Frame"),
            lambda: look.frame_page.angle.setValue(2.0),
            lambda: w.go_to("Mass"),
            lambda: w.go_to("Harmonise"),
        ]


class MassAndHarmony(Walk):
    """Every page of Mass and Harmonise; masses are refined meanwhile."""

    idle_kinds = _QUICK

    def again(self) -> None:
        super().again()
        harmony, mass = self.window.at("Harmonise"), self.window.at("Mass")
        harmony.see("photo")
        harmony.pages.show("Scheme")
        mass.pages.show("Values")

    def steps(self) -> list[Step]:
        w = self.window
        mass, harmony, scale = w.at("Mass"), w.at("Harmonise"), w.scale
        values, edges, ladders = mass.values_page, mass.edges_page, harmony.ladders_page
        area = [(700.0, 100.0), (1300.0, 100.0), (1300.0, 600.0), (700.0, 600.0)]

        def draw(purpose: str) -> None:
            mass.masses.draw_for(purpose)
            mass.drawn("area", area)
            mass.masses.draw_for("")

        return [
            lambda: w.go_to("Mass"),
            values.counts[7].click,
            lambda: scale.move_to(2, 4.4),
            lambda: values.toggle_lock(2),
            values.best.click,
            lambda: values.outline.setValue(60),
            lambda: values.simplify.setValue(70),
            lambda: draw("focus"),
            lambda: mass.pages.show("Light"),
            lambda: draw("shadow"),
            mass.light_page.apart.click,
            lambda: mass.masses.divide(6.0),
            lambda: mass.pages.show("Plan"),
            lambda: mass.pages.show("Range"),
            *(lambda k=keep: mass.range_page.keep_range(k) for keep in ("lights", "drawn")),
            lambda: mass.pages.show("Edges"),
            lambda: edges.list.setCurrentRow(1),
            edges.kinds["lost"].click,
            lambda: mass.pages.show("Swap"),
            lambda: mass.swap_page.hue.setValue(200),
            lambda: w.go_to("Harmonise"),
            lambda: harmony.scheme_page.amount.setValue(90),
            harmony.next_sight,
            lambda: harmony.scheme_page.turn.setValue(100),
            harmony.next_sight,
            *(lambda p=page: harmony.pages.show(p) for page in ("Balance", "Meet", "Ladders")),
            ladders.distance.click,
            lambda: harmony.balance_page.push.setValue(40),
            lambda: w.go_to("Mass"),
            lambda: w.studio.mass_work.want_fine(True),
        ]


class MixAndBlockIn(Walk):
    """Mix, the view at the easel, Block in."""

    def again(self) -> None:
        super().again()
        self.window.at("Mix").pages.show("Pile")
        self.window.go_to("Look")
        self.settle()

    def steps(self) -> list[Step]:
        w = self.window
        mix, block, piles, studio = w.at("Mix"), w.at("Block in"), w.session.piles, w.studio
        correct = mix.correct_page
        return [
            lambda: w.go_to("Mix"),
            lambda: piles.choose("skin-4"),
            lambda: mix.pages.show("Correct"),
            lambda: correct.work.take_reading((66.0, 14.0, 26.0), "reader"),
            lambda: correct.put_in(1.0),
            lambda: correct.work.take_reading((62.0, 15.0, 29.0), "typed"),
            lambda: mix.pages.show("String"),
            mix.string_page.compare_methods,
            lambda: studio.adjust("mix", "Rule", rules=(("skin-flush", True),)),
            lambda: mix.pages.show("Plan"),
            lambda: piles.choose("cloth-2"),
            lambda: mix.pages.show("Palette"),
            lambda: studio.adjust("canvas", "Palette size", board_width=50.0),
            lambda: mix.pages.show("Loose"),
            lambda: piles.choose("foliage-3"),
            lambda: mix.pages.show("Pile"),
            w.easel_page.forward,
            lambda: w.easel_page.word("too light"),
            w.easel_page.say,
            w.easel_page.forward,
            lambda: w.go_to("Block in"),
            lambda: block.pages.show("Lay in"),
            lambda: studio.adjust("canvas", "Order", laying="large"),
            lambda: block.lay_page.slider.setValue(1),
            lambda: block.pages.show("Sheet"),
        ]


class PaintBox(Walk):
    """Every page of the Paint box, with a palette of calibrated tubes."""

    def own(self) -> None:
        """Every tube of the portrait palette, calibrated, on a palette of one's own."""
        keeper = self.window.session.keeper
        box, ids = keeper.box, []
        for n, t in enumerate(palette("portrait-ten").tubes):
            correction = TubeCorrection(strength=0.02 * n, shift=1.0, words="from 5 swatches")
            ids.append(f"own-{n}")
            box = box.with_tube(
                OwnTube(
                    id=ids[-1],
                    name=f"Mine {n}",
                    parts=(PigmentPart(pigment=t.id),),
                    price=9.0,
                    corrections=(correction,),
                    using=0,
                )
            )
        keeper.change("Fill", box.with_palette(OwnPalette(id="own-ten", name="Mine", paints=tuple(ids))))

    def again(self) -> None:
        super().again()
        w = self.window
        while w.session.keeper.undo.canUndo():
            w.session.keeper.undo.undo()
        w.session.palettes.take("portrait-ten")
        w.at("Paint box").pages.show("Tubes")
        self.settle()

    def steps(self) -> list[Step]:
        w = self.window
        box, palettes = w.at("Paint box"), w.session.palettes
        tubes, charts = box.tubes_page, box.charts_page
        return [
            lambda: w.go_to("Paint box"),
            lambda: tubes.choose("alizarin-crimson"),
            *(lambda t=text: tubes.search.setText(t) for text in ("blue", "")),
            self.own,
            lambda: tubes.which.setCurrentIndex(0),
            tubes.refresh,
            lambda: palettes.take("own-ten"),
            lambda: box.pages.show("Palettes"),
            lambda: box.palettes_page.choose_tube("own-3"),
            lambda: box.palettes_page.move(-1),
            lambda: box.pages.show("Reach"),
            lambda: box.reach_page.choose_value(7.0),
            lambda: w.studio.select("n4"),
            lambda: box.pages.show("Charts"),
            charts.find_note,
            lambda: charts.values.setValue(9),
            lambda: box.pages.show("Calibrate"),
            lambda: box.pages.show("Tubes"),
            box.use_it,
            lambda: w.go_to("Mix"),
            lambda: w.session.piles.choose("skin-2"),
            w.session.keeper.undo.undo,
            lambda: w.go_to("Paint box"),
        ]


class Surround(Walk):
    """Other greys around the colours, where much is shown."""

    def steps(self) -> list[Step]:
        w = self.window
        greys = [lambda n=name: w.set_surround(n) for name in ("dark", "light", "middle")]
        return [step for title in ("Note", "Mass", "Mix", "Paint box") for step in (lambda t=title: w.go_to(t), *greys)]


WALKS = {w.__name__: w for w in (FirstVisits, LookAndNote, MassAndHarmony, MixAndBlockIn, PaintBox, Surround)}


def sorting() -> float:
    """Milliseconds that NumPy takes to sort a million numbers."""
    numbers = np.random.default_rng(0).random(1_000_000)
    start = time.thread_time()
    np.sort(numbers)
    return (time.thread_time() - start) * 1000


def main() -> None:
    if len(sys.argv) < 2:  # first visits in a process of its own
        subprocess.run([sys.executable, "-m", "benchmarks.turns", "FirstVisits"], check=True)
    app = make_app(sys.argv[:1])
    theme.apply(app, "middle")
    unit = min(sorting() for _ in range(5))
    print(f"NumPy sorts a million numbers in {unit:.0f} ms of processor time; longest turns of the main thread:")
    wanted = sys.argv[1:] or list(WALKS)[1:]
    if strange := [name for name in wanted if name not in WALKS]:
        sys.exit(f"'{strange[0]}' is no walk: choose {', '.join(WALKS)}.")
    for name in wanted:
        walk = WALKS[name](app)
        turns = walk.longest()
        worst = int(np.argmax(turns))
        over = sum(t > FRAME for t in turns)
        print(
            f"{name:16s} {len(turns):3d} steps, longest {max(turns):5.1f} ms ({max(turns) / unit:5.2f} of NumPy's "
            f"sort, step {worst + 1}), {over} above {FRAME:.0f} ms"
        )
        if over:
            print("    " + ", ".join(f"step {i + 1}: {t:.0f} ms" for i, t in enumerate(turns) if t > FRAME))
        walk.close()


if __name__ == "__main__":
    main()
