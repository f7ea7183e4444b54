"""Grow resources/paint/pigments.json: K and S of every pigment, fitted to anchors.json and facts.json.

Everything rests on remembered figures; the output says so, entry by entry.
"""

import json
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np

from ochre_stone.core.colour.munsell import notation
from ochre_stone.core.colour.spaces import WAVELENGTHS
from ochre_stone.core.paint import optics
from ochre_stone.core.paint.layers import undertone
from ochre_stone.resources import resource
from tools.pigments import facts, oxides
from tools.pigments.fit import Fitted, fit
from tools.pigments.model import Pair, tint

LADDER = (1, 3, 10, 30)
"""Parts of titanium white by volume in the tint ladder."""
LABELS = ("id", "name", "common", "ci", "opacity", "lightfastness", "hazard", "drying", "granulation", "confidence",
          "density", "tolerance")  # fmt: skip
KEPT = ("gloss", "refractive_index", "particle_um", "pigment_volume", "curve", "crystal", "notations")
"""Figures of anchors.json that go on where an entry has them."""
BLUE = "ultramarine-blue"


def main() -> None:
    source = json.loads(Path(__file__).with_name("anchors.json").read_text(encoding="utf-8"))
    known = facts.load()
    fitted = fit(source, known)
    unit = strongest(fitted.spectra[BLUE][0])
    taught = {i for f in known for i in f.paints}
    paints = [_pigment(e, fitted, unit, source["sources"], e["id"] in taught) for e in source["pigments"]]
    paints += [_mixture(e, fitted, unit) for e in source["mixtures"]]
    errors = [d for rows in fitted.errors().values() for _, d in rows]
    head = {
        "note": "Generic pigments. Nothing was measured: K and S are a fit to remembered figures and facts of mixtures "
        "(tools/pigments). K and S per volume of oil tube paint, titanium white S(550) = 1. tinting_strength: "
        "strongest absorption against ultramarine; for whites, scattering against titanium white. lab, munsell, tints "
        "and undertone are seen through the surface 'usual'; anchors are remembered through 'anchors', or through the "
        "entry's own gloss.",
        "wavelengths": WAVELENGTHS.tolist(),
        "surfaces": {"usual": asdict(optics.USUAL), "anchors": asdict(optics.ANCHORS)},
        "fit": {
            "anchors": len(errors),
            "mean": round(float(np.mean(errors)), 3),
            "p90": round(float(np.quantile(errors, 0.9)), 3),
            "max": round(max(errors), 3),
            "facts": len(known),
            "facts_held": sum(f.off(fitted.spectra) == 0 for f in known),
        },
        "crystals": {c: {"nm": oxides.NM.tolist(), "imaginary_index": figures(v)} for c, v in fitted.crystals.items()},
    }
    body = ",\n".join("  " + json.dumps(p) for p in paints)
    text = "{\n" + "".join(f" {json.dumps(k)}: {json.dumps(v)},\n" for k, v in head.items())
    resource("paint", "pigments.json").write_text(text + ' "paints": [\n' + body + "\n ]\n}\n", encoding="utf-8")
    print(len(paints), "paints;", head["fit"])


def strongest(K: np.ndarray) -> float:
    return float(K[4:33].max())


def figures(values: np.ndarray) -> list[float]:
    return [float(f"{v:.6g}") for v in values]


def _pigment(e: dict[str, Any], fitted: Fitted, unit: float, known: dict[str, str], taught: bool) -> dict[str, Any]:
    p, (K, S) = fitted.parameters[e["id"]], fitted.spectra[e["id"]]
    model = fitted.models.get(e["id"])
    return {
        **{k: e[k] for k in LABELS},
        **looks(K, S, fitted.white, strongest(K) / unit if model is not None else p["S0"]),
        "sources": sources(e, known, taught),
        **{k: e[k] for k in KEPT if k in e},
        "anchors": e["anchors"],
        "fit_de00": fitted.error_of(e),
        "model": {
            "K0": round(p["K0"], 5),
            "S0": round(p["S0"], 5),
            "m": round(p["m"], 4),
            **({"index": round(p["grain"][0], 4)} if "grain" in p else {}),
            "bands": [[b[0], *(float(f"{v:.6g}") for v in b[1:])] for b in p["bands"]],
        },
        "k": figures(K),
        "s": figures(S),
    }


def _mixture(e: dict[str, Any], fitted: Fitted, unit: float) -> dict[str, Any]:
    """A convenience tube, made of its pigments by volume."""
    whole = sum(e["parts"].values())
    K, S = (sum(fitted.spectra[i][n] * part / whole for i, part in e["parts"].items()) for n in (0, 1))
    why = dict.fromkeys(("k", "s", "tolerance", "density"), "as its pigments, mixed by volume")
    return {
        **{k: e[k] for k in LABELS},
        "parts": e["parts"],
        **looks(K, S, fitted.white, strongest(K) / unit),
        "sources": why,
        "k": figures(K),
        "s": figures(S),
    }


def looks(K: np.ndarray, S: np.ndarray, white: Pair, strength: float) -> dict[str, Any]:
    """What is worked out from K and S: mass tone, ladder of tints, undertone."""
    lab = optics.layer_lab(K, S)
    under = undertone(K, S)
    return {
        "tinting_strength": float(f"{strength:.3g}"),
        "lab": lab.round(2).tolist(),
        "munsell": notation(lab),
        "tints": [[n, *tint(K, S, white, n).round(2).tolist()] for n in LADDER],
        "undertone": {
            "lab": [round(v, 2) for v in under.lab],
            "um": round(under.thickness * 1000, 2),
            "contrast": round(under.contrast, 3),
        },
    }


def sources(entry: dict[str, Any], known: dict[str, str], taught: bool) -> dict[str, str]:
    """Where each figure of an entry comes from."""
    out = {k: v for k, v in known.items() if k in entry}
    if "notations" in entry:
        out["anchors"] = known["notations"]
    out |= dict.fromkeys(("lab", "munsell", "tints", "undertone", "tinting_strength"), "worked out from k and s")
    out["tolerance"] = "judgement, by confidence; wider for natural earths and lakes"
    parts = ["the anchors"] + ["the curve"] * ("curve" in entry) + ["facts of its mixtures (common practice)"] * taught
    said = f"fit to {', '.join(parts)} and the scattering expected of the grain"
    if "crystal" in entry:
        said += f"; {entry['crystal']} from memory of published indices, moved by what all its pigments show"
    out["k"] = out["s"] = said
    return out


if __name__ == "__main__":
    main()
