"""Charts as painters make them: rows of one, two or three tubes, stepped with white in even values.

A row is one base (a tube, or a pile of two or three in fixed parts), from its mass tone to nearly white in five or six
steps that are equal in value, whatever the mass tone; or, for one that is read by its columns, to the same values in
all rows. Each cell is the cell before and so much white: a step down is mixed from what stands there, in parts that can
be counted. The amount is solved for, not taken from a fixed ratio, which would crowd the strong paints to one side
(common practice, no source). A single tube may be stepped to the dark with the palette's black as well.
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

CHART_KINDS = ("singles", "darkened", "pairs", "triples")
"""Rows of one tube with white, of one tube with black, of two and of three tubes with white."""
USUAL_KINDS = ("singles", "pairs", "triples")
LEAST_VALUES, MOST_VALUES = 3, 10
MOST_ROWS = 400
_FINEST = 1e-5
"""Least share of the base in a tint."""
_CUTS, _TURNS = 32, 5
"""Of the search for a share: to a thirty millionth."""
_LEAST_ADDED = 0.05
"""With less white than a twentieth the base is as good as it comes."""
_NEAR_WHITE, _NEAR_BLACK = 0.5, 0.4
"""How far a row ends from its white, or from its black, in value steps."""
_MOST_BEFORE = 20.0
"""Parts of the cell before to one that is added: less than a twentieth is no dose that a knife can tell."""
_DOMINANT = 1.3
"""How much more of the colour the first tube of a mixture has to bring than the second to be dominant."""
_LEAST_STEP = 0.1
"""A row whose steps would be smaller has nothing to show."""
_PREFERRED: Array = np.array(
    [*np.arange(0.25, 2, 0.25), *np.arange(2, 6, 0.5), *range(6, 20), *range(20, 50, 5), *range(50, 101, 10)]
)
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
    added: float
    """Parts of the cell before, and of white (or black) that go to them; added 0 for the base as it comes."""
    before: str
    """Label of the cell before; "" for the base as it comes."""
    parts: tuple[tuple[str, float], ...]
    """Tube id and parts by volume of the whole mixture."""
    lab: tuple[float, float, float]
    dark: bool = False
    """Whether black is what goes to the cell before, not white."""

    @property
    def words(self) -> str:
        """Parts as written under the swatch: the cell before and so much white (w) or black (b)."""
        if not self.before:
            return "as it comes"
        base = f"{cell_number(self.base)} " if self.base != 1 else ""
        return f"{base}{self.before} + {cell_number(self.added)} {'b' if self.dark else 'w'}"


@dataclass(frozen=True)
class ChartRow:
    """One base and its tints."""

    letter: str
    kind: str
    """One of ``KINDS``."""
    title: str
    """Names of its tubes with their parts, as "ochre-dominant: 2 ochre, 1 black"."""
    base: tuple[tuple[str, float], ...]
    cells: tuple[Cell, ...]


@dataclass(frozen=True)
class Chart:
    """All rows over one value scale."""

    palette: Palette
    values: tuple[float, ...]
    """Munsell values of the columns, dark to light, where all rows share them; () where each has its own steps."""
    columns: int
    """Columns, that of the bases as they come counted."""
    rows: tuple[ChartRow, ...]

    @property
    def cells(self) -> list[Cell]:
        return [c for r in self.rows for c in r.cells]


def cell_number(x: float) -> str:
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


def chart_values(count: int) -> tuple[float, ...]:
    """``count`` even steps between black and white paint: 10 k / (count + 1)."""
    if not LEAST_VALUES <= count <= MOST_VALUES:
        raise OchreError(f"{count} values are not possible in a chart: choose {LEAST_VALUES} to {MOST_VALUES}.")
    return tuple(10 * k / (count + 1) for k in range(1, count + 1))


def make_chart(
    palette: Palette,
    values: int | Sequence[float],
    kinds: Sequence[str] = USUAL_KINDS,
    only: Sequence[str] | None = None,
) -> Chart:
    """The chart of a palette's tubes.

    ``values``: how many cells a row has from its mass tone to nearly white, even in value; or Munsell values that all
    rows share as columns, dark to light. ``kinds``: which rows, of ``KINDS``; ``only``: ids of the coloured tubes to
    use (default: all). Raises OchreError without a white, without a colour, for darkened rows without a black, or for
    too many rows.
    """
    if isinstance(values, int) and not LEAST_VALUES <= values <= MOST_VALUES:
        raise OchreError(f"Rows of {values} cells are not possible: choose {LEAST_VALUES} to {MOST_VALUES}.")
    white = next((t for t in palette.tubes if t.is_white), None)
    coloured = [t for t in palette.tubes if not t.is_white and (only is None or t.id in only)]
    if white is None:
        raise OchreError(f"{palette.name} has no white: a chart steps its tubes with white; add one to the palette.")
    if not coloured:
        raise OchreError("A chart needs at least one tube besides white: choose one.")
    bases: list[tuple[str, list[tuple[Tube, float]]]] = []
    if "singles" in kinds:
        bases += [("singles", [(t, 1.0)]) for t in coloured]
    black = next((t for t in palette.tubes if t.is_black), None)
    if "darkened" in kinds:
        if black is None:
            raise OchreError(f"{palette.name} has no black to darken with: leave the darkened rows out, or add one.")
        bases += [("darkened", [(t, 1.0)]) for t in coloured if not t.is_black]
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
    rows: list[ChartRow] = []
    for kind, base in bases:
        step = (black, True) if kind == "darkened" and black is not None else (white, False)
        row = _row(letters(len(rows)), kind, base, step, palette, values)
        if len(row.cells) > 1 or kind != "darkened":
            rows.append(row)
    own = isinstance(values, int)
    count = values if isinstance(values, int) else len(values) + 1
    return Chart(palette, () if own else tuple(values), count, tuple(rows))  # type: ignore[arg-type]


def readable_kinds(palette: Palette) -> tuple[str, ...]:
    """The kinds of rows that keep a palette's chart to some pages: triples for up to four colours only."""
    few = sum(not t.is_white for t in palette.tubes) <= 4
    return USUAL_KINDS if few else USUAL_KINDS[:2]


def _countable(tubes: Sequence[Tube], weights: Sequence[float]) -> tuple[float, ...]:
    """Parts that give each tube its weight in the mixture: a strong tube gets few. Whole parts up to 20, no less
    than a half."""
    amount = np.array(weights) / np.array([t.strength for t in tubes])
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
    than that already, or where white itself is darker. Lightness rises with white, so the share is cut in upon. With a
    black for white, it is the other way round."""
    goal = np.asarray(lightness, dtype=float)

    def light(share: Array) -> Array:  # (m, n)
        w = share[..., None]
        k, s = (1 - w) * K[:, None] + w * white.K, (1 - w) * S[:, None] + w * white.S
        return np.asarray(layer_lab(k, s, palette.surface)[..., 0])

    low, high = np.zeros(len(K)), np.full(len(K), 1 - _FINEST)
    ends = light(np.stack([low, high], axis=1))
    rises = ends[:, 1] > ends[:, 0]
    possible = (ends[:, 0] - goal) * (ends[:, 1] - goal) < 0
    rows, parts = np.arange(len(K)), np.linspace(0, 1, _CUTS + 1)
    for _ in range(_TURNS):  # a few large cuts at once are quicker than many halvings
        tried = low[:, None] + (high - low)[:, None] * parts
        over = (light(tried) > goal[:, None]) == rises[:, None]
        first = np.clip(over.argmax(axis=1), 1, _CUTS)
        low, high = tried[rows, first - 1], tried[rows, first]
    return np.where(possible, (low + high) / 2, np.nan)


def _nearest(x: float) -> float:
    return float(_PREFERRED[int(np.abs(np.log(_PREFERRED / x)).argmin())])


def _row(
    letter: str,
    kind: str,
    base: list[tuple[Tube, float]],
    step: tuple[Tube, bool],
    palette: Palette,
    values: int | Sequence[float],
) -> ChartRow:
    """A base stepped with white, or with black where ``step`` says so."""
    added, dark = step
    tubes = {t.id: t for t, _ in base} | {added.id: added}
    parts = {t.id: n for t, n in base}
    cells = [_cell(f"{letter}0", -1, (1.0, 0.0, ""), parts, tubes, palette, dark)]
    goals = _goals(cells[0].value, added, dark, values, palette)
    for column, value in enumerate(goals):
        if isinstance(values, int):  # even from where the cell before really stands
            value = cells[-1].value + (goals[-1] - cells[-1].value) / (len(goals) - column)
        before, here = cells[-1], dict(cells[-1].parts)
        whole = sum(here.values())
        K = np.array(sum(tubes[i].K * n for i, n in here.items())) / whole
        S = np.array(sum(tubes[i].S * n for i, n in here.items())) / whole
        share = float(white_for(K[None], S[None], added, [float(lightness_of_value(value))], palette)[0])
        ratio = share / (1 - share) if np.isfinite(share) else 0.0
        if not ratio or (not isinstance(values, int) and ratio < _LEAST_ADDED):
            continue
        # Below a part of white it is the cell before that is counted: 4 of it to 1 white.
        b, n = (1.0, _nearest(ratio)) if ratio >= 1 else (min(_nearest(1 / ratio), _MOST_BEFORE), 1.0)
        here[added.id] = here.get(added.id, 0.0) + n / b * whole
        cells.append(_cell(f"{letter}{column + 1}", column, (b, n, before.label), here, tubes, palette, dark))
    return ChartRow(letter, kind, _title(kind, base, added), tuple((t.id, n) for t, n in base), tuple(cells))


def _goals(start: float, added: Tube, dark: bool, values: int | Sequence[float], palette: Palette) -> list[float]:
    """Values of a row's cells after its base."""
    if not isinstance(values, int):
        return sorted((v for v in values if v < start), reverse=True) if dark else list(values)
    white = float(value_of_lightness(float(layer_lab(added.K, added.S, palette.surface)[0])))
    end = white + _NEAR_BLACK if dark else white - _NEAR_WHITE
    step = (end - start) / (values - 1)
    if dark and step > -_LEAST_STEP:
        return []
    return [start + step * k for k in range(1, values)]


def _title(kind: str, base: list[tuple[Tube, float]], added: Tube) -> str:
    if kind == "darkened":
        return f"{base[0][0].short}, darkened with {added.short}"
    if len(base) == 1:
        return base[0][0].short
    power = [n * t.strength for t, n in base]
    names = ", ".join(f"{cell_number(n)} {t.short}" for t, n in base)
    lead = max(range(len(base)), key=lambda k: power[k])
    others = max(p for k, p in enumerate(power) if k != lead)
    how = f"{base[lead][0].short}-dominant" if power[lead] > _DOMINANT * others else "balanced"
    return f"{how}: {names}"


def _cell(
    label: str,
    column: int,
    step: tuple[float, float, str],
    parts: dict[str, float],
    tubes: dict[str, Tube],
    palette: Palette,
    dark: bool,
) -> Cell:
    total = sum(parts.values())
    K = sum((tubes[i].K * p for i, p in parts.items()), np.zeros(36)) / total
    S = sum((tubes[i].S * p for i, p in parts.items()), np.zeros(36)) / total
    lab = layer_lab(K, S, palette.surface)
    return Cell(
        label,
        column,
        float(value_of_lightness(float(lab[0]))),
        *step,
        tuple((i, round(p, 6)) for i, p in parts.items()),
        as_lab(lab),
        dark,
    )


def nearest_cells(chart: Chart, lab: npt.ArrayLike, count: int = 3) -> list[tuple[Cell, float]]:
    """The cells nearest to a colour, with their CIEDE2000; value counts double, as a painter would look."""
    cells = chart.cells
    off = ciede2000_vector(np.array([c.lab for c in cells]), np.asarray(lab, dtype=float))
    order = np.argsort(np.linalg.norm(off * np.array([2.0, 1.0, 1.0]), axis=1))[:count]
    return [(cells[int(i)], float(np.linalg.norm(off[i]))) for i in order]
