"""Grow resources/paint/pigments.json: fit K and S of every pigment to its anchors (tools/pigment_anchors.json).

Model and units: ``ochre_stone.core.paint.optics``. K = K0 * sum of absorption features; S = S0 (lambda/550)^-m
times what the grain lets expect (``ochre_stone.core.paint.scatter``), for the whites without it.
Method: maximum a posteriori least squares (Gaussian errors on L*, a*, b* by confidence, Gaussian priors on the
logarithms of heights and widths and on wavelengths), with scipy's trust region solver. What is fitted: mass tones and
tints (L*, a*, b*), where remembered the run of the absorption over the wavelengths, and for scattering what refractive
index, grain and share of pigment let expect.

Order matters and is physical:
1. The three whites, to their mass tone: heights of the oil's yellow band and of the flat base. Every tint rests on
them.
2. Every other pigment to its mass tone and tints, alone.
3. The pigments of one *series* again: cadmium sulfide and its selenide solid solutions are one direct-gap
   semiconductor, ground to one particle size, whose edge moves with the composition. Its absorption per volume above
   the gap and its scattering can hardly change along the series, so K0 and S0 get the series' mean as a prior
   (empirical Bayes). Alone, the deep reds take strength that their edge should have supplied.

Everything rests on remembered figures; the output says so, entry by entry.
"""

import json
from pathlib import Path

import numpy as np
from scipy.optimize import least_squares

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import notation
from ochre_stone.core.colour.spaces import WAVELENGTHS
from ochre_stone.core.paint import optics, scatter
from ochre_stone.core.paint.layers import undertone
from ochre_stone.resources import resource

SIGMA = {"A": 2.0, "B": 3.0, "C": 5.0}
"""Standard deviation of a remembered L*, a* or b*, by confidence."""
PRIOR = {"K0": 2.5, "S0": 0.7, "m": 0.25, "index": 0.04, "height": 1.08, "base": 2.16, "edge": 14.4, "width": 0.45,
         "centre": 12.6, "spread": 0.32, "power": 0.15}  # fmt: skip
"""Prior standard deviations: of logarithms (K0, S0, height, base, width, spread), nm (edge, centre) or as they are.
Tables round the index, and crystals have two or three."""
CURVE_SD = 0.7
"""Spread of ln of a remembered share of the strongest absorption; CURVE_FLOOR is the least share that can be told."""
CURVE_FLOOR = 0.01
LADDER = (1, 3, 10, 30)
"""Parts of titanium white by volume in the tint ladder."""
SERIES_SD = 0.20
"""Spread of ln K0 and ln S0 left inside a series: makers grind a little differently."""

LABELS = (
    "id",
    "name",
    "common",
    "ci",
    "opacity",
    "lightfastness",
    "hazard",
    "drying",
    "granulation",
    "confidence",
    "density",
    "tolerance",
)
VISIBLE = (WAVELENGTHS >= 400) & (WAVELENGTHS <= 700)
SLOTS = {"E": ("edge", "width"), "G": ("centre", "spread", "spread"), "P": ("power",), "B": ()}
LOGARITHMIC = {"K0", "S0", "height", "base", "width", "spread"}


class Model:
    """The free parameters of one pigment as a vector, with their priors; ``grain`` as in :func:`scatter.expected`."""

    def __init__(self, prior: dict, grain: tuple[float, float, float]) -> None:
        self.bands = prior["bands"]
        self.kinds: list[str] = ["K0", "S0", "m", "index"]
        self.grain = grain
        start = [prior["K0"], 1.0, 0.0, grain[0]]
        for i, (kind, height, *rest) in enumerate(self.bands):
            if i or height != 1:  # the first feature carries K0
                self.kinds.append("base" if kind == "B" else "height")
                start.append(height)
            self.kinds += SLOTS[kind]
            start += rest
        self.mean = np.array([np.log(v) if k in LOGARITHMIC else v for k, v in zip(self.kinds, start, strict=True)])
        self.sd = np.array([PRIOR[k] for k in self.kinds])

    def parameters(self, x: np.ndarray) -> dict:
        values = [float(np.exp(v)) if k in LOGARITHMIC else float(v) for k, v in zip(self.kinds, x, strict=True)]
        K0, S0, m, index, *rest = values
        bands = []
        for i, (kind, height, *_) in enumerate(self.bands):
            own = rest.pop(0) if i or height != 1 else 1.0
            bands.append((kind, own, *(rest.pop(0) for _ in SLOTS[kind])))
        return {"K0": K0, "S0": S0, "m": m, "bands": bands, "grain": (index, *self.grain[1:])}


def grain(entry: dict) -> tuple[float, float, float]:
    return entry["refractive_index"], entry["particle_um"], entry["pigment_volume"]


def spectra(p: dict) -> tuple[np.ndarray, np.ndarray]:
    K = p["K0"] * sum(optics.band(b) for b in p["bands"])
    S = optics.scattering(p["S0"], p["m"])
    return K, S if "grain" not in p else S * scatter.expected(*p["grain"], K)


def tint(K, S, white, parts: float) -> np.ndarray:
    """Lab of one volume of paint with ``parts`` volumes of white."""
    return optics.layer_lab(K + parts * white[0], S + parts * white[1])


def fit(entry: dict, model: Model, white, by_volume: float) -> dict:
    sigma = SIGMA[entry["confidence"]]

    def residual(x: np.ndarray) -> np.ndarray:
        K, S = spectra(model.parameters(x))
        out = [(x - model.mean) / model.sd]
        for parts, *figures in entry["anchors"]:
            weight = np.array(figures[3]) if len(figures) > 3 else 1.0
            out.append((tint(K, S, white, parts * by_volume) - np.array(figures[:3])) / sigma * weight)
        for nm, share in entry.get("curve", ()):
            at = np.interp(nm, WAVELENGTHS, K) / K[VISIBLE].max()
            out.append(np.array([np.log((at + CURVE_FLOOR) / (share + CURVE_FLOOR)) / CURVE_SD]))
        return np.concatenate(out)

    return model.parameters(least_squares(residual, model.mean, x_scale=model.sd, max_nfev=200).x)


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
        return np.concatenate([(optics.layer_lab(*spectra(build(x))) - goal) / 0.5, x / 1.5])

    return build(least_squares(residual, np.zeros(len(free))).x)


def errors(entry: dict, p: dict, white, by_volume: float) -> list[list[float]]:
    """[parts of white by weight, CIEDE2000] per anchor; unweighted coordinates are not counted."""
    out = []
    for parts, *figures in entry["anchors"]:
        lab = tint(*spectra(p), white, parts * by_volume)
        goal = np.array(figures[:3])
        if len(figures) > 3:
            goal = np.where(np.array(figures[3]) > 0, goal, lab)
        out.append([parts, round(float(ciede2000(lab, goal)), 2)])
    return out


def main() -> None:
    source = json.loads(Path(__file__).with_name("pigment_anchors.json").read_text(encoding="utf-8"))
    entries = {e["id"]: e for e in source["pigments"]}
    volume = {i: e["density"] / source["density_of_white"] for i, e in entries.items()}
    whites = [i for i in entries if i.endswith("-white")]
    fitted = {i: fit_white(entries[i]) for i in whites}
    white = spectra(fitted["titanium-white"])
    models = {i: Model(e["prior"], grain(e)) for i, e in entries.items() if i not in whites}
    for i, model in models.items():
        fitted[i] = fit(entries[i], model, white, volume[i])
    for series in sorted({e["series"] for e in entries.values() if "series" in e}):
        members = [i for i, e in entries.items() if e.get("series") == series]
        for slot, name in enumerate(("K0", "S0")):
            mean = np.mean([np.log(fitted[i][name]) for i in members])
            for i in members:
                models[i].mean[slot], models[i].sd[slot] = mean, SERIES_SD
        for i in members:
            fitted[i] = fit(entries[i], models[i], white, volume[i])

    paints, all_errors = [], []
    strongest = {i: spectra(p)[0][4:33].max() for i, p in fitted.items()}
    for i, e in entries.items():
        p = fitted[i]
        K, S = spectra(p)
        anchor_errors = errors(e, p, white, volume[i])
        if i not in whites:
            all_errors += [d for _, d in anchor_errors]
        paints.append({
            **{k: e[k] for k in LABELS},
            **looks(K, S, white, p["S0"] if i in whites else strongest[i] / strongest["ultramarine-blue"]),
            "sources": sources(e, source["sources"]),
            **{k: e[k] for k in ("refractive_index", "particle_um", "pigment_volume", "curve") if k in e},
            "anchors": e["anchors"],
            "fit_de00": anchor_errors,
            "model": {"K0": round(p["K0"], 5), "S0": round(p["S0"], 5), "m": round(p["m"], 4),
                      **({"index": round(p["grain"][0], 4)} if "grain" in p else {}),
                      "bands": [[b[0], *(float(f"{v:.6g}") for v in b[1:])] for b in p["bands"]]},
            "k": figures(K),
            "s": figures(S),
        })  # fmt: skip
    for e in source["mixtures"]:
        whole = sum(e["parts"].values())
        K, S = (sum(spectra(fitted[i])[n] * part / whole for i, part in e["parts"].items()) for n in (0, 1))
        strength = K[4:33].max() / strongest["ultramarine-blue"]
        why = dict.fromkeys(("k", "s", "tolerance", "density"), "as its pigments, mixed by volume")
        labels = {k: e[k] for k in LABELS}
        paints.append({**labels, "parts": e["parts"], **looks(K, S, white, strength),
                       "sources": why, "k": figures(K), "s": figures(S)})  # fmt: skip
    surface = optics.SATIN
    head = {
        "note": "Generic pigments. Nothing was measured: K and S are a fit to remembered figures "
        "(tools/fit_pigments.py). K and S per volume of oil tube paint, titanium white S(550) = 1. tinting_strength: "
        "strongest absorption against ultramarine; for whites, scattering against titanium white.",
        "wavelengths": WAVELENGTHS.tolist(),
        "surface": {"k1": surface.k1, "k2": surface.k2, "g": surface.g},
        "fit": {"anchors": len(all_errors), "mean": round(float(np.mean(all_errors)), 3),
                "p90": round(float(np.quantile(all_errors, 0.9)), 3), "max": round(max(all_errors), 3)},
    }  # fmt: skip
    body = ",\n".join("  " + json.dumps(p) for p in paints)
    text = "{\n" + "".join(f" {json.dumps(k)}: {json.dumps(v)},\n" for k, v in head.items())
    resource("paint", "pigments.json").write_text(text + ' "paints": [\n' + body + "\n ]\n}\n", encoding="utf-8")
    print(len(paints), "paints;", head["fit"])


def figures(values: np.ndarray) -> list[float]:
    return [float(f"{v:.6g}") for v in values]


def looks(K: np.ndarray, S: np.ndarray, white, strength: float) -> dict:
    """What is worked out from K and S: mass tone, ladder of tints, undertone."""
    lab = optics.layer_lab(K, S)
    under = undertone(K, S)
    return {
        "tinting_strength": float(f"{strength:.3g}"),
        "lab": lab.round(2).tolist(),
        "munsell": notation(lab),
        "tints": [[n, *tint(K, S, white, n).round(2).tolist()] for n in LADDER],
        "undertone": {"lab": [round(v, 2) for v in under.lab], "um": round(under.thickness * 1000, 2),
                      "contrast": round(under.contrast, 3)},
    }  # fmt: skip


def sources(entry: dict, known: dict[str, str]) -> dict[str, str]:
    """Where each figure of an entry comes from."""
    worked = "worked out from k and s"
    out = {k: v for k, v in known.items() if k in entry}
    out |= dict.fromkeys(("lab", "munsell", "tints", "undertone", "tinting_strength"), worked)
    out["tolerance"] = "judgement, by confidence; wider for natural earths and lakes"
    out["k"] = out["s"] = (
        "fit to the anchors" + (", the curve" if "curve" in entry else "") + " and the scattering expected of the grain"
    )
    return out


if __name__ == "__main__":
    main()
