"""Write resources/colour/observer.json: weights that turn 36 bands (380-730 nm by 10) into XYZ.

A spectrum between the bands is a natural cubic spline through them, held constant beyond the ends; it is
integrated at 1 nm from 360 to 780 nm against the CIE 1931 two degree observer and the illuminant (CIE 015:2018,
from colour-science). Both steps are linear in the 36 values, hence one matrix.
"""

import json
import warnings

import numpy as np
from scipy.interpolate import CubicSpline

warnings.simplefilter("ignore")
import colour  # noqa: E402

from ochre_stone.core.colour.spaces import WAVELENGTHS  # noqa: E402
from ochre_stone.resources import resource  # noqa: E402


def weights(illuminant: str) -> np.ndarray:
    shape = colour.SpectralShape(360, 780, 1)
    light = colour.SDS_ILLUMINANTS[illuminant].copy().align(shape).values
    observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(shape).values
    fine = np.clip(np.arange(360.0, 781.0), WAVELENGTHS[0], WAVELENGTHS[-1])
    spline = CubicSpline(WAVELENGTHS, np.eye(len(WAVELENGTHS)), bc_type="natural")(fine)
    return spline.T @ (light[:, None] * observer) / (light * observer[:, 1]).sum()


if __name__ == "__main__":
    table = {
        "source": "CIE 1931 2 degree observer and CIE standard illuminants, 1 nm, folded to 10 nm bands",
        "wavelengths": WAVELENGTHS.tolist(),
        "weights": {name: weights(name).round(9).tolist() for name in ("D65", "A")},
    }
    path = resource("colour", "observer.json")
    path.write_text(json.dumps(table, indent=1) + "\n", encoding="utf-8")
    print(f"{path}: D65 white {np.sum(table['weights']['D65'], axis=0).round(5)}")
