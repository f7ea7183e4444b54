"""What a file may take: budgets by bytes after decoding, before anything is decoded; only regular files are opened."""

import io
import os
import struct
import subprocess
import sys
import unittest
import zlib
from unittest import mock

import cv2
import numpy as np
import tifffile
from PIL import Image

from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.box import PaintBox
from ochre_stone.core.paint.spectral import read_text
from ochre_stone.core.picture import load as loading
from ochre_stone.core.picture.load import load, load_bytes
from ochre_stone.core.store.boxfile import read_import
from ochre_stone.core.store.files import open_project
from tests.support.made import FolderCase, encoded

_PEAK = """
import resource, sys
from ochre_stone.core.picture import load as loading
from ochre_stone.core.picture.load import load
loading._STRIP = 400_000  # a tenth, as the picture is
load(sys.argv[2])
before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
try:
    picture = load(sys.argv[1])
    pixels = picture.width * picture.height
except ValueError as error:
    print("refused", error)
    raise SystemExit
print((resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) * 1024 / pixels)
"""


def png_of(width: int, height: int, depth: int, kind: int) -> bytes:
    """A small file that claims a picture: header and an end, next to no pixels."""

    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    head = struct.pack(">IIBBBBB", width, height, depth, kind, 0, 0, 0)
    pixels = chunk(b"IDAT", zlib.compress(bytes(1000)))
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + pixels + chunk(b"IEND", b"")


class Budgets(FolderCase):
    def test_too_much_is_refused_before_it_is_decoded(self):
        deep = io.BytesIO()
        with tifffile.TiffWriter(deep) as out:
            out.write(np.zeros((64, 64, 3)), photometric="rgb", compression="zlib")
        claims = bytearray(deep.getvalue())
        with tifffile.TiffFile(io.BytesIO(bytes(claims))) as file:
            tags = file.pages.first.tags
            for name in ("ImageWidth", "ImageLength"):
                struct.pack_into("<H", claims, tags[name].valueoffset, 14_000)
        for data, name in ((png_of(14_000, 14_000, 16, 6), "deep.png"), (bytes(claims), "deep.tif")):
            with (
                mock.patch("cv2.imdecode", side_effect=AssertionError("decoded")),
                mock.patch.object(tifffile.TiffPage, "asarray", side_effect=AssertionError("decoded")),
                self.assertRaisesRegex(OchreError, "GB of memory"),
            ):
                load_bytes(data, name)

    def test_eight_bits_are_accepted_up_to_200_megapixels(self):
        for mode in ("RGB", "RGBA", "P", "L"):
            out = io.BytesIO()
            Image.new("RGB", (64, 64)).convert(mode).save(out, "PNG")
            need = loading._per_pixel(Image.open(out), out.getvalue())
            self.assertLessEqual(need * loading.MOST_PIXELS, loading._BUDGET)

    def test_what_is_measured_is_what_is_budgeted(self):
        """Each kind is opened in a process of its own; its peak stays within the bytes a pixel that were counted."""
        rng = np.random.default_rng(0)
        wide = np.repeat(rng.integers(0, 255, (1, 2000, 3)), 1500, axis=0).astype(np.uint8)
        made = {"rgb.png": (encoded(wide, compress_level=1), 9.0)}
        deep = np.dstack([wide, wide[..., :1]]).astype(np.uint16) * 257
        made["rgba16.png"] = cv2.imencode(".png", deep)[1].tobytes(), 18.0
        out = io.BytesIO()
        tifffile.imwrite(out, wide.astype(np.float64) / 255, photometric="rgb", compression="zlib")
        made["f64.tif"] = (out.getvalue(), 37.0)
        for name, (data, most) in made.items():
            path, small = self.folder / name, self.folder / f"small-{name}"
            path.write_bytes(data)
            with mock.patch.object(loading, "_BUDGET", 1e6), self.assertRaisesRegex(OchreError, "GB of memory"):
                load(path)
            image = Image.fromarray(wide[:64, :64])
            image.save(small.with_suffix(".png"))
            run = subprocess.run(
                [sys.executable, "-c", _PEAK, path, small.with_suffix(".png")],
                capture_output=True,
                text=True,
                check=True,
            )
            self.assertLessEqual(float(run.stdout), most + 4.0, name)  # strips and libraries are a few MB


class OddFiles(FolderCase):
    def test_a_pipe_a_device_and_a_sparse_giant_are_refused_at_once(self):
        pipe, sparse = self.folder / "pipe.png", self.folder / "sparse.png"
        os.mkfifo(pipe)
        with sparse.open("wb") as file:
            file.truncate(200_000_000_000)
        for path, words in ((pipe, "pipe or a device"), ("/dev/zero", "pipe or a device"), (sparse, "200.0 GB")):
            for opened in (load, open_project, lambda p: read_import(p, PaintBox())):
                with self.assertRaisesRegex(OchreError, words):
                    opened(path)

    def test_a_name_that_is_no_utf8_is_opened_and_told(self):
        path = self.folder / os.fsdecode(b"caf\xe9.png")
        path.write_bytes(encoded(np.zeros((40, 40, 3), np.uint8)))
        self.assertEqual(load(path).name, "caf\ufffd.png")
        with self.assertRaisesRegex(OchreError, "caf"):
            load(path.with_suffix(".tif"))


class Tables(FolderCase):
    def test_old_line_ends_are_read_and_open_quotes_are_told(self):
        made = read_text("label,lab_l,lab_a,lab_b\rA1,62,14,22\rA2,50,1,2\r", "old.csv")
        self.assertEqual([r.label for r in made], ["A1", "A2"])
        box = self.folder / "old.csv"
        box.write_bytes(b"name,pigments\rMine,yellow-ochre\r")
        self.assertEqual(read_import(box, PaintBox())[1], 1)
        for text in ("label,lab_l,lab_a,lab_b\n" + "A1,62,14,22\n" * 30_000, "BEGIN_DATA_FORMAT\n" + "A\n" * 50_000):
            with (
                mock.patch("csv.DictReader.__next__", side_effect=AssertionError("read on")),
                self.assertRaisesRegex(OchreError, "at most 20000"),
            ):
                read_text(text, "long.csv")
        with self.assertRaisesRegex(OchreError, "open quote"):
            read_text('label,lab_l,lab_a,lab_b\nA1,"62,14,22\n', "open.csv")
        box.write_bytes(b'name,pigments\nMine,"yellow-ochre\n')
        with self.assertRaisesRegex(OchreError, "open quote"):
            read_import(box, PaintBox())
        box.write_bytes(b"name,pigments\nMine," + b"x" * 200_000 + b"\n")
        with self.assertRaises(OchreError):
            read_import(box, PaintBox())


if __name__ == "__main__":
    unittest.main()
