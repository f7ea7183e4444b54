"""Roles on a palette, what adding a tube does, substitutes."""

import unittest

import numpy as np

from ochre_stone.core.advice.roles import FOUR, Effect, answers, effects, middle, roles
from ochre_stone.core.colour.munsell import hue_value_chroma
from ochre_stone.core.colour.spaces import lch
from ochre_stone.core.paint.cautions import hazards, is_safe, lasts, substitutes, tube_cautions
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.palettes import PALETTES, Palette, palette
from ochre_stone.core.paint.tubes import all_tubes, tube


class Roles(unittest.TestCase):
    def of(self, *ids):
        return {r.tube.id: r for r in roles(Palette("x", "x", "", ids).tubes)}

    def test_the_same_red_is_a_light_beside_umber_and_a_dark_beside_white(self):
        self.assertTrue(self.of("cadmium-red", "burnt-umber")["cadmium-red"].light)
        self.assertFalse(self.of("cadmium-red", "titanium-white")["cadmium-red"].light)

    def test_four_kinds_on_the_earth_palette(self):
        found = {r.tube.id: r.words for r in roles(palette("four-tube-earth").tubes)}
        self.assertEqual(
            found,
            {
                "titanium-white": "light, cool",
                "yellow-ochre": "light, warm",
                "cadmium-red": "dark, warm",
                "ivory-black": "dark, cool",
            },
        )

    def test_both_schools_of_warm_blues(self):
        ids = ("ultramarine-blue", "cobalt-blue", "cerulean-blue", "phthalo-blue-green-shade")
        blues = Palette("x", "x", "", ids).tubes
        red = {r.tube.id: r.warmth for r in roles(blues, "leans-red")}
        yellow = {r.tube.id: r.warmth for r in roles(blues, "near-yellow")}
        self.assertGreater(red["ultramarine-blue"], red["cerulean-blue"])
        self.assertLess(yellow["ultramarine-blue"], yellow["cerulean-blue"])

    def test_what_painters_say_of_tubes_on_palettes_of_four_to_fourteen(self):
        """Common practice, no source. Drawn at random; white is always there."""
        said = {
            "titanium-white": "light, cool", "yellow-ochre": "light, warm", "cadmium-yellow-medium": "light, warm",
            "cadmium-yellow-deep": "light, warm", "naples-yellow": "light, warm", "cadmium-orange": "light, warm",
            "cadmium-red": "dark, warm", "transparent-red-oxide": "dark, warm", "burnt-sienna": "dark, warm",
            "venetian-red": "dark, warm", "burnt-umber": "dark, warm", "alizarin-crimson": "dark, warm",
            "ultramarine-blue": "dark, cool", "phthalo-blue-green-shade": "dark, cool", "viridian": "dark, cool",
            "prussian-blue": "dark, cool", "ivory-black": "dark, cool", "phthalo-green-blue-shade": "dark, cool",
        }  # fmt: skip
        rng = np.random.default_rng(16)
        names = [i for i in said if i != "titanium-white"]
        for count in range(4, 15):
            for _ in range(12):
                ids = ("titanium-white", *rng.choice(names, count - 1, replace=False))
                for tube_id, role in self.of(*ids).items():
                    self.assertEqual(role.words, said[tube_id], (tube_id, ids))

    def test_every_palette_has_lights_and_darks(self):
        for p in PALETTES.values():
            found = roles(p.tubes)
            self.assertTrue(any(r.light for r in found) and any(not r.light for r in found), p.id)


class Effects(unittest.TestCase):
    def ways(self, base):
        t = tube(base)
        found = answers(t.K, t.S, palette("portrait-ten").tubes)
        return {k: [e.tube.id for e in v] for k, v in found.ways.items()}

    def test_what_lightens_and_warms_a_dark_earth(self):
        self.assertIn("yellow-ochre", self.ways("burnt-sienna")["lightens and warms"])
        self.assertIn("ultramarine-blue", self.ways("burnt-sienna")["darkens and cools"])

    def test_lightening_is_answered_on_every_shipped_palette_and_no_tube_is_missing(self):
        for p in PALETTES.values():
            found = answers(*middle(p.tubes), p.tubes)
            self.assertTrue(found.ways["lightens and warms"] and found.ways["lightens and cools"], p.id)
            said = [e.tube.id for way in (*found.ways.values(), found.rest) for e in way if not e.tint]
            self.assertEqual(sorted(said), sorted(p.paints), p.id)
            for kind in FOUR:
                self.assertTrue(all(e.kind == kind for e in found.ways[kind]))
            white = next(e for e in found.tubes if e.tube.is_white)
            self.assertIn("lightens", white.words, p.id)

    def test_all_four_are_answered_on_all_palettes_and_roles_agree(self):
        for p in PALETTES.values():
            found = answers(*middle(p.tubes), p.tubes)
            self.assertTrue(all(found.ways.values()), (p.id, [k for k, v in found.ways.items() if not v]))
            warm = {r.tube.id for r in roles(p.tubes) if r.warm}
            for kind, way in found.ways.items():
                if kind.endswith(
                    "warms"
                ):  # what is drawn at the warm side is not said to cool, nor the other way round
                    self.assertLessEqual({e.tube.id for e in way if not e.tint}, warm, (p.id, kind))
        rose = {
            e.tube.id: e.words
            for e in answers(*middle(palette("three-primaries").tubes), palette("three-primaries").tubes).tubes
        }
        self.assertIn("darkens, warms", rose["quinacridone-rose"])

    def test_the_colour_asked_about_is_a_warm_halftone(self):
        for p in PALETTES.values():
            _, value, chroma, _ = hue_value_chroma(layer_lab(*middle(p.tubes)))
            self.assertAlmostEqual(float(value), 5.0, delta=0.05)
            self.assertTrue(4.0 < float(chroma) < 8.0, (p.id, chroma))

    def test_a_white_or_black_never_warms(self):
        """They take the strength of a cool colour: nobody calls that warming."""
        for base in ("phthalo-blue-green-shade", "ultramarine-blue", "viridian", "cerulean-blue", "burnt-sienna"):
            t = tube(base)
            for e in effects(t.K, t.S, [tube("titanium-white"), tube("ivory-black")]):
                self.assertLessEqual(e.warmth, 0.0, (base, e.tube.id))
                self.assertNotIn("warms", e.words)

    def test_white_cools_a_dark_earth_as_its_tint_shows(self):
        for base in ("transparent-red-oxide", "burnt-sienna", "alizarin-crimson", "raw-umber"):
            t = tube(base)
            self.assertEqual(effects(t.K, t.S, [tube("titanium-white")])[0].kind, "lightens and cools", base)

    def test_where_no_tube_does_it_a_tint_may(self):
        three = palette("underpainting-three").tubes
        found = answers(*middle(three), three)
        self.assertEqual([e.name for e in found.ways["lightens and warms"]], ["a tint of red oxide"])
        white = tube("titanium-white")
        self.assertEqual(answers(white.K, white.S, [tube("ivory-black")]).ways["lightens and warms"], [])

    def test_white_lightens_and_cools_a_light_red(self):
        found = {e.tube.id: e for e in effects(tube("cadmium-red").K, tube("cadmium-red").S, [tube("titanium-white")])}
        white = found["titanium-white"]
        self.assertGreater(white.value, 0)
        self.assertLess(white.warmth, 0)
        self.assertIn("lightens, cools", white.words)

    def test_greys_have_no_hue_to_turn(self):
        """White and black make a grey; whatever is added to it turns no hue, and from a colour to a grey neither."""
        white, black, ochre = tube("titanium-white"), tube("ivory-black"), tube("yellow-ochre")
        grey_k, grey_s = 20 * white.K + black.K, 20 * white.S + black.S
        lab = layer_lab(grey_k, grey_s)
        self.assertLess(float(hue_value_chroma(lab)[2]), 0.75)
        for e in effects(grey_k / 21, grey_s / 21, palette("portrait-ten").tubes):
            self.assertEqual(e.hue, 0.0, e.tube.id)
        turned = effects(ochre.K, ochre.S, [tube("cadmium-red"), tube("viridian")])
        by_id = {e.tube.id: e.hue for e in turned}
        before = float(lch(layer_lab(ochre.K, ochre.S))[2])
        for e in turned:
            self.assertEqual(np.sign(e.hue), np.sign((float(lch(e.lab)[2]) - before + 180) % 360 - 180))
        self.assertTrue(by_id["cadmium-red"] < -3 and by_id["viridian"] > 3, by_id)

    def test_words_and_kinds_by_what_is_clear(self):
        white = tube("titanium-white")

        def effect(value=0.0, warmth=0.0, chroma=0.0):
            return Effect(white, value, warmth, chroma, 0.0, (50.0, 0.0, 0.0))

        for made, words, kind in (
            (effect(0.06, 0.1, 0.2), "lightens, warms, strengthens", "lightens and warms"),
            (effect(-0.06, -0.1, -0.2), "darkens, cools, dulls", "darkens and cools"),
            (effect(0.05, 0.3), "warms", ""),
            (effect(0.3, 0.09), "lightens", ""),
            (effect(0.0, 0.0, 0.19), "hardly changes it", ""),
            (effect(0.1, -0.1), "lightens, cools", "lightens and cools"),
        ):
            self.assertEqual((made.words, made.kind), (words, kind))

    def test_black_never_lightens(self):
        for base in ("yellow-ochre", "cadmium-red-light", "titanium-white"):
            t = tube(base)
            self.assertLess(effects(t.K, t.S, [tube("ivory-black")])[0].value, 0)


class Cautions(unittest.TestCase):
    def test_substitutes_are_safe_and_lasting(self):
        for t in all_tubes().values():
            for s in substitutes(t, 2):
                self.assertTrue(is_safe(s.tube), (t.id, s.tube.id))
                self.assertNotEqual(s.tube.id, t.id)
                self.assertGreater(s.parts, 0)

    def test_what_painters_take_instead(self):
        names = {
            t: [s.tube.id for s in substitutes(tube(t), 3)]
            for t in ("cadmium-red", "alizarin-crimson", "cerulean-blue", "lead-white", "strontium-yellow")
        }
        self.assertIn("pyrrole-red", names["cadmium-red"])
        self.assertIn("pyrrole-rubine", names["alizarin-crimson"])
        self.assertIn("phthalo-blue-green-shade", names["cerulean-blue"])
        self.assertEqual(set(names["lead-white"]), {"titanium-white", "zinc-white"})
        self.assertEqual(names["strontium-yellow"][0], "bismuth-yellow")

    def test_convenience_tubes_keep_the_hazards_of_their_pigments(self):
        self.assertEqual(hazards(tube("sap-green")), ["nickel"])
        self.assertIn("Nickel", tube_cautions(tube("sap-green"))[0])
        self.assertFalse(lasts(tube("vermilion")))
