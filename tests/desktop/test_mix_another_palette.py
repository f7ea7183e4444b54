"""Another palette is chosen while pages of Mix show the strings of the one before."""

import random
import unittest
from unittest import mock

from PyQt6.QtWidgets import QAbstractButton, QComboBox, QDialog, QFileDialog, QInputDialog, QMessageBox

from ochre_stone.core.paint.palettes import PALETTES
from ochre_stone.core.planning.rows import DARKS_ARE_DEEPER, is_current, palette_print
from ochre_stone.core.store.files import save
from tests.desktop.helpers import WindowCase
from tests.desktop.test_log import LogCase


class OlderPaint(WindowCase):
    def test_a_project_of_before_the_darks_were_mended_is_planned_anew_and_says_so(self) -> None:
        self.open_small()
        document, told = self.window.studio.document, []
        there = document.mixed.fingerprint.partition("-")[2]
        mixed = document.mixed.model_copy(update={"fingerprint": f"{palette_print(document, 1)}-{there}"})
        path = self.folder / "old.ochre"
        save(path, document.model_copy(update={"mixed": mixed}), self.window.studio.picture)
        self.window.studio.told.connect(told.append)
        self.addCleanup(self.window.studio.told.disconnect, told.append)
        self.open(path)
        self.settle()
        self.assertIn(DARKS_ARE_DEEPER, told)
        self.assertTrue(is_current(self.window.studio.document))
        told.clear()
        self.open_small()
        self.assertNotIn(DARKS_ARE_DEEPER, told)


class AnotherPalette(LogCase):
    def test_nothing_is_mixed_from_both(self) -> None:
        for where, what, answer in (
            (QInputDialog, "getText", ("", False)), (QFileDialog, "getOpenFileName", ("", "")),
            (QFileDialog, "getSaveFileName", ("", "")), (QDialog, "exec", 0), (QMessageBox, "exec", 0),
        ):  # fmt: skip
            self.enterContext(mock.patch.object(where, what, return_value=answer))
        for seed in range(2):
            rng = random.Random(seed)
            for _ in range(40):
                act = rng.random()
                if act < 0.3:
                    self.window.studio.adjust("mix", "Palette", palette=rng.choice(list(PALETTES)), laid=None)
                elif act < 0.6:
                    self.window.go_to("Mix", rng.choice(list(self.mix.refreshers)))
                elif act < 0.8:
                    self.press(rng)
                else:
                    self.piles.choose(rng.choice([*self.piles.names(), ""]))
                found, there = self.piles.found(), {t.id for t in self.window.studio.document.mix.chosen().tubes}
                if found is not None:
                    self.assertLessEqual({i for i, _ in found[1].recipe.shares}, there)
                for _ in range(rng.choice((0, 1, 60))):
                    self.app.processEvents()
            self.settle()
            self.assertEqual(self._slots, [])
            self.assertNotIn("KeyError", self.window.last_told)

    def press(self, rng: random.Random) -> None:
        """Some control of the page that is shown; none that asks for a file."""
        parts = self.mix.tray.widget.findChildren(QAbstractButton) + self.mix.tray.widget.findChildren(QComboBox)
        usable = [w for w in parts if w.isVisible() and w.isEnabled() and not getattr(w, "text", str)().endswith("…")]
        if usable:
            one = rng.choice(usable)
            if isinstance(one, QComboBox):
                one.setCurrentIndex(rng.randrange(max(one.count(), 1)))
                one.activated.emit(one.currentIndex())
            elif one.text() != "Easel":
                one.click()

    def test_loose_says_that_it_is_worked_out_and_shows_no_other_pile_meanwhile(self) -> None:
        self.window.go_to("Mix", "Loose")
        self.piles.choose("skin-3")
        self.settle()
        page = self.mix.loose_page
        self.assertTrue(page.view.isVisible())
        self.piles.choose("sky-1")
        self.assertRegex(page.recipe.text(), "Parents of sky overhead .*being worked out")
        self.assertFalse(page.view.isVisible() or page.coats.isVisible() or page.parents[0].isVisible())
        self.assertEqual(page.glaze.text(), "")
        self.settle()
        self.assertTrue(page.view.isVisible() and page.parents[0].isVisible())


if __name__ == "__main__":
    unittest.main()
