"""Grow the table of the border of sRGB: greatest chroma C*ab by L* and hue. Run by hand; its output is committed."""

import numpy as np

from ochre_stone.core.colour.spaces import XYZ_TO_SRGB, lab_to_xyz
from ochre_stone.resources import resource


def main() -> None:
    L, h = np.meshgrid(np.arange(101.0), np.radians(np.arange(361.0)), indexing="ij")
    low, high = np.zeros_like(L), np.full_like(L, 140.0)
    for _ in range(24):
        middle = (low + high) / 2
        rgb = lab_to_xyz(np.stack([L, middle * np.cos(h), middle * np.sin(h)], axis=-1)) @ XYZ_TO_SRGB.T
        fits = ((rgb >= -1e-4) & (rgb <= 1.0001)).all(axis=-1)
        low, high = np.where(fits, middle, low), np.where(fits, high, middle)
    low[[0, 100]] = 0  # black and white have no hue
    path = resource("colour", "gamut.npy")
    np.save(str(path), np.round(low * 100).astype(np.uint16))
    print(f"{path}: {low.shape}, up to {low.max():.1f}")


if __name__ == "__main__":
    main()
