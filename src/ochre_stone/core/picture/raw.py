"""Camera RAW through LibRaw (rawpy): developed with the camera's own white, linear, 16 bits, wide primaries."""

import functools
import io
from typing import Any

import numpy as np
import numpy.typing as npt

from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.picture import Encoding
from ochre_stone.core.picture.profiles import primaries_matrix

RAW_SUFFIXES = (
    ".arw", ".cr2", ".cr3", ".crw", ".dng", ".erf", ".iiq", ".kdc", ".mrw", ".nef", ".nrw", ".orf", ".pef", ".raf",
    ".raw", ".rw2", ".srw", ".x3f",
)  # fmt: skip
# ISO 22028-2 (ROMM) primaries and white D50.
_ROMM = ((0.7347, 0.2653), (0.1596, 0.8404), (0.0366, 0.0001))
_D50 = (0.3457, 0.3585)


def is_raw(data: bytes, name: str) -> bool:
    """Whether a file is to be developed as RAW: by its name, since most RAW files look like TIFF inside."""
    return name.lower().endswith(RAW_SUFFIXES)


@functools.cache
def encoding() -> Encoding:
    """Linear 16-bit code values in ROMM primaries."""
    curve = np.linspace(0, 1, 65536, dtype=np.float32)
    matrix = primaries_matrix(_ROMM, _D50).astype(np.float32)
    return Encoding(np.ascontiguousarray(np.repeat(curve[:, None], 3, axis=1)), matrix)


def _library() -> Any:
    import rawpy  # only RAW files need it

    return rawpy


def _sorry(name: str) -> OchreError:
    return OchreError(
        f"'{name}' is a RAW file that the library LibRaw cannot develop: convert it to DNG or export a 16-bit TIFF."
    )


def size(data: bytes, name: str) -> tuple[int, int]:
    """Width and height that developing will give. Raises OchreError where the file cannot be developed."""
    rawpy = _library()
    try:
        with rawpy.imread(io.BytesIO(data)) as file:
            return int(file.sizes.iwidth), int(file.sizes.iheight)
    except rawpy.LibRawError:
        raise _sorry(name) from None


def develop(data: bytes, name: str) -> tuple[npt.NDArray[np.uint16], list[str]]:
    """Code values (h, w, 3) for :func:`encoding`, upright, and remarks. Raises OchreError."""
    rawpy = _library()
    try:
        with rawpy.imread(io.BytesIO(data)) as file:
            asked = file.camera_whitebalance[0] > 0
            code = file.postprocess(
                output_bps=16,
                gamma=(1, 1),
                no_auto_bright=True,
                use_camera_wb=asked,
                use_auto_wb=False,
                output_color=rawpy.ColorSpace.ProPhoto,
            )
    except rawpy.LibRawError:
        raise _sorry(name) from None
    remarks = ["developed from RAW, linear, 16 bits"]
    if not asked:
        remarks.append("the camera noted no white: set the light by a grey")
    code = np.asarray(code)
    if code.ndim == 3 and code.shape[2] == 1:  # a camera without colour filters
        code = np.repeat(code, 3, axis=2)
    if code.ndim != 3 or code.shape[2] != 3:
        raise _sorry(name)
    return code, remarks


def raw_thumbnail(data: bytes) -> bytes:
    """The JPEG that the camera put into the file; raises where there is none."""
    rawpy = _library()
    with rawpy.imread(io.BytesIO(data)) as file:
        thumb = file.extract_thumb()
    if thumb.format != rawpy.ThumbFormat.JPEG:
        raise ValueError("no JPEG inside")
    return bytes(thumb.data)
