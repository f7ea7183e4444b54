"""Strings that the rules of subjects add: flushed skin, leaves against the sun, clouds, shadows worked out."""

from collections.abc import Mapping, Sequence

from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.document.document import SUBJECTS, Document
from ochre_stone.core.mixing.strings.shadowlight import Lights, estimate
from ochre_stone.core.mixing.strings.subjects import flush, through_leaf
from ochre_stone.core.mixing.strings.targets import DARKEST, LIGHTEST, PileTarget

_CLOUD: Lab = (95.0, 0.5, 4.0)
"""A cloud in the sun, as white paper."""
_THROUGH = 0.35
"""How much of a shadow's darkness a cloud shows on its shaded side, as a power: light goes through it (a judgement)."""
_MOST_THINGS = 5
"""Things whose shadows are worked out: those with the largest share of the picture."""


def lights_of(document: Document, goal: Array) -> Lights | None:
    """Light and ambient light, from the notes (``goal``, Lab (n, 3) as they are to be painted) of subjects that are
    noted in both; None without such a pair.

    Cast shadows tell most: nothing but the surroundings lights them. Core shadows, which hold light thrown back, count
    where there are not two of these.
    """
    pairs: dict[str, list[tuple[Lab, Lab]]] = {"cast shadow": [], "core shadow": []}
    for subject in SUBJECTS:
        of = [(n, as_lab(goal[i])) for i, n in enumerate(document.notes) if n.subject == subject]
        lit = [(n.share, lab) for n, lab in of if n.role == "light"]
        for n, lab in of:
            if lit and n.role in pairs:
                pairs[n.role].append((max(lit)[1], lab))
    cast = estimate(pairs["cast shadow"])
    return cast if cast is not None and cast.pairs > 1 else estimate(pairs["cast shadow"] + pairs["core shadow"])


def added_rows(
    document: Document, goal: Array, rows: Mapping[str, Sequence[PileTarget]]
) -> dict[str, list[PileTarget]]:
    """Targets of the strings that rules add, where they are on and there is what they need; by string id, which is the
    rule's. ``goal``: Lab (n, 3) of the notes as they are to be painted; ``rows``: the strings that there are."""
    mix, found = document.mix, dict[str, list[Lab]]()
    skin = next((rows[s] for s in rows if s.partition("-")[0] == "skin"), None)
    if skin:
        found["skin-flush"] = flush(skin[len(skin) // 2].lab)
    leaves = [as_lab(goal[i]) for i, n in enumerate(document.notes) if n.subject == "foliage" and n.lit]
    if leaves:
        found["foliage-through"] = through_leaf(max(leaves))
    light = lights_of(document, goal)
    if light is not None:
        found |= _by_light(document, goal, light)
    return {rule: _held(rule, labs) for rule, labs in found.items() if labs and mix.rule(rule)}


def _by_light(document: Document, goal: Array, light: Lights) -> dict[str, list[Lab]]:
    """What is worked out from the light in the shadows."""
    out: dict[str, list[Lab]] = {}
    if any(n.subject == "sky" for n in document.notes):
        r = light.ratio
        through = (r[0] ** _THROUGH, r[1] ** _THROUGH, r[2] ** _THROUGH)
        out["sky-clouds"] = [Lights(through, light.pairs, light.spread).cast_shadow(_CLOUD), _CLOUD]
    dark = {n.subject for n in document.notes if not n.lit}
    alone = [
        (n.share, as_lab(goal[i]))
        for i, n in enumerate(document.notes)
        if n.role == "light" and n.subject not in dark and n.subject != "sky"
    ]
    things = [lab for _, lab in sorted(alone, reverse=True)[:_MOST_THINGS]]
    floor = [
        (n.share, as_lab(goal[i])) for i, n in enumerate(document.notes) if n.lit and n.subject in ("ground", "wall")
    ]
    below = max(floor)[1] if floor else None
    out["shadows-form"] = [light.form_shadow(c, below) for c in things]
    out["shadows-cast"] = [light.cast_shadow(c) for c in things]
    return out


def _held(rule: str, labs: Sequence[Lab]) -> list[PileTarget]:
    """Targets, dark to light, within what paint can reach."""
    made = []
    for lab in labs:
        value = min(max(float(value_of_lightness(min(max(lab[0], 0.0), 100.0))), DARKEST), LIGHTEST)
        colour = (float(lightness_of_value(value)), lab[1], lab[2])
        made.append(PileTarget(colour, round(value, 2), "rule", (rule,)))
    return sorted(made, key=lambda t: t.lab[0])
