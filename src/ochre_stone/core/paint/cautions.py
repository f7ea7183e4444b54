"""What can hurt: cautions of the tubes in use. Common practice, no source; labels and data sheets come first."""

from collections.abc import Iterable

from ochre_stone.core.paint.tubes import Tube

NO_AUTHORITY = "Ochre Stone is no safety authority: the label, the safety data sheet and local rules come first."

_BY_HAZARD = {
    "cadmium": "Cadmium: harmful if swallowed or breathed in. No spraying, no sanding, no dry dust; wash hands.",
    "cobalt": "Cobalt: may sensitise the skin and is harmful if breathed in. Gloves; no spraying, no dust.",
    "nickel": "Nickel: may sensitise the skin and is harmful if breathed in. Gloves; no spraying, no dust.",
    "manganese": "Manganese: harmful if breathed in as dust. No spraying, no sanding.",
    "lead": "Lead: poisonous, and it builds up in the body. Gloves, never sand or spray, keep from children and food; "
    "waste to the local collection. In many places its sale is restricted.",
    "chromate": "Lead chromate: poisonous and a cause of cancer. Gloves, never sand or spray; waste to the local "
    "collection. In many places its sale is restricted.",
    "mercury": "Vermilion holds mercury: poisonous; never heat, sand or spray; waste to the local collection.",
}
_LASTING = {
    "PR83": "Alizarin crimson PR83 fades, most of all in tints: pyrrole rubine or quinacridone rose last.",
    "PR106": "Vermilion PR106 can darken in light: cadmium red light or pyrrole scarlet stay.",
}
STUDIO_CARE = (
    "No eating, drinking or smoking at the palette; gloves where skin meets paint; wash before you leave.",
    "Ventilate when solvents are open, and keep them closed otherwise.",
    "Oily rags can catch fire by themselves: into water or a closed metal can, then to the local collection.",
)


def tube_cautions(tube: Tube) -> list[str]:
    """Cautions of one tube: its hazard, and where it does not last, a lasting substitute."""
    out = []
    if tube.hazard in _BY_HAZARD:
        out.append(_BY_HAZARD[tube.hazard])
    if tube.ci in _LASTING:
        out.append(_LASTING[tube.ci])
    elif tube.lightfastness not in ("I", "II"):
        out.append(f"{tube.name} ({tube.ci}) is not lightfast: choose a substitute of lightfastness I or II.")
    return out


def cautions(tubes: Iterable[Tube]) -> list[str]:
    """Cautions of these tubes, each named once with its tubes, then the care of the studio."""
    seen: dict[str, list[str]] = {}
    for t in tubes:
        for text in tube_cautions(t):
            seen.setdefault(text, []).append(t.name)
    special = [f"{', '.join(dict.fromkeys(names))}. {text}" for text, names in seen.items()]
    return [*special, *STUDIO_CARE, NO_AUTHORITY]
