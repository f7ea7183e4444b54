"""What can hurt or fade, of the tubes in use. Common practice, no source; labels and data sheets come first."""

import functools
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.tubes import Tube, all_tubes

NO_AUTHORITY = "Ochre Stone is no safety authority: the label, the safety data sheet and local rules come first."

_BY_HAZARD = {
    "cadmium": "Cadmium: harmful if swallowed or breathed in. No spraying, no sanding, no dry dust; wash hands.",
    "cobalt": "Cobalt: may sensitise the skin and is harmful if breathed in. Gloves; no spraying, no dust.",
    "nickel": "Nickel: may sensitise the skin and is harmful if breathed in. Gloves; no spraying, no dust.",
    "manganese": "Manganese: harmful if breathed in as dust. No spraying, no sanding.",
    "lead": "Lead: poisonous, and it builds up in the body. Gloves, never sand or spray, keep from children and food; "
    "waste to the local collection. In many places its sale is restricted.",
    "chromate": "Chromate: poisonous and a cause of cancer, most of them with lead. Gloves, never sand or spray; waste "
    "to the local collection. In many places its sale is restricted.",
    "mercury": "Vermilion holds mercury: poisonous; never heat, sand or spray; waste to the local collection.",
}
_FADES = {
    "PR83": "Alizarin crimson PR83 fades, most of all in tints: pyrrole rubine or quinacridone rose last.",
    "PR106": "Vermilion PR106 can darken in light: cadmium red light or pyrrole scarlet stay.",
}
STUDIO_CARE = (
    "No eating, drinking or smoking at the palette; gloves where skin meets paint; wash before you leave.",
    "Ventilate when solvents are open, and keep them closed otherwise.",
    "Oily rags can catch fire by themselves: into water or a closed metal can, then to the local collection.",
)


def hazards(tube: Tube) -> list[str]:
    """Hazards of a tube by their short names; convenience tubes may have several."""
    return [h.strip() for h in tube.hazard.split(",") if not h.strip().startswith("none")]


def lasts(tube: Tube) -> bool:
    """Lightfastness I or II, and not known to darken."""
    return tube.lightfastness in ("I", "II") and not set(tube.ci.split()) & set(_FADES)


def is_safe(tube: Tube) -> bool:
    """No hazard beyond the care of the studio, and lasting."""
    return not hazards(tube) and lasts(tube)


def tube_cautions(tube: Tube) -> list[str]:
    """Cautions of one tube: its hazards, and where it does not last, a lasting substitute."""
    out = [_BY_HAZARD[h] for h in hazards(tube) if h in _BY_HAZARD]
    known = [text for ci, text in _FADES.items() if ci in tube.ci.split()]
    out += known
    if not known and not lasts(tube):
        names = " or ".join(s.tube.plain_name.lower() for s in substitutes(tube, 2))
        out.append(f"{tube.name} ({tube.ci}) is not lightfast: {names} come nearest and last.")
    return out


@dataclass(frozen=True)
class Substitute:
    """A paint that may stand for another."""

    tube: Tube
    far: float
    """Mean CIEDE2000 of mass tone and tints."""
    parts: float
    """How much of it does the work of one part."""


def substitutes(tube: Tube, count: int = 3) -> list[Substitute]:
    """Safe and lasting single pigments nearest to a tube, each in the amount that tints as strongly."""
    return _ranked(tube)[:count]


@functools.lru_cache(maxsize=256)
def _ranked(tube: Tube) -> list[Substitute]:
    others = [t for t in _safe() if t.id != tube.id and t.is_white == tube.is_white]
    white = all_tubes()["titanium-white"]
    goal = np.array([tube.lab, *(t[1:4] for t in tube.tints)])
    tinted = np.array([t[0] for t in tube.tints])[:, None]
    parts = np.array([tube.tinting_strength / t.tinting_strength for t in others])
    k, s = (np.stack([getattr(t, f) for t in others]) * parts[:, None] for f in ("K", "S"))
    tints = layer_lab(k[:, None] + tinted * white.K, s[:, None] + tinted * white.S)
    lab = np.concatenate([np.array([t.lab for t in others])[:, None], tints], axis=1)
    far = ciede2000(lab, goal).mean(axis=1)
    return [Substitute(others[i], float(far[i]), float(parts[i])) for i in np.argsort(far)]


@functools.cache
def _safe() -> tuple[Tube, ...]:
    return tuple(t for t in all_tubes().values() if is_safe(t) and not t.parts)


def instead(tubes: Iterable[Tube]) -> str:
    """For those of the tubes that hurt or fade, the safe and lasting paint that comes nearest; "" for none of them."""
    found = [(t, substitutes(t, 1)[0]) for t in dict.fromkeys(tubes) if not is_safe(t)]
    if not found:
        return ""
    said = [f"{t.plain_name.lower()}: {s.tube.plain_name.lower()} ({_amount(s.parts)})" for t, s in found]
    return f"Safe and lasting, nearest to {'; '.join(said)}."


def _amount(parts: float) -> str:
    """How much of a substitute does the work of one part, in words."""
    if 0.8 <= parts <= 1.25:
        return "as much"
    return (
        f"{parts:.1f} times as much"
        if parts > 1
        else f"a {1 / parts:.0f}th as much"
        if parts < 0.3
        else (f"{parts:.1f} of it")
    )


def cautions(tubes: Iterable[Tube]) -> list[str]:
    """Cautions of these tubes, each named once with its tubes, what could be taken instead, then the care of the
    studio."""
    tubes = list(tubes)
    seen: dict[str, list[str]] = {}
    for t in tubes:
        for text in tube_cautions(t):
            seen.setdefault(text, []).append(t.name)
    special = [f"{', '.join(dict.fromkeys(names))}. {text}" for text, names in seen.items()]
    other = instead(tubes)
    return [*special, *([other] if other else []), *STUDIO_CARE, NO_AUTHORITY]
