"""The smallest palette that reaches every note.

For each note the mixtures that come near enough are found for every choice of one to four tubes, smallest choices
first: a choice that holds one that serves already needs no search. Then a palette is wanted that holds, for each note,
all tubes of one such choice. This is a covering problem, solved as a mixed integer programme to proven optimality
(HiGHS, Huangfu and Hall 2018, through SciPy); where time runs out the proven bound is told with the answer.
"""

import itertools
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from ochre_stone.core.advice.frame import by_name, of_tube
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.recipe.nearness import REACH
from ochre_stone.core.mixing.recipe.search import ORDERS, Ints, Paints
from ochre_stone.core.paint.cautions import hazards, lasts
from ochre_stone.core.paint.optics import USUAL, Surface
from ochre_stone.core.paint.palettes import MOST_TUBES
from ochre_stone.core.paint.tubes import Tube
from ochre_stone.core.programme import Programme

LEAST_SIZE, MOST_SIZE = 2, 12
_CHUNK = 1500
_SECONDS = 30.0
_PER_HAZARD, _PER_FUGITIVE = 0.15, 0.15
"""What a hazardous or fugitive tube weighs against one more tube, where it is to be avoided if that costs nothing."""
_PER_NAME = 0.02
"""What a quarter turn of hue off the nearest note weighs: of palettes that reach as much, the one that a painter would
lay out."""
_STEPS = 6
"""Grid of mixtures from which each choice is searched."""
_FAR = 45.0
"""A choice whose nearest grid mixture is farther off than this (CIELAB) reaches no tolerance that makes sense."""


@dataclass(frozen=True)
class Smallest:
    """A palette and what is known about it."""

    tubes: tuple[Tube, ...]
    reached: tuple[bool, ...]
    """For each note whether this palette reaches it."""
    impossible: tuple[int, ...]
    """Notes that not even all the tubes to choose from reach."""
    proven: bool
    """True where no smaller palette reaches as many notes."""
    bound: int
    """No palette that reaches as many notes can have fewer tubes than this."""


@dataclass(frozen=True)
class Wanted:
    """What the smallest palette is to be."""

    tolerance: float = REACH
    """CIEDE2000 within which a note counts as reached."""
    fixed: tuple[str, ...] = ()
    """Ids of tubes that must be in."""
    most_tubes: int = 4
    """In one mixture, 1 to 4."""
    size: int = MOST_SIZE
    """At most so many tubes, 2 to 12: where that is too few, as many notes as can be are reached."""
    price: Mapping[str, float] = field(default_factory=dict)
    """Per millilitre by tube id: between palettes of one size the cheaper wins."""
    avoid_hazards: bool = False
    avoid_fugitive: bool = False
    """Then the one without such tubes, where they are to be avoided."""
    surface: Surface = USUAL


def smallest_palette(
    notes: npt.ArrayLike,
    pool: Sequence[Tube],
    wanted: Wanted | None = None,
    progress: Callable[[float], None] = lambda share: None,
) -> Smallest:
    """The fewest tubes of ``pool`` (at most 24) that bring every colour Lab (n, 3) within the tolerance that is wanted.

    ``progress`` gets 0..1 and may raise to cancel. Raises OchreError for wishes that cannot be.
    """
    w = wanted or Wanted()
    lab = np.asarray(notes, dtype=float).reshape(-1, 3)
    if not len(lab):
        raise OchreError("Take notes first: the smallest palette is the one that reaches them.")
    if not 1 <= len(pool) <= MOST_TUBES:
        raise OchreError(f"{len(pool)} tubes to choose from: 1 to {MOST_TUBES} are possible.")
    if not LEAST_SIZE <= w.size <= MOST_SIZE:
        raise OchreError(f"A palette of {w.size} tubes: choose {LEAST_SIZE} to {MOST_SIZE}.")
    locked = [i for i, t in enumerate(pool) if t.id in w.fixed]
    if len(locked) > w.size:
        raise OchreError(
            f"{len(locked)} tubes are to stay, but {w.size} may lie on the palette: allow more, or free some."
        )
    choices = reaching(lab, pool, w.tolerance, min(w.most_tubes, 4), w.surface, progress)
    impossible = tuple(n for n, c in enumerate(choices) if not c)
    weight = np.ones(len(pool))
    top = max(w.price.values(), default=0.0)
    for i, t in enumerate(pool):
        if top > 0:
            weight[i] += 0.05 * w.price.get(t.id, top) / top
        weight[i] += _PER_HAZARD * (w.avoid_hazards and bool(hazards(t)))
        weight[i] += _PER_FUGITIVE * (w.avoid_fugitive and not lasts(t))
        weight[i] += _PER_NAME * min(by_name(of_tube(t, w.surface), c) for c in lab) / 90 if len(lab) else 0.0
    # Even all of these together must weigh less than one tube more.
    weight = 1 + (weight - 1) / max(1.0, (weight - 1).sum() * 1.01)
    return _solved(choices, pool, locked, weight, w.size, impossible)


def reaching(
    lab: Array,
    pool: Sequence[Tube],
    tolerance: float,
    most: int,
    surface: Surface = USUAL,
    progress: Callable[[float], None] = lambda share: None,
) -> list[list[tuple[int, ...]]]:
    """For each colour the smallest choices of tubes whose mixtures come within ``tolerance``."""
    paints = Paints(
        np.stack([t.K for t in pool]),
        np.stack([t.S for t in pool]),
        np.array([t.strength for t in pool]),
        surface,
        np.array(ORDERS["even"]),
    )
    out: list[list[tuple[int, ...]]] = [[] for _ in lab]
    sizes = range(1, min(most, len(pool)) + 1)
    for k in sizes:
        subsets: Ints = np.array(list(itertools.combinations(range(len(pool)), k)), dtype=np.intp)
        grid = _grid(k)
        net = _net(paints, subsets, grid)
        for n, goal in enumerate(lab):
            index, near = _candidates(subsets, net, goal, out[n])
            for start in range(0, len(index), _CHUNK):
                rows = slice(start, start + _CHUNK)
                reached = _best(paints, goal, index[rows], grid[near[rows]]) <= tolerance
                out[n] += [tuple(int(i) for i in row) for row in index[rows][reached]]
            progress((sizes.index(k) + (n + 1) / len(lab)) / len(sizes))
    return out


def _grid(k: int) -> Array:
    return np.array([p for p in itertools.product(range(_STEPS + 1), repeat=k) if sum(p) == _STEPS]) / _STEPS


def _net(paints: Paints, subsets: Ints, grid: Array) -> npt.NDArray[np.float32]:
    """Lab (m, g, 3) of every choice at every point of the grid."""
    shares = grid[None] / paints.strength[subsets][:, None, :]
    shares = (shares / shares.sum(axis=-1, keepdims=True)).reshape(-1, subsets.shape[1])
    lab = paints.lab(shares, np.repeat(subsets, len(grid), axis=0))
    return lab.reshape(len(subsets), len(grid), 3).astype(np.float32)


def _candidates(
    subsets: Ints, net: npt.NDArray[np.float32], goal: Array, served: Sequence[tuple[int, ...]]
) -> tuple[Ints, Ints]:
    """Choices that hold none that serves already and come anywhere near, and the two best points of each (m, 2)."""
    keep = np.ones(len(subsets), dtype=bool)
    for s in served:
        keep &= np.isin(subsets, s).sum(axis=1) < len(s)
    far = ((net[keep] - goal.astype(np.float32)) ** 2).sum(axis=-1)
    two = np.argpartition(far, min(1, far.shape[1] - 1), axis=1)[:, :2] if len(far) else np.zeros((0, 2), dtype=np.intp)
    near = np.sqrt(far.min(axis=1)) < _FAR if len(far) else np.zeros(0, dtype=bool)
    return subsets[keep][near], two[near]


def _best(paints: Paints, goal: Array, index: Ints, starts: Array) -> Array:
    """Least CIEDE2000 (m,) of mixtures of the tubes ``index`` (m, k), from ``starts`` (m, s, k)."""
    k = index.shape[1]
    if k == 1:
        return paints.error(paints.lab(np.ones((len(index), 1)), index), goal)
    least = np.full(len(index), np.inf)
    for turn in range(starts.shape[1]):
        v = np.sqrt(starts[:, turn] * 0.94 + 0.06 / k)
        error, _ = paints.refine(goal, v, index, rounds=12, all_of_them=True)
        least = np.fmin(least, error)
    return least


def _solved(
    choices: Sequence[Sequence[tuple[int, ...]]],
    pool: Sequence[Tube],
    locked: Sequence[int],
    weight: Array,
    size: int,
    impossible: tuple[int, ...],
) -> Smallest:
    """Variables: a tube is in (whole), a note is reached (whole), a choice is used (any share)."""
    p, n = len(pool), len(choices)
    uses = [(note, s) for note, found in enumerate(choices) for s in found]
    m = p + n + len(uses)
    # Reaching a note more counts more than all tubes.
    cost = np.concatenate([weight, np.full(n, -(p + 1.0) * 2), np.zeros(len(uses))])
    low = np.zeros(m)
    low[list(locked)] = 1
    programme = Programme(cost, low, np.ones(m), np.arange(m) < p + n)
    for j, (_, s) in enumerate(uses):
        for tube in s:  # a choice may be used only where its tubes are in
            programme.row([(p + n + j, 1.0), (tube, -1.0)], high=0.0)
    for note in range(n):  # a note is reached by its choices
        ways = [(p + n + j, -1.0) for j, (owner, _) in enumerate(uses) if owner == note]
        programme.row([(p + note, 1.0), *ways], high=0.0)
    programme.row([(i, 1.0) for i in range(p)], high=float(size))
    found = programme.solve(_SECONDS)
    if found.x is None:
        raise OchreError("No palette was found in time: allow fewer tubes to choose from.")
    chosen = [i for i in range(p) if found.x[i] > 0.5]
    in_ = set(chosen)
    reached = tuple(any(set(s) <= in_ for s in found_) for found_ in choices)
    proven = found.proven
    gain = sum(reached) * (p + 1.0) * 2
    bound = len(chosen) if proven else max(len(locked), int(np.ceil((found.bound or 0.0) + gain - 1.0)))
    return Smallest(tuple(pool[i] for i in chosen), reached, impossible, proven, max(bound, 1))
