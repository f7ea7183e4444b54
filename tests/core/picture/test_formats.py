"""Formats beyond the plain ones: floating point, HEIC, AVIF, RAW, profiles that reach beyond sRGB, CMYK."""

import io
import struct
import unittest
import zlib

import imagecodecs
import numpy as np
from PIL import Image, ImageCms

from ochre_stone.core.colour.spaces import SRGB_TO_XYZ
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture import profiles, raw
from ochre_stone.core.picture.load import glimpse, load_bytes
from ochre_stone.core.picture.picture import Picture, linear_to_code, xyz_and_value
from tests.support.made import blocks, dng, encoded, orchard, picture, tiff

P3 = profiles.PRIMARIES[12]
PATCHES = blocks((200, 30, 30), (30, 160, 60))


class FloatingPoint(unittest.TestCase):
    def test_values_come_through_untouched_and_may_pass_white(self):
        light = np.random.default_rng(2).random((60, 80, 3)).astype(np.float32) * 3
        found = load_bytes(tiff(light, photometric="rgb"), "light.tif")
        np.testing.assert_array_equal(found.linear(), light)
        self.assertIn("times white", " ".join(found.remarks))
        burnt, crushed = found.lost()
        self.assertFalse(burnt.any(), "what passes 1 was not cut off there")
        self.assertFalse(crushed.any())

    def test_a_picture_cut_off_at_one_is_burnt_out_there(self):
        light = np.full((60, 80, 3), 0.4, np.float32)
        light[:20] = 1.0
        burnt, _ = load_bytes(tiff(light, photometric="rgb"), "cut.tif").lost()
        self.assertAlmostEqual(float(burnt.mean()), 1 / 3, delta=1e-6)

    def test_holes_in_the_numbers_do_no_harm(self):
        light = np.full((60, 80, 3), 0.4, np.float32)
        light[3, 3], light[4, 4] = np.nan, np.inf
        self.assertTrue(np.isfinite(load_bytes(tiff(light, photometric="rgb"), "holes.tif").linear()).all())

    def test_half_and_double_precision_and_grey(self):
        for kind in (np.float16, np.float64):
            grey = np.full((50, 50), 0.25, kind)
            found = load_bytes(tiff(grey, photometric="minisblack"), "grey.tif")
            np.testing.assert_allclose(found.linear(), 0.25, atol=1e-3)

    def test_planes_one_after_the_other(self):
        deep = (np.random.default_rng(1).random((3, 60, 80)) * 65535).astype(np.uint16)
        found = load_bytes(tiff(deep, photometric="rgb", planarconfig="separate"), "planes.tif")
        np.testing.assert_array_equal(found.code, np.moveaxis(deep, 0, -1))

    def test_a_deep_png_is_turned_upright_too(self):
        import cv2

        deep = np.zeros((60, 100, 3), np.uint16)
        deep[:, :50, 2] = 60000
        plain = cv2.imencode(".png", deep)[1].tobytes()
        exif = Image.Exif()
        exif[0x0112] = 6
        body = exif.tobytes().removeprefix(b"Exif\0\0")
        chunk = b"eXIf" + body
        end = plain.index(b"IDAT") - 4
        said = struct.pack(">I", len(body)) + chunk + struct.pack(">I", zlib.crc32(chunk))
        found = load_bytes(plain[:end] + said + plain[end:], "deep.png")
        self.assertEqual((found.width, found.height), (60, 100))
        self.assertGreater(int(found.code[10, 30, 0]), 50000, "the left half stands on top")

    def test_numbers_that_are_no_picture_are_refused(self):
        for pixels, options in (
            (np.zeros((60, 80, 3), np.int16), {"photometric": "rgb"}),
            (np.zeros((40, 60, 80), np.uint16), {"photometric": "minisblack", "volumetric": False}),
        ):
            try:
                load_bytes(tiff(pixels, **options), "odd.tif")
            except OchreError as error:
                self.assertIn("odd.tif", str(error))


class Phones(unittest.TestCase):
    def assert_near(self, data: bytes, name: str, tolerance: int) -> None:
        shown = linear_to_code(load_bytes(data, name).linear())
        self.assertLessEqual(int(np.abs(shown[60, 30].astype(int) - (200, 30, 30)).max()), tolerance)
        self.assertLessEqual(int(np.abs(shown[60, 90].astype(int) - (30, 160, 60)).max()), tolerance)

    def test_heic(self):
        import pillow_heif

        out = io.BytesIO()
        pillow_heif.from_pillow(Image.fromarray(PATCHES)).save(out, quality=95)
        self.assert_near(out.getvalue(), "phone.heic", 5)

    def test_heic_of_ten_bits_keeps_them(self):
        import pillow_heif

        deep = np.repeat(np.linspace(8000, 9000, 128).astype(np.uint16)[None, :, None], 64, axis=0)
        deep = np.ascontiguousarray(np.repeat(deep, 3, axis=2))
        out = io.BytesIO()
        pillow_heif.from_bytes("RGB;16", (128, 64), deep.tobytes()).save(out, quality=-1, chroma=444)
        found = load_bytes(out.getvalue(), "deep.heic")
        self.assertEqual(found.code.dtype, np.uint16)
        self.assertGreater(len(np.unique(found.code[30, :, 1])), 10, "eight bits would hold four of these steps")
        self.assertLess(float(np.abs(found.code[30].astype(float) - deep[30]).mean()), 120)

    def test_heic_that_names_wide_primaries(self):
        import pillow_heif

        out = io.BytesIO()
        file = pillow_heif.from_pillow(Image.fromarray(PATCHES))
        file.save(out, quality=95, color_primaries=12, transfer_characteristics=13)
        red = load_bytes(out.getvalue(), "wide.heic").linear()[60, 30]
        plain = load_bytes(encoded(PATCHES), "plain.png").linear()[60, 30]
        self.assertGreater(red[0], plain[0] * 1.1, "the same codes are a stronger red in wider primaries")

    def test_avif_with_its_profile(self):
        image = Image.fromarray(PATCHES)
        out = io.BytesIO()
        image.save(out, "AVIF", quality=95, icc_profile=profiles.matrix_profile(P3, 2.2))
        found = load_bytes(out.getvalue(), "phone.avif")
        self.assertIsNotNone(found.encoding.matrix)
        out = io.BytesIO()
        image.save(out, "AVIF", quality=95)
        self.assert_near(out.getvalue(), "plain.avif", 6)


class Profiles(unittest.TestCase):
    def test_wide_colours_survive(self):
        """Full red of a wide gamut lies outside sRGB: it stays there, and is not bent to its border."""
        pure = blocks((255, 0, 0), (0, 255, 0), (0, 0, 255))
        found = load_bytes(encoded(pure, "PNG", icc_profile=profiles.matrix_profile(P3, 2.2)), "wide.png")
        expected = profiles.primaries_matrix(P3).T
        for i in range(3):
            np.testing.assert_allclose(found.linear()[60, 30 + 60 * i], expected[i], atol=3e-3)
        self.assertLess(float(found.linear()[..., 1].min()), -0.03)
        self.assertEqual(found.code.dtype, np.uint8, "three bytes a pixel are enough")

    def test_sixteen_bits_with_a_profile_stay_sixteen(self):
        deep = (np.random.default_rng(3).random((64, 64, 3)) * 65535).astype(np.uint16)
        profile = profiles.matrix_profile(P3, 1.8)
        found = load_bytes(tiff(deep, photometric="rgb", iccprofile=profile), "deep.tif")
        self.assertEqual(found.code.dtype, np.uint16)
        expected = (deep / 65535.0) ** 1.8 @ profiles.primaries_matrix(P3).T
        np.testing.assert_allclose(found.linear(), expected, atol=2e-3)

    def test_grey_with_a_profile(self):
        grey = np.full((64, 64), 128, np.uint8)
        profile = bytes(imagecodecs.cms_profile("gray", gamma=1.0))
        found = load_bytes(encoded(grey, "PNG", icc_profile=profile), "grey.png")
        np.testing.assert_allclose(found.linear()[5, 5], 128 / 255, atol=3e-3)

    def test_png_that_says_its_own_curve(self):
        data = encoded(PATCHES)
        end = data.index(b"IDAT") - 4
        chunk = b"gAMA" + struct.pack(">I", 100000)
        data = data[:end] + struct.pack(">I", 4) + chunk + struct.pack(">I", zlib.crc32(chunk)) + data[end:]
        np.testing.assert_allclose(load_bytes(data, "l.png").linear()[60, 30], np.array([200, 30, 30]) / 255, atol=1e-4)

    def test_cmyk_with_a_profile_of_tables(self):
        """A made CMYK profile (ink takes its share of the light) must be applied, in 8 and 16 bits."""
        profile = cmyk_profile()
        ink = np.zeros((64, 64, 4), np.uint8)
        ink[:, 32:] = (0, 255, 255, 0)  # magenta and yellow in full: red
        eight = load_bytes(encoded_cmyk(ink, profile), "print.tif")
        deep = load_bytes(tiff(ink.astype(np.uint16) * 257, photometric="separated", iccprofile=profile), "p16.tif")
        for found in (eight, deep):
            white, red = found.linear()[5, 5], found.linear()[5, 50]
            self.assertGreater(float(white.min()), 0.93)
            self.assertGreater(float(red[0]), 5 * float(red[1:].max()))
            self.assertFalse(any("approximate" in r for r in found.remarks))

    def test_cielab(self):
        way = ImageCms.buildTransform(ImageCms.createProfile("sRGB"), ImageCms.createProfile("LAB"), "RGB", "LAB")
        out = io.BytesIO()
        ImageCms.applyTransform(Image.fromarray(PATCHES), way).save(out, "TIFF")
        found = load_bytes(out.getvalue(), "lab.tif")
        self.assertLessEqual(int(np.abs(linear_to_code(found.linear())[60, 30].astype(int) - (200, 30, 30)).max()), 4)
        self.assertEqual(found.remarks, ("a CIELAB picture, converted to sRGB",))

    def test_a_profile_of_grey_does_not_serve_for_floats(self):
        profile = bytes(imagecodecs.cms_profile("gray", gamma=1.0))
        data = tiff(np.full((50, 50), 0.25, np.float32), photometric="minisblack", iccprofile=profile)
        found = load_bytes(data, "grey.tif")
        np.testing.assert_allclose(found.linear(), 0.25)
        self.assertTrue(any("left out" in r for r in found.remarks))

    def test_a_profile_of_another_kind_of_picture_is_left_out(self):
        found = load_bytes(encoded(PATCHES, "PNG", icc_profile=cmyk_profile()), "odd.png")
        np.testing.assert_array_equal(found.code, PATCHES)
        self.assertTrue(any("left out" in r for r in found.remarks))


def encoded_cmyk(ink: np.ndarray, profile: bytes) -> bytes:
    out = io.BytesIO()
    Image.fromarray(ink, "CMYK").save(out, "TIFF", icc_profile=profile)
    return out.getvalue()


def cmyk_profile() -> bytes:
    """A CMYK printer profile (ICC.1:2001, lut8) of 2 grid points: each ink at full takes most of its light."""
    inks = np.array([(0.1, 0.7, 0.9), (0.8, 0.1, 0.4), (0.95, 0.9, 0.1), (0.05, 0.05, 0.05)])
    grid = bytearray()
    for c in (0, 1):
        for m in (0, 1):
            for y in (0, 1):
                for k in (0, 1):
                    rgb = np.prod([inks[i] if on else np.ones(3) for i, on in enumerate((c, m, y, k))], axis=0)
                    grid += bytes(_lab8(rgb))
    line = bytes(range(256))
    lut = b"mft1" + bytes(4) + bytes([4, 3, 2, 0])
    lut += b"".join(struct.pack(">i", v) for v in (65536, 0, 0, 0, 65536, 0, 0, 0, 65536))
    lut += line * 4 + bytes(grid) + line * 3
    lut += bytes(-len(lut) % 4)
    words = b"made for a test\0"
    said = b"desc" + bytes(4) + struct.pack(">I", len(words)) + words + bytes(4 + 4 + 2 + 1 + 67)
    said += bytes(-len(said) % 4)
    white = b"XYZ " + bytes(4) + struct.pack(">iii", 63190, 65536, 54061)
    tags = [(b"desc", said), (b"wtpt", white), (b"A2B0", lut)]
    place, table, body = 128 + 4 + 12 * len(tags), struct.pack(">I", len(tags)), b""
    for name, data in tags:
        table += name + struct.pack(">II", place + len(body), len(data))
        body += data
    head = struct.pack(">I4sI4s4s4s", place + len(body), bytes(4), 0x02400000, b"prtr", b"CMYK", b"Lab ")
    head += struct.pack(">6H", 2026, 1, 1, 0, 0, 0) + b"acsp" + bytes(4 * 7) + struct.pack(">iii", 63190, 65536, 54061)
    return head + bytes(128 - len(head)) + table + body


def _lab8(rgb: np.ndarray) -> list[int]:
    """CIELAB D50 as ICC's 8-bit numbers."""
    from ochre_stone.core.colour.spaces import adaptation, xyz_to_lab

    d50 = np.array([0.9642, 1.0, 0.8249])
    xyz = np.linalg.inv(adaptation(d50)) @ (SRGB_TO_XYZ @ rgb)
    L, a, b = xyz_to_lab(xyz, d50)
    return [round(min(max(v, 0), 255)) for v in (L * 2.55, a + 128, b + 128)]


class Raw(unittest.TestCase):
    def test_a_raw_file_is_developed_linear_and_white(self):
        """A made DNG: a mosaic of a grey and a red patch seen by a camera whose filters are those of sRGB."""
        found = load_bytes(dng(), "made.dng")
        self.assertEqual((found.width, found.height), (128, 96))
        grey, red = found.linear()[48, 30], found.linear()[48, 100]
        self.assertLess(float(np.ptp(grey)) / float(grey.mean()), 0.04, "the camera's own white is honoured")
        self.assertAlmostEqual(float(grey.mean()), 0.2, delta=0.02)
        self.assertGreater(float(red[0]), 3 * float(red[1]))
        self.assertIn("RAW", " ".join(found.remarks))

    def test_dark_is_not_yet_crushed_in_linear_light(self):
        """A RAW file counts light itself: code 300 of 65535 is a dark that is all there, code 20 is not."""
        code = np.full((64, 64, 3), 300, np.uint16)
        code[:32] = 20
        found = Picture(code, "dark.dng", b"", (), raw.encoding())
        self.assertAlmostEqual(float(found.lost()[1].mean()), 0.5)
        eight = load_bytes(encoded(np.full((64, 64, 3), 3, np.uint8)), "dark.png")
        self.assertFalse(eight.lost()[1].any())
        self.assertTrue(load_bytes(encoded(np.full((64, 64, 3), 2, np.uint8)), "black.png").lost()[1].all())

    def test_what_the_library_cannot_develop_is_said(self):
        with self.assertRaises(OchreError) as caught:
            load_bytes(b"no camera wrote this" * 50, "shot.nef")
        self.assertIn("LibRaw", str(caught.exception))
        self.assertIsNone(glimpse(b"no camera wrote this" * 50, "shot.nef", 1000))


class Whole(unittest.TestCase):
    def test_xyz_and_value_of_every_pixel(self):
        found = picture(orchard())
        xyz, value = xyz_and_value(found)
        np.testing.assert_allclose(xyz, found.linear() @ SRGB_TO_XYZ.T, atol=1e-6)
        from ochre_stone.core.colour.munsell import value_of_luminance

        np.testing.assert_allclose(value, value_of_luminance(xyz[..., 1]), atol=0.002)

    def test_a_glimpse_is_quick_small_and_upright(self):
        big = np.repeat(np.repeat(orchard(), 5, axis=0), 5, axis=1)
        exif = Image.Exif()
        exif[0x0112] = 6
        data = encoded(big, "JPEG", quality=90, exif=exif.tobytes())
        small = glimpse(data, "big.jpg", 60_000)
        assert small is not None
        self.assertGreater(small.shape[0], small.shape[1])
        self.assertLess(small.shape[0] * small.shape[1], 500_000)
        self.assertIsNone(glimpse(encoded(orchard()), "a.png", 60_000), "a PNG has no quick way")
        self.assertIsNone(glimpse(data[:200], "cut.jpg", 60_000))
