"""Pictures of every kind open, or say in one sentence why not."""

import io
import struct
import unittest
import zlib

import numpy as np
import tifffile
from PIL import Image, ImageCms

from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, xyz_to_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.load import load, load_bytes
from ochre_stone.core.picture.picture import lab_to_linear, linear_to_code, linear_to_lab
from tests.support.made import FolderCase, blocks, encoded, orchard

RED_GREEN = blocks((200, 30, 30), (30, 160, 60))


class Opens(unittest.TestCase):
    def check(self, data: bytes, name: str, tolerance: int = 0):
        picture = load_bytes(data, name)
        self.assertEqual(picture.code.shape, RED_GREEN.shape)
        shown = linear_to_code(picture.linear())
        self.assertLessEqual(int(np.abs(shown[60, 30].astype(int) - (200, 30, 30)).max()), tolerance)
        self.assertLessEqual(int(np.abs(shown[60, 90].astype(int) - (30, 160, 60)).max()), tolerance)
        return picture

    def test_common_formats(self):
        for kind, tolerance in (("PNG", 0), ("TIFF", 0), ("WEBP", 6), ("JPEG", 4)):
            options = {"quality": 97} if kind in ("WEBP", "JPEG") else {}
            self.check(encoded(RED_GREEN, kind, **options), f"made.{kind.lower()}", tolerance)

    def test_source_is_kept_byte_for_byte(self):
        data = encoded(RED_GREEN)
        self.assertEqual(load_bytes(data, "a.png").source, data)

    def test_sixteen_bit_tiff_and_png_keep_their_depth(self):
        deep = RED_GREEN.astype(np.uint16) * 257
        deep[0, 0] = (40001, 10, 65535)
        out = io.BytesIO()
        tifffile.imwrite(out, deep, photometric="rgb")
        picture = self.check(out.getvalue(), "deep.tif")
        self.assertEqual(picture.code.dtype, np.uint16)
        self.assertEqual(tuple(picture.code[0, 0]), (40001, 10, 65535))
        import cv2

        png = cv2.imencode(".png", deep[..., ::-1])[1].tobytes()
        picture = self.check(png, "deep.png")
        self.assertEqual(tuple(picture.code[0, 0]), (40001, 10, 65535))

    def test_sixteen_bit_grey(self):
        grey = np.full((64, 64), 30000, np.uint16)
        out = io.BytesIO()
        tifffile.imwrite(out, grey, photometric="minisblack")
        picture = load_bytes(out.getvalue(), "grey.tif")
        self.assertEqual(tuple(picture.code[5, 5]), (30000, 30000, 30000))

    def test_cmyk_opens_and_says_that_it_is_approximate(self):
        image = Image.fromarray(RED_GREEN).convert("CMYK")
        out = io.BytesIO()
        image.save(out, "TIFF")
        picture = self.check(out.getvalue(), "print.tif", 3)
        self.assertIn("CMYK", " ".join(picture.remarks))

    def test_grey_palette_and_transparent_pictures(self):
        self.check(encoded(RED_GREEN), "a.png")
        palette = io.BytesIO()
        Image.fromarray(RED_GREEN).convert("P", palette=Image.Palette.ADAPTIVE).save(palette, "PNG")
        self.check(palette.getvalue(), "p.png", 2)
        clear = np.dstack([RED_GREEN, np.zeros(RED_GREEN.shape[:2], np.uint8)])
        picture = load_bytes(encoded(clear), "clear.png")
        self.assertEqual(tuple(picture.code[0, 0]), (255, 255, 255))
        self.assertIn("transparent", " ".join(picture.remarks))

    def test_orientation_is_honoured(self):
        exif = Image.Exif()
        exif[0x0112] = 6  # turn right to show upright
        picture = load_bytes(encoded(RED_GREEN, "JPEG", quality=95, exif=exif.tobytes()), "turned.jpg")
        self.assertEqual((picture.width, picture.height), (120, 120))
        self.assertGreater(picture.code[10, 60, 0], 150)  # red on top now
        self.assertGreater(picture.code[110, 60, 1], 130)

    def test_sixteen_bit_orientation(self):
        deep = np.repeat(RED_GREEN, 2, axis=1).astype(np.uint16) * 257
        out = io.BytesIO()
        tifffile.imwrite(out, deep, photometric="rgb", extratags=[(274, "H", 1, 8, True)])
        picture = load_bytes(out.getvalue(), "turned.tif")
        self.assertEqual((picture.width, picture.height), (120, 240))

    def test_embedded_profile(self):
        """A profile with red and green primaries exchanged must exchange them in the picture."""
        profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
        data = bytearray(profile)
        count = struct.unpack(">I", data[128:132])[0]
        tags = {bytes(data[132 + 12 * i : 136 + 12 * i]): 132 + 12 * i for i in range(count)}
        red, green = tags[b"rXYZ"], tags[b"gXYZ"]
        data[red + 4 : red + 12], data[green + 4 : green + 12] = data[green + 4 : green + 12], data[red + 4 : red + 12]
        picture = load_bytes(encoded(RED_GREEN, "PNG", icc_profile=bytes(data)), "odd.png")
        shown = linear_to_code(picture.linear())
        self.assertGreater(int(shown[60, 30, 1]), int(shown[60, 30, 0]) + 50)

    def test_broken_profile_is_left_out_with_a_remark(self):
        picture = load_bytes(encoded(RED_GREEN, "PNG", icc_profile=b"nonsense" * 20), "odd.png")
        np.testing.assert_array_equal(picture.code, RED_GREEN)
        self.assertTrue(any("profile" in r for r in picture.remarks))

    def test_very_wide_picture(self):
        wide = np.full((40, 20_000, 3), 120, np.uint8)
        picture = load_bytes(encoded(wide, "PNG"), "wide.png")
        self.assertEqual(picture.width, 20_000)
        self.assertLess(picture.reduced(100_000).shape[1], 20_000)


class Refuses(FolderCase):
    def expect_sentence(self, data: bytes, name: str) -> str:
        with self.assertRaises(OchreError) as caught:
            load_bytes(data, name)
        text = str(caught.exception)
        self.assertIn(name, text)
        self.assertNotIn("\n", text)
        self.assertTrue(text.endswith("."), text)
        return text

    def test_damaged_files(self):
        jpeg, png, webp = (encoded(orchard(), k) for k in ("JPEG", "PNG", "WEBP"))
        for data, name in (
            (jpeg[: len(jpeg) // 3], "cut.jpg"),
            (png[: len(png) // 2], "cut.png"),
            (webp[:300], "cut.webp"),
        ):
            self.expect_sentence(data, name)

    def test_text_named_png_and_empty(self):
        self.assertIn("not a picture", self.expect_sentence(b"just some words", "notes.png"))
        self.assertIn("empty", self.expect_sentence(b"", "nothing.jpg"))

    def test_one_pixel(self):
        self.assertIn("1 x 1", self.expect_sentence(encoded(np.zeros((1, 1, 3), np.uint8)), "dot.png"))

    def test_a_header_that_claims_a_huge_picture_is_not_believed(self):
        head = struct.pack(">IIBBBBB", 100_000, 100_000, 8, 2, 0, 0, 0)
        chunk = b"IHDR" + head
        png = b"\x89PNG\r\n\x1a\n" + struct.pack(">I", 13) + chunk + struct.pack(">I", zlib.crc32(chunk))
        end = b"IDAT" + zlib.compress(b"")
        png += struct.pack(">I", len(end) - 4) + end + struct.pack(">I", zlib.crc32(end))
        self.assertIn("megapixels", self.expect_sentence(png, "huge.png"))

    def test_random_damage_never_escapes_as_something_else(self):
        rng = np.random.default_rng(1)
        for kind in ("PNG", "JPEG", "TIFF", "WEBP"):
            whole = encoded(blocks((10, 20, 30), (200, 100, 50)), kind)
            for _ in range(12):
                data = bytearray(whole)
                for at in rng.integers(0, len(data), 6):
                    data[at] = int(rng.integers(0, 256))
                try:
                    load_bytes(bytes(data), "shot.bin")
                except OchreError as error:
                    self.assertNotIn("\n", str(error))

    def test_missing_files_and_folders(self):
        for path in (self.folder / "none.jpg", self.folder):
            with self.assertRaises(OchreError) as caught:
                load(path)
            self.assertIn(str(path), str(caught.exception))


class Working(unittest.TestCase):
    def test_reduced_is_averaged_in_linear_light(self):
        """Black and white lines average to half the light, far lighter than half the code value."""
        lines = np.zeros((400, 400, 3), np.uint8)
        lines[::2] = 255
        small = load_bytes(encoded(lines), "lines.png").reduced(10_000)
        self.assertLessEqual(small.shape[0] * small.shape[1], 10_100)
        self.assertAlmostEqual(float(small.mean()), 0.5, delta=0.01)
        self.assertAlmostEqual(int(linear_to_code(small)[50, 50, 0]), 188, delta=2)

    def test_reduced_keeps_the_mean_of_any_picture(self):
        picture = load_bytes(encoded(orchard()), "o.png")
        for pixels in (5_000, 30_000, 10**6):
            self.assertAlmostEqual(float(picture.reduced(pixels).mean()), float(picture.linear().mean()), delta=0.004)

    def test_lab_of_linear_is_exact_enough(self):
        rgb = np.random.default_rng(0).random((500, 3))
        np.testing.assert_allclose(linear_to_lab(rgb), xyz_to_lab(rgb @ SRGB_TO_XYZ.T), atol=0.01)

    def test_darks_by_the_exact_formula_both_ways(self):
        """L* is straight below 8 and a cube root above: a fine ramp of greys and of dark colours through the bend."""
        y = np.linspace(0, 0.02, 2001)[:, None]
        for tint in ((1, 1, 1), (1.6, 0.8, 0.5), (0.3, 1.0, 2.2)):
            rgb = y * np.array(tint)
            exact = xyz_to_lab(rgb @ SRGB_TO_XYZ.T)
            self.assertTrue(exact[0, 0] < 1 and exact[-1, 0] > 11)
            np.testing.assert_allclose(linear_to_lab(rgb), exact, atol=0.01)
            np.testing.assert_allclose(lab_to_linear(exact), rgb, atol=2e-6)
