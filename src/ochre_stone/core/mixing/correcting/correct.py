"""Correct a pile: the smallest addition that brings it nearer, as a hand will put it in.

An addition is at most two tubes, tints or piles, each in touches and small parts that can be measured. What it comes to
is what the hand is expected to get: over palettes that the belief holds to be possible (:mod:`drawn`), doses off as
they are by eye. What was put in can never be taken out: amounts are at or above zero.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000, ciede2000_vector
from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.mixing.correcting.belief import Belief
from ochre_stone.core.mixing.correcting.drawn import Drawn
from ochre_stone.core.mixing.recipe.dose import Dose, shrunk
from ochre_stone.core.mixing.recipe.hand import Hand
from ochre_stone.core.mixing.recipe.recipe import Source
from ochre_stone.core.mixing.recipe.search import ORDERS, Ints
from ochre_stone.core.paint.optics import Surface, layer_lab

HOME = 2.0
"""A pile nearer to its target than this, CIEDE2000, matches: seen only side by side (common practice, no source)."""
LARGEST = 1.25
"""A pile that would grow beyond so many times its planned size is cut first."""
ADDED_PARTS: Array = np.array([0.0, 0.125, 0.25, 0.5, 1, 1.5, 2, 3, 4, 5, 6, 8, 10, 12, 16, 20])
"""Parts in which additions come: half a touch, a touch, half a part, and on."""
_GROWTH, _EACH, _WASTE, _BEYOND = 0.9, 0.10, 1.0, 3.0
"""What growing by the planned size, one more thing to add, setting the planned size aside, and growing by as much
beyond ``LARGEST`` weigh against one of weighted CIEDE2000 (judgements)."""
_MOST_GROWTH = 2.0
"""Additions of more than so many times the pile are not looked at."""
_LOOKED, _PER_PAIR, _TOLD = 160, 3, 4
"""Additions that are looked at with the hand's errors in, of each pair at most so many; additions told."""
_SURE, _PER_NOISE, _NEARER = 0.9, 1.7, (0.5, 0.8)
"""How sure it must be, for a pile to be called a match, that it is nearer than what matches less so many times the
reading's noise, and within these shares of it: a noisy reading may be off one way all day, and then nothing tells."""
_GAIN = 0.12
"""CIEDE2000 that an addition must be expected to bring."""
_LEAST_GAIN = (0.08, 0.03)
"""The same where a pile would else be left, and where it is said to be off."""
_AGAIN, _LAST = 0.7, 1.3
"""A pile is begun anew only where that is expected to end so much nearer than anything that can be added; once, where
nothing that can be added brings it nearer, where it begins no farther off than so: a new pile can be corrected."""
_DESPERATE = 0.3
"""What growth and work weigh where a pile would else be left too far off."""
_SEEN_OFF, _FEWEST = 1.5, 8
"""CIEDE2000 from which who compares sees that a pile is off, and the fewest palettes that have to agree."""
_WILD = 0.35
"""Share of the palettes in which an addition may lead farther off, from which half of it goes in first."""
_LOOK, _HOPELESS = 0.35, 0.2
"""CIEDE2000 by which a pile, and what was read of it, may be unsure where reading it once more tells nothing; how sure
a match must be for it."""


@dataclass(frozen=True)
class AtHand(Source):
    """Something to add from: a tube, a base pile, or a pile by its tubes."""

    most: float = float("inf")
    """Volume that there is of it, in the unit of the pile."""
    is_pile: bool = False
    within: float = 0.0
    """Error of a base pile's own doses, as :attr:`dose.Dose.within`."""
    trouble: float = 0.0
    """What having it costs, CIEDE2000: a tint that has to be made first."""


@dataclass(frozen=True)
class Correction:
    """What to do about a pile."""

    additions: tuple[tuple[str, float], ...]
    """Id of what is at hand and its volume, in the unit of the pile; empty where nothing helps."""
    names: tuple[str, ...]
    expected: tuple[float, float, float]
    halfway: tuple[float, float, float]
    """Colour expected once half of each is in."""
    de00: float
    """CIEDE2000 from the target that is expected after it, as a hand gets it."""
    now: float
    """That of the pile as it is, the reading's noise in."""
    growth: float
    """Size of the pile after it over its size before."""
    verdict: str
    """"home": it matches. "add": put this in. "cut": set the rest of the pile aside, then put this in what is kept.
    "again": a new pile is expected to end nearer. "look": too near to tell, read it once more. "leave": it comes no
    nearer."""
    keep: float = 1.0
    """Share of the pile to go on with, where it is cut; the additions are for it."""
    half_first: bool = False
    """Whether it is so unsure what it does that half of it goes in first."""
    sure: float = 0.0
    """How sure it is that the pile matches as it is, 0..1."""
    give: float = 0.0
    """CIEDE2000 by which ``now`` may be off, four times in five."""
    others: tuple["Correction", ...] = field(default=(), repr=False)
    """Next best additions, of other paints."""
    why: str = ""
    """Why just this, where the words fixed it."""


@dataclass(frozen=True)
class Handling:
    """How a pile is handled and judged."""

    planned: float | None = None
    """Volume that the pile was meant to have; None for as it is."""
    hand: Hand = field(default_factory=Hand)
    ml: float = 0.0
    """Millilitres of one part: what is below the hand's least dose is not told; 0 where it is not known."""
    order: str = "value"
    """What an error weighs, a key of search.ORDERS."""
    home: float = HOME
    """CIEDE2000 within which the pile matches as it is."""
    noise: float = 0.6
    """Of the reading by which it is judged, in each direction of CIEDE2000."""
    times: int = 1
    """How often it was read since something went in last."""
    again: Callable[[], tuple[Dose, ...]] | None = None
    """A new pile as it would be dosed; asked only where nothing that can be added helps enough."""
    begun_anew: bool = False
    """Whether it was begun anew before."""
    said_off: bool = False
    """Whether the painter says that it is off: who says so sees it, and reading it once more is not possible."""

    def levels(self) -> Array:
        """Parts that can be put in."""
        least = self.hand.least_ml / self.ml if self.ml > 0 else 0.0
        return np.asarray(ADDED_PARTS[(ADDED_PARTS == 0) | (least * (1 - 1e-6) <= ADDED_PARTS)])


def correct(
    belief: Belief,
    pile: Sequence[Dose],
    target: Sequence[float] | Array,
    at_hand: Sequence[AtHand] | None = None,
    handling: Handling | None = None,
    seen_as: str = "",
) -> Correction:
    """The smallest addition of at most two things at hand that brings ``pile`` nearer to ``target``, and what to do.

    ``pile``: all that is in it, volumes in parts of its recipe; ``at_hand``: what may be added (default: the belief's
    tubes); ``seen_as``: the name under which the belief has read it, for what the readings tell of its doses.

    Every pair of things at hand is tried in every measurable amount of each, the best 160 with all that is unsure in.
    Raises ValueError for an empty pile.
    """
    how = handling or Handling()
    sources = list(at_hand) if at_hand is not None else [AtHand(t.id, t.short, ((t.id, 1.0),)) for t in belief.tubes]
    if sum(d.volume for d in pile) <= 0:
        raise ValueError("a pile needs paint in it to be corrected")
    goal = np.asarray(target, dtype=float).reshape(3)
    drawn = Drawn.of(belief)
    for thrift in (1.0, _DESPERATE):
        adding = _Adding.of(drawn, pile, goal, sources, how, seen_as, thrift=thrift)
        found = adding.best(sources)
        if adding.size * found[0].growth > LARGEST * adding.planned * (1 + 1e-6):
            for keep in (1 / 2, 1 / 3):
                cut = _Adding.of(drawn, shrunk(pile, keep), goal, sources, how, seen_as, keep, thrift).best(sources)
                if cut[0].additions and _worth(cut[0], adding, keep) < _worth(found[0], adding, 1.0):
                    found = [replace(c, verdict="cut", keep=keep) for c in cut]
        judged = _judged(found[0], tuple(found[1:]), adding, how)
        if judged.verdict != "leave":
            break
    return judged


def _worth(c: Correction, adding: "_Adding", keep: float) -> float:
    """What a correction costs in all, in CIEDE2000: its error, paint that is set aside, and a pile grown too large."""
    size = adding.size * keep * c.growth / adding.planned
    aside = (1 - keep) * adding.size / adding.planned
    return (
        c.de00
        + _GROWTH * adding.size * keep * (c.growth - 1) / adding.planned
        + _WASTE * aside
        + _BEYOND * max(size - LARGEST, 0.0)
    )


@dataclass(frozen=True, eq=False)
class _Adding:
    """A pile to which pairs of sources are added: what comes out, and what that costs."""

    size: float
    """Volume of the pile, as meant, in parts."""
    planned: float
    held: tuple[Array, Array]
    """K and S (d, 36) of all its paint together, as it may be."""
    left: Array
    """What the optics leave of it (d, 3)."""
    sources: tuple[Array, Array]
    """K and S (n, d, 36) of what is at hand."""
    most: Array
    goal: Array
    how: Handling
    drawn: Drawn
    now: Array
    """CIEDE2000 (d,) of the pile as it is."""
    weights: Array
    """What each palette counts (d,): where it is said that the pile is off, those in which it is."""
    slips: Array
    """Errors (d, 2) of the doses to come, in standard deviations."""
    trouble: Array
    """What having each of what is at hand costs (n,)."""
    thrift: float = 1.0
    """What growth and work count: less, where a pile would else be left as it is."""

    @classmethod
    def of(
        cls,
        drawn: Drawn,
        pile: Sequence[Dose],
        goal: Array,
        sources: Sequence[AtHand],
        how: Handling,
        seen_as: str,
        keep: float = 1.0,
        thrift: float = 1.0,
    ) -> "_Adding":
        size = sum(d.volume for d in pile)
        K, S, left = drawn.pile(pile, seen_as)
        at = {t.id: i for i, t in enumerate(drawn.belief.tubes)}
        of_k, of_s = [], []
        for k, s in enumerate(sources):
            shares = np.zeros(len(at))
            for tube_id, c in s.shares:
                shares[at[tube_id]] += c
            inside = drawn.inside(shares, s.id, s.within, k)
            of_k.append(np.einsum("dn,dnb->db", inside, drawn.K))
            of_s.append(np.einsum("dn,dnb->db", inside, drawn.S))
        now = ciede2000(drawn.lab(K, S, left), goal)
        planned = how.planned or size / keep
        off = now >= _SEEN_OFF
        counts = off if how.said_off and off.sum() >= _FEWEST else np.ones(len(now), dtype=bool)
        most = np.array([s.most for s in sources])
        spectra, trouble = (np.stack(of_k), np.stack(of_s)), np.array([s.trouble for s in sources])
        return cls(
            size,
            planned,
            (K, S),
            left,
            spectra,
            most,
            goal,
            how,
            drawn,
            now,
            counts / counts.sum(),
            drawn.fresh(2),
            trouble,
            thrift,
        )

    def best(self, sources: Sequence[AtHand]) -> list[Correction]:
        """The best additions, each set of things once; one without any where nothing is at hand."""
        x, pairs = self._promising(len(sources))
        error, plain, lab = self.expected(x, pairs)
        score = error + self.price(x, pairs)
        smallest = float(self.how.levels()[1:].min(initial=np.inf))
        out: list[Correction] = []
        taken: set[frozenset[int]] = set()
        for row in np.argsort(score, kind="stable"):
            used = [(int(i), float(v)) for i, v in zip(pairs[row], x[row], strict=True) if v > 0]
            key = frozenset(i for i, _ in used)
            if key in taken:
                continue
            taken.add(key)
            half = self.colours(x[row][None] / 2, pairs[row][None])[0].mean(axis=0)
            out.append(
                Correction(
                    additions=tuple((sources[i].id, v) for i, v in used),
                    names=tuple(sources[i].name for i, _ in used),
                    expected=as_lab(lab[row].mean(axis=0)),
                    halfway=as_lab(half),
                    de00=float(plain[row] @ self.weights),
                    now=float(self.now @ self.weights),
                    growth=1 + float(x[row].sum()) / self.size,
                    verdict="add",
                    half_first=bool((plain[row] > self.now) @ self.weights > _WILD)
                    and min((v for _, v in used), default=0.0) >= 2 * smallest,  # a half that can be dosed
                )
            )
            if len(out) == _TOLD:
                break
        return out

    def _promising(self, count: int) -> tuple[Array, Ints]:
        """Amounts (m, 2) and pairs (m, 2) that come nearest on the most probable palette."""
        levels = self.how.levels()
        levels = levels[levels <= _MOST_GROWTH * self.size]
        pairs = np.array([(a, b) for a in range(count) for b in range(a, count)], dtype=np.intp)
        two = np.stack(np.meshgrid(levels, levels, indexing="ij"), axis=-1).reshape(-1, 2)
        two = two[(two.sum(axis=1) <= _MOST_GROWTH * self.size) & (two[:, 0] > 0)]
        x = np.broadcast_to(two, (len(pairs), *two.shape))
        both = np.broadcast_to(pairs[:, None], x.shape)
        single = (pairs[:, 0] == pairs[:, 1])[:, None]
        usable = np.where(single, x[..., 1] == 0, x[..., 1] > 0) & (x <= self.most[both] + 1e-9).all(axis=-1)
        if not usable.any():
            return np.zeros((1, 2)), np.zeros((1, 2), dtype=np.intp)
        near = np.full(usable.shape, np.inf)
        near[usable] = self._near(x[usable], both[usable])
        order = np.argsort(near, axis=1)[:, :_PER_PAIR]
        first = np.take_along_axis(near, order, axis=1)
        flat = np.argsort(first, axis=None, kind="stable")[:_LOOKED]
        flat = flat[np.isfinite(first.ravel()[flat])]
        row, column = flat // order.shape[1], order.ravel()[flat]
        return np.asarray(two[column]), np.asarray(pairs[row])

    def _near(self, x: Array, pairs: Ints) -> Array:
        """Cost (m,) without what is unsure: cheap, for many."""
        w = np.array(ORDERS[self.how.order])
        k0, s0 = (h.mean(axis=0) for h in self.held)
        k, s = (of.mean(axis=1) for of in self.sources)
        out = np.empty(len(x))
        rest = (self.drawn.lab(*self.held, self.left) - layer_lab(*self.held, self.surface)).mean(axis=0)
        for start in range(0, len(x), 8192):
            rows = slice(start, start + 8192)
            a, p = x[rows], pairs[rows]
            K = k0 + a[:, :1] * k[p[:, 0]] + a[:, 1:] * k[p[:, 1]]
            S = s0 + a[:, :1] * s[p[:, 0]] + a[:, 1:] * s[p[:, 1]]
            lab = layer_lab(K, S, self.surface) + rest * (self.size / (self.size + a.sum(axis=1)))[:, None]
            out[rows] = np.linalg.norm(ciede2000_vector(lab, self.goal) * w, axis=1) + self.price(a, p)
        return out

    @property
    def surface(self) -> Surface:
        return self.drawn.belief.surface

    def price(self, x: Array, pairs: Ints) -> Array:
        """What the growth and the number of additions (m, 2) of the sources ``pairs`` (m, 2) weigh."""
        beyond = np.maximum(self.size + x.sum(axis=1) - LARGEST * self.planned, 0.0) / self.planned
        each = ((_EACH + self.trouble[pairs]) * (x > 0)).sum(axis=1)
        return np.asarray(self.thrift * (_GROWTH * x.sum(axis=1) / self.planned + each) + _BEYOND * beyond)

    def colours(self, x: Array, pairs: Ints) -> Array:
        """Lab (m, d, 3) after ``x`` (m, 2) of the sources ``pairs`` (m, 2) went in by eye."""
        ml = x * self.how.ml if self.how.ml > 0 else None
        sigma = np.where(x > 0, self.how.hand.errors(x, ml), 0.0)
        dose = x[:, None] * np.exp(sigma[:, None] * self.slips)  # (m, d, 2)
        K, S = (
            held + dose[..., :1] * of[pairs[:, 0]] + dose[..., 1:] * of[pairs[:, 1]]
            for held, of in zip(self.held, self.sources, strict=True)
        )
        thinned = self.size / (self.size + x.sum(axis=1))
        return self.drawn.lab(K, S, self.left * thinned[:, None, None])

    def expected(self, x: Array, pairs: Ints) -> tuple[Array, Array, Array]:
        """Weighted error (m,) on the mean, CIEDE2000 (m, d) and Lab (m, d, 3) after additions by eye."""
        lab = self.colours(x, pairs)
        v = ciede2000_vector(lab, self.goal)
        w = np.array(ORDERS[self.how.order])
        return np.linalg.norm(v * w, axis=-1) @ self.weights, np.linalg.norm(v, axis=-1), lab

    def anew(self, doses: Sequence[Dose]) -> float:
        """CIEDE2000 that a new pile is expected to miss by."""
        return float(ciede2000(self.drawn.lab(*self.drawn.pile(doses)), self.goal) @ self.weights)


def _judged(first: Correction, others: tuple[Correction, ...], adding: _Adding, how: Handling) -> Correction:
    """What to do: the addition where it helps; else what is left."""
    now = float(adding.now @ adding.weights)
    least, most = (share * how.home for share in _NEARER)
    nearer = min(max(how.home - _PER_NOISE * how.noise, least), most)
    sure, near = (float((adding.now <= far) @ adding.weights) for far in (how.home, nearer))
    gain = now - first.de00 if first.additions else 0.0
    verdict = first.verdict
    wanted = _GAIN if adding.thrift >= 1 else _LEAST_GAIN[how.said_off]
    if near >= _SURE and not how.said_off:
        verdict = "home"
    elif gain < wanted:
        if how.said_off:  # who sees that it is off is not told that it matches
            verdict = "leave"
        elif min(float(adding.now.std()), how.noise / how.times**0.5) > _LOOK and sure > _HOPELESS:
            verdict = "look"
        else:  # what is likely to match is tried harder for, before it is taken as it is
            verdict = "home" if now <= how.home and (adding.thrift < 1 or sure >= _SURE) else "leave"
    if verdict in ("add", "cut", "leave") and how.again is not None:
        stuck = verdict == "leave" and not how.begun_anew
        left, share = (now, _LAST if stuck else _AGAIN) if verdict == "leave" else (first.de00, _AGAIN)
        if left > how.home and adding.anew(how.again()) < share * left:
            verdict = "again"
    low, high = np.percentile(adding.now, [10, 90])
    give = float(high - low) / 2
    return replace(first, verdict=verdict, sure=sure, others=others, now=now, give=give)
