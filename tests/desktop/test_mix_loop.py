"""The event loop stays free while Mix, the easel view and Block in are walked through."""

import gc

import numpy as np

from tests.desktop.helpers import WindowCase
from tests.desktop.watchdog import Watchdog


class Loop(WindowCase):
    def test_no_turn_blocks(self):
        w = self.window
        w.filing.open_demo()
        self.settle()
        mix, block = w.mix, w.block_in
        correct, string = mix.correct_page, mix.string_page
        steps = [
            lambda: w.go_to("Mix"),
            lambda: mix.choose("skin-4"),
            lambda: mix.pages_.show("Correct"),
            lambda: correct.take_reading((66.0, 14.0, 26.0), "reader"),
            lambda: correct.put_in(1.0),
            lambda: correct.take_reading((62.0, 15.0, 29.0), "typed"),
            lambda: mix.pages_.show("String"),
            string.compare_methods,
            lambda: mix.set_mix("Rule", rules=(("skin-flush", True),)),
            lambda: mix.pages_.show("Plan"),
            lambda: mix.choose("cloth-2"),
            lambda: mix.pages_.show("Palette"),
            lambda: mix.set_canvas("Palette size", board_width=50.0),
            lambda: mix.pages_.show("Loose"),
            lambda: mix.choose("foliage-3"),
            lambda: mix.pages_.show("Pile"),
            w.easel_page.forward,
            lambda: w.easel_page.say("too light"),
            w.easel_page.forward,
            lambda: w.go_to("Block in"),
            lambda: block.pages_.show("Lay in"),
            lambda: block.set_canvas("Order", laying="large"),
            lambda: block.lay_page.slider.setValue(1),
            lambda: block.pages_.show("Sheet"),
        ]
        longest: dict[int, float] = dict.fromkeys(range(len(steps)), np.inf)
        for _ in range(2):  # what blocks does so each time; what a busy machine adds, does not
            for i, step in enumerate(steps):
                gc.collect()  # what the step before left is not this one's
                dog = Watchdog()
                dog.run(step, lambda: not w.studio.jobs.busy() and not w.studio._later.isActive())
                longest[i] = min(longest[i], round(dog.longest))
            while w.studio.undo.canUndo():
                w.studio.undo.undo()
            mix.pages_.show("Pile")
            w.go_to("Look")
            self.settle()
        self.assertGreater(sum(longest.values()), 20, "the watch was on")
        self.assertLess(max(longest.values()), 63, f"longest turn of each step in ms: {longest}")
