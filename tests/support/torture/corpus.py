"""Sound files of every format that is read, made here; small ones, and pictures of real size."""

import functools
import io
import json
import os
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
import pillow_heif
import tifffile
from PIL import Image

from ochre_stone.core.paint.box import OwnPalette, OwnTube, PaintBox, PigmentPart
from ochre_stone.core.picture.profiles import srgb_profile
from ochre_stone.core.store import boxfile
from ochre_stone.resources import resource
from tests.support.made import dng, orchard, small_project
from tests.support.torture.tally import STATE

REAL = (4000, 3000)


@dataclass(frozen=True)
class Sample:
    """A file: what reads it, its name, its bytes."""

    kind: str
    name: str
    data: bytes


def _pictures(code: np.ndarray) -> dict[str, bytes]:
    pillow_heif.register_heif_opener()
    image = Image.fromarray(code)
    deep = code.astype(np.uint16) * 257
    alpha = np.dstack([deep, np.full(code.shape[:2], 40_000, np.uint16)])

    def saved(im: Image.Image, kind: str, **options: object) -> bytes:
        out = io.BytesIO()
        im.save(out, kind, **options)
        return out.getvalue()

    def tiff(pixels: np.ndarray) -> bytes:
        out = io.BytesIO()
        tifffile.imwrite(out, pixels, photometric="rgb", compression="zlib")
        return out.getvalue()

    exif = Image.Exif()
    exif[0x0112] = 6
    return {
        "photo.jpg": saved(image, "JPEG", quality=85, exif=exif, icc_profile=srgb_profile()),
        "print.jpg": saved(image.convert("CMYK"), "JPEG"),
        "flat.png": saved(image, "PNG", compress_level=1, icc_profile=srgb_profile()),
        "few.png": saved(image.quantize(16), "PNG"),
        "deep.png": cv2.imencode(".png", deep)[1].tobytes(),
        "clear.png": cv2.imencode(".png", alpha)[1].tobytes(),
        "flat.tif": saved(image, "TIFF", compression="tiff_lzw"),
        "deep.tif": tiff(deep),
        "float.tif": tiff(code.astype(np.float32) / 255),
        "double.tif": tiff(code.astype(np.float64) / 255),
        "web.webp": saved(image, "WEBP", quality=60, method=0),
        "phone.heic": saved(image, "HEIF", quality=40),
        "new.avif": saved(image, "AVIF", quality=40, speed=10),
    }


@functools.cache
def small() -> tuple[Sample, ...]:
    """Small files of every kind."""
    found = [Sample("picture", name, data) for name, data in _pictures(orchard()).items()]
    found.append(Sample("picture", "camera.dng", dng()))
    found += [Sample("project", "small.ochre", small_project())] * 4
    found.append(Sample("project", "demo.ochre", resource("demo", "orchard-keeper.ochre").read_bytes()))
    found += [Sample("faces", "faces.png", _small(resource("demo", "orchard_keeper.png").read_bytes()))] * 2
    found += [Sample("palette", "palette.png", _small(resource("demo", "palette.jpg").read_bytes()))] * 2
    found += [Sample(kind, name, make()) for kind, name, make in _TEXTS]
    return tuple(found)


@functools.cache
def real() -> tuple[Sample, ...]:
    """Pictures of twelve megapixels: made once, a minute's work, and kept on disk."""
    held = STATE / "real"
    if not held.is_dir():
        code = cv2.resize(orchard(), REAL, interpolation=cv2.INTER_LINEAR)
        fresh = STATE / f"real-{os.getpid()}"
        fresh.mkdir(parents=True)
        for name, data in _pictures(code).items():
            (fresh / name).write_bytes(data)
        fresh.rename(held)
    return tuple(Sample("picture", p.name, p.read_bytes()) for p in sorted(held.iterdir()))


def _small(data: bytes) -> bytes:
    code = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)
    return bytes(cv2.imencode(".png", cv2.resize(code, None, fx=0.3, fy=0.3, interpolation=cv2.INTER_AREA))[1])


def _log() -> bytes:
    from ochre_stone.logbook.book import Book
    from ochre_stone.logbook.demo import demo_log
    from ochre_stone.logbook.exchange import take_in

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "log.sqlite"
        with Book(path) as book:
            take_in(book, demo_log(1_790_000_000.0))
        return path.read_bytes()


def _log_file() -> bytes:
    from ochre_stone.logbook.demo import demo_log
    from ochre_stone.logbook.exchange import as_json

    return as_json(demo_log(1_790_000_000.0))


def _waiting() -> bytes:
    from ochre_stone.logbook.demo import demo_log
    from ochre_stone.logbook.waiting import Act

    log = demo_log(1_790_000_000.0)
    acts = [Act(tubes=log.tubes, put=log.piles[:3]), Act(removed=("made-up-1",))]
    held = [json.loads(a.model_dump_json()) for a in acts]
    return json.dumps({"format": "ochre-stone-log-waiting", "acts": held}).encode()


def _box() -> bytes:
    tubes = tuple(
        OwnTube(id=f"own-{n}", name=f"Tube {n}", parts=(PigmentPart(pigment="yellow-ochre", parts=n + 1),))
        for n in range(6)
    )
    palette = OwnPalette(id="own-p", name="Mine", paints=("own-0", "own-3", "titanium-white"))
    return PaintBox(tubes=tubes, palettes=(palette,)).model_dump_json(indent=1).encode()


def _tubes() -> bytes:
    return boxfile.tubes_csv(PaintBox.model_validate_json(_box())).encode()


def _work() -> bytes:
    from ochre_stone.core.store.files import open_project

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "small.ochre"
        path.write_bytes(small_project())
        document = open_project(path).document
    about = {"path": "file:///tmp/x.ochre", "title": "x", "time": 1.0, "base": [1, 2], "reference": ""}
    return json.dumps(about | {"document": document.model_dump(mode="json"), "ahead": None}).encode()


def _swatches() -> bytes:
    lines = [f"A{n},{30 + n},{n},{2 * n},{n + 1},2" for n in range(20)]
    return "\n".join(["label,lab_l,lab_a,lab_b,yellow-ochre,titanium-white", *lines, ""]).encode()


def _cgats() -> bytes:
    bands = range(400, 710, 10)
    fields = " ".join(["SAMPLE_NAME", *(f"NM_{b}" for b in bands)])
    rows = "\n".join(" ".join([f"A{n}", *(f"{0.2 + 0.01 * n:.3f}" for _ in bands)]) for n in range(6))
    return f"CGATS.17\nBEGIN_DATA_FORMAT\n{fields}\nEND_DATA_FORMAT\nBEGIN_DATA\n{rows}\nEND_DATA\n".encode()


def _settings() -> bytes:
    from ochre_stone.desktop.session.settings import Settings

    return Settings(recent=["/tmp/a.ochre"], folder="/tmp").model_dump_json(indent=1).encode()


_TEXTS: tuple[tuple[str, str, Callable[[], bytes]], ...] = (
    ("box", "paintbox.json", _box),
    ("tubes", "tubes.csv", _tubes),
    ("tubes", "tubes.json", _box),
    ("work", "work.json", _work),
    ("swatches", "swatches.csv", _swatches),
    ("swatches", "swatches.txt", _cgats),
    ("profile", "monitor.icc", srgb_profile),
    ("settings", "settings.json", _settings),
    ("log", "log.sqlite", _log),
    ("log", "log.sqlite", _log),
    ("log file", "log.json", _log_file),
    ("waiting", "waiting", _waiting),
    ("mixture", "mixture", lambda: b"titanium-white:4 yellow-ochre:2 cadmium-red:1"),
    ("canvas", "canvas", lambda: b"30x40cm"),
    ("colour", "colour", lambda: b"munsell 5YR 6.5/4"),
)
