"""Calibration by file, photo and single swatches, and what Mix makes of own tubes, by mouse and keys."""

from dataclasses import replace
from unittest import mock

import numpy as np
from PIL import Image
from PyQt6.QtWidgets import QFileDialog

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import as_lab
from ochre_stone.core.paint.box import OwnTube, PigmentPart
from ochre_stone.core.paint.calibrate import Swatch
from ochre_stone.core.paint.chartpage import pages
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.predict import spectra
from ochre_stone.core.picture.load import load
from ochre_stone.core.picture.picture import lab_to_linear, linear_to_code
from ochre_stone.desktop.easel.tools import tool_named
from tests.desktop.test_paint_box import BoxCase
from tests.support.drawn import perturbed


class Calibration(BoxCase):
    def swatches(self, chart, noise=0.6):
        rng = np.random.default_rng(4)
        real = {t.id: perturbed(t, rng) for t in self.window.session.palettes.chosen().tubes}
        out = []
        for c in chart.cells:
            lab = layer_lab(*spectra([real[i] for i, _ in c.parts], [n for _, n in c.parts])) + rng.normal(0, noise, 3)
            out.append(Swatch(c.label, dict(c.parts), as_lab(lab)))
        return out

    def earth_chart(self):
        self.window.session.palettes.take("four-tube-earth")
        return self.page("Charts").chart

    def test_from_a_file_to_strings(self):
        self.small()
        chart = self.earth_chart()
        page = self.page("Calibrate")
        swatches = self.swatches(chart)
        swatches[7] = replace(swatches[7], lab=swatches[30].lab)
        file = self.folder / "measured.csv"
        lines = [f"{s.label},{s.lab[0]:.3f},{s.lab[1]:.3f},{s.lab[2]:.3f}" for s in swatches]
        file.write_text("\n".join(["label,lab_l,lab_a,lab_b", *lines]))
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(file), "")):
            self.click(page.file)
        self.assertEqual(len(page.swatches), len(swatches))
        self.click(page.fit_button)
        self.wait(lambda: page.found is not None, 60)
        self.assertLess(page.found.after, page.found.before / 2)
        self.assertIn(swatches[7].label, page.result.text())
        self.click(page.keep_button)
        self.settle()
        own = self.keeper.box.tubes
        self.assertEqual(len(own), 4)
        self.assertTrue(all(t.using == 0 for t in own))
        self.assertEqual(self.window.session.palettes.chosen().name, "My four-tube earth")
        self.click(self.station.use)
        self.assertEqual(self.studio.document.mix.laid.palette.id, self.window.session.palettes.in_hand)
        self.window.go_to("Mix")
        self.settle()
        self.assertTrue(self.studio.strings.ready())
        self.assertIn("your own calibrated tubes", self.window.at("Mix").pile_page.trust.text())
        path = self.folder / "mine.ochre"
        self.assertEqual(self.studio.files.save(path), "")
        # Versions: back to the generic figures, and the picture may follow.
        self.window.go_to("Paint box")
        tubes = self.page("Tubes")
        tubes.which.setCurrentIndex(0)
        tubes.refresh()
        tubes.choose(own[1].id)
        self.assertEqual(tubes.figures.count(), 2)
        tubes.figures.setCurrentIndex(0)
        tubes.figures.activated.emit(0)
        self.assertEqual(self.keeper.box.tubes[1].using, -1)
        self.window.go_to("Mix")
        self.assertTrue(self.window.at("Mix").renew.isVisible())
        self.click(self.window.at("Mix").renew)
        self.assertFalse(self.window.at("Mix").renew.isVisible())
        self.assertEqual(self.studio.document.mix.laid.tubes[1].using, -1)

    def test_a_project_opens_where_the_box_is_not(self):
        self.small()
        tube = OwnTube(id="own-blue", name="Far blue", parts=(PigmentPart(pigment="ultramarine-blue"),))
        self.keeper.change("Add", self.keeper.box.with_tube(tube))
        self.window.session.palettes.take("four-tube-earth")
        page = self.page("Palettes")
        page.copy_as("With blue")
        page.lay_on("own-blue")
        self.station.use_it()
        path = self.folder / "there.ochre"
        self.assertEqual(self.studio.files.save(path), "")
        self.keeper.change("Empty", type(self.keeper.box)())
        self.window.files.open(path, asked=True)
        self.settle()
        self.assertEqual(self.studio.document.mix.chosen().tube("own-blue").name, "Far blue")
        self.window.go_to("Mix")
        self.settle()
        self.assertIn("this picture's", self.window.at("Mix").palette_box.currentText())
        self.assertTrue(self.studio.document.mixed.strings)
        self.window.go_to("Block in", "Sheet")
        self.settle()
        self.assertTrue(self.window.at("Block in").sheet_page.pdf)
        self.window.go_to("Paint box")
        self.page("Palettes").copy_as("Brought along")
        self.assertEqual([t.name for t in self.keeper.box.tubes], ["Far blue"])

    def test_swatch_by_swatch(self):
        self.earth_chart()
        page = self.page("Calibrate")
        page.mixture.setText("b4")
        page.colour.setText("lab 60 30 12")
        self.click(page.add_button)
        page.mixture.setText("ivory-black:1 titanium-white:5")
        page.colour.setText("#808080")
        self.click(page.add_button)
        self.assertEqual([s.label for s in page.swatches], ["B4", "ivory-black:1 titanium-white:5"])
        for mixture, colour, words in (
            ("viridian:1", "#808080", "no tube of this palette"),
            ("ivory-black:0", "#808080", "above 0"),
            ("", "#808080", "mixed of"),
            ("B4", "nothing", "not a colour"),
        ):
            page.mixture.setText(mixture)
            page.colour.setText(colour)
            page.add_typed()
            self.assertIn(words, self.window.last_told)
        page.mixture.setText("B4")
        page.add_note()
        self.assertIn("note", self.window.last_told)
        self.assertEqual(len(page.swatches), 2)
        self.window.session.palettes.take("prismatic")
        self.assertEqual(page.swatches, [])
        self.window.session.palettes.take("four-tube-earth")
        self.assertEqual(len(page.swatches), 2, "what was gathered for a palette is not lost by a look at another")
        self.click(page.clear_button)
        self.assertEqual(page.swatches, [])

    def test_from_a_photo(self):
        chart = self.earth_chart()
        page = self.page("Calibrate")
        sheet, scale = np.full((297 * 4, 210 * 4, 3), 0.75), 4
        dialog_page = pages(chart)[0]
        for c, box in dialog_page.cells:
            y, x = int(box.y * scale), int(box.x * scale)
            sheet[y : y + int(box.height * scale), x : x + int(box.width * scale)] = lab_to_linear(np.array(c.lab))
        sheet[20:90, 20:120] = 0.18
        light = np.array([0.85, 0.8, 0.6])
        file = self.folder / "painted.png"
        Image.fromarray(linear_to_code(np.clip(sheet * light, 0, 1))).save(file)
        dialog = page.dialog(load(file))
        dialog.show()
        self.addCleanup(dialog.close)
        self.assertFalse(dialog.done_button.isEnabled())
        for x, y in reversed(dialog_page.corners):
            self.click(dialog.easel, dialog.easel.to_widget(x * scale, y * scale))
        self.assertFalse(dialog.done_button.isEnabled())
        self.assertIn("going round", dialog.says.text())
        for x, y in dialog_page.corners:
            self.click(dialog.easel, dialog.easel.to_widget(x * scale, y * scale))
        self.assertTrue(dialog.done_button.isEnabled())
        self.click(dialog.card)
        self.assertEqual(dialog.easel.tool, tool_named("card", 21))
        self.click(dialog.easel, dialog.easel.to_widget(70, 55))
        self.assertIn("grey card", dialog.says.text())
        self.click(dialog.done_button)
        self.wait(lambda: bool(dialog.swatches))
        cells = {c.label: c for c in chart.cells}
        off = [float(ciede2000(s.lab, cells[s.label].lab)) for s in dialog.swatches]
        self.assertLess(np.median(off), 1.2)
        self.assertGreater(len(off), 50)


class OtherWays(BoxCase):
    def test_mix_offers_the_best_of_each_kind(self):
        self.small()
        self.window.go_to("Mix")
        self.settle()
        mix = self.window.at("Mix")
        mix.pages.show("Ways")
        self.settle()
        texts = [mix.ways_page.others.item(i).text() for i in range(mix.ways_page.others.count())]
        self.assertTrue(
            any(
                t.startswith(("Nothing that hurts", "Without black", "Fewest", "Least white", "Steadiest"))
                for t in texts
            ),
            texts,
        )
        kinds = [r.kind for r in mix.ways_page.other_ways(self.window.session.piles.found()[1])]
        self.assertTrue(any(kinds))
        pile = next(
            p
            for s in self.studio.document.mixed.strings
            for p in s.piles
            if not any(i.id == p.id for q in s.piles for i in q.recipe.ingredients)
        )
        self.window.session.piles.choose(pile.id)
        self.settle()
        wanted = mix.ways_page.other_ways(self.window.session.piles.found()[1])[0]
        mix.ways_page.others.setCurrentRow(0)
        self.click(mix.ways_page.take)
        self.assertEqual(self.window.session.piles.found()[1].recipe.ingredients, wanted.ingredients)
        used = {t.id for p in self.window.session.piles.found()[0].piles for t in p.recipe.bases}
        self.assertEqual(used, {t.id for t in self.window.session.piles.found()[0].bases})

    def test_the_order_of_judging_and_the_way_to_reach(self):
        self.small()
        self.window.go_to("Mix")
        self.settle()
        mix = self.window.at("Mix")
        mix.all_page.order.setCurrentIndex(mix.all_page.order.findData("even"))
        mix.all_page.order.activated.emit(mix.all_page.order.currentIndex())
        self.assertEqual(self.studio.document.mix.order, "even")
        self.assertFalse(self.studio.strings.ready())
        self.settle()
        self.assertTrue(self.studio.strings.ready())
        self.click(mix.reach)
        self.assertIs(self.window.station, self.station)
        self.assertEqual(self.station.pages.here, "Reach")
