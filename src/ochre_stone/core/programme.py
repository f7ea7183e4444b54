"""Linear programmes of which some unknowns are whole numbers, solved by HiGHS (Huangfu and Hall 2018, Math. Prog. Comp.
10). Its own bindings load in no time; through SciPy the same solver takes a second to load.

Not every version: 1.14 calls a plan proven that is not the best (tests/core/mixing/test_branching.py), 1.16 writes to
standard output.
"""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.later import later

highspy = later("highspy")


@dataclass(frozen=True)
class Solution:
    """What the solver came to in its time."""

    x: Array | None
    """The unknowns (n,); None where it found none that holds all rows."""
    bound: float | None
    """What no answer can cost less than, as far as it is proved."""
    proven: bool
    """Whether nothing costs less than ``x``."""


class Programme:
    """Unknowns (n,) that cost as little as may be while every row holds.

    Parameters: ``cost`` (n,) of a unit of each; ``low`` and ``high`` (n,), what each lies between; ``whole`` (n,): of
    which only whole numbers count.

    >>> p = Programme(np.array([-1.0, -2.0]), np.zeros(2), np.ones(2), np.array([True, True]))
    >>> p.row([(0, 1.0), (1, 1.0)], high=1.5)
    >>> p.solve().x.tolist()
    [0.0, 1.0]
    """

    def __init__(self, cost: Array, low: Array, high: Array, whole: npt.NDArray[np.bool_]) -> None:
        self.cost, self.low, self.high, self.whole = cost, low, high, whole
        self._index: list[int] = []
        self._value: list[float] = []
        self._start = [0]
        self._rows: list[tuple[float, float]] = []

    def row(self, terms: Iterable[tuple[int, float]], low: float = -np.inf, high: float = np.inf) -> None:
        """``low`` <= the sum of unknowns (by their number) times their factors <= ``high``."""
        for i, factor in terms:
            self._index.append(i)
            self._value.append(factor)
        self._start.append(len(self._index))
        self._rows.append((low, high))

    def solve(self, seconds: float = np.inf, gap: float = 1e-4) -> Solution:
        """The best answer, or the best that was found in ``seconds``; ``gap``: share of its cost that it may miss."""
        lp = highspy.HighsLp()
        lp.num_col_, lp.num_row_ = len(self.cost), len(self._rows)
        lp.col_cost_, lp.col_lower_, lp.col_upper_ = self.cost, self.low, self.high
        lp.row_lower_, lp.row_upper_ = np.array(self._rows, dtype=float).reshape(-1, 2).T
        lp.a_matrix_.format_ = highspy.MatrixFormat.kRowwise
        lp.a_matrix_.start_, lp.a_matrix_.index_ = np.array(self._start), np.array(self._index)
        lp.a_matrix_.value_ = np.array(self._value, dtype=float)
        kinds = highspy.HighsVarType.kContinuous, highspy.HighsVarType.kInteger
        lp.integrality_ = [kinds[bool(w)] for w in self.whole]
        solver = highspy.Highs()
        solver.silent()
        for option, value in (("threads", 1), ("mip_rel_gap", gap), ("time_limit", seconds)):
            solver.setOptionValue(option, value)
        solver.passModel(lp)
        solver.run()
        info = solver.getInfo()
        there = info.primal_solution_status == highspy.SolutionStatus.kSolutionStatusFeasible
        bound = float(info.mip_dual_bound)
        return Solution(
            np.array(solver.getSolution().col_value) if there else None,
            bound if np.isfinite(bound) else None,
            solver.getModelStatus() == highspy.HighsModelStatus.kOptimal,
        )
