"""Charts as painters make them: rows of one, two or three tubes, stepped with white to chosen values.

A row is one base (a tube, or a pile of two or three in fixed parts); its cells are the base with as much white as
brings it to the value of their column. The amount of white is solved for, not taken from a fixed ratio, so that equal
columns are equal in value (common practice asks for this; fixed ratios crowd the strong paints to one side).
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.difference import ciede2000_vector
from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.optics import layer_lab
from ochre_stone.core.paint.palettes import Palette
from ochre_stone.core.paint.tubes import Tube

KINDS = ("singles", "pairs", "triples")
LEAST_VALUES, MOST_VALUES = 3, 10
MOST_ROWS = 400
_FINEST = 1e-5
"""Least share of the base in a tint."""
_LEAST_WHITE = 0.05
"""With less white than a twentieth the base is as good as it comes."""
_PREFERRED: Array = np.array([
    *np.arange(0.25, 2, 0.25), *np.arange(2, 6, 0.5), *range(6, 20), *range(20, 50, 5), *range(50, 100, 10),
    *range(100, 400, 25), *range(400, 2001, 100),
])  # fmt: skip
"""Amounts that can be counted or estimated with a knife."""


@dataclass(frozen=True)
class Cell:
    """One swatch of a chart."""

    label: str
    """Row and column, as "B4": unique in its chart."""
    column: int
    """Index of its value step; -1 for the base as it comes."""
    value: float
    """Munsell value of the mixture as labelled."""
    base: float
    white: float
    """Parts of the base pile and of white; white 0 for the base as it comes."""
    parts: tuple[tuple[str, float], ...]
    """Tube id and parts by volume of the whole mixture."""
    lab: tuple[float, float, float]

    @property
    def words(self) -> str:
        """Parts as written under the swatch: base and white."""
        if self.white == 0:
            return "as it comes"
        return f"{number(self.base)} + {number(self.white)} w"


@dataclass(frozen=True)
class Row:
    """One base and its tints."""

    letter: str
    kind: str
    """singles, pairs or triples."""
    title: str
    """Names of its tubes with their parts, as "2 ochre, 1 black"."""
    base: tuple[tuple[str, float], ...]
    cells: tuple[Cell, ...]


@dataclass(frozen=True)
class Chart:
    """All rows over one value scale."""

    palette: Palette
    values: tuple[float, ...]
    """Munsell values of the columns, dark to light."""
    rows: tuple[Row, ...]

    @property
    def cells(self) -> list[Cell]:
        return [c for r in self.rows for c in r.cells]


def number(x: float) -> str:
    """Parts as painters write them: 2½, ¼, 12."""
    whole, rest = int(x), round((x - int(x)) * 4)
    fraction = {0: "", 1: "¼", 2: "½", 3: "¾"}.get(rest, "")
    return f"{whole}{fraction}" if whole else fraction or "0"


def letters(n: int) -> str:
    """A, B ... Z, AA, AB ... for row ``n`` from 0."""
    out = ""
    n += 1
    while n:
        n, rest = divmod(n - 1, 26)
        out = chr(65 + rest) + out
    return out


def steps(count: int) -> tuple[float, ...]:
    """``count`` even steps between black and white paint: 10 k / (count + 1)."""
    if not LEAST_VALUES <= count <= MOST_VALUES:
        raise OchreError(f"{count} values are not possible in a chart: choose {LEAST_VALUES} to {MOST_VALUES}.")
    return tuple(10 * k / (count + 1) for k in range(1, count + 1))


def make_chart(
    palette: Palette, values: Sequence[float], kinds: Sequence[str] = KINDS, only: Sequence[str] | None = None
) -> Chart:
    """The chart of a palette's tubes.

    ``values``: Munsell values of the columns, dark to light; ``kinds``: which rows, of ``KINDS``; ``only``: ids of the
    coloured tubes to use (default: all). Raises OchreError without a white, without a colour, or for too many rows.
    """
    white = next((t for t in palette.tubes if t.is_white), None)
    coloured = [t for t in palette.tubes if not t.is_white and (only is None or t.id in only)]
    if white is None:
        raise OchreError(f"{palette.name} has no white: a chart steps its tubes with white; add one to the palette.")
    if not coloured:
        raise OchreError("A chart needs at least one tube besides white: choose one.")
    bases: list[tuple[str, list[tuple[Tube, float]]]] = []
    if "singles" in kinds:
        bases += [("singles", [(t, 1.0)]) for t in coloured]
    if "pairs" in kinds:
        for pair in itertools.combinations(coloured, 2):
            bases += [("pairs", list(zip(pair, _countable(pair, w), strict=True))) for w in ((2, 1), (1, 2))]
    if "triples" in kinds:
        for three in itertools.combinations(coloured, 3):
            leaning = [(2, 1, 1), (1, 2, 1), (1, 1, 2)]
            amounts = [_countable(three, w) for w in leaning] + [_neutral(three, white, palette)]
            bases += [("triples", list(zip(three, a, strict=True))) for a in dict.fromkeys(amounts)]
    if not bases:
        raise OchreError("The chart has no rows: choose singles, pairs or triples, and tubes enough for them.")
    if len(bases) > MOST_ROWS:
        raise OchreError(f"The chart would have {len(bases)} rows: choose fewer tubes, or leave out the triples.")
    rows = [_row(letters(n), kind, base, white, palette, values) for n, (kind, base) in enumerate(bases)]
    return Chart(palette, tuple(values), tuple(rows))


def readable_kinds(palette: Palette) -> tuple[str, ...]:
    """The kinds of rows that keep a palette's chart to some pages: triples for up to four colours only."""
    return KINDS if sum(not t.is_white for t in palette.tubes) <= 4 else KINDS[:2]


def _countable(tubes: Sequence[Tube], weights: Sequence[float]) -> tuple[float, ...]:
    """Parts that give each tube its weight in the mixture: a strong tube gets few. Whole parts up to 20, no less
    than a half."""
    amount = np.array(weights) / np.array([t.colouring_power for t in tubes])
    best: tuple[float, tuple[float, ...]] = (np.inf, ())
    for least in (0.5, 1, 2, 3):
        scaled = amount / amount.min() * least
        rounded = np.where(scaled >= 1, np.round(scaled), 0.5)
        if rounded.max() > 20 and least > 0.5:
            continue
        rounded = np.minimum(rounded, 60)
        off = float(np.abs(np.log(rounded / rounded.sum() / (amount / amount.sum()))).max()) + 0.004 * rounded.sum()
        if off < best[0]:
            best = off, tuple(float(v) for v in rounded)
    return best[1]


def _neutral(three: Sequence[Tube], white: Tube, palette: Palette) -> tuple[float, ...]:
    """The parts of three tubes whose middle tint has the least chroma."""
    n = 12
    weights = [w for w in itertools.product(range(1, n), repeat=3) if sum(w) == n]
    candidates = list(dict.fromkeys(_countable(three, w) for w in weights))
    c = np.array(candidates)
    c = c / c.sum(axis=1, keepdims=True)
    K, S = c @ np.stack([t.K for t in three]), c @ np.stack([t.S for t in three])
    lightness = np.full(len(c), 50.0)
    share = white_for(K, S, white, lightness, palette)
    usable = np.isfinite(share)
    share = np.where(usable, share, 0.0)[:, None]
    lab = layer_lab((1 - share) * K + share * white.K, (1 - share) * S + share * white.S, palette.surface)
    return candidates[int(np.hypot(lab[:, 1], lab[:, 2]).argmin())]


def white_for(K: Array, S: Array, white: Tube, lightness: npt.ArrayLike, palette: Palette) -> Array:
    """Share of white (m,), 0..1, that brings bases K and S (m, 36) to ``lightness`` (m,); nan where a base is lighter
    than that already, or where white itself is darker. Bisection: lightness rises with white."""
    goal = np.asarray(lightness, dtype=float)

    def light(share: Array) -> Array:
        w = share[:, None]
        k, s = (1 - w) * K + w * white.K, (1 - w) * S + w * white.S
        return np.asarray(layer_lab(k, s, palette.surface)[:, 0])

    low, high = np.zeros(len(K)), np.full(len(K), 1 - _FINEST)
    possible = (light(low) < goal) & (light(high) > goal)
    for _ in range(40):
        middle = (low + high) / 2
        over = light(middle) > goal
        low, high = np.where(over, low, middle), np.where(over, middle, high)
    return np.where(possible, (low + high) / 2, np.nan)


def _nearest(x: float) -> float:
    return float(_PREFERRED[int(np.abs(np.log(_PREFERRED / x)).argmin())])


def _row(letter: str, kind: str, base: list[tuple[Tube, float]], white: Tube, palette: Palette,
         values: Sequence[float]) -> Row:  # fmt: skip
    whole = sum(n for _, n in base)
    K, S = sum(t.K * n for t, n in base) / whole, sum(t.S * n for t, n in base) / whole
    goal = np.array([float(lightness_of_value(v)) for v in values])
    share = white_for(np.tile(K, (len(goal), 1)), np.tile(S, (len(goal), 1)), white, goal, palette)
    cells = [_cell(f"{letter}0", -1, 1.0, 0.0, base, white, palette)]
    for column, w in enumerate(share):
        ratio = float(w / (1 - w)) if np.isfinite(w) else 0.0
        if ratio < _LEAST_WHITE:
            continue
        # Below a part of white it is the base that is counted: 4 base to 1 white.
        b, n = (1.0, _nearest(ratio)) if ratio >= 1 else (_nearest(1 / ratio), 1.0)
        cells.append(_cell(f"{letter}{column + 1}", column, b, n, base, white, palette))
    names = ", ".join(f"{number(n)} {t.short}" for t, n in base) if len(base) > 1 else base[0][0].short
    return Row(letter, kind, names, tuple((t.id, n) for t, n in base), tuple(cells))


def _cell(label: str, column: int, b: float, n: float, base: list[tuple[Tube, float]], white: Tube,
          palette: Palette) -> Cell:  # fmt: skip
    whole = sum(p for _, p in base)
    parts = {t.id: p / whole * b for t, p in base}
    tubes = {t.id: t for t, _ in base} | {white.id: white}
    if n:
        parts[white.id] = parts.get(white.id, 0.0) + n
    total = sum(parts.values())
    K = sum((tubes[i].K * p for i, p in parts.items()), np.zeros(36)) / total
    S = sum((tubes[i].S * p for i, p in parts.items()), np.zeros(36)) / total
    lab = layer_lab(K, S, palette.surface)
    least = whole / b if b else 1.0
    return Cell(label, column, float(value_of_lightness(float(lab[0]))), b, n,
                tuple((i, round(p * least, 6)) for i, p in parts.items()),
                as_lab(lab))  # fmt: skip


def nearest_cells(chart: Chart, lab: npt.ArrayLike, count: int = 3) -> list[tuple[Cell, float]]:
    """The cells nearest to a colour, with their CIEDE2000; value counts double, as a painter would look."""
    cells = chart.cells
    off = ciede2000_vector(np.array([c.lab for c in cells]), np.asarray(lab, dtype=float))
    order = np.argsort(np.linalg.norm(off * np.array([2.0, 1.0, 1.0]), axis=1))[:count]
    return [(cells[int(i)], float(np.linalg.norm(off[i]))) for i in order]
