"""The whole plan, strings to amounts, on the demo and on photographs that scikit-image and scikit-learn carry: what is
in reach and matched, what mixing on saves, how sure its optimum is; time as a ratio to SciPy's differential evolution
over one four-tube mixture in the same run.

python -m benchmarks.plans
"""

import time

import numpy as np

from benchmarks.recipes import globally, targets
from benchmarks.timing import seconds
from ochre_stone.core.mixing.recipe.search import Searcher
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.planning.massing import fine_masses
from ochre_stone.core.planning.planning import make_sheet, mix_strings
from tests.support.cases import cases


def main() -> None:
    search = Searcher(palette("portrait-ten").tubes)
    goals, index = targets(search, 1, 3)
    unit = seconds(lambda: globally(search, goals[0], index[0]), 3)
    print("picture     piles  in reach  worst  value   mixed on  work saved  bound  seconds  of SciPy's time")
    for name, picture, document in cases():
        masses = fine_masses(picture, document)
        taken = []
        for _ in range(2):
            start = time.perf_counter()
            mixed = mix_strings(document)
            sheet = make_sheet(picture, document.model_copy(update={"mixed": mixed}), masses)
            taken.append(time.perf_counter() - start)
        piles = [p for s in mixed.strings for p in s.piles]
        near = [p for p in piles if p.reachable]
        plan = mixed.branching
        assert plan is not None and sheet.amounts.total > 0
        onward = sum(bool(w.draws) for w in plan.chosen.values())
        print(
            f"{name:10s} {len(piles):6d} {len(near):9d} {max(p.recipe.de00 for p in near):6.2f} "
            f"{max(abs(p.recipe.value_error) for p in near):6.2f} {onward:10d} "
            f"{1 - plan.cost / plan.from_tubes:11.0%} {'proven' if plan.proven else f'{plan.bound:.1f}':>7s} "
            f"{min(taken):7.2f} {min(taken) / unit:16.1f}",
            flush=True,
        )
    print(f"one differential evolution: {np.round(unit, 3)} s")


if __name__ == "__main__":
    main()
