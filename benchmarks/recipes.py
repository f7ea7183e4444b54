"""Recipes against SciPy's differential evolution (Storn and Price 1997) in the same run: gap and time by palette size,
what rounding to parts costs, how soon the first answer comes; and calibration, charts and reach by size.

python -m benchmarks.recipes
"""

import time

import numpy as np
from scipy.optimize import differential_evolution

from benchmarks.timing import seconds
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.mixing.reach.slices import Nets
from ochre_stone.core.mixing.reach.smallest import smallest_palette
from ochre_stone.core.mixing.recipe.parts import Dosing, round_found
from ochre_stone.core.mixing.recipe.ranking import Means
from ochre_stone.core.mixing.recipe.search import Searcher
from ochre_stone.core.paint.chart import CHART_KINDS, chart_values, make_chart
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.palettes import ONE_OF_EACH, palette
from ochre_stone.core.paint.tubes import Tube, tube
from tests.support.made import find_recipes

_TIMED = 12
"""Targets per palette on which SciPy is timed with the whole palette, the choice that our search has. For the gap it is
given the four tubes that the target was made of: its best case."""
TARGETS = {4: 50, 7: 50, 10: 60, 16: 40, 24: 40}


def chosen(count: int) -> list[Tube]:
    """So many tubes, white first, spread over the twenty-four."""
    rest = np.round(np.linspace(1, 23, count - 1)).astype(int)
    return [tube(ONE_OF_EACH[0]), *(tube(ONE_OF_EACH[i]) for i in rest)]


def targets(search: Searcher, count: int, seed: int) -> tuple[np.ndarray, np.ndarray]:
    """Colours (count, 3) of random mixtures of at most four tubes, and those tubes (count, 4)."""
    rng = np.random.default_rng(seed)
    k = min(4, len(search.tubes))
    index = np.array([rng.choice(len(search.tubes), k, replace=False) for _ in range(count)])
    shares = rng.dirichlet(np.ones(k), count) / search.paints.strength[index]
    return search.paints.lab(shares / shares.sum(axis=1, keepdims=True), index), index


def globally(search: Searcher, goal: np.ndarray, index: np.ndarray) -> float:
    """Least weighted error of mixtures of these tubes by differential evolution, all points of a turn at once."""
    K, S, power = (a[index] for a in (search.paints.K, search.paints.S, search.paints.strength))

    def cost(x: np.ndarray) -> np.ndarray:
        c = (x.T.reshape(-1, len(index)) + 1e-9) / power
        c /= c.sum(axis=1, keepdims=True)
        return search.paints.error(layer_lab(c @ K, c @ S, search.paints.surface), goal)

    found = differential_evolution(
        cost,
        [(0, 1)] * len(index),
        seed=1,
        maxiter=150,
        popsize=15,
        tol=1e-9,
        vectorized=True,
        updating="deferred",
        polish=False,
    )
    return float(found.fun)


def main() -> None:
    gaps, near = [], []
    print("tubes  prepared  search      of SciPy's time   gap to SciPy: median, 95 %, largest")
    for count, many in TARGETS.items():
        start = time.perf_counter()
        search = Searcher(chosen(count))
        prepared = time.perf_counter() - start
        goals, index = targets(search, many, count)
        ours, theirs, gap = [], [], []
        for goal, tubes in zip(goals, index, strict=True):
            start = time.perf_counter()
            found = search.find(goal)
            ours.append(time.perf_counter() - start)
            best = globally(search, goal, tubes)
            if len(theirs) < _TIMED:
                start = time.perf_counter()
                globally(search, goal, np.arange(count))
                theirs.append(time.perf_counter() - start)
            gap.append(float(found.error[0]) - best)
            near.append(float(found.error[0]))
        gaps += gap
        ratio = np.median(ours) / np.median(theirs)
        print(
            f"{count:5d} {prepared * 1e3:8.0f} ms {np.median(ours) * 1e3:7.1f} ms {ratio:16.4f} "
            f"{np.median(gap):19.6f} {np.quantile(gap, 0.95):9.6f} {max(gap):9.6f}"
        )
    print(f"{len(gaps)} targets: largest gap {max(gaps):.5f}, farthest from its target {max(near):.5f}")
    rounding()
    answers()
    larger()


def rounding() -> None:
    """What parts that can be counted cost, middle tones and pale tints."""
    search = Searcher(palette("portrait-ten").tubes)
    goals, _ = targets(search, 80, 1)
    losses = []
    for goal in goals[(goals[:, 0] > 30) & (goals[:, 0] < 75)]:
        lab = round_found(search.paints, goal, search.find(goal), Dosing()).lab
        losses.append(float(ciede2000(lab[0], goal)))
    print(f"rounded, {len(losses)} middle tones: median {np.median(losses):.2f}, 95 % {np.quantile(losses, 0.95):.2f}")
    pale = [np.array([L, a, b]) for L in (88.0, 92.0) for a, b in ((1, 4), (-2, -4), (4, 3), (0, 8), (-3, 5))]
    through = [min(r.de00 for r in find_recipes(goal, search.tubes, 4, 3)[1]) for goal in pale]
    print(f"pale tints by way of tint piles: median {np.median(through):.2f}, worst {max(through):.2f}")


def answers() -> None:
    """How soon the first answer and all the others come, ten tubes."""
    tubes, goal = palette("portrait-ten").tubes, np.array([62.0, 14, 22])
    means = Means({t.id: 20.0 for t in tubes[:7]}, {t.id: 0.2 for t in tubes})
    first = seconds(lambda: Searcher(tubes, 3).find(goal, 20))
    quick = seconds(lambda: find_recipes(goal, tubes, 4, 1, tints=(), effort=24))
    whole = seconds(lambda: find_recipes(goal, tubes, 4, 5, means=means))
    print(
        f"first mixture {first * 1e3:.0f} ms with nothing prepared; a recipe {quick * 1e3:.0f} ms; all ways "
        f"{whole * 1e3:.0f} ms"
    )


def larger() -> None:
    """Reach, charts and the smallest palette, against one differential evolution."""
    tubes = palette("portrait-ten").tubes
    search = Searcher(tubes)
    goals, index = targets(search, 24, 9)
    unit = seconds(lambda: globally(search, goals[0], index[0]), 3)
    for what, work in (
        ("one slice of the reach, 10 tubes", lambda: Nets(tubes).slice(5.0)),
        (
            "chart of 10 tubes, singles and pairs",
            lambda: make_chart(palette("portrait-ten"), chart_values(6), CHART_KINDS[:2]),
        ),
        ("smallest palette of 10 for 24 notes", lambda: smallest_palette(goals, tubes)),
    ):
        taken = seconds(work, 1)
        print(f"{what:38s} {taken * 1e3:8.0f} ms {taken / unit:8.2f} of one differential evolution over four tubes")


if __name__ == "__main__":
    main()
