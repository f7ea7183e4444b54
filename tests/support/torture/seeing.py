"""Pictures in which the program looks for something, a face or a palette with piles: damaged as pictures are, not as
files."""

from pathlib import Path

import cv2
import numpy as np

from ochre_stone.core.boardphoto.layout import Expected, Layout
from ochre_stone.core.boardphoto.read import FIND, BoardPhoto
from ochre_stone.core.boardphoto.single import read_one
from ochre_stone.core.boardphoto.square import plain_code, propose_corners
from ochre_stone.core.colour.spaces import encode_srgb
from ochre_stone.core.errors import OchreError
from ochre_stone.core.keys.faces import find_faces, skin_of
from ochre_stone.core.picture.balance import Balance
from ochre_stone.core.picture.load import load
from ochre_stone.core.picture.picture import linear_to_lab

_PIXELS = 150_000
_SQUARE = np.array([(0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9)])


def damaged(data: bytes, rng: np.random.Generator) -> bytes:
    """A PNG of a picture (bytes of any kind) after one to three kinds of damage to its pixels."""
    code = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)
    if code is None:
        return data
    for _ in range(int(rng.integers(1, 4))):
        code = _hurt(code, rng)
    return bytes(cv2.imencode(".png", code, [cv2.IMWRITE_PNG_COMPRESSION, 1])[1])


def _hurt(code: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    h, w = code.shape[:2]
    match int(rng.integers(0, 9)):
        case 0:  # cut to a part, down to single pixels
            high, wide = (max(1, int(n * rng.random() ** 3)) for n in (h, w))
            top, left = int(rng.integers(0, h - high + 1)), int(rng.integers(0, w - wide + 1))
            return code[top : top + high, left : left + wide]
        case 1:
            return np.full_like(code, rng.integers(0, 256, 3))
        case 2:
            return np.asarray(rng.integers(0, 256, code.shape, dtype=np.uint8))
        case 3:
            return np.clip(code.astype(int) + rng.normal(0, 60, code.shape), 0, 255).astype(np.uint8)
        case 4:
            return 255 - code
        case 5:
            return np.ascontiguousarray(np.rot90(code, int(rng.integers(1, 4))))
        case 6:
            stretch = (max(1, int(w * rng.uniform(0.05, 2))), max(1, int(h * rng.uniform(0.05, 2))))
            return np.asarray(cv2.resize(code, stretch))
        case 7:
            out = code.copy()
            for _ in range(int(rng.integers(1, 30))):
                at = (int(rng.integers(0, w)), int(rng.integers(0, h)))
                colour = tuple(int(v) for v in rng.integers(0, 256, 3))
                cv2.circle(out, at, int(rng.integers(1, max(2, w // 4))), colour, -1)
            return out
        case _:
            return np.clip(code.astype(float) * rng.uniform(0, 8), 0, 255).astype(np.uint8)


def look_for_faces(path: Path) -> None:
    """As suggesting notes does."""
    linear = load(path).reduced(_PIXELS)
    lab = linear_to_lab(linear)
    code = (np.clip(encode_srgb(np.clip(linear, 0, 1)), 0, 1) * 255).astype(np.uint8)
    for face in find_faces(code, lab):
        if not 0 <= face.left <= code.shape[1] - face.side * 0.5:
            raise AssertionError(f"{face} lies outside of {code.shape}")
        skin_of(face, lab)
        face.part(lab)


def read_the_palette(path: Path, rng: np.random.Generator) -> None:
    """As checking a photo of the palette does, with corners that are found, or drawn anywhere."""
    picture = load(path)
    half = plain_code(picture)
    size = np.array([picture.width, picture.height])
    found = propose_corners(half)
    drawn = _SQUARE + rng.normal(0, 0.12, (4, 2)) if rng.random() < 0.7 else rng.uniform(-0.2, 1.2, (4, 2))
    corners = found if found is not None and rng.random() < 0.5 else drawn * size
    expected = tuple(
        Expected(f"p{n}", tuple(rng.uniform((5, -40, -40), (95, 40, 40))), *rng.uniform(0, 40, 2), 1.5)  # type: ignore[arg-type]
        for n in range(int(rng.integers(0, 12)))
    )
    card = FIND if rng.random() < 0.6 else tuple(rng.uniform(-0.1, 1.1, 2) * size)
    try:
        board = BoardPhoto.of(half, Layout(*rng.uniform(5, 80, 2), expected), corners, card)  # type: ignore[arg-type]
        for seen in board.piles()[:3]:
            if not np.isfinite(seen.lab).all():
                raise AssertionError(f"a pile of {seen.lab}")
            board = board.with_split(seen.number)
    except OchreError:
        read_one(picture, *(rng.uniform(0, 0.999, 2) * size), Balance())
        raise
