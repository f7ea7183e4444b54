"""Kubelka-Munk and Saunderson against worked values and an independent calculation; the fit's own figures.

Sources: Kubelka and Munk 1931, Z. Tech. Phys. 12 (R = 0.5 gives K/S = 0.25, R = 0.1 gives 4.05, as in any handbook of
colour technology); Saunderson 1942, J. Opt. Soc. Am. 32; CIE 015:2018 for the colorimetry, through colour-science.
"""

import json
import re
import unittest
from pathlib import Path

import colour
import numpy as np
from colour.notation.datasets.munsell import MUNSELL_COLOURS_REAL

from ochre_stone.core.colour import spaces
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import HUE_NAMES, hue_value_chroma
from ochre_stone.core.paint import optics
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.predict import predict
from ochre_stone.core.paint.tubes import all_tubes, tube
from ochre_stone.resources import resource
from tests.support.made import find_recipes
from tools.pigments import model, oxides

D65 = colour.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D65"]


class WorkedValues(unittest.TestCase):
    def test_absorption_ratio(self):
        self.assertAlmostEqual(float(optics.absorption_ratio(0.5)), 0.25, places=12)
        self.assertAlmostEqual(float(optics.absorption_ratio(0.1)), 4.05, places=12)
        self.assertAlmostEqual(float(optics.absorption_ratio(1.0)), 0.0, places=12)

    def test_reflectance_is_the_inverse(self):
        r = np.linspace(0.01, 0.99, 50)
        np.testing.assert_allclose(optics.infinite_reflectance(optics.absorption_ratio(r), 1.0), r, atol=1e-10)

    def test_saunderson_equation(self):
        # R_m = k1 + (1 - k1)(1 - k2) R / (1 - k2 R) with k1 = .04, k2 = .60 and R = .5, specular included.
        full = optics.Surface(0.04, 0.60, 1.0)
        self.assertAlmostEqual(float(optics.seen_through_surface(0.5, full)), 0.04 + 0.96 * 0.4 * 0.5 / 0.7, places=12)
        self.assertAlmostEqual(float(optics.seen_through_surface(1.0, full)), 1.0, places=12)
        for g in (0.0, 0.35, 1.0):
            surface = optics.Surface(0.04, 0.6, g)
            r = np.linspace(0.02, 0.95, 20)
            np.testing.assert_allclose(
                optics.below_surface(optics.seen_through_surface(r, surface), surface), r, atol=1e-12
            )

    def test_mixture_adds_k_and_s_by_volume(self):
        K, S = np.array([[1.0, 2.0], [3.0, 0.0]]), np.array([[1.0, 1.0], [0.5, 0.5]])
        k, s = optics.mixture([3.0, 1.0], K, S)
        np.testing.assert_allclose(k, [1.5, 1.5])
        np.testing.assert_allclose(s, [0.875, 0.875])


class WholeChain(unittest.TestCase):
    def reference(self, parts: dict[str, float]) -> np.ndarray:
        """Lab of a mixture from the shipped K and S by plain loops and colour-science."""
        total = sum(parts.values())
        K = sum(np.array(tube(i).K) * p / total for i, p in parts.items())
        S = sum(np.array(tube(i).S) * p / total for i, p in parts.items())
        values = {}
        for nm, k, s in zip(range(380, 731, 10), K, S, strict=True):
            r = 1 + k / s - ((k / s) ** 2 + 2 * k / s) ** 0.5
            values[nm] = 0.05 * 0.04 + 0.96 * 0.4 * r / (1 - 0.6 * r)
        sd = colour.SpectralDistribution(values)
        light = colour.SDS_ILLUMINANTS["D65"]
        observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"]
        xyz = colour.sd_to_XYZ(sd, observer, light, method="Integration") / 100
        return colour.XYZ_to_Lab(xyz, colour.XYZ_to_xy(colour.sd_to_XYZ(light, observer)))

    def test_predictions_against_an_independent_calculation(self):
        rng = np.random.default_rng(8)
        ids = list(all_tubes())
        for _ in range(25):
            chosen = rng.choice(ids, 4, replace=False)
            parts = {str(i): float(p) for i, p in zip(chosen, rng.integers(1, 9, 4), strict=True)}
            gap = float(ciede2000(predict(parts).lab, self.reference(parts)))
            self.assertLess(gap, 0.15, parts)  # 10 nm bands folded by spline against the library's interpolation


class Darks(unittest.TestCase):
    """How deep and how strong paint is, wet or varnished, against the chips of the Munsell book: those that exist, as
    colour-science carries them (Newhall, Nickerson and Judd 1943, "real"); the neutrals of the glossy book from memory.
    """

    def test_no_film_is_blacker_than_the_glossy_neutrals(self):
        """The glossy scale of neutrals ends at N 0.5 (from memory); a bought black stands at 1 to 1.3."""
        values = {i: float(hue_value_chroma(np.array(t.lab))[1]) for i, t in all_tubes().items()}
        self.assertGreater(min(values.values()), 0.45, min(values, key=lambda i: values[i]))
        self.assertTrue(1.0 <= values["ivory-black"] <= 1.3, values["ivory-black"])

    def test_no_mass_tone_is_stronger_than_a_chip(self):
        chips = np.array([(*self.place(hue), value, chroma) for (hue, value, chroma), _ in MUNSELL_COLOURS_REAL])
        for t in all_tubes().values():
            hue, value, chroma, _ = (float(x) for x in hue_value_chroma(np.array(t.lab)))
            near = chips[np.abs((chips[:, 0] - hue + 50) % 100 - 50) <= 2.6]
            steps = np.unique(near[:, 1])
            most = np.interp(value, steps, [near[near[:, 1] == v, 2].max() for v in steps])
            self.assertLess(chroma, most, t.id)

    @staticmethod
    def place(hue: str) -> tuple[float]:
        number, family = re.fullmatch(r"([\d.]+)([A-Z]+)", hue).groups()
        return (10.0 * HUE_NAMES.index(family) + float(number),)

    def test_dark_patches_of_the_chart_are_mixed(self):
        """The dark patches of the 24-patch chart, published averages, through colour-science."""
        chart = colour.CCS_COLOURCHECKERS["BabelColor Average"]
        whites, tubes = chart.illuminant, palette("portrait-ten").tubes
        for name in ("dark skin", "foliage", "purple", "blue", "black 2 (1.5 D)", "neutral 3.5 (1.05 D)"):
            xyz = colour.xyY_to_XYZ(chart.data[name])
            lab = spaces.xyz_to_lab(colour.chromatic_adaptation(xyz, colour.xy_to_XYZ(whites), colour.xy_to_XYZ(D65)))
            self.assertLess(find_recipes(lab, list(tubes), 4, 1)[1][0].de00, 2.5, name)


class Fit(unittest.TestCase):
    def setUp(self) -> None:
        self.data = json.loads(resource("paint", "pigments.json").read_text())

    def singles(self) -> list[dict]:
        return [p for p in self.data["paints"] if "parts" not in p]

    def test_fit_to_anchors(self):
        gaps = [d for p in self.singles() if not p["id"].endswith("-white") for _, d in p["fit_de00"]]
        self.assertGreaterEqual(len(gaps), 140)
        self.assertLessEqual(np.mean(gaps), 2.0)
        self.assertLessEqual(np.quantile(gaps, 0.9), 3.8)

    def test_stated_errors_are_true(self):
        """Recompute a mass tone and a tint from K and S: the errors in the file must be those of the data in it."""
        white = tube("titanium-white")
        for p in self.singles():
            for anchor, (_, stated) in zip(p["anchors"], p["fit_de00"], strict=True):
                if len(anchor) > 4:
                    continue
                parts = anchor[0] * p["density"] / white.density
                seen = optics.Surface(g=p.get("gloss", optics.ANCHORS.g))
                lab = optics.layer_lab(np.array(p["k"]) + parts * white.K, np.array(p["s"]) + parts * white.S, seen)
                self.assertAlmostEqual(float(ciede2000(lab, anchor[1:4])), stated, delta=0.02, msg=p["id"])

    def test_white_is_white(self):
        # Titanium white in oil: L* about 97, nearly neutral, a little yellow (common practice, no source).
        L, a, b = tube("titanium-white").lab
        self.assertGreater(L, 96)
        self.assertLess(abs(a), 1.3)
        self.assertTrue(0 < b < 3)

    def test_cadmium_series_is_one_material(self):
        """Strength per volume may not run up along the series: only the edge moves."""
        series = [p for p in self.data["paints"] if p["name"].startswith("Cadmium")]
        strength = [p["model"]["K0"] for p in series]
        edges = [p["model"]["bands"][0][2] for p in series]
        self.assertEqual(len(series), 7)
        self.assertLess(max(strength) / min(strength), 1.9)
        self.assertEqual(edges, sorted(edges))

    def test_k_and_s_follow_from_the_parameters(self):
        """Of each pigment those in the file; that the parameters can be grown anew, tools/pigments/check.py sees."""
        entries = {
            e["id"]: e for e in json.loads((Path(model.__file__).parent / "anchors.json").read_text())["pigments"]
        }
        crystals = {c: np.array(v["imaginary_index"]) for c, v in self.data["crystals"].items()}
        for p in self.singles():
            fitted, grain = p["model"], not p["id"].endswith("-white")
            parameters = {k: fitted[k] for k in ("K0", "S0", "m")} | {"bands": [tuple(b) for b in fitted["bands"]]}
            if grain:
                entry = entries[p["id"]]
                parameters["grain"] = (fitted["index"], *model.Model(entry, 1.0).grain[1:])
                parameters["even"] = entry.get("even", False)
            K, S = model.spectra(parameters, crystals)
            np.testing.assert_allclose(K, p["k"], rtol=5e-3, err_msg=p["id"])
            np.testing.assert_allclose(S, p["s"], rtol=5e-3, err_msg=p["id"])

    def test_nothing_scatters_much_more_than_titanium_white(self):
        white = tube("titanium-white").S
        for p in self.singles():
            self.assertLess(float((np.array(p["s"])[2:33] / white[2:33]).max()), 1.25, p["id"])

    def test_the_oxides_share_their_crystals(self):
        """Hematite absorbs up to some 580 nm, goethite up to 530 (Cornell and Schwertmann 2003, The Iron Oxides, from
        memory); what the fit moved stays within a factor of two of what is remembered."""
        for name, edge in (("hematite", 580), ("goethite", 530)):
            index = np.array(self.data["crystals"][name]["imaginary_index"])
            self.assertLess(np.abs(np.log(index / oxides.REMEMBERED[name])).max(), np.log(2))
            half = np.interp(0.4 * index[1], index[::-1], oxides.NM[::-1])
            self.assertAlmostEqual(float(half), edge, delta=30)

    def test_honest_about_its_source(self):
        self.assertIn("Nothing was measured", self.data["note"])
        for p in self.data["paints"]:
            where = p["sources"]
            for figure in ("k", "s", "lab", "tolerance", "density", "lightfastness", "opacity", "drying", "hazard"):
                self.assertTrue("parts" in p or where[figure], (p["id"], figure))
            self.assertTrue("parts" in p or "memory" in where["anchors"])
            self.assertIn(p["confidence"], "ABC")
            self.assertEqual((len(p["k"]), len(p["s"])), (36, 36))
            self.assertTrue(min(p["k"]) > 0 and min(p["s"]) > 0)
