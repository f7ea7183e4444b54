"""Write resources/colour/munsell.npz: renotation hue and chroma on a grid of a*, b* per value plane.

Per value plane (1 to 9) the renotation samples (Newhall, Nickerson and Judd 1943; all data, from colour-science) are
placed at their a*, b* under illuminant C, and chroma * (cos hue, sin hue) is interpolated linearly between them, which
has no jump at the hue origin. Outside the data the vector is scaled along the ray from the neutral.
"""

import warnings

import numpy as np
from scipy.interpolate import LinearNDInterpolator

warnings.simplefilter("ignore")
import colour  # noqa: E402

from ochre_stone.core.colour import munsell as m  # noqa: E402
from ochre_stone.core.colour.spaces import xyz_to_lab  # noqa: E402
from ochre_stone.resources import resource  # noqa: E402

RADIUS, STEP = 128.0, 2.0


def rows() -> np.ndarray:
    out = []
    for (hue, value, chroma), (x, y, _) in colour.notation.munsell.MUNSELL_COLOURS_ALL:
        number = hue.rstrip("RYGBP")
        out.append((float(number) + 10 * m.HUE_NAMES.index(hue[len(number) :]), value, chroma, x, y))
    data = np.array(out, float)
    return data[np.isfinite(data).all(axis=1) & (data[:, 4] > 1e-3)]


def plane(data: np.ndarray, value: float) -> tuple[np.ndarray, np.ndarray]:
    _, _, chroma, x, y = data.T
    big_y = float(m.luminance_of_value(value))
    xyz = np.stack([x / y * big_y, np.full_like(x, big_y), (1 - x - y) / y * big_y], axis=1)
    ab = np.vstack([[[0.0, 0.0]], xyz_to_lab(xyz, m._WHITE_C)[:, 1:]])
    angle = data[:, 0] * 2 * np.pi / 100
    goal = np.vstack([[[0.0, 0.0]], np.stack([chroma * np.cos(angle), chroma * np.sin(angle)], axis=1)])
    inside = LinearNDInterpolator(ab, goal)
    axis = np.arange(-RADIUS, RADIUS + STEP, STEP)
    grid = np.stack(np.meshgrid(axis, axis, indexing="ij"), axis=-1).reshape(-1, 2)
    z = inside(grid)
    bad = np.isnan(z[:, 0])
    points, low, high = grid[bad], np.zeros(bad.sum()), np.ones(bad.sum())
    for _ in range(14):
        middle = (low + high) / 2
        good = ~np.isnan(inside(points * middle[:, None])[:, 0])
        low, high = np.where(good, middle, low), np.where(good, high, middle)
    scale = np.maximum(low * 0.995, 1e-3)
    z[bad] = inside(points * scale[:, None]) / scale[:, None]
    n = len(axis)
    return np.nan_to_num(z).reshape(n, n, 2), ~bad.reshape(n, n)


if __name__ == "__main__":
    data = rows()
    values = np.arange(1.0, 10.0)
    planes = [plane(data[data[:, 1] == v], v) for v in values]
    path = resource("colour", "munsell.npz")
    np.savez_compressed(
        path,
        values=values,
        step=STEP,
        radius=RADIUS,
        xy=np.stack([p[0] for p in planes]).astype(np.float32),
        known=np.stack([p[1] for p in planes]),
    )
    print(f"{path}: {path.stat().st_size / 1e6:.2f} MB from {len(data)} renotation samples")
