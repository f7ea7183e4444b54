"""Pictures against things outside: LittleCMS, tifffile, published chart colours, the demo scene's spectra.

Sources: LittleCMS through Pillow's ImageCms; TIFF 6.0 through tifffile; the 24-patch chart's published averages through
colour-science; CIE 015:2018 (integration of spectra) through colour-science; the demo scene's own spectral truth.
"""

import io
import unittest
from pathlib import Path

import colour
import imagecodecs
import numpy as np
import tifffile
from PIL import Image, ImageCms

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness, value_of_luminance
from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, WHITE_D65, XYZ_TO_SRGB, encode_srgb, xyz_to_lab
from ochre_stone.core.picture import raw
from ochre_stone.core.picture.chart import fit_chart
from ochre_stone.core.picture.load import load_bytes
from ochre_stone.core.picture.picture import linear_to_code
from ochre_stone.core.picture.profiles import PRIMARIES, matrix_profile
from ochre_stone.core.picture.sampling import sample
from ochre_stone.devices.simulated import scene
from ochre_stone.resources import resource
from tests.core.picture.test_formats import cmyk_profile
from tests.support.made import demo_picture, encoded


def shipped_profiles() -> dict[str, tuple[bytes, str]]:
    """Profiles that packages ship, with the picture mode each is for; those of the system where there are any."""
    out = {
        "sRGB of Pillow": (ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes(), "RGB"),
        "sRGB of imagecodecs": (bytes(imagecodecs.cms_profile("srgb")), "RGB"),
        "wide RGB of imagecodecs": (bytes(imagecodecs.cms_profile("adobergb")), "RGB"),
        "made CMYK": (cmyk_profile(), "CMYK"),
    }
    for file in sorted(Path("/usr/share/color/icc").rglob("*.ic[cm]")):
        data = file.read_bytes()
        mode = {b"RGB ": "RGB", b"CMYK": "CMYK", b"GRAY": "L"}.get(data[16:20])
        if mode and data[12:16] in (b"mntr", b"prtr", b"scnr", b"spac"):
            out[str(file)] = (data, mode)
    return out


class Raw(unittest.TestCase):
    def test_the_matrix_of_developed_files(self):
        """ROMM RGB (ISO 22028-2) to sRGB (IEC 61966-2-1), adapted by Bradford, as colour-science has them."""
        want = colour.matrix_RGB_to_RGB(
            colour.RGB_COLOURSPACES["ProPhoto RGB"], colour.RGB_COLOURSPACES["sRGB"], "Bradford"
        )
        matrix = raw.encoding().matrix
        np.testing.assert_allclose(matrix, want, atol=1e-3)
        np.testing.assert_allclose(matrix.sum(axis=1), 1.0, atol=1e-4)  # white stays white

    def test_code_values_are_light(self):
        code = np.array([[[0, 0, 0], [13107, 13107, 13107], [65535, 65535, 65535]]], np.uint16)
        np.testing.assert_allclose(raw.encoding().linear(code)[0], [[0] * 3, [0.2] * 3, [1] * 3], atol=1e-4)


class Profiles(unittest.TestCase):
    def test_conversion_against_littlecms(self):
        rng = np.random.default_rng(8)
        srgb = ImageCms.createProfile("sRGB")
        checked = 0
        for name, (profile, mode) in shipped_profiles().items():
            with self.subTest(name):
                shape = {"RGB": (64, 64, 3), "CMYK": (64, 64, 4), "L": (64, 64)}[mode]
                pixels = rng.integers(0, 256, shape, dtype=np.uint8)
                image = Image.fromarray(pixels, mode)
                source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
                try:
                    reference = ImageCms.profileToProfile(
                        image,
                        source,
                        srgb,
                        ImageCms.Intent.RELATIVE_COLORIMETRIC,
                        outputMode="RGB",
                        flags=ImageCms.Flags.NOOPTIMIZE,
                    )
                except ImageCms.PyCMSError:
                    continue  # made for another use
                out = io.BytesIO()
                image.save(out, "TIFF", icc_profile=profile)
                found = load_bytes(out.getvalue(), "made.tif")
                if any("left out" in r for r in found.remarks):
                    self.fail("the profile was left out")
                linear = found.linear()
                inside = ((linear > 0.004) & (linear < 0.996)).all(axis=2)
                gap = np.abs(linear_to_code(linear).astype(int) - np.asarray(reference, int)).max(axis=2)[inside]
                if len(gap):
                    self.assertLessEqual(float(np.percentile(gap, 99)), 2.0)
                checked += 1
        self.assertGreaterEqual(checked, 4)

    def test_wide_primaries_against_colour_science(self):
        """Display P3 codes through its profile and through colour-science's own colour space."""
        code = np.random.default_rng(1).integers(0, 256, (40, 50, 3), dtype=np.uint8)
        found = load_bytes(encoded(code, "PNG", icc_profile=matrix_profile(PRIMARIES[12], 2.2)), "p3.png").linear()
        space = colour.RGB_COLOURSPACES["Display P3"]
        xyz = colour.RGB_to_XYZ((code / 255) ** 2.2, space, apply_cctf_decoding=False)
        reference = colour.XYZ_to_Lab(xyz, space.whitepoint)
        ours = xyz_to_lab(found.reshape(-1, 3) @ SRGB_TO_XYZ.T).reshape(reference.shape)
        self.assertLess(float(np.percentile(ciede2000(ours, reference), 99)), 0.3)


class Tiff(unittest.TestCase):
    def test_round_values_of_sixteen_bits_and_floats(self):
        for kind, scale in ((np.uint16, 65535.0), (np.float32, 1.0)):
            steps = np.linspace(0, 1, 33)
            pixels = np.repeat(np.repeat(steps[:, None, None], 40, axis=1), 3, axis=2)
            out = io.BytesIO()
            tifffile.imwrite(out, (np.round(pixels * scale) if scale > 1 else pixels).astype(kind), photometric="rgb")
            found = load_bytes(out.getvalue(), "steps.tif").linear()[:, 5, 0]
            expected = colour.models.eotf_sRGB(np.round(steps * scale) / scale) if kind == np.uint16 else steps
            np.testing.assert_allclose(found, expected, atol=2e-6)


class Chart(unittest.TestCase):
    def test_a_tinted_chart_comes_back_to_its_published_colours(self):
        """Published averages seen under a tungsten-like light with grain and 8 bits: mean below 1.5 once corrected."""
        checker = colour.CCS_COLOURCHECKERS["cc2005"]
        white = colour.xy_to_XYZ(checker.illuminant)
        xyz = colour.xyY_to_XYZ(np.array(list(checker.data.values())))
        d65 = colour.adaptation.chromatic_adaptation_VonKries(xyz, white, WHITE_D65, transform="Bradford")
        rng = np.random.default_rng(3)
        for tint in (np.diag([1.0, 0.72, 0.38]), np.array([[0.8, 0.12, 0.02], [0.1, 0.7, 0.05], [0.02, 0.12, 0.5]])):
            seen = np.maximum(d65 @ XYZ_TO_SRGB.T @ tint.T * 0.85, 0) * rng.normal(1, 0.01, (24, 1))
            seen = colour.models.eotf_sRGB(np.round(encode_srgb(seen) * 255) / 255)
            found = fit_chart(seen)
            corrected = xyz_to_lab(seen @ np.array(found.matrix).T @ SRGB_TO_XYZ.T)
            gap = colour.difference.delta_E_CIE2000(corrected, colour.XYZ_to_Lab(d65, colour.XYZ_to_xy(WHITE_D65)))
            self.assertLess(float(gap.mean()), 1.5)
            self.assertAlmostEqual(float(gap.mean()), found.mean, delta=0.05)


class Truth(unittest.TestCase):
    def test_the_reader_sees_what_integrating_the_spectra_gives(self):
        """40 places of the scene: the reader's spectrum through colour-science's own integration."""
        from ochre_stone.devices.protocol import Measurement
        from ochre_stone.devices.reader import lab_of

        truth = scene()
        observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"]
        light = colour.SDS_ILLUMINANTS["D65"]
        white = colour.XYZ_to_xy(colour.sd_to_XYZ(light, observer))
        for row, column in np.random.default_rng(2).integers(0, 240, (40, 2)):
            spectrum = truth[row, column]
            sd = colour.SpectralDistribution(dict(zip(range(380, 731, 10), spectrum, strict=True)))
            reference = colour.XYZ_to_Lab(colour.sd_to_XYZ(sd, observer, light, method="Integration") / 100, white)
            ours = lab_of(Measurement(spectrum=tuple(spectrum)))
            self.assertLess(float(ciede2000(np.array(ours), reference)), 0.2)

    def test_samples_of_the_photo_follow_the_scene(self):
        """The photo was made from the same scene with a tone curve of its own: values keep their order, hues theirs."""
        with np.load(resource("demo", "spectral_cube.npz")) as data:
            radiance = data["radiance"].astype(float)
            labels = data["labels"]
        waves = np.arange(400, 701, 10)
        observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy()
        weights = observer.align(colour.SpectralShape(400, 700, 10)).values
        self.assertEqual(len(weights), len(waves))
        xyz = radiance @ weights
        rng = np.random.default_rng(5)
        ours, truth = [], []
        while len(ours) < 200:
            row, column = int(rng.integers(4, 236)), int(rng.integers(4, 316))
            if len(np.unique(labels[row - 2 : row + 3, column - 2 : column + 3])) > 1:
                continue
            seen = sample(demo_picture(), (column + 0.5) * 5, (row + 0.5) * 5, 15)
            if seen.spread < 3:
                ours.append(float(value_of_lightness(seen.lab[0])))
                truth.append(float(xyz[row - 1 : row + 2, column - 1 : column + 2, 1].mean()))
        order = np.corrcoef(np.argsort(np.argsort(ours)), np.argsort(np.argsort(truth)))[0, 1]
        self.assertGreater(order, 0.97)


class ValueScales(unittest.TestCase):
    def test_astm_d1535_table_of_values(self):
        """ASTM D1535 table of luminous reflectance by value, percent of a perfect diffuser; from memory."""
        table = {1: 1.18, 2: 3.05, 3: 6.39, 4: 11.70, 5: 19.27, 6: 29.30, 7: 41.99, 8: 57.62, 9: 76.70}
        from ochre_stone.core.colour.schools import School

        nine = School(9)
        for step, y in table.items():
            self.assertEqual(
                nine.step(float(value_of_luminance(y / 100))), step, "nine steps are Munsell's chips 1 to 9"
            )

    def test_rules_of_thumb(self):
        """Common practice, no source: middle red near 5 of ten; of the earth tubes only black is darkest of six."""
        from ochre_stone.core.colour.schools import School
        from ochre_stone.core.paint.palettes import palette
        from ochre_stone.core.paint.predict import predict

        def value(tube_id: str) -> float:
            return float(value_of_lightness(predict({tube_id: 1.0}).lab[0]))

        self.assertIn(School(10).step(value("cadmium-red")), (4, 5))
        darkest = {t.id: School(6).step(value(t.id)) for t in palette("four-tube-earth").tubes}
        self.assertEqual([i for i, step in darkest.items() if step == 1], ["ivory-black"])
        self.assertEqual(School(10, True).step(value("titanium-white")), 1)
