"""A belief as a few dozen palettes that it holds to be possible: each has its tubes, its doses, its base piles.

What an addition is expected to come to is its mean over them, so that what is unsure together stays together: a pile
that is too red because the red is strong is mended otherwise than one that holds too much of it.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ochre_stone.core.colour.difference import ciede2000_vector
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.mixing.correcting.belief import MODEL, Belief, batch_of, leaning
from ochre_stone.core.mixing.correcting.departing import FIGURES, departed, prior_sd
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.paint.optics import layer_lab

DRAWS = 48
_NUDGE = 1e-3


@dataclass(frozen=True, eq=False)
class Drawn:
    """``DRAWS`` palettes: K and S (d, n, 36) of the tubes."""

    belief: Belief
    K: Array
    S: Array
    values: Array
    """All unknowns (d, unknowns), in standard deviations of the prior."""
    seed: int

    @classmethod
    def of(cls, belief: Belief, seed: int = 5) -> "Drawn":
        """Palettes that the belief holds to be possible; pairs lie opposite each other about the most probable."""
        rng = np.random.default_rng(seed)
        z = rng.standard_normal((DRAWS // 2, len(belief.values)))
        step = z @ belief.spread.T
        values = belief.values + np.concatenate([step, -step])
        n = belief.figures.size
        K, S = departed(belief.tubes, values[:, :n].reshape(DRAWS, -1, FIGURES) * prior_sd(belief.tubes))
        return cls(belief, K, S, values, seed)

    def fresh(self, count: int) -> Array:
        """Errors (d, count) of doses that nothing is known of, in standard deviations."""
        rng = np.random.default_rng(self.seed + 1)
        z = rng.standard_normal((count, DRAWS // 2))
        return np.concatenate([z, -z], axis=1).T

    def pile(self, doses: Sequence[Dose], pile: str = "") -> tuple[Array, Array, Array]:
        """K and S (d, 36) of all the paint of a pile together, and what the optics leave of it (d, 3), as a CIEDE2000
        vector: of one that was read as ``pile``, its doses are known better."""
        unknowns = self.belief.unknowns
        known = unknowns.batches.get(pile, (0, 0))[1]
        left = self.values[:, unknowns.left(pile)] if known else self.fresh(len(doses) + 3)[:, -3:]
        K, S = self._held(doses, pile)
        return K, S, MODEL * left + (self._straight(pile) if known else 0.0)

    def _held(self, doses: Sequence[Dose], pile: str) -> tuple[Array, Array]:
        unknowns, tubes = self.belief.unknowns, self.belief.tubes
        at = {t.id: i for i, t in enumerate(tubes)}
        start, known = unknowns.batches.get(pile, (0, 0))
        new = self.fresh(len(doses) + 3)
        held = np.zeros((DRAWS, len(tubes)))
        for k, d in enumerate(doses):
            z = self.values[:, start + k] if k < known else new[:, k]
            shares = np.zeros(len(tubes))
            for tube_id, c in d.shares:
                shares[at[tube_id]] += c
            size = d.volume * np.exp(d.error * z)
            held += size[:, None] * self.inside(shares, d.source, d.within, k)
        return np.einsum("dn,dnb->db", held, self.K), np.einsum("dn,dnb->db", held, self.S)

    def _straight(self, pile: str) -> Array:
        """What brings the colours (d, 3) of a pile that was read to where the belief has them, CIEDE2000 vectors: doses
        and tubes that trade off against each other bend the colour, and the reading is surer than that."""
        belief = self.belief
        row = max(row for row, r in enumerate(belief.readings) if batch_of(row, r) == pile)
        lab = layer_lab(*self._held(belief.readings[row].doses, pile), belief.surface)
        most_probable = replace(self, values=np.repeat(belief.values[None], DRAWS, axis=0))
        K, S = belief.spectra()
        probable = replace(most_probable, K=np.broadcast_to(K, self.K.shape), S=np.broadcast_to(S, self.S.shape))
        middle = layer_lab(*probable._held(belief.readings[row].doses, pile), belief.surface)[0]
        bent = ciede2000_vector(lab, middle)
        own = belief.unknowns.left(pile)
        step = self.values - belief.values
        J = belief.slopes[row].copy()
        J[:, own] = 0.0
        J[:, belief.unknowns.bias] = 0.0
        return np.asarray(step @ J.T - bent)

    def inside(self, shares: Array, source: str, within: float, place: int = 0) -> Array:
        """Shares (d, n) of what is really in a base pile, (n,) as meant."""
        if within <= 0:
            return np.broadcast_to(shares, (DRAWS, len(shares)))
        column = self.belief.unknowns.bases.get(source)
        if column is None:
            rng = np.random.default_rng([self.seed, place, *source.encode()])
            half = rng.standard_normal(DRAWS // 2)
            z = np.concatenate([half, -half])
        else:
            z = self.values[:, column]
        return np.stack([leaning(shares, within, float(v))[0] for v in z])

    def lab(self, K: Array, S: Array, left: Array) -> Array:
        """CIELAB (..., d, 3) of piles of K and S (..., d, 36), with what the optics leave of them (..., d, 3)."""
        lab = layer_lab(K, S, self.belief.surface)
        mean = lab.reshape(-1, 3).mean(axis=0)
        nudged = ciede2000_vector(mean + _NUDGE * np.eye(3), mean) / _NUDGE
        return np.asarray(lab + left @ np.linalg.inv(nudged))
