"""The block-in as it grows: piles, or masses, laid in one after another on the ground, and why the first look wrong."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ochre_stone.core.colour.contrast import seen_against
from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.document.document import Document
from ochre_stone.core.keys.cover import nearest
from ochre_stone.core.masses.laying import order
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.picture.picture import Floats, lab_to_linear, linear_to_code
from ochre_stone.core.planning.blockin import LaidIn
from ochre_stone.core.planning.rows import note_targets

_STEP, _LITTLE, _EVERY = 20.0, 0.012, 3
"""Lightness of a step of laying in; share of the picture below which a pile comes last; pixels between those that are
measured."""
_SEEN = 0.15
"""Munsell value steps of seeming that are worth a word."""


@dataclass(frozen=True, eq=False)
class LaidStage:
    """The canvas after one more mass or pile."""

    mass: int | None
    """Index of the mass, or of the pile among those of the block-in; None for the bare ground."""
    covered: float
    """Share of the canvas, 0..1."""
    image: NDArray[np.uint8]
    """sRGB (h, w, 3)."""
    words: str
    name: str = ""
    """The pile's."""
    off: float | None = None
    """CIEDE2000 to the picture, the mean, where that was measured."""


def mass_colours(document: Document, plan: MassPlan) -> Array:
    """Lab (m, 3) in which each mass is laid in: its value as planned, its colour as harmony has it."""
    notes = np.array([n.lab for n in document.notes], dtype=float).reshape(-1, 3)
    goals = note_targets(document)
    out = np.array([m.lab for m in plan.masses], dtype=float).reshape(-1, 3)
    if len(notes):
        # Harmony moves the notes; each mass goes along with the note that is nearest to it.
        at = nearest(out.reshape(-1, 1, 3).astype(np.float32), notes).ravel()
        out[:, 1:] += (goals - notes)[at, 1:]
    out[:, 0] = [float(lightness_of_value(m.value)) for m in plan.masses]
    return out


def why(lab: Lab, around: Lab, first: bool) -> str:
    """How a fresh mass seems against what surrounds it, and what to do about it."""
    shift = seen_against(lab, around)
    seems, real = (float(value_of_lightness(min(max(v[0], 0.0), 100.0))) for v in (shift.seems, lab))
    step = seems - real
    if abs(step) < _SEEN:
        return "It seems as it is: what surrounds it is near its own value."
    way = "lighter" if step > 0 else "darker"
    ground = "the bare ground" if first else "what is there and the ground"
    return (
        f"Against {ground} it seems {abs(step):.1f} {way} than it is ({real:.1f}): trust the value that you mixed, and "
        "judge it when all is covered."
    )


def stages(document: Document, plan: MassPlan) -> list[LaidStage]:
    """The bare ground, then the canvas after each mass in the document's order of laying in."""
    sequence = order(plan.masses, document.canvas.school)
    share = {m.index: m.share for m in plan.masses}
    return _stages(document, plan.labels, mass_colours(document, plan), share, sequence)


def pile_order(laid: LaidIn, laying: str) -> list[int]:
    """Indices of the piles of a block-in that have a place, in the order of laying in.

    Dark to light and light to dark go by large steps of value, the largest first within one, and what is next to
    nothing comes last: so the large shapes stand before slivers of a pile that is a little darker (measured on four
    pictures: nearest to the picture on a white ground, mean over the stages).
    """
    share = np.bincount(laid.labels.ravel(), minlength=len(laid.piles)) / laid.labels.size
    there = np.flatnonzero(share > 0).tolist()
    step = np.round(laid.colours[:, 0] / _STEP)
    middle = float(np.average(laid.colours[there, 0], weights=share[there]))
    keys = {
        "dark": lambda i: (share[i] < _LITTLE, step[i], -share[i]),
        "light": lambda i: (share[i] < _LITTLE, -step[i], -share[i]),
        "middle": lambda i: (share[i] < _LITTLE, abs(step[i] - round(middle / _STEP)), -share[i]),
        "large": lambda i: (-share[i],),
    }
    return sorted(there, key=keys[laying])


def pile_stages(document: Document, laid: LaidIn, seen: Floats) -> list[LaidStage]:
    """The bare ground, then the canvas after each pile, and how far it is from what is ``seen``, CIELAB (h, w, 3) of
    the block-in's size with its detail melted."""
    counts = np.bincount(laid.labels.ravel(), minlength=len(laid.piles)) / laid.labels.size
    share = dict(enumerate(counts.tolist()))
    sequence = pile_order(laid, document.canvas.school)
    out = _stages(document, laid.labels, laid.colours, share, sequence)
    ground = np.array(document.canvas.ground, dtype=float)
    small, labels = seen[::_EVERY, ::_EVERY], laid.labels[::_EVERY, ::_EVERY]
    told = []
    for k, stage in enumerate(out):
        done = np.isin(labels, sequence[:k])
        canvas = np.where(done[..., None], laid.colours[labels], ground)
        off = float(np.mean(ciede2000(small, canvas)))
        name = laid.piles[stage.mass][0].name if stage.mass is not None else ""
        told.append(replace(stage, name=name, off=off))
    return told


def _stages(
    document: Document, labels: NDArray[np.integer], colours: Array, share: Mapping[int, float], sequence: list[int]
) -> list[LaidStage]:
    ground = np.array(document.canvas.ground, dtype=float)
    rows = np.vstack([colours, ground[None]])
    code = linear_to_code(lab_to_linear(rows.reshape(-1, 1, 3))).reshape(-1, 3)
    out = [LaidStage(None, 0.0, _painted(labels, code, []), "The ground, before the first stroke.")]
    covered = 0.0
    for k, index in enumerate(sequence):
        done = sequence[: k + 1]
        # Around it: what is laid in already, and bare ground, by their shares.
        weights = [(share[i], colours[i]) for i in sequence[:k]] + [(max(1 - covered - share[index], 0.0), ground)]
        whole = sum(w for w, _ in weights)
        around = sum(w * c for w, c in weights) / whole if whole > 1e-6 else ground
        covered = min(1.0, covered + share[index])
        lab = (float(colours[index][0]), float(colours[index][1]), float(colours[index][2]))
        words = why(lab, as_lab(around), k == 0)
        if k == len(sequence) - 1:
            words = "All is covered once: now compare, and correct."
        out.append(LaidStage(index, covered, _painted(labels, code, done), words))
    return out


def _painted(labels: NDArray[np.integer], code: NDArray[np.uint8], done: list[int]) -> NDArray[np.uint8]:
    table = np.full(len(code), len(code) - 1, dtype=np.intp)  # one for every mass, the empty ones too; the last: ground
    table[done] = done
    return np.asarray(code[table[labels]])
