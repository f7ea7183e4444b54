"""The whole plan, strings to amounts, on the demo and on photographs that scikit-image and scikit-learn carry: what is
in reach and matched, what mixing on saves, how sure its optimum is; time as a ratio to SciPy's differential evolution
over one four-tube mixture in the same run. Then, with the range that is proposed and two palettes, what a painter would
shake their head at: notes in two piles, piles of nothing but another, steps between unlike things, names that are
numbers, darks out of order, notes out of reach for their value alone; and what has to be made first, and the minutes.

python -m benchmarks.plans
"""

import re
import time
from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from benchmarks.recipes import globally, targets
from benchmarks.timing import seconds
from ochre_stone.core.document.document import Document, MixChoice
from ochre_stone.core.mixing.recipe.search import Searcher
from ochre_stone.core.mixing.session.minutes import mixing_time
from ochre_stone.core.mixing.strings.kindred import kindred
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.paint.palettes import palette
from ochre_stone.core.planning.coverage import coverage
from ochre_stone.core.planning.massing import fine_masses
from ochre_stone.core.planning.planning import make_sheet, mix_strings
from ochre_stone.core.planning.ranging import with_proposed_range
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
    _shaken_heads()


def _shaken_heads() -> None:
    print("\npicture     palette              notes piles twice one-pile unlike numbers order value tints minutes")
    total = np.zeros(10, dtype=int)
    for name, _, document in cases():
        for palette_id in ("portrait-ten", "underpainting-three"):
            chosen = document.model_copy(update={"mix": MixChoice(palette=palette_id)})
            ranged, _ = with_proposed_range(chosen)
            planned = ranged.model_copy(update={"mixed": mix_strings(ranged)})
            found = _counted(planned)
            total += found
            print(f"{name:11s} {palette_id:19s}", *(f"{n:6d}" for n in found), flush=True)
    print(f"{'all':31s}", *(f"{n:6d}" for n in total))


def _counted(planned: Document) -> list[int]:
    """Notes, piles, notes in two piles, recipes of one pile, steps between unlike things, names that are numbers,
    neighbours in the dark, a tenth of a step of value apart, whose order is lost by half a unit of L*, notes out of
    reach for value, piles that are made first, and minutes of mixing."""
    takes = mixing_time(planned.mixed.strings)
    piles = sorted((p for s in planned.mixed.strings for p in s.piles), key=lambda p: p.target.lab[0])
    noted = [i for p in piles for i in p.target.notes]
    alone = [p for p in piles if len(p.recipe.ingredients) == 1 and p.recipe.ingredients[0].is_pile]
    dark = [(a, b) for a, b in pairwise(piles) if a.target.value < 4 and b.target.value > a.target.value + 0.1]
    turned = [a for a, b in dark if a.recipe.lab[0] > b.recipe.lab[0] + 0.5]
    value = [c for c in coverage(planned).values() if not c.reach and ("too dark" in c.why or "too light" in c.why)]
    rows = [s.piles for s in planned.mixed.strings]
    unlike = [p for row in rows for p in row if p.target.origin == "between" and not _between_kin(p, row)]
    numbers = [p for p in piles if re.fullmatch(r"\w+ \d+", p.name)]
    return [
        len(planned.notes), len(piles), len(noted) - len(set(noted)), len(alone), len(unlike), len(numbers),
        len(turned), len(value), takes.bases, round(takes.minutes),
    ]  # fmt: skip


def _between_kin(pile: Pile, row: Sequence[Pile]) -> bool:
    """Whether a step stands between two notes that a painter would blend."""
    noted = [p.target for p in row if p.target.notes and kindred(p.target.lab, pile.target.lab, True)]
    below = [t for t in noted if t.value < pile.target.value]
    above = [t for t in noted if t.value > pile.target.value]
    return any(kindred(a.lab, b.lab, True) for a in below for b in above)


if __name__ == "__main__":
    main()
