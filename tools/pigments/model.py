"""One pigment as a vector of free parameters: its K and S, its priors, what it owes to its own anchors.

K = K0 * sum of absorption features (``optics.band``; for iron oxides grains of a tabulated crystal,
``oxides``); S = S0 (lambda/550)^-m times what the grain lets expect (``core.paint.scatter``), for the whites
without it. Gaussian errors on L*, a*, b* by confidence; Gaussian priors on the logarithms of heights, widths and grains
and on wavelengths.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np
from scipy.optimize import least_squares

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import WAVELENGTHS
from ochre_stone.core.paint import optics, scatter
from tools.pigments import oxides

SIGMA = {"A": 2.0, "B": 3.0, "C": 5.0}
"""Standard deviation of a remembered L*, a* or b*, by confidence."""
PRIOR = {"K0": 2.5, "S0": 0.7, "m": 0.25, "index": 0.04, "height": 1.08, "base": 2.16, "edge": 14.4, "width": 0.45,
         "centre": 12.6, "spread": 0.32, "power": 0.15, "grain": 0.7, "shift": 6.0}  # fmt: skip
"""Prior standard deviations: of logarithms (K0, S0, height, base, width, spread, grain), nm (edge, centre, shift) or as
they are. Tables round the index, and crystals have two or three."""
CURVE_SD = 0.7
"""Spread of ln of a remembered share of the strongest absorption; CURVE_FLOOR is the least share that can be told."""
CURVE_FLOOR = 0.01
ABOVE_WHITE_SD = 0.15
"""ln S above titanium white's, band by band, that counts as one standard deviation: nothing in a tube scatters more
than it (index and share of pigment are the highest)."""

LEAST_INSIDE = 0.0095
"""Reflectance inside below which no film falls, whatever absorbs in it: what absorbs scatters a little too, and grains
stand at the surface. Seen glossy it is value .5, the darkest chip of the glossy Munsell neutrals (N 0.5, from memory).
A mixture of paints that keep it keeps it. Mass tones alone cannot tell: there black, phthalos and Prussian blue all lie
on the surface's floor."""

VISIBLE = (WAVELENGTHS >= 400) & (WAVELENGTHS <= 700)
SLOTS = {"E": ("edge", "width"), "G": ("centre", "spread", "spread"), "P": ("power",), "B": (),
         "hematite": ("grain", "shift"), "goethite": ("grain", "shift")}  # fmt: skip
LOGARITHMIC = {"K0", "S0", "height", "base", "width", "spread", "grain"}

Pair = tuple[np.ndarray, np.ndarray]
Crystals = Mapping[oxides.Crystal, np.ndarray]


def band(feature: tuple, crystals: Crystals = oxides.REMEMBERED) -> np.ndarray:
    kind, height, *rest = feature
    return height * oxides.grains(crystals[kind], *rest) if kind in crystals else optics.band(feature)


def spectra(p: dict, crystals: Crystals = oxides.REMEMBERED) -> Pair:
    """K and S (36,) of fitted parameters; ``crystals``: imaginary indices of the iron oxides."""
    K = p["K0"] * sum(band(b, crystals) for b in p["bands"])
    S = optics.scattering(p["S0"], p["m"])
    if "grain" in p:
        S = S * scatter.expected_scatter(*p["grain"], None if p["even"] else K)
    inside = np.cbrt(optics.infinite_reflectance(K, S) ** 3 + LEAST_INSIDE**3)  # no edge, and what is light stays
    return K, np.maximum(S, K / np.maximum(optics.absorption_ratio(inside), 1e-12))


def tint(K: np.ndarray, S: np.ndarray, white: Pair, parts: float, surface: optics.Surface = optics.USUAL) -> np.ndarray:
    """Lab of one volume of paint with ``parts`` volumes of white."""
    return optics.layer_lab(K + parts * white[0], S + parts * white[1], surface)


def surface_of(entry: dict) -> optics.Surface:
    """The surface that an entry's remembered figures carry."""
    return replace(optics.ANCHORS, g=entry.get("gloss", optics.ANCHORS.g))


@dataclass
class Model:
    """The free parameters of an entry of anchors.json as a vector, with mean and spread of their prior."""

    entry: dict
    by_volume: float
    """Turns parts of white by weight into parts by volume."""
    crystals: Crystals = field(default_factory=lambda: oxides.REMEMBERED)
    kinds: list[str] = field(init=False)
    mean: np.ndarray = field(init=False)
    sd: np.ndarray = field(init=False)

    def __post_init__(self) -> None:
        e = self.entry
        self.grain = (e["refractive_index"], e["particle_um"], e["pigment_volume"])
        self.bands = [tuple(b) for b in e["prior"]["bands"]]
        self.kinds = ["K0", "S0", "m", "index"]
        start = [e["prior"]["K0"], 1.0, 0.0, self.grain[0]]
        for i, (kind, height, *rest) in enumerate(self.bands):
            if i or height != 1:  # the first feature carries K0
                self.kinds.append("base" if kind == "B" else "height")
                start.append(height)
            self.kinds += SLOTS[kind]
            start += rest
        self.mean = np.array([np.log(v) if k in LOGARITHMIC else v for k, v in zip(self.kinds, start, strict=True)])
        self.sd = np.array([PRIOR[k] for k in self.kinds])

    def with_crystals(self, crystals: Crystals) -> "Model":
        """The same with other tables of the iron oxides."""
        return replace(self, crystals=crystals)

    def parameters(self, x: np.ndarray) -> dict:
        values = [float(np.exp(v)) if k in LOGARITHMIC else float(v) for k, v in zip(self.kinds, x, strict=True)]
        K0, S0, m, index, *rest = values
        bands = []
        for i, (kind, height, *_) in enumerate(self.bands):
            own = rest.pop(0) if i or height != 1 else 1.0
            bands.append((kind, own, *(rest.pop(0) for _ in SLOTS[kind])))
        even = self.entry.get("even", False)
        return {"K0": K0, "S0": S0, "m": m, "bands": bands, "grain": (index, *self.grain[1:]), "even": even}

    def spectra(self, x: np.ndarray) -> Pair:
        return spectra(self.parameters(x), self.crystals)

    def residuals(self, x: np.ndarray, own: Pair, white: Pair) -> np.ndarray:
        """Prior, anchors, remembered run of the absorption, and the bound on scattering, in standard deviations.
        ``own``: K and S at ``x``."""
        K, S = own
        sigma = SIGMA[self.entry["confidence"]]
        out = [(x - self.mean) / self.sd]
        for parts, *figures in self.entry["anchors"]:
            weight = np.array(figures[3]) if len(figures) > 3 else 1.0
            seen = tint(K, S, white, parts * self.by_volume, surface_of(self.entry))
            out.append((seen - np.array(figures[:3])) / sigma * weight)
        out.append(np.maximum(np.log(S / white[1]), 0.0)[2:33:3] / ABOVE_WHITE_SD)
        for nm, share in self.entry.get("curve", ()):
            at = np.interp(nm, WAVELENGTHS, K) / K[VISIBLE].max()
            out.append(np.array([np.log((at + CURVE_FLOOR) / (share + CURVE_FLOOR)) / CURVE_SD]))
        return np.concatenate(out)

    def alone(self, white: Pair) -> np.ndarray:
        """Fitted to its own figures only."""

        def residual(x: np.ndarray) -> np.ndarray:
            return self.residuals(x, self.spectra(x), white)

        return least_squares(residual, self.mean, x_scale=self.sd, max_nfev=200).x


def anchor_errors(entry: dict, own: Pair, white: Pair, by_volume: float) -> list[list[float]]:
    """[parts of white by weight, CIEDE2000] per anchor; unweighted coordinates are not counted."""
    out = []
    for parts, *figures in entry["anchors"]:
        lab = tint(*own, white, parts * by_volume, surface_of(entry))
        goal = np.array(figures[:3])
        if len(figures) > 3:
            goal = np.where(np.array(figures[3]) > 0, goal, lab)
        out.append([parts, round(float(ciede2000(lab, goal)), 2)])
    return out


def fit_white(entry: dict) -> dict:
    """Scattering and band shapes stay; the heights of the yellow band and of the base follow the mass tone."""
    prior = entry["prior"]
    goal = np.array(entry["anchors"][0][1:4])
    free = [i for i, b in enumerate(prior["bands"]) if b[0] != "E"]

    def build(x: np.ndarray) -> dict:
        bands = [list(b) for b in prior["bands"]]
        for i, v in zip(free, x, strict=True):
            bands[i][1] = bands[i][1] * float(np.exp(v))
        return {**prior, "bands": [tuple(b) for b in bands]}

    def residual(x: np.ndarray) -> np.ndarray:
        lab = optics.layer_lab(*spectra(build(x)), surface_of(entry))
        return np.concatenate([(lab - goal) / 0.5, x / 1.5])

    return build(least_squares(residual, np.zeros(len(free))).x)
