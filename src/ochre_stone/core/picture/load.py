"""Open a reference picture: JPEG, PNG, TIFF, WebP, HEIC, AVIF or camera RAW, upright, its colour profile honoured.

16 bits and floating point are kept, colours beyond sRGB too. Whatever cannot be read raises OchreError with one
sentence; whatever was decided on the way is kept as a remark.
"""

import functools
import importlib
import io
import os
import warnings
from dataclasses import dataclass, field
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
import numpy.typing as npt

from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.picture import profiles, raw
from ochre_stone.core.picture.picture import Encoding, Picture, srgb_encoding
from ochre_stone.core.picture.reading import read_bytes

if TYPE_CHECKING:
    import PIL
    from PIL import Image, ImageOps
else:
    PIL, Image, ImageOps = later("PIL"), later("PIL.Image"), later("PIL.ImageOps")
cv2 = later("cv2")

FORMATS = ("JPEG", "PNG", "TIFF", "WEBP", "HEIF", "AVIF")
SUFFIXES = (".jpg", ".jpeg", ".png", ".tif", ".tiff", ".webp", ".heic", ".heif", ".avif", *raw.RAW_SUFFIXES)
MOST_PIXELS = 200_000_000
MOST_BYTES = 600_000_000
"""Of a file."""
_BUDGET = 1_900_000_000
"""Bytes that a file and its decoding may take together: with the program itself at most 2.5 GB at the peak."""
_STRIP = 4_000_000
"""Pixels that are turned into plain RGB at a time."""
LEAST_SIDE = 32
_NAMES = "JPEG, PNG, TIFF, WebP, HEIC, AVIF or a camera's RAW"

Code = npt.NDArray[Any]


@dataclass
class _Found:
    """What a file holds, on the way to a Picture."""

    code: Code
    encoding: Encoding | None = None
    remarks: list[str] = field(default_factory=list)
    profile: bytes | None = None


def read_file(path: str | Path) -> bytes:
    """The bytes of a file. Raises OchreError when it cannot be read."""
    path = Path(path)
    try:
        return read_bytes(path, MOST_BYTES)
    except FileNotFoundError:
        raise OchreError(f"There is no file '{path}': check the name and the folder.") from None
    except IsADirectoryError:
        raise OchreError(f"'{path}' is a folder: choose a picture in it.") from None
    except OSError as error:
        raise OchreError(f"'{path}' cannot be read ({error.strerror}): choose another file.") from None


def load(path: str | Path) -> Picture:
    """Open a picture file. Raises OchreError when it cannot be opened."""
    return load_bytes(read_file(path), Path(path).name)


def load_bytes(data: bytes, name: str) -> Picture:
    """Open a picture from the bytes of its file; ``name`` is used in messages, and the picture's own, without bytes
    that are no UTF-8. Raises OchreError."""
    name = os.fsencode(name).decode("utf-8", "replace")
    if not data:
        raise OchreError(f"'{name}' is empty: choose another file.")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            found = _open_raw(data, name) if raw.is_raw(data, name) else _open(data, name)
    except OchreError:
        raise
    except PIL.UnidentifiedImageError:
        raise OchreError(f"'{name}' is not a picture that can be opened: use {_NAMES}.") from None
    except Exception as error:  # decoders raise anything at all on damaged data
        raise OchreError(
            f"'{name}' is damaged or incomplete: copy it again from the camera or export it anew."
        ) from error
    code = np.ascontiguousarray(found.code)
    code.setflags(write=False)
    encoding = found.encoding
    if encoding is None:
        encoding = Encoding() if code.dtype.kind == "f" else srgb_encoding(code.dtype.itemsize)
    return Picture(code, name, data, tuple(found.remarks), encoding)


def glimpse(data: bytes, name: str, pixels: int) -> npt.NDArray[np.uint8] | None:
    """A quick small copy, sRGB bytes (h, w, 3) about ``pixels`` large, to look at while the file is opened.

    None where the file offers no quick way; never raises for a damaged one. Its colours are not measured from.
    """
    try:
        if raw.is_raw(data, name):
            data = raw.raw_thumbnail(data)
        with _Unlimited(), warnings.catch_warnings():
            warnings.simplefilter("ignore")
            image = Image.open(io.BytesIO(data), formats=("JPEG",))
            if image.width * image.height > MOST_PIXELS:
                return None
            scale = (pixels / (image.width * image.height)) ** 0.5
            image.draft("RGB", (max(1, int(image.width * scale)), max(1, int(image.height * scale))))
            return np.asarray(ImageOps.exif_transpose(image).convert("RGB"))
    except Exception:  # it was only to be a glimpse
        return None


@functools.cache
def _decoders() -> None:
    """What opens FORMATS, with the first picture and not with the program; nothing of Pillow's other forty kinds."""
    import pillow_heif

    for name in ("Avif", "Jpeg", "Png", "Tiff", "WebP"):
        importlib.import_module(f"PIL.{name}ImagePlugin")
    pillow_heif.register_heif_opener()


class _Unlimited:
    """Pillow's own limit on pixels off: sizes are checked here before anything is decoded."""

    def __enter__(self) -> None:
        _decoders()
        self._limit, Image.MAX_IMAGE_PIXELS = Image.MAX_IMAGE_PIXELS, None

    def __exit__(self, *_: object) -> None:
        Image.MAX_IMAGE_PIXELS = self._limit


def _check_size(width: int, height: int, name: str, data: bytes, per_pixel: float) -> None:
    """``per_pixel``: bytes in use at the peak of decoding, as measured (docs/reliability.md)."""
    if width * height > MOST_PIXELS:
        raise OchreError(
            f"'{name}' has {width} x {height} pixels: more than {MOST_PIXELS // 1_000_000} megapixels are not "
            "needed to paint from, so save a smaller copy."
        )
    if min(width, height) < LEAST_SIDE:
        raise OchreError(
            f"'{name}' has only {width} x {height} pixels: choose one of at least {LEAST_SIDE} pixels a side."
        )
    need = len(data) + width * height * per_pixel
    if need > _BUDGET:
        raise OchreError(
            f"'{name}' would take {need / 1e9:.1f} GB of memory to decode ({width} x {height} pixels), more than is "
            f"given to a picture ({_BUDGET / 1e9:.1f} GB): save a smaller copy, or one with fewer bits."
        )


def _open_raw(data: bytes, name: str) -> _Found:
    _check_size(*raw.size(data, name), name, data, _RAW)
    code, remarks = raw.develop(data, name)
    return _Found(code, raw.encoding(), remarks)


def _open(data: bytes, name: str) -> _Found:
    deep = _deep_tiff(data, name) if data[:4] in (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+") else None
    if deep is not None:
        return _through_profile(deep)
    with _Unlimited():
        image = Image.open(io.BytesIO(data), formats=FORMATS)
        _check_size(image.width, image.height, name, data, _per_pixel(image, data))
        if image.format == "PNG" and data[24:25] == b"\x10":
            found = _deep_png(data)
            found.code = _upright(found.code, image.getexif().get(0x0112, 1))
        elif image.format == "HEIF" and image.info.get("bit_depth", 8) > 8:
            found = _deep_heif(data)
        else:
            found = _flat(image)
        found.profile = None if image.mode == "LAB" else image.info.get("icc_profile") or None
        if found.profile is None and image.format == "PNG" and "srgb" not in image.info:
            _png_curve(image, found)
        if found.profile is None and image.format == "HEIF":
            _by_numbers(found, image)
    return _through_profile(found)


_RAW = 26.0
_DECODER = {"PNG": 0.0, "TIFF": 0.0, "JPEG": 0.0, "WEBP": 8.0, "HEIF": 8.0, "AVIF": 9.0}
"""Bytes a pixel that decoders hold beside the picture, at their peak."""


def _per_pixel(image: "Image.Image", data: bytes) -> float:
    """Bytes a pixel at the peak of what :func:`_open` does with this picture."""
    if image.format == "PNG" and data[24:25] == b"\x10":
        return 18.0 if data[25:26] in (b"\4", b"\6") else 13.0  # with and without transparency
    if image.format == "HEIF" and image.info.get("bit_depth", 8) > 8:
        return 30.0
    if image.mode == "CMYK":
        return 15.0
    return 9.0 + _DECODER.get(image.format or "", 9.0)


def _flat(image: "Image.Image") -> _Found:
    """Eight bits a channel, any mode: pixels (h, w, 1, 3 or 4 for CMYK). Strip by strip, for memory's sake."""
    remarks: list[str] = []
    image.load()  # some decoders turn the picture upright themselves
    turned = image.getexif().get(0x0112, 1)
    lab = image.mode == "LAB"
    rows = max(1, _STRIP // image.width)
    code: npt.NDArray[np.uint8] | None = None
    for top in range(0, image.height, rows):
        strip = _plain_strip(image.crop((0, top, image.width, min(top + rows, image.height))), remarks)
        part = np.asarray(strip)
        part = part[..., None] if part.ndim == 2 else part
        if code is None:
            code = np.empty((image.height, image.width, part.shape[2]), np.uint8)
        code[top : top + rows] = part
    assert code is not None
    image.close()
    if lab:
        remarks.append("a CIELAB picture, converted to sRGB")
    return _Found(_upright(code, turned), srgb_encoding(1) if lab else None, remarks)


def _plain_strip(image: "Image.Image", remarks: list[str]) -> "Image.Image":
    if image.mode in ("P", "PA", "LA", "La", "RGBa", "RGBA"):
        image = image.convert("RGBA")
        if image.getchannel("A").getextrema() != (255, 255):
            image = Image.alpha_composite(Image.new("RGBA", image.size, "white"), image)
            if not remarks:
                remarks.append("transparent parts shown on white")
        image = image.convert("RGB")
    elif image.mode.startswith("I"):
        image = Image.fromarray((np.asarray(image).astype(np.int64) >> 8).clip(0, 255).astype(np.uint8))
    elif image.mode == "LAB":
        image = profiles.lab_to_srgb_image(image)
    return image if image.mode in ("RGB", "L", "CMYK") else image.convert("RGB")


def _deep_png(data: bytes) -> _Found:
    pixels: Code | None = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
    if pixels is None:
        raise OSError("damaged")
    if pixels.ndim == 3 and pixels.shape[2] in (3, 4):
        cv2.cvtColor(pixels, cv2.COLOR_BGR2RGB if pixels.shape[2] == 3 else cv2.COLOR_BGRA2RGBA, dst=pixels)
    return _whole(pixels)


def _deep_heif(data: bytes) -> _Found:
    import pillow_heif

    pixels: Code = np.asarray(pillow_heif.open_heif(io.BytesIO(data), convert_hdr_to_8bit=False))
    top = float(pixels.max())
    if pixels.dtype == np.uint16 and top > 0:
        # The decoder shifts its 10 or 12 bits up and leaves the lowest empty.
        full = 65472.0 if not (pixels & 63).any() else 65520.0
        pixels = np.minimum(pixels * (65535.0 / full) + 0.5, 65535).astype(np.uint16)
    return _whole(pixels)


def _deep_tiff(data: bytes, name: str) -> _Found | None:
    """A TIFF of more than 8 bits a channel; None for one that Pillow reads as well."""
    import tifffile  # only few pictures need it

    try:
        file = tifffile.TiffFile(io.BytesIO(data))
        page = file.pages.first
        kind, axes, tags = int(page.photometric), page.axes, page.tags
    except Exception:  # damaged, or of an odd kind: Pillow may know better
        return None
    if page.dtype is None or page.dtype.itemsize == 1 or kind not in (0, 1, 2, 5):
        return None
    count = int(page.samplesperpixel)
    read, kept = page.dtype.itemsize * count, (4 if page.dtype.kind == "f" else 2) * count
    through = kept if page.dtype.kind == "f" and 34675 in tags else 0  # floats go through their profile whole
    _check_size(int(page.imagewidth), int(page.imagelength), name, data, max(read, kept) + kept + through + 1.0)
    with file:
        pixels = np.asarray(page.asarray())
    if pixels.ndim == 3 and int(page.planarconfig) == 2:
        pixels = np.moveaxis(pixels, 0, -1)
    if pixels.ndim not in (2, 3) or "Y" not in axes or (kind == 5 and pixels.dtype.kind == "f"):
        raise OchreError(f"'{name}' is a TIFF of a kind that is no plain picture: save it as RGB.")
    if pixels.dtype == np.float64 or pixels.dtype == np.float16:
        pixels = pixels.astype(np.float32)
    elif pixels.dtype == np.uint32:
        np.right_shift(pixels, 16, out=pixels)
        pixels = pixels.astype(np.uint16)
    if pixels.dtype not in (np.uint16, np.float32):
        raise OchreError(f"'{name}' is a TIFF with {pixels.dtype} numbers: save it with 8, 16 or 32 bits a channel.")
    if kind == 0:
        pixels = (1 - pixels) if pixels.dtype.kind == "f" else (65535 - pixels).astype(np.uint16)
    if pixels.dtype.kind == "f" and not np.isfinite(pixels.sum(dtype=np.float64)):
        pixels = np.nan_to_num(pixels, nan=0.0, posinf=1.0, neginf=0.0)
    turned = int(tags[274].value) if 274 in tags else 1
    found = _whole(_upright(pixels, turned), cmyk=kind == 5)
    found.profile = bytes(tags[34675].value) if 34675 in tags else None
    if pixels.dtype.kind == "f":
        past = float(found.code.max())
        found.remarks.append(
            "floating point, taken as linear light"
            + (f"; its lights reach {past:.3g} times white: lower the exposure to see them" if past > 1.02 else "")
        )
    return found


def _whole(pixels: Code, cmyk: bool = False) -> _Found:
    """Deep pixels of 1 to 4 channels; transparency laid on white."""
    remarks: list[str] = []
    if pixels.ndim == 2:
        pixels = pixels[..., None]
    if pixels.ndim != 3:
        raise OSError("no picture")
    if not cmyk and pixels.shape[2] in (2, 4):
        full = 1.0 if pixels.dtype.kind == "f" else 65535.0
        if float(pixels[..., -1].min()) < full:
            pixels = _on_white(pixels, full)
            remarks.append("transparent parts shown on white")
        else:
            pixels = pixels[..., :-1]
    if pixels.shape[2] not in ((4,) if cmyk else (1, 3)):
        raise OSError("not a known number of channels")
    if pixels.dtype == np.uint16:
        remarks.append("read at 16 bits")
    return _Found(pixels, None, remarks)


def _on_white(pixels: Code, full: float) -> Code:
    """Pixels (h, w, c) without the last channel, their alpha; strip by strip."""
    out = np.empty((*pixels.shape[:2], pixels.shape[2] - 1), pixels.dtype)
    rows = max(1, _STRIP // pixels.shape[1])
    for top in range(0, len(pixels), rows):
        strip = pixels[top : top + rows]
        alpha = strip[..., -1:].astype(np.float32) / full
        out[top : top + rows] = strip[..., :-1] * alpha + full * (1 - alpha)
    return out


def _upright(pixels: Code, orientation: int) -> Code:
    """Apply EXIF orientation 1..8."""
    if orientation in (5, 6, 7, 8):
        pixels = np.swapaxes(pixels, 0, 1)
    if orientation in (2, 3, 6, 7):
        pixels = pixels[:, ::-1]
    if orientation in (3, 4, 7, 8):
        pixels = pixels[::-1]
    return pixels


def _png_curve(image: "Image.Image", found: _Found) -> None:
    """A PNG may say its curve and primaries in chunks of its own (gAMA, cHRM) in place of a profile."""
    gamma = image.info.get("gamma")
    if not gamma or abs(gamma - 0.45455) < 0.005 or not 0.1 < gamma < 1.5:
        return
    place = image.info.get("chromaticity")
    primaries, white = None, (0.3127, 0.3290)
    if place and len(place) == 8 and all(v > 0 for v in place):
        white, primaries = (place[0], place[1]), tuple((place[i], place[i + 1]) for i in (2, 4, 6))
    found.encoding = profiles.power_encoding(found.code.dtype.itemsize, 1 / gamma, primaries, white)
    found.remarks.append("its own curve of values was honoured")


def _through_profile(found: _Found) -> _Found:
    """Three channels with the encoding that the profile asks for."""
    cmyk, grey = found.code.shape[2] == 4, found.code.shape[2] == 1
    if found.profile:
        try:
            _apply(found, found.profile, cmyk, grey)
            described = profiles.description(found.profile)
            if described and "sRGB" not in described:
                found.remarks.append(f"colours by its profile, {described}"[:90])
        except ValueError:
            found.remarks.append("its colour profile does not fit and was left out")
    elif found.encoding is None and not cmyk and found.code.dtype.kind != "f":
        found.remarks.append("no colour profile: taken as sRGB")
    if found.code.shape[2] == 4:
        found.code = np.asarray(_plain_cmyk(found.code))
        found.remarks.append("a CMYK picture without a usable profile: its colours are only approximate")
    if found.code.shape[2] == 1:
        found.code = np.repeat(found.code, 3, axis=2)
    return found


def _apply(found: _Found, profile: bytes, cmyk: bool, grey: bool) -> None:
    if found.code.dtype.kind == "f":
        if grey:
            raise ValueError("a profile of grey does not serve for floating point")
        found.code = profiles.linear_of_floats(found.code, profile)
        found.remarks = [r.replace("taken as linear light", "by its profile") for r in found.remarks]
        return
    if not cmyk:
        found.encoding = profiles.encoding_of(profile, found.code.dtype.itemsize, grey)
    if found.encoding is None:
        space = "cmyk" if cmyk else "gray" if grey else "rgb"
        found.code, found.encoding = profiles.apply_profile(found.code, profile, space)


def _by_numbers(found: _Found, image: "Image.Image") -> None:
    """A HEIC without a profile may name its primaries and curve by numbers (ITU-T H.273)."""
    numbers = image.info.get("nclx_profile") or {}
    primaries = profiles.PRIMARIES.get(numbers.get("color_primaries", 2))
    if numbers.get("transfer_characteristics") in (16, 18):
        found.remarks.append("made for displays with more light: its lights look flat here, make it lighter")
    if primaries is not None and found.code.shape[2] == 3:
        found.encoding = profiles.power_encoding(found.code.dtype.itemsize, 0, primaries)


def _plain_cmyk(code: Code) -> npt.NDArray[np.uint8]:
    eight = (code >> 8).astype(np.uint8) if code.dtype == np.uint16 else code
    return np.asarray(Image.fromarray(np.ascontiguousarray(eight), "CMYK").convert("RGB"))
