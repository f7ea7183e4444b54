"""The block-in before it is painted: masses laid in one after another on the ground, and why the first look wrong."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ochre_stone.core.colour.contrast import seen_against
from ochre_stone.core.colour.munsell import lightness_of_value, value_of_lightness
from ochre_stone.core.colour.spaces import Array, Lab, as_lab
from ochre_stone.core.document.document import Document
from ochre_stone.core.keys.cover import nearest
from ochre_stone.core.masses.laying import order
from ochre_stone.core.masses.plan import MassPlan
from ochre_stone.core.picture.picture import lab_to_linear, linear_to_code
from ochre_stone.core.planning.rows import note_targets

_SEEN = 0.15
"""Munsell value steps of seeming that are worth a word."""


@dataclass(frozen=True, eq=False)
class LaidStage:
    """The canvas after one more mass."""

    mass: int | None
    """Index of the mass that was laid in; None for the bare ground."""
    covered: float
    """Share of the canvas, 0..1."""
    image: NDArray[np.uint8]
    """sRGB (h, w, 3)."""
    words: str


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
    colours = mass_colours(document, plan)
    ground = np.array(document.canvas.ground, dtype=float)
    sequence = order(plan.masses, document.canvas.laying)
    labels = plan.labels
    rows = np.vstack([colours, ground[None]])
    code = linear_to_code(lab_to_linear(rows.reshape(-1, 1, 3))).reshape(-1, 3)
    share = {m.index: m.share for m in plan.masses}
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
