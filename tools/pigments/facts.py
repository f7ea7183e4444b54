"""Facts of mixtures (facts.json) against K and S of paints: their figures, and how far these lie out of range."""

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import hue_value_chroma
from ochre_stone.core.colour.spaces import lch
from ochre_stone.core.paint import optics
from ochre_stone.core.paint.layers import SCATTER_PER_MM

Spectra = Mapping[str, tuple[np.ndarray, np.ndarray]]
"""K and S (36,) of each paint, by id."""

SPREAD = {"hue": 1.5, "value": 0.4, "chroma": 0.8, "b": 1.5, "turn": 5.0, "least_chroma": 0.5, "rise": 0.45,
          "near": 1.0, "keeps": 0.1, "saturation": 0.1, "lift": 0.15}  # fmt: skip
"""What counts as one standard deviation out of range, by kind of figure (judgement)."""
INSIDE = {"hue": 0.75, "value": 0.15, "chroma": 0.3, "b": 0.75, "turn": 1.5, "least_chroma": 0.3, "rise": 0.1,
          "near": 1.5, "keeps": 0.06, "saturation": 0.06, "lift": 0.03}  # fmt: skip
"""The fit aims this far inside a range's ends, half a standard deviation or so: a fact that just holds says little of
its neighbours. It is judged at the ends."""
RICH_UM = 0.45
"""Micrometres of tube paint in a rich coat of a glaze: over value 6 ultramarine then comes down by two steps (common
practice, no source)."""
DARK_BELOW = optics.below_surface(np.full(36, 0.0313))
"""Internal reflectance (36,) of a grey of Munsell value 2, over which a coat is judged."""
RATIOS = np.geomspace(1 / 24, 24, 25)


@dataclass(frozen=True)
class Figure:
    kind: str
    value: np.ndarray
    """One, or one for each of several sets of spectra."""
    low: float
    high: float

    def beyond(self, inside: float = 0.0) -> np.ndarray:
        """Below the range (positive) or above it (negative), in its own unit."""
        return np.maximum(self.low + inside - self.value, 0.0) - np.maximum(self.value - self.high + inside, 0.0)


@dataclass(frozen=True)
class Fact:
    """One thing that painters know of a mixture; what its figures mean stands in facts.json."""

    words: str
    parts: dict[str, float]
    ranges: dict[str, tuple[float, float]]
    other: dict[str, float] = field(default_factory=dict)
    ratio: str = ""
    goal: str = ""
    misses: str = ""
    source: str = ""

    @property
    def paints(self) -> set[str]:
        return set(self.parts) | set(self.other) | ({self.goal} if self.goal else set())

    def layers(self) -> list[dict[str, float]]:
        """Every mixture that it looks at."""
        if self.ratio:
            return [{**self.parts, self.ratio: self.parts[self.ratio] * r} for r in RATIOS]
        return [self.parts, *([self.other] if self.other else ())]

    def figures(self, spectra: Spectra) -> list[Figure]:
        """What is asked for, with its range; ``spectra`` (..., 36) may hold several sets at once."""
        layers = [*self.layers(), *([{self.goal: 1.0}] if self.goal else ())]
        K, S = ([sum(spectra[i][of] * n for i, n in p.items()) / sum(p.values()) for p in layers] for of in (0, 1))
        lab = optics.layer_lab(np.stack(np.broadcast_arrays(*K)), np.stack(np.broadcast_arrays(*S)))
        if "lift" in self.ranges:
            film = optics.film_reflectance(K[0], S[0], RICH_UM / 1000 * SCATTER_PER_MM, DARK_BELOW)
            bare = np.broadcast_to(DARK_BELOW, film.shape)
            lab = optics.reflectance_to_lab(optics.seen_through_surface(np.stack([film, bare])))
        return [Figure(kind, _figure(kind, lab, ends), *ends) for kind, ends in self.ranges.items()]

    def residuals(self, spectra: Spectra) -> np.ndarray:
        """How far each figure lies out of range, in standard deviations, (figures, ...); smooth but for the ends."""
        return np.array([f.beyond(INSIDE[f.kind]) / SPREAD[f.kind] for f in self.figures(spectra)])

    def off(self, spectra: Spectra) -> float:
        """Its worst figure in standard deviations out of range; 0 where it holds."""
        return max(abs(float(f.beyond())) / SPREAD[f.kind] for f in self.figures(spectra))


def load() -> list[Fact]:
    out = []
    for row in json.loads(Path(__file__).with_name("facts.json").read_text(encoding="utf-8"))["facts"]:
        ranges = {k: tuple(row[k]) for k in SPREAD if k in row and k != "near"}
        goal, within = row.get("near", ("", 0.0))
        if goal:
            ranges["near"] = (0.0, within)
        out.append(
            Fact(
                row["words"],
                row["parts"],
                ranges,
                row.get("other", {}),
                row.get("ratio", ""),
                goal,
                row.get("misses", ""),
                row["source"],
            )
        )
    return out


def _figure(kind: str, lab: np.ndarray, ends: tuple[float, float]) -> np.ndarray:
    """One figure of layers (layers, ..., 3)."""
    if kind in ("hue", "value", "chroma", "least_chroma", "keeps", "lift"):
        hue, value, chroma, _ = hue_value_chroma(lab)
        if kind == "hue":
            middle = sum(ends) / 2
            return middle + (hue[0] - middle + 50) % 100 - 50
        if kind == "lift":
            return value[0] - value[1]
        if kind == "keeps":
            return chroma[0] / chroma[1]
        return {"value": value[0], "chroma": chroma[0], "least_chroma": chroma.min(axis=0)}[kind]
    if kind == "b":
        return lab[0, ..., 2]
    if kind == "near":
        return ciede2000(lab[:-1], lab[-1]).min(axis=0)
    L, C, h = lch(lab)
    if kind == "saturation":
        return C[0] / L[0] / (C[1] / L[1])
    turns = (np.diff(h, axis=0) + 180) % 360 - 180
    return turns.min(axis=0) if kind == "rise" else -turns[0]
