"""Drills with simulated paint: what a tube does, a chart's missing cell, equal parents, a match in few additions."""

import numpy as np

from ochre_stone.core.colour.difference import apart, ciede2000
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.mixing.bench.bench import PART_ML, BenchPile, Supply
from ochre_stone.core.mixing.bench.nearer import nearer
from ochre_stone.core.mixing.correcting.words import addition_words
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.mixing.technique.loose import average
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.practice.colours import grey
from ochre_stone.core.practice.drill import Drill, Material
from ochre_stone.core.practice.steps import stepped_level
from ochre_stone.core.practice.threshold import Range
from ochre_stone.core.practice.trial import Adjust, Match, OneOf, Patch, Trial

_WITHIN = (8.0, 6.0, 5.0, 4.0, 3.0, 2.5)
_MOST_STEPS = 8
_TRIES, _FEWEST = 60, 6
_COLOURED = 15.0
"""CIELAB chroma from which a tube counts as a red or a blue."""
_AMOUNTS, _SEEN = (0.25, 0.5, 1.0, 2.0), 3.0


def _piles(rng: np.random.Generator, material: Material) -> dict[str, float]:
    """Parts of a made-up pile: white and two colours."""
    white = next(t for t in material.tubes if t.is_white)
    others = [t for t in material.tubes if not t.is_white]
    a, b = (others[int(i)] for i in rng.choice(len(others), 2, replace=False))
    return {white.id: float(rng.integers(2, 7)), a.id: float(rng.integers(1, 4)) / a.strength**0.3, b.id: 0.5}


def _lab(parts: dict[str, float], material: Material) -> Lab:
    by_id = {t.id: t for t in material.tubes}
    whole = sum(parts.values())
    K = sum((by_id[i].K * v / whole for i, v in parts.items()), np.zeros(36))
    S = sum((by_id[i].S * v / whole for i, v in parts.items()), np.zeros(36))
    return as_lab(layer_lab(K, S, material.surface))


def what_it_does(rng: np.random.Generator, level: float, material: Material) -> Trial:
    """A pile and a tube: what a touch of it makes of the pile; ``level``: how far apart the answers are, CIEDE2000."""
    wrong: list[Lab] = []
    for _ in range(_TRIES):
        parts = _piles(rng, material)
        pile = _lab(parts, material)
        moves = _moves(parts, pile, material)
        if len(moves) < _FEWEST:
            continue
        right = moves[int(rng.integers(len(moves)))]
        others = [m[2] for m in moves if m[0].id != right[0].id]
        far = np.argsort(np.abs(ciede2000(np.array(others), np.array(right[2])) - level), kind="stable")
        wrong = _apart_from_each_other([right[2]], [others[int(i)] for i in far], level * 0.6)
        if len(wrong) >= 3:
            break
    wrong += [others[int(i)] for i in far if others[int(i)] not in wrong]
    answers = [right[2], *wrong[:3]]
    order = rng.permutation(4)
    shown = tuple(answers[int(i)] for i in order)
    place = int(np.flatnonzero(order == 0)[0])
    question = f"Into this pile goes {addition_words(right[1], right[0].short)}: what comes out?"
    patches = (Patch(pile, "the pile"), Patch(right[0].lab, right[0].short))
    why = "A strong tube turns the hue long before the value; white lightens, cools and dulls at once."
    asked = OneOf(("first", "second", "third", "fourth"), place, shown)
    return Trial(question, asked, patches, None, False, level, why)


def _moves(parts: dict[str, float], pile: Lab, material: Material) -> list[tuple[Tube, float, Lab]]:
    """What each tube, in each amount, makes of a pile, where that is seen."""
    by_id = {t.id: t for t in material.tubes}
    K = sum((by_id[i].K * v for i, v in parts.items()), np.zeros(36))
    S = sum((by_id[i].S * v for i, v in parts.items()), np.zeros(36))
    tried = [(t, amount) for t in material.tubes for amount in _AMOUNTS]
    lab = layer_lab(
        np.stack([K + v * t.K for t, v in tried]), np.stack([S + v * t.S for t, v in tried]), material.surface
    )
    far = ciede2000(lab, np.array(pile))
    return [(t, v, as_lab(x)) for (t, v), x, d in zip(tried, lab, far, strict=True) if d > _SEEN]


def _apart_from_each_other(taken: list[Lab], choices: list[Lab], least: float) -> list[Lab]:
    labs = np.array([*taken, *choices])
    near = ciede2000(labs[:, None], labs[None]) < least
    held = list(range(len(taken)))
    for i in range(len(taken), len(labs)):
        if not near[i, held].any():
            held.append(i)
    return [choices[i - len(taken)] for i in held[len(taken) :]]


def missing_cell(rng: np.random.Generator, level: float, material: Material) -> Trial:
    """A row of a chart with a cell missing; ``level``: by how many value steps the wrong ones are off."""
    white = next(t for t in material.tubes if t.is_white)
    coloured = [t for t in material.tubes if not t.is_white]
    t = coloured[int(rng.integers(len(coloured)))]
    row, start = stepped_level(t, white, None, material.surface)
    values = value_of_lightness(np.array([lab[0] for lab in row]))
    top = min(float(values[-1]), 9.2)
    wanted = np.linspace(float(values[start]), top, 6)
    cells = [_at_value(row, values, v) for v in wanted]
    gap = int(rng.integers(1, 5))
    right = cells[gap]
    others = [_at_value(row, values, wanted[gap] + d) for d in (-level, level)]
    order = rng.permutation(3)
    answers = (right, *others)
    shown = tuple(answers[int(i)] for i in order)
    place = int(np.flatnonzero(order == 0)[0])
    patches = tuple(Patch(c, "" if k != gap else "?") for k, c in enumerate(cells))
    patches = tuple(Patch((50.0, 0.0, 0.0), "?") if k == gap else p for k, p in enumerate(patches))
    question = f"{t.short[0].upper()}{t.short[1:]} with white, in even steps: which cell is missing?"
    return Trial(
        question,
        OneOf(("first", "second", "third"), place, shown),
        patches,
        None,
        False,
        level,
        "Its value lies halfway between its neighbours; its chroma need not.",
    )


def _at_value(row: tuple[Lab, ...], values: Array, wanted: float) -> Lab:
    """The row's colour at a value, between two of its steps."""
    labs = np.array(row)
    rising = np.maximum.accumulate(values)
    at = float(np.clip(wanted, rising[0], rising[-1]))
    return as_lab(np.array([np.interp(at, rising, labs[:, k]) for k in range(3)]))


def equal_parents(rng: np.random.Generator, level: float, material: Material) -> Trial:
    """A red and a blue brought to one value with white: then they make a loose violet that lives."""
    white = next(t for t in material.tubes if t.is_white)
    strong = [t for t in material.tubes if np.hypot(*t.lab[1:]) > _COLOURED and not t.is_black]
    reds = [t for t in strong if -15 < _hue(t) < 55]
    blues = [t for t in strong if 225 < _hue(t) % 360 < 320]
    if not reds or not blues:
        raise ValueError("needs a red and a blue on the palette")
    red, blue = reds[int(rng.integers(len(reds)))], blues[int(rng.integers(len(blues)))]
    rows, starts = zip(*(stepped_level(t, white, None, material.surface) for t in (red, blue)), strict=True)
    values = [value_of_lightness(np.array([lab[0] for lab in row])) for row in rows]
    goal = float(rng.uniform(max(float(v[0]) for v in values) + 0.4, 6.8))
    best = tuple(int(np.argmin(np.abs(v - goal))) for v in values)

    def off(at: tuple[int, ...]) -> float:
        return float(max((abs(v[k] - goal) for v, k in zip(values, at, strict=True)), default=0.0))

    least = off(best)
    violet = average([rows[0][best[0]], rows[1][best[1]]], (1.0, 1.0))
    asked = Adjust(
        rows,
        starts,
        (red.short, blue.short),
        ("a touch of white", "a touch less"),
        off,
        best,
        max(0.6 - 0.08 * (level - 1), least + 0.1),
    )
    return Trial(
        "Bring both parents to the value of the grey, with white.",
        asked,
        (Patch(grey(goal), "this value"), Patch(violet, "the violet")),
        None,
        False,
        level,
        "Parents of one value glow where they lie side by side; of two values they are spots.",
    )


def _hue(t: Tube) -> float:
    h = float(np.degrees(np.arctan2(t.lab[2], t.lab[1])))
    return h if h > -15 else h + 360


def match(rng: np.random.Generator, level: float, material: Material) -> Trial:
    """A colour to be mixed from a pile that is there, in few additions; the program's own way beside it."""
    supplies = tuple(Supply.of_tube(t) for t in material.tubes)
    start = _piles(rng, material)
    target_parts = dict(start)
    for t in rng.choice(len(material.tubes), 1 + (level > 2), replace=False):
        chosen = material.tubes[int(t)]
        target_parts[chosen.id] = target_parts.get(chosen.id, 0.0) + float(rng.choice([0.5, 1.0, 2.0]))
    target = _lab(target_parts, material)
    if apart(target, _lab(start, material)) < 4:
        return match(rng, level, material)
    pile = BenchPile("match", "match", tuple(Dose.of_tube(i, v * PART_ML, name=i) for i, v in start.items()))
    way, off = program_way(pile, target, supplies, material)
    return Trial(
        "Mix this colour from the pile, in as few additions as you can.",
        Match(
            target,
            tuple((i, v * PART_ML) for i, v in start.items()),
            supplies,
            way,
            off,
            _WITHIN[int(level) - 1],
            material.surface,
        ),
        (Patch(target, "target"),),
        None,
        False,
        level,
        "Value first, with the lightest or the darkest that also turns the hue the right way.",
    )


def program_way(
    pile: BenchPile, target: Lab, supplies: tuple[Supply, ...], material: Material
) -> tuple[tuple[str, ...], float]:
    """What the program would add, step by step, and how far off it ends."""
    by_id = {s.id: s for s in supplies}
    said: list[str] = []
    doses = list(pile.doses)
    for _ in range(_MOST_STEPS):
        now = BenchPile(pile.id, pile.name, tuple(doses))
        advice = nearer(now, target, supplies, material.tubes, material.surface, PART_ML)
        if advice.verdict != "add" or not advice.additions:
            break
        for i, parts in advice.additions:
            doses.append(Dose(by_id[i].shares, parts * PART_ML, source=i, name=by_id[i].name))
            said.append(addition_words(parts, by_id[i].name))
    inside: dict[str, float] = {}
    for d in doses:
        inside[d.source] = inside.get(d.source, 0.0) + d.volume
    return tuple(said), apart(_lab(inside, material), target)


PAINT_DRILLS = (
    Drill(
        "tube-does",
        "What does this tube do?",
        "Foresee what a tube makes of a pile.",
        "least difference, CIEDE2000",
        what_it_does,
        Range(2.0, 40.0, 4),
        hue=True,
        beginner=18.0,
        steady=8.0,
        questions=10,
    ),
    Drill(
        "chart-row",
        "The missing cell",
        "See the step that a row of a chart lacks.",
        "least difference, value steps",
        missing_cell,
        Range(0.15, 2.5, 3),
        beginner=1.0,
        steady=0.35,
        questions=16,
    ),
    Drill(
        "parents",
        "Equal parents",
        "Bring a red and a blue to one value for a loose violet.",
        "mean error, value steps",
        equal_parents,
        beginner=0.8,
        steady=0.25,
        questions=4,
    ),
    Drill(
        "match",
        "Match a colour",
        "Mix a colour in few additions.",
        "mean error, CIEDE2000",
        match,
        hue=True,
        beginner=8.0,
        steady=3.0,
        questions=3,
    ),
)
