"""The generic pigments that ship, as tubes: K and S, labels, how sure, what to beware of."""

import difflib
import functools
import json
import re
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.reading import read
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.usual import EDITION
from ochre_stone.resources import resource

_SHORT = {
    "titanium-white": "white",
    "yellow-ochre": "ochre",
    "ultramarine-blue": "ultramarine",
    "ivory-black": "black",
    "transparent-red-oxide": "red oxide",
    "phthalo-blue-green-shade": "phthalo blue",
    "phthalo-green-blue-shade": "phthalo green",
    "quinacridone-rose": "quin. rose",
    "quinacridone-magenta": "quin. magenta",
    "alizarin-crimson": "alizarin",
}


@dataclass(frozen=True)
class Tolerance:
    """How far a tube may differ from its data: standard deviations of ln strength (K and S together), of ln
    scattering, and of the place of its absorption in nm."""

    strength: float
    scatter: float
    hue_nm: float


@dataclass(frozen=True)
class Tube:
    """One paint. K and S (36,) per volume of oil tube paint; titanium white S(550) = 1."""

    id: str
    name: str
    ci: str
    opacity: str
    """O opaque, SO semi-opaque, ST semi-transparent, T transparent."""
    lightfastness: str
    """ASTM D4302: I excellent, II very good, III fair."""
    hazard: str
    drying: str
    """In oil."""
    confidence: str
    """A, B or C: how well the figures are remembered."""
    density: float
    tinting_strength: float
    lab: tuple[float, float, float]
    munsell: str
    K: Array
    S: Array
    tolerance: Tolerance
    granulation: str = "none"
    """In watercolour: none, slight or marked."""
    common: tuple[str, ...] = ()
    """Other names."""
    tints: tuple[tuple[float, ...], ...] = ()
    """Parts of titanium white by volume, L*, a*, b*."""
    undertone: tuple[float, float, float] = (0.0, 0.0, 0.0)
    """Lab of a film over white."""
    sources: tuple[tuple[str, str], ...] = ()
    """Each figure and where it comes from."""
    parts: tuple[tuple[str, float], ...] = ()
    """Pigments of a convenience tube; empty for a single pigment."""
    stamp: str = ""
    """Tells apart states of one own tube; empty for generic paints."""

    def __hash__(self) -> int:
        return hash((self.id, self.stamp))

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Tube) and (other.id, other.stamp) == (self.id, self.stamp)

    @property
    def short(self) -> str:
        """Name short enough for a recipe line."""
        return _SHORT.get(self.id, self.plain_name.lower())

    @property
    def plain_name(self) -> str:
        """Name without what stands in brackets."""
        return re.sub(r"\s*\(.*?\)", "", self.name).strip() or self.name

    @property
    def strength(self) -> float:
        """How much one part moves a mixture, as :func:`strength_of`, for choosing units of a search."""
        return float(strength_of(self.K, self.S))

    @property
    def is_white(self) -> bool:
        return set(self.ci.split()) <= {"PW1", "PW4", "PW6"}

    @property
    def is_black(self) -> bool:
        """A pigment black, or a convenience tube that holds one."""
        return "PBk" in self.ci

    @property
    def is_strong(self) -> bool:
        """True where a part is too much: it goes in by touches."""
        return not self.is_white and self.tinting_strength >= 2.0


@functools.cache
def _data() -> dict[str, object]:
    loaded: dict[str, object] = json.loads(resource("paint", "pigments.json").read_text(encoding="utf-8"))
    return loaded


def data_note() -> str:
    """Where the pigment figures come from, in one paragraph."""
    return str(_data()["note"])


@functools.cache
def all_tubes() -> dict[str, Tube]:
    """Every generic pigment by id, in the order of the data."""
    paints = _data()["paints"]
    assert isinstance(paints, list)
    out = {}
    for p in paints:
        K, S = np.array(p["k"], dtype=float), np.array(p["s"], dtype=float)
        K.setflags(write=False)
        S.setflags(write=False)
        labels = {
            k: p[k]
            for k in (
                "id",
                "name",
                "ci",
                "opacity",
                "lightfastness",
                "hazard",
                "drying",
                "confidence",
                "density",
                "tinting_strength",
                "munsell",
                "granulation",
            )
        }
        out[p["id"]] = Tube(
            lab=tuple(p["lab"]),
            K=K,
            S=S,
            tolerance=Tolerance(**p["tolerance"]),
            common=tuple(p["common"]),
            tints=tuple(tuple(t) for t in p["tints"]),
            undertone=tuple(p["undertone"]["lab"]),
            sources=tuple(p["sources"].items()),
            parts=tuple(p.get("parts", {}).items()),
            **labels,
        )
    return out


@functools.cache
def figures_of(paint_id: str, edition: int = EDITION) -> tuple[Array, Array]:
    """K and S (36,) of a generic pigment by the figures of this ``edition``, or of one before it.

    Raises KeyError for an unknown pigment, and ValueError for an edition that never shipped.
    """
    if edition == EDITION:
        return all_tubes()[paint_id].K, all_tubes()[paint_id].S
    row = _figures_before(edition)[paint_id]
    return np.array(row["k"]), np.array(row["s"])


@functools.cache
def _figures_before(edition: int) -> dict[str, dict[str, list[float]]]:
    if not 1 <= edition < EDITION:
        raise ValueError(f"edition {edition}: there are 1 to {EDITION}")
    loaded = json.loads(resource("paint", f"edition-{edition}.json").read_text(encoding="utf-8"))
    paints: dict[str, dict[str, list[float]]] = loaded["paints"]
    return paints


def find(words: str) -> list[Tube]:
    """Paints whose name, other names, Colour Index name or look ("olive") hold all ``words``; all for no words."""
    wanted = words.lower().split()
    found = [t for t in all_tubes().values() if all(w in _said()[t.id] for w in wanted)]
    whole = " ".join(wanted)
    # A name that is just what was typed stands first, then names that hold it in one piece.
    return sorted(found, key=lambda t: (whole not in _said()[t.id].split("\n"), whole not in _said()[t.id]))


@functools.cache
def _said() -> dict[str, str]:
    """All that a tube is found by, by its id; each name on a line of its own."""
    return {
        t.id: "\n".join((t.id, t.name, t.ci, *t.common, *aliases(t.id), f"looks {read(t.lab).name}")).lower()
        for t in all_tubes().values()
    }


@functools.cache
def _aliases() -> dict[str, tuple[str, ...]]:
    held = json.loads(resource("paint", "aliases.json").read_text(encoding="utf-8"))
    return {k: tuple(v) for k, v in held.items() if k != "note"}


def aliases(paint_id: str) -> tuple[str, ...]:
    """Usual names of a pigment in shops and studios, without brands (common practice, no source)."""
    return _aliases().get(paint_id, ())


def tube(paint_id: str) -> Tube:
    """The tube of that id. Raises OchreError for an unknown one, with the nearest names."""
    tubes = all_tubes()
    if paint_id in tubes:
        return tubes[paint_id]
    by_name = [t.id for t in find(paint_id.replace("-", " ").replace("_", " "))[:2]] if paint_id.strip() else []
    near = difflib.get_close_matches(paint_id.lower().replace("_", "-"), tubes, n=4, cutoff=0.5)
    close = list(dict.fromkeys((*by_name, *near)))[:4]
    hint = f"did you mean {', '.join(close)}?" if close else "see 'ochre-stone paints' for the names"
    raise OchreError(f"There is no paint called '{paint_id}': {hint}")


PEAK = slice(4, 33)
"""Bands in which absorption counts for strength: 420 to 700 nm, where the eye sees it."""


def strength_of(K: Array, S: Array) -> Array:
    """Tinting strength (...) of volumes with K and S (..., 36), in the unit of K: the strongest absorption, or half of
    the strongest scattering where that is more (a judgement: white moves a mixture by scattering).

    >>> float(strength_of(np.full(36, 2.0), np.full(36, 1.0)))
    2.0
    """
    return np.asarray(np.maximum(K[..., PEAK].max(axis=-1), 0.5 * S.max(axis=-1)))
