"""Does calibration find the painter's tubes? Simulated tubes, painted charts with noise, unseen mixtures.

The tubes differ from the generic ones in strength and hue by their tolerances, and besides in a way that the fit has
no numbers for (a ragged spectrum), so that it is not only asked for what it can say. Reference: SciPy's statistics of
the errors; CIEDE2000 as checked against its published data elsewhere in this folder.
"""

import unittest
from dataclasses import replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import as_lab
from ochre_stone.core.paint.calibrate import Swatch, calibrate
from ochre_stone.core.paint.chart import chart_values, make_chart
from ochre_stone.core.paint.optics import layer_lab, reflectance
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.paint.predict import spectra
from tests.support.drawn import perturbed

NOISE = 0.7
"""Standard deviation of L*, a*, b* of a read swatch."""


def real_tubes(tubes, rng):
    """Another maker's tubes: perturbed within tolerance, and ragged by 3 % from band to band."""
    out = []
    for t in tubes:
        p = perturbed(t, rng)
        out.append(replace(p, K=p.K * np.exp(rng.normal(0, 0.03, 36))))
    return out


def lab_of(tubes, shares):
    return layer_lab(*spectra(tubes, shares))


def unseen(tubes, real, learned, rng, count=150):
    """Mean CIEDE2000 on random mixtures of two to four tubes, by the generic and by the corrected tubes."""
    power = np.array([t.strength for t in tubes])
    shares = np.zeros((count, len(tubes)))
    for c in shares:
        k = rng.choice(len(tubes), min(int(rng.integers(2, 5)), len(tubes)), replace=False)
        c[k] = rng.dirichlet(np.ones(len(k))) / power[k]
    shares /= shares.sum(axis=1, keepdims=True)

    def labs(of):
        return layer_lab(shares @ np.stack([t.K for t in of]), shares @ np.stack([t.S for t in of]))

    truth = labs(real)
    return np.array([ciede2000(labs(of), truth).mean() for of in (tubes, learned)])


def corrected(tubes, found):
    out = []
    for t in tubes:
        c = found.corrections.get(t.id)
        K, S = c.apply(t.K, t.S) if c is not None else (t.K, t.S)
        out.append(replace(t, K=K, S=S))
    return out


class Recovery(unittest.TestCase):
    def painted(self, tubes, real, recipes, rng, spectral=False):
        swatches = []
        by_id = {t.id: t for t in real}
        for label, parts in recipes:
            mix = spectra([by_id[i] for i in parts], list(parts.values()))
            lab = layer_lab(*mix) + rng.normal(0, NOISE, 3)
            spectrum = tuple(float(v) for v in reflectance(*mix) + rng.normal(0, 0.003, 36)) if spectral else ()
            swatches.append(Swatch(label, parts, as_lab(lab), spectrum))
        return swatches

    def test_a_painted_chart_makes_unseen_mixtures_four_times_as_true(self):
        for name in ("four-tube-earth", "three-primaries", "portrait-ten"):
            tubes = palette(name).tubes
            chart = make_chart(palette(name), chart_values(6), ("singles", "pairs"))
            recipes = [(c.label, dict(c.parts)) for c in chart.cells]
            before = after = 0.0
            for seed in range(3):
                rng = np.random.default_rng(seed)
                real = real_tubes(tubes, rng)
                found = calibrate(tubes, self.painted(tubes, real, recipes, rng), NOISE)
                one, two = unseen(tubes, real, corrected(tubes, found), rng)
                before, after = before + one, after + two
            with self.subTest(name, before=before / 3, after=after / 3):
                self.assertGreater(before / after, 4.0)

    def test_one_tint_of_each_tube_is_worth_painting(self):
        tubes = palette("portrait-ten").tubes
        white = tubes[0]
        recipes = [(t.id, {t.id: 1.0, white.id: 3.0 * t.strength}) for t in tubes[1:]]
        ratios = []
        for seed in range(4):
            rng = np.random.default_rng(seed)
            real = real_tubes(tubes, rng)
            found = calibrate(tubes, self.painted(tubes, real, recipes, rng), NOISE)
            before, after = unseen(tubes, real, corrected(tubes, found), rng)
            self.assertLess(after, before)
            ratios.append(before / after)
        self.assertGreater(np.median(ratios), 1.6)

    def test_spectra_of_the_tints_tell_more(self):
        tubes = palette("portrait-ten").tubes
        recipes = [(f"{t.id} {w}", {t.id: 1.0, tubes[0].id: w * t.strength}) for t in tubes[1:] for w in (0.5, 4)]
        colours, spectrals = [], []
        for seed in range(3):
            for spectral, out in ((False, colours), (True, spectrals)):
                rng = np.random.default_rng(seed)
                real = real_tubes(tubes, rng)
                found = calibrate(tubes, self.painted(tubes, real, recipes, rng, spectral), NOISE)
                out.append(unseen(tubes, real, corrected(tubes, found), rng)[1])
        self.assertLess(np.mean(spectrals), np.mean(colours))

    def test_stated_doubt_is_true(self):
        """After calibration the errors on unseen mixtures are of the size that the tolerances say, within a factor."""
        from ochre_stone.core.paint.predict import MODEL_SD, uncertainty

        tubes = palette("three-primaries").tubes
        chart = make_chart(palette("three-primaries"), chart_values(6), ("singles",))
        recipes = [(c.label, dict(c.parts)) for c in chart.cells]
        said, was = [], []
        for seed in range(6):
            rng = np.random.default_rng(seed)
            real = real_tubes(tubes, rng)
            found = calibrate(tubes, self.painted(tubes, real, recipes, rng), NOISE)
            learned = []
            for t in corrected(tubes, found):
                c = found.corrections[t.id]
                learned.append(replace(t, tolerance=type(t.tolerance)(c.strength_sd, c.scatter_sd, c.hue_sd)))
            power = np.array([t.strength for t in tubes])
            for _ in range(30):
                c = rng.dirichlet(np.ones(len(tubes))) / power
                doubt = np.sqrt(max(uncertainty(learned, c) ** 2 - MODEL_SD**2, 0))
                said.append(doubt)
                was.append(float(ciede2000(lab_of(learned, c), lab_of(real, c))))
        ratio = float(np.sqrt(np.mean(np.square(was))) / np.sqrt(np.mean(np.square(said))))
        self.assertTrue(0.3 < ratio < 2.0, ratio)
