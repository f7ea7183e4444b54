"""The event loop stays free while the Paint box is walked through with a palette of calibrated tubes."""

import gc

import numpy as np

from ochre_stone.core.paint.box import OwnPalette, OwnTube, Part
from ochre_stone.core.paint.calibration import Correction
from ochre_stone.core.paint.palettes import palette
from tests.desktop.helpers import WindowCase
from tests.desktop.watchdog import Watchdog


class Loop(WindowCase):
    def own(self):
        """Every tube of the portrait palette, calibrated, on a palette of one's own."""
        keeper = self.window.keeper
        box = keeper.box
        ids = []
        for n, t in enumerate(palette("portrait-ten").tubes):
            correction = Correction(strength=0.02 * n, shift=1.0, words="from 5 swatches")
            ids.append(f"own-{n}")
            box = box.with_tube(OwnTube(id=ids[-1], name=f"Mine {n}", parts=(Part(pigment=t.id),), price=9.0,
                                        corrections=(correction,), using=0))  # fmt: skip
        keeper.change("Fill", box.with_palette(OwnPalette(id="own-ten", name="Mine", paints=tuple(ids))))

    def test_no_turn_blocks(self):
        w = self.window
        w.filing.open_demo()
        self.settle()
        box = w.paint_box
        tubes, palettes, reach, charts = box.tubes_page, box.palettes_page, box.reach_page, box.charts_page
        steps = [
            lambda: w.go_to("Paint box"),
            lambda: tubes.choose("alizarin-crimson"),
            lambda: tubes.search.setText("blue"),
            lambda: tubes.search.setText(""),
            self.own,
            lambda: tubes.which.setCurrentIndex(0),
            tubes.refresh,
            lambda: box.take_palette("own-ten"),
            lambda: box.pages_.show("Palettes"),
            lambda: palettes.choose_tube("own-3"),
            lambda: palettes.move(-1),
            lambda: box.pages_.show("Reach"),
            lambda: reach.choose_value(7.0),
            lambda: w.studio.select("n4"),
            lambda: box.pages_.show("Charts"),
            charts.find_note,
            lambda: charts.values.setValue(9),
            lambda: box.pages_.show("Calibrate"),
            lambda: box.pages_.show("Tubes"),
            box.use_it,
            lambda: w.go_to("Mix"),
            lambda: w.mix.choose("skin-2"),
            lambda: w.keeper.undo.undo(),
            lambda: w.go_to("Paint box"),
        ]
        longest: dict[int, float] = dict.fromkeys(range(len(steps)), np.inf)
        for _ in range(2):  # what blocks does so each time; what a busy machine adds, does not
            for i, step in enumerate(steps):
                gc.collect()  # what the step before left is not this one's
                dog = Watchdog()
                dog.run(step, lambda: not w.studio.jobs.busy() and not w.studio._later.isActive())
                longest[i] = min(longest[i], round(dog.longest))
            while w.keeper.undo.canUndo():
                w.keeper.undo.undo()
            box.take_palette("portrait-ten")
            box.pages_.show("Tubes")
            self.settle()
        self.assertGreater(sum(longest.values()), 20, "the watch was on")
        self.assertLess(max(longest.values()), 63, f"longest turn of each step in ms: {longest}")
