"""Open a reference picture: JPEG, PNG, TIFF or WebP, turned upright, colour profile honoured, as sRGB code values.

Profiles go through LittleCMS (Pillow), relative colorimetric. Pictures with 16 bits keep them where no profile has to
be applied. Whatever cannot be read raises OchreError with one sentence; whatever was decided on the way is kept as a
remark.
"""

import io
import warnings
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import numpy.typing as npt
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from ochre_stone.core.colour.spaces import SRGB_TO_XYZ, WHITE_D65, decode_srgb, encode_srgb
from ochre_stone.core.errors import OchreError

FORMATS = ("JPEG", "PNG", "TIFF", "WEBP")
SUFFIXES = (".jpg", ".jpeg", ".png", ".tif", ".tiff", ".webp")
MOST_PIXELS = 200_000_000
LEAST_SIDE = 32

Floats = npt.NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class Picture:
    """A reference picture, upright, sRGB code values (h, w, 3) of 8 or 16 bits; never changed once loaded."""

    code: npt.NDArray[Any]
    name: str
    source: bytes = field(repr=False)
    """The file as it came, byte for byte."""
    remarks: tuple[str, ...] = ()
    _copies: dict[int, Floats] = field(default_factory=dict, repr=False, compare=False)

    @property
    def width(self) -> int:
        return int(self.code.shape[1])

    @property
    def height(self) -> int:
        return int(self.code.shape[0])

    def linear(self, rows: slice = slice(None), columns: slice = slice(None)) -> Floats:
        """Linear-light sRGB (..., 3) of a part of the picture, float32, 1 = white."""
        return np.asarray(_decode_table(self.code.dtype.itemsize)[self.code[rows, columns]])

    def reduced(self, pixels: int) -> Floats:
        """Linear-light copy (h', w', 3) of at most about ``pixels`` pixels, averaged by area in linear light.

        Works in strips, so that memory stays near that of the copy; copies are kept, read-only.
        """
        if pixels not in self._copies:
            small = self._reduce(pixels)
            small.setflags(write=False)
            self._copies[pixels] = small
        return self._copies[pixels]

    def _reduce(self, pixels: int) -> Floats:
        factor = max(1, int((self.width * self.height / pixels) ** 0.5))
        if factor > 1:
            width, height = self.width // factor, self.height // factor
            small = np.empty((height, width, 3), np.float32)
            step = max(1, 256 // factor)
            for top in range(0, height, step):
                rows = min(step, height - top)
                strip = self.linear(slice(top * factor, (top + rows) * factor), slice(0, width * factor))
                small[top : top + rows] = cv2.resize(strip, (width, rows), interpolation=cv2.INTER_AREA)
        else:
            small = self.linear()
        scale = (pixels / (small.shape[0] * small.shape[1])) ** 0.5
        if scale < 0.999:
            size = (max(1, round(small.shape[1] * scale)), max(1, round(small.shape[0] * scale)))
            small = cv2.resize(small, size, interpolation=cv2.INTER_AREA)
        return np.ascontiguousarray(small, dtype=np.float32)


_TABLES: dict[int, Floats] = {}


def _decode_table(size: int) -> Floats:
    if size not in _TABLES:
        _TABLES[size] = decode_srgb(np.linspace(0, 1, 256 if size == 1 else 65536)).astype(np.float32)
    return _TABLES[size]


def load(path: str | Path) -> Picture:
    """Open a picture file. Raises OchreError when it cannot be opened."""
    path = Path(path)
    try:
        data = path.read_bytes()
    except FileNotFoundError:
        raise OchreError(f"There is no file '{path}': check the name and the folder.") from None
    except IsADirectoryError:
        raise OchreError(f"'{path}' is a folder: choose a picture in it.") from None
    except OSError as error:
        raise OchreError(f"'{path}' cannot be read ({error.strerror}): check its permissions.") from None
    return load_bytes(data, path.name)


def load_bytes(data: bytes, name: str) -> Picture:
    """Open a picture from the bytes of its file; ``name`` is used in messages. Raises OchreError."""
    if not data:
        raise OchreError(f"'{name}' is empty: choose another file.")
    remarks: list[str] = []
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            Image.init()
            limit, Image.MAX_IMAGE_PIXELS = Image.MAX_IMAGE_PIXELS, None  # checked below, before decoding
            try:
                image = Image.open(io.BytesIO(data), formats=FORMATS)
                _check_size(image.width, image.height, name)
                code = _deep(data, image, name, remarks)
                if code is None:
                    image.load()
                    code = np.asarray(_to_srgb(ImageOps.exif_transpose(image), remarks))
            finally:
                Image.MAX_IMAGE_PIXELS = limit
    except OchreError:
        raise
    except UnidentifiedImageError:
        raise OchreError(f"'{name}' is not a picture that can be opened: use JPEG, PNG, TIFF or WebP.") from None
    except Exception as error:  # decoders raise anything at all on damaged data
        raise OchreError(
            f"'{name}' is damaged or incomplete: copy it again from the camera or export it anew."
        ) from error
    code = np.ascontiguousarray(code)
    code.setflags(write=False)
    return Picture(code, name, data, tuple(remarks))


def _check_size(width: int, height: int, name: str) -> None:
    if width * height > MOST_PIXELS:
        raise OchreError(
            f"'{name}' has {width} x {height} pixels: more than {MOST_PIXELS // 1_000_000} megapixels are not "
            "needed to paint from, so save a smaller copy."
        )
    if min(width, height) < LEAST_SIDE:
        raise OchreError(
            f"'{name}' has only {width} x {height} pixels: choose one of at least {LEAST_SIDE} pixels a side."
        )


def _deep(data: bytes, image: Image.Image, name: str, remarks: list[str]) -> npt.NDArray[Any] | None:
    """A 16-bit picture without a profile as uint16 (h, w, 3), or None when the 8-bit way serves."""
    if image.info.get("icc_profile"):
        if _bits(image, data) > 8:
            remarks.append("read at 8 of its 16 bits, to apply its colour profile")
        return None
    if image.format == "PNG" and _bits(image, data) > 8:
        pixels: npt.NDArray[Any] | None = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED)
        if pixels is None:
            raise OSError("damaged")
        if pixels.ndim == 3:
            pixels = pixels[..., [2, 1, 0, 3][: pixels.shape[2]]]
    elif image.format == "TIFF" and _bits(image, data) > 8 and image.mode in ("RGB", "I;16", "I;16B", "RGBA"):
        import tifffile  # only few pictures need it

        pixels = tifffile.imread(io.BytesIO(data))
    else:
        return None
    if pixels.dtype != np.uint16:
        return None
    if pixels.ndim == 2:
        pixels = pixels[..., None]
    if pixels.ndim != 3:
        return None
    if pixels.shape[2] in (2, 4):
        alpha = pixels[..., -1:].astype(np.float32) / 65535
        pixels = (pixels[..., :-1] * alpha + 65535 * (1 - alpha)).astype(np.uint16)
        remarks.append("transparent parts shown on white")
    if pixels.shape[2] == 1:
        pixels = np.repeat(pixels, 3, axis=2)
    remarks.append("read at 16 bits")
    return _upright(pixels, image.getexif().get(0x0112, 1))


def _bits(image: Image.Image, data: bytes) -> int:
    if image.format == "PNG":
        return data[24] if len(data) > 24 else 8
    if image.format == "TIFF":
        bits = getattr(image, "tag_v2", {}).get(258, (8,))
        return int(max(bits)) if isinstance(bits, tuple) else int(bits)
    return 8


def _upright(pixels: npt.NDArray[Any], orientation: int) -> npt.NDArray[Any]:
    """Apply EXIF orientation 1..8."""
    if orientation in (5, 6, 7, 8):
        pixels = pixels.transpose(1, 0, 2)
    if orientation in (2, 3, 6, 7):
        pixels = pixels[:, ::-1]
    if orientation in (3, 4, 7, 8):
        pixels = pixels[::-1]
    return pixels


def _to_srgb(image: Image.Image, remarks: list[str]) -> Image.Image:
    """An 8-bit picture of any mode as sRGB."""
    profile = image.info.get("icc_profile")
    if image.mode in ("P", "PA", "LA", "La", "RGBa", "RGBA"):
        image = image.convert("RGBA")
        if image.getchannel("A").getextrema() != (255, 255):
            backdrop = Image.new("RGBA", image.size, "white")
            image = Image.alpha_composite(backdrop, image)
            remarks.append("transparent parts shown on white")
        image = image.convert("RGB")
    elif image.mode.startswith(("I", "F")):
        pixels = np.asarray(image, dtype=np.float64)
        top = 65535.0 if image.mode.startswith("I") else max(float(np.nanmax(pixels)), 1e-9)
        image = Image.fromarray(np.clip(np.nan_to_num(pixels) / top * 255, 0, 255).astype(np.uint8), "L")
    if image.mode not in ("RGB", "L", "CMYK", "LAB"):
        image = image.convert("RGB")
    if profile:
        try:
            source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            described = ImageCms.getProfileDescription(source).strip()
            converted = ImageCms.profileToProfile(
                image,
                source,
                ImageCms.createProfile("sRGB"),
                ImageCms.Intent.RELATIVE_COLORIMETRIC,
                outputMode="RGB",
            )
            if converted is not None:
                if "sRGB" not in described:
                    remarks.append(f"converted from its colour profile, {described}"[:90])
                return converted
        except (ImageCms.PyCMSError, OSError, ValueError):
            remarks.append("its colour profile does not fit and was left out")
    if image.mode == "CMYK":
        remarks.append("a CMYK picture without a usable profile: its colours are only approximate")
    elif not profile:
        remarks.append("no colour profile: taken as sRGB")
    return image.convert("RGB")


def linear_to_lab(linear: npt.ArrayLike) -> Floats:
    """Linear-light sRGB (..., 3) to CIELAB D65 (..., 3), float32; within .01 of the exact formula."""
    rgb = np.asarray(linear, dtype=np.float32)
    matrix = (SRGB_TO_XYZ / WHITE_D65[:, None]).T.astype(np.float32)
    t = np.maximum(rgb.reshape(-1, 3) @ matrix, 0)
    f = np.where(t > np.float32(216 / 24389), np.cbrt(t), (np.float32(24389 / 27) * t + 16) / np.float32(116))
    out = np.empty_like(t)
    out[:, 0] = 116 * f[:, 1] - 16
    out[:, 1] = 500 * (f[:, 0] - f[:, 1])
    out[:, 2] = 200 * (f[:, 1] - f[:, 2])
    return np.asarray(out.reshape(rgb.shape))


_ENCODE: npt.NDArray[np.uint8] = np.round(encode_srgb(np.linspace(0, 1, 16385)) * 255).astype(np.uint8)


def linear_to_code(linear: npt.ArrayLike) -> npt.NDArray[np.uint8]:
    """Linear light to sRGB bytes, clipped, by a table of 16385 entries."""
    x = np.asarray(linear, dtype=np.float32)
    return np.asarray(_ENCODE[np.clip(x * 16384 + 0.5, 0, 16384).astype(np.int32)])
