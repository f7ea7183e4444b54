"""What a hand gets of the plans for the demo and five photographs: parts to count, the smallest dose, the error as
mixed by eye with perfect tubes, paint, the order followed to the letter, and how far methods differ.

Two simulated hands, neither of them the program's: "by eye" doses each thing once, off by a log-normal of .2 (a touch
of .35), and leaves 3 % of a dose on the knife for the next; "with slop" is off by a tenth and .02 ml. Each mixes every
session 200 times, base piles and piles that go on from others included.

python -m benchmarks.hand
"""

import itertools
import time
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.session.amounts import Amounts
from ochre_stone.core.mixing.session.plan import MixOn, plan_session
from ochre_stone.core.mixing.strings.methods import METHODS
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.planning.massing import fine_masses
from ochre_stone.core.planning.planning import make_sheet, mix_strings, session_terms
from ochre_stone.core.planning.rows import wanted_rows
from ochre_stone.core.planning.steps import steps_of
from tests.support.cases import cases
from tests.support.hand import SimulatedHand
from tests.support.made import follow

TIMES = 200


def by_eye(rng: np.random.Generator) -> SimulatedHand:
    return SimulatedHand(rng, times=TIMES)


def with_slop(rng: np.random.Generator) -> SimulatedHand:
    return SimulatedHand(rng, dose=0.1, slop_ml=0.02, knife=0.0, times=TIMES)


@dataclass
class Bench:
    """A simulated palette: tubes as their data say, a hand that errs."""

    document: Document
    amounts: Amounts
    hand: SimulatedHand

    def mixed(self) -> dict[str, Array]:
        """Lab (TIMES, 3) of every pile of the document, mixed in its order."""
        tubes, surface = self.document.mix.chosen().tubes, self.document.mix.chosen().surface
        at = {t.id: np.eye(len(tubes))[i] for i, t in enumerate(tubes)}
        K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
        inside: dict[str, Array] = {}
        out = {}
        for p in sorted((p for s in self.document.mixed.strings for p in s.piles), key=lambda p: p.order):
            for base in p.recipe.bases:
                if base.id not in inside:
                    made = [(at[i], v) for i, v in base.parts]
                    inside[base.id] = self._put(made, self.amounts.bases[base.id])
            found = [(at[i.id] if i.id in at else inside[i.id], i.parts) for i in p.recipe.ingredients]
            inside[p.id] = self._put(found, self.amounts.piles[p.id])
            out[p.id] = layer_lab(inside[p.id] @ K, inside[p.id] @ S, surface)
        return out

    def _put(self, sources: list[tuple[Array, float]], ml: float) -> Array:
        """Shares by tube (TIMES, n) of a pile of ``ml`` from sources in parts; what stays on the knife comes next."""
        whole = sum(parts for _, parts in sources)
        pile = self.hand.mixed([(source, parts, ml * parts / whole) for source, parts in sources])
        return np.asarray(pile / np.maximum(pile.sum(axis=1, keepdims=True), 1e-12))


def letters(document: Document) -> float:
    """The farthest that steps followed to the letter end from their recipe, CIEDE2000."""
    tubes, surface = document.mix.chosen().tubes, document.mix.chosen().surface
    K, S = np.stack([t.K for t in tubes]), np.stack([t.S for t in tubes])
    worst, made = 0.0, dict[str, dict[str, float]]()
    for p in sorted((p for s in document.mixed.strings for p in s.piles), key=lambda p: p.order):
        inside = made[p.id] = follow(steps_of(document, p), made)
        c = np.array([inside.get(t.id, 0.0) for t in tubes]) / sum(inside.values())
        worst = max(worst, float(ciede2000(layer_lab(c @ K, c @ S, surface), np.array(p.recipe.lab))))
    return worst


def methods(document: Document) -> tuple[int, int]:
    """Pairs of methods of the document's strings that come to different recipes, and all pairs."""
    terms, differ, pairs = session_terms(document), 0, 0
    for row in wanted_rows(document):
        if len(row.goals) < 2:
            continue
        made = {}
        for method in METHODS:
            string = plan_session([replace(row, method=method)], terms, mix_on=MixOn(False)).strings[0]
            made[method] = [p.recipe.ingredients for p in string.piles]
        for a, b in itertools.combinations(METHODS, 2):
            pairs += 1
            differ += made[a] != made[b]
    return differ, pairs


def main() -> None:
    parts: list[float] = []
    doses: list[float] = []
    foretold: list[float] = []
    off: dict[str, list[Array]] = {"by eye": [], "with slop": []}
    ml, worst, differ, pairs, spent = 0.0, 0.0, 0, 0, 0.0
    for name, picture, document in cases():
        began = time.perf_counter()
        document = document.model_copy(update={"mixed": mix_strings(document)})
        spent += time.perf_counter() - began
        needed = make_sheet(picture, document, fine_masses(picture, document)).amounts
        ml += needed.total
        worst = max(worst, letters(document))
        more = methods(document)
        differ, pairs = differ + more[0], pairs + more[1]
        piles = [p for s in document.mixed.strings for p in s.piles]
        for p in piles:
            whole = sum(i.parts for i in p.recipe.ingredients)
            parts.append(whole)
            doses.append(min(i.parts for i in p.recipe.ingredients) / whole * needed.piles[p.id])
        foretold += [p.recipe.by_eye for p in piles if p.reachable]
        for hand, dosed in (("by eye", by_eye), ("with slop", with_slop)):
            bench = Bench(document, needed, dosed(np.random.default_rng(1)))
            labs = bench.mixed()
            off[hand] += [ciede2000(labs[p.id], np.array(p.target.lab)) for p in piles if p.reachable]
        print(f"{name:10s} {len(piles):3d} piles, {needed.total:5.1f} ml", flush=True)
    print(f"parts: median {np.median(parts):.3g}, 90 % {np.percentile(parts, 90):.3g}")
    print(f"smallest dose: {min(doses):.3f} ml; below .05 ml {np.mean(np.array(doses) < 0.0499):.0%} of piles")
    for hand, rows in off.items():
        x = np.concatenate(rows)
        print(f"{hand}, in reach: median {np.median(x):.2f}, 95 % {np.percentile(x, 95):.2f}, mean {x.mean():.2f}")
    print(f"foretold: mean {np.mean(foretold):.2f}")
    print(f"paint: {ml:.0f} ml; strings worked out in {spent:.1f} s")
    print(f"followed to the letter: at most {worst:.3f} from the recipe")
    print(f"methods that differ: {differ} of {pairs} pairs")


if __name__ == "__main__":
    main()
