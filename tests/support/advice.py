"""Facts of advice, put to the program: which tube a painter reaches for, given a palette and a situation.

A fact asks for an ability and says which answers a painter would sign (common practice, no source); its form is told in
docs/advice.md. Paint is oil with a satin surface, dry, a hiding layer.
"""

import json
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from ochre_stone.core.advice.roles import answers, effects, middle, roles
from ochre_stone.core.advice.ways import WAYS
from ochre_stone.core.colour import relations
from ochre_stone.core.colour.munsell import hue_value_chroma, lightness_of_value, notation_to_lab, value_of_lightness
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.harmony.ladders import by_air, by_rule
from ochre_stone.core.mixing.bench.bench import Supply
from ochre_stone.core.mixing.bench.rows import drift
from ochre_stone.core.mixing.correcting.belief import Belief
from ochre_stone.core.mixing.correcting.correct import AtHand, Handling
from ochre_stone.core.mixing.correcting.reading import PileSeen, unsure_within
from ochre_stone.core.mixing.correcting.saying import worded
from ochre_stone.core.mixing.correcting.words import seen_as
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.mixing.recipe.hand import Hand
from ochre_stone.core.mixing.recipe.recipe import PARENT, TINT, Source, tint_of
from ochre_stone.core.mixing.recipe.sources import Terms
from ochre_stone.core.mixing.strings.neutral import neutral_pile
from ochre_stone.core.mixing.technique.lighter import VALUE_STEP, Move, moves
from ochre_stone.core.mixing.technique.parents import as_source, brought_to, by_parents
from ochre_stone.core.mixing.technique.together import greying, together
from ochre_stone.core.paint.media import FINISHES
from ochre_stone.core.paint.optics import Surface, layer_lab
from ochre_stone.core.paint.predict import spectra
from ochre_stone.core.paint.tubes import Tube, tube

SATIN = Surface(g=FINISHES["satin"])
Fact = dict[str, Any]
_PARTS = 8
"""A pile of few parts is counted more often, so that a touch stays a small share of it."""
_WARMER, _SEEN, _DULLER = 0.01, 2.0, 0.3
"""Least differences of warmth, of L* and of Munsell chroma that are told."""


def load(path: Path) -> list[Fact]:
    """Facts of a file. Raises OchreError where it holds none."""
    try:
        facts = json.loads(path.read_text(encoding="utf-8"))
        if not isinstance(facts, list) or not all({"id", "kind", "ask", "rule", "situation"} <= set(f) for f in facts):
            raise ValueError("it holds no list of facts")
    except (OSError, ValueError) as error:
        raise OchreError(f"{path.name} cannot be read as facts of advice: {error}") from error
    return facts


def _tubes(f: Fact) -> tuple[Tube, ...]:
    return tuple(tube(i) for i in f["palette"])


def _mix(parts: dict[str, float]) -> tuple[Array, Array]:
    return spectra([tube(i) for i in parts], list(parts.values()))


def _shares(f: Fact) -> tuple[tuple[str, float], ...]:
    parts = f["situation"]["mix"]
    return tuple((i, v / sum(parts.values())) for i, v in parts.items())


def _lab(f: Fact) -> Lab:
    s = f["situation"]
    return as_lab(notation_to_lab(s["munsell"]) if "munsell" in s else layer_lab(*_mix(s["mix"]), SATIN))


def _terms(f: Fact) -> Terms:
    return Terms(_tubes(f), finish=SATIN)


def role(f: Fact) -> list[str]:
    found = next(r for r in roles(_tubes(f)) if r.tube.id == f["ask"]["tube"])
    if f["ask"]["of"] == "value":
        return ["light" if found.light else "dark"]
    return ["warm" if found.warm else "cool"]


def does(f: Fact) -> list[str]:
    tubes = _tubes(f)
    K, S = _mix(f["situation"]["mix"]) if "mix" in f["situation"] else middle(tubes, surface=SATIN)
    return [e.tube.id for e in answers(K, S, tubes, SATIN).ways[f["ask"]["does"]]]


def effect(f: Fact) -> list[str]:
    return effects(*_mix(f["situation"]["mix"]), [tube(f["ask"]["tube"])], SATIN)[0].words.split(", ")


def drifted(f: Fact, way: str = "") -> list[str]:
    to = next((w for w in WAYS if w == (way or f["ask"]["way"])), None)
    if to is None:
        return []
    base = Supply("pile", "the pile", _shares(f), kind="pile")
    try:
        return [drift(base, to, [Supply.of_tube(t) for t in _tubes(f)], tube, SATIN).sources[1].id]
    except OchreError:
        return []


def bits(f: Fact) -> list[str]:
    return [b.parent.tube for b in greying(_lab(f), _terms(f))]


def _moves(f: Fact, to: int) -> list[Move]:
    L, a, b = _lab(f)
    return moves(Source("pile", "it", _shares(f)), (L + to * VALUE_STEP, a, b), _terms(f))


def moved(f: Fact) -> list[str]:
    return [s.id for m in _moves(f, f["ask"]["to"]) for s, _ in m.added]


def ways(f: Fact) -> list[str]:
    return [m.added[0][0].id for m in _moves(f, -1) if m.kind == "complement"]


def neutral(f: Fact) -> tuple[list[str], float]:
    goals = [(float(lightness_of_value(v)), 0.0, 0.0) for v in np.linspace(*f["ask"]["values"], 3)]
    pile = neutral_pile("s", "s", goals, _terms(f))
    if pile is None:
        return [], float("inf")
    return [i for i, _ in pile.shares], float(hue_value_chroma(layer_lab(*pile.spectra(_tubes(f)), SATIN))[2])


def parents(f: Fact) -> list[list[str]]:
    goal = np.array(_lab(f))
    level = round(float(value_of_lightness(goal[0])), 2)
    return [[b.id[len(PARENT) :].rsplit("-", 1)[0] for b in r.bases] for r in by_parents(goal, _terms(f), level)]


def corrected(f: Fact) -> list[str]:
    tubes, parts, hand = _tubes(f), f["situation"]["mix"], Hand()
    times = max(1, int(np.ceil(_PARTS / sum(parts.values()))))
    doses = tuple(Dose(((i, 1.0),), v * times, float(hand.errors(np.array(v)))) for i, v in parts.items())
    goal, said = _lab(f), [(str(what), str(how)) for what, how in f["ask"]["said"]]
    seen, noise = seen_as(goal, said)
    known = Belief.prior(tubes, SATIN).learn(PileSeen(doses, seen, noise, "p"))
    white = next((t for t in tubes if t.is_white), None)
    tints = [tint_of(t, white) for t in tubes if not t.is_white] if white is not None else []
    hold = [AtHand(t.id, t.short, ((t.id, 1.0),)) for t in tubes]
    hold += [AtHand(b.id, b.name, b.shares, within=unsure_within(b, hand), trouble=0.1) for b in tints]
    size = sum(d.volume for d in doses)
    how = Handling(size, hand, float(hand.enough(np.array(list(parts.values())))) / size, noise=noise, said_off=True)
    found = worded(known, doses, seen, goal, hold, how, said, "p")
    return [i.removeprefix(TINT) for i, _ in found.additions] if found.verdict in ("add", "cut") else []


def strokes(f: Fact) -> list[str]:
    terms, L = _terms(f), float(lightness_of_value(f["situation"]["value"]))
    made = [brought_to(as_source(tube(i)), L, terms) for i in f["situation"]["pair"]]
    both = [p for p in made if p is not None]
    if len(both) < 2:
        return []
    side, _, stirred = together(both, (1, 1), terms).kept
    return ["strokes" if side > stirred else "stirred"]


def distance(f: Fact) -> list[str]:
    near, far = (as_lab(notation_to_lab(f["situation"][k])) for k in ("munsell", "horizon"))
    air = f["ask"]["way"] == "air"
    rungs = by_air(near, far, 6, 0.2, 8, 15, "haze") if air else by_rule(near, far, 6, 0.2, 8)
    lab = np.array([r.lab for r in rungs])
    first, last, mid = lab[0], lab[-1], lab[2]
    rises = last[0] > first[0] + _SEEN and bool((np.diff(lab[:, 0]) > -0.1).all())
    out = ["lighter" if rises else "darker" if last[0] < first[0] - _SEEN else "as light"]
    chroma = hue_value_chroma(lab)[2]
    gone = float(chroma[-1] - chroma[0])
    out.append("duller" if gone < -_DULLER else "stronger" if gone > _DULLER else "as strong")
    warms = relations.warmth(as_lab(last)) - relations.warmth(as_lab(first))
    out.append("cooler" if warms < -0.03 else "warmer" if warms > 0.03 else "as warm")
    fades = [(first[k] - mid[k]) / (first[k] - last[k]) if first[k] != last[k] else 0.0 for k in (1, 2)]
    if first[2] > 0 and mid[2] < first[2] and fades[1] > fades[0]:
        out.append("yellow goes before red")
    return out


def warmer(f: Fact) -> list[str]:
    labs = [as_lab(layer_lab(*_mix(f["situation"][k]), SATIN)) for k in ("first", "second")]
    said = []
    for school in [f["ask"]["school"]] if "school" in f["ask"] else list(relations.WARMTHS):
        gap = relations.warmth(labs[0], school) - relations.warmth(labs[1], school)
        said.append("warmer" if gap > _WARMER else "cooler" if gap < -_WARMER else "as warm")
    return sorted(set(said))


ANSWERS: dict[str, Callable[[Fact], Any]] = {
    "role": role, "does": does, "effect": effect, "drift": drifted, "dull": lambda f: drifted(f, "duller"),
    "bits": bits, "ways": ways, "opposite": lambda f: [relations.complement(_lab(f))], "moves": moved,
    "neutral": neutral, "parents": parents, "correct": corrected, "strokes": strokes,
    "distance": distance, "warmer": warmer,
}  # fmt: skip
"""How each question is put to the program, by what a fact asks."""


def _neutral_kept(f: Fact, answer: tuple[list[str], float]) -> bool:
    have, chroma = answer
    return chroma <= f["grey_chroma_most"] and any(set(m) <= set(have) for m in f["acceptable"])


def _among(f: Fact, answer: Sequence[str], asked: bool = False) -> bool:
    named = any(a in f["acceptable"] for a in answer) or (not asked and not f["acceptable"])
    return named and not set(f["unacceptable"]) & set(answer)


_RULES: dict[str, Callable[[Fact, Any], bool]] = {
    "first": lambda f, a: bool(a) and a[0] in f["acceptable"],
    "is": lambda f, a: len(a) == 1 and a[0] in f["acceptable"],
    "among": _among,
    "added": lambda f, a: _among(f, a, True),
    "words": lambda f, a: set(f["acceptable"]) <= set(a) and not set(f["unacceptable"]) & set(a),
    "pair": lambda f, a: bool(a) and set(a[0]) in map(set, f["acceptable"]) and not {*f["unacceptable"]} & {*a[0]},
    "neutral": _neutral_kept,
}  # fmt: skip


@dataclass(frozen=True)
class Asked:
    """A fact, what the program answers, and whether a painter would sign that."""

    fact: Fact
    answer: Any
    kept: bool

    @property
    def words(self) -> str:
        """The failure in one line."""
        f = self.fact
        palette = f.get("palette_name") or ", ".join(f.get("palette", ())) or "any palette"
        wanted = " or ".join(str(a) for a in f["acceptable"]) or f"none of {', '.join(f['unacceptable'])}"
        return f"{f['id']}: {f.get('question', f['ask'])} ({palette}; {f['situation']}) {self.answer}; wanted {wanted}"


def ask(facts: Iterable[Fact]) -> list[Asked]:
    """Every fact put to the program. Raises OchreError for a question or a rule that is not known."""
    out = []
    for f in facts:
        what, rule = f["ask"].get("what"), f["rule"]
        if what not in ANSWERS or rule not in _RULES:
            raise OchreError(
                f"fact '{f['id']}' asks '{what}' by the rule '{rule}': only {', '.join(ANSWERS)} are known"
            )
        answer = ANSWERS[what](f)
        out.append(Asked(f, answer, _RULES[rule](f, answer)))
    return out


def by_kind(asked: Iterable[Asked]) -> dict[str, tuple[int, int]]:
    """Kept and failed of each kind, in the order in which they come."""
    out: dict[str, tuple[int, int]] = {}
    for a in asked:
        kept, failed = out.get(a.fact["kind"], (0, 0))
        out[a.fact["kind"]] = (kept + a.kept, failed + (not a.kept))
    return out
