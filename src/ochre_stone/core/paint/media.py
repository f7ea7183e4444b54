"""Oil, acrylic, gouache and watercolour: how their surface reflects wet and dry, and what drying does.

A surface is made from the refractive index of what fills it (Fresnel) and from how rough it is. Outside it reflects
``((n - 1) / (n + 1))^2`` of a ray; inside it turns back the diffuse share ``1 - (1 - r) / n^2``, r being the diffuse
reflection outside (Walsh 1926, through Duntley 1942, J. Opt. Soc. Am. 32; .60 for n = 1.5, as Saunderson took it).
Wet to dry is then no table of shifts but a change of that surface and of what lies between the grains:

- oil keeps its gloss; where it sinks in, darks look lighter than wet, until varnish brings them back;
- acrylic wet is a milk: its polymer scatters between the grains, and water bounds it; dry it is clear and darker;
- gouache dries matt: the surface returns light from darks (they lighten), and turns more back inside (lights darken);
- watercolour is a film on paper: water between the fibres takes most of their scattering, so wet paper is darker.

Figures: indices of water 1.333, drying oil 1.48, acrylic 1.49, gum 1.48, cellulose 1.53 from memory of handbooks;
shares of gloss, loads and hazes are judgements.
"""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from ochre_stone.core.colour.spaces import WAVELENGTHS, Array, as_lab
from ochre_stone.core.paint.layers import film_lab
from ochre_stone.core.paint.optics import USUAL, Surface, absorption_ratio, infinite_reflectance, layer_lab

WATER = 1.333
_CELLULOSE = 1.53
_PAPER_DRY = 0.93
"""Internal reflectance of dry rag paper."""
State = Literal["wet", "dry"]


def diffuse_reflection(n: float) -> float:
    """Share of diffuse light that a smooth surface returns on its outside.

    Parameters: ``n``: refractive index, above 1.

    Returns: 0..1.

    Raises ValueError for an index at or below 1.

    Source: Walsh 1926, Dept. Sci. Ind. Res. Illum. Res. Tech. Pap. 2; Fresnel's equations over the half space.

    >>> round(diffuse_reflection(1.5), 4)
    0.0918
    """
    if n <= 1:
        raise ValueError("a surface needs a refractive index above 1")
    a = (n - 1) * (3 * n + 1) / (6 * (n + 1) ** 2)
    b = n**2 * (n**2 - 1) ** 2 / (n**2 + 1) ** 3 * np.log((n - 1) / (n + 1))
    c = 2 * n**3 * (n**2 + 2 * n - 1) / ((n**2 + 1) * (n**4 - 1))
    d = 8 * n**4 * (n**4 + 1) / ((n**2 + 1) * (n**4 - 1) ** 2) * np.log(n)
    return float(0.5 + a + b - c + d)


def surface_of(n: float, gloss_share: float) -> Surface:
    """The surface of a binder.

    Parameters: ``n``: refractive index, above 1; ``gloss_share``: how much of the outside reflection is seen, 0..1.

    Returns: Fresnel's k1 at right angles, k2 from Walsh's integral, and the share.

    >>> s = surface_of(1.5, 0.5)
    >>> round(s.k1, 4), round(s.k2, 3)
    (0.04, 0.596)
    """
    return Surface(((n - 1) / (n + 1)) ** 2, 1 - (1 - diffuse_reflection(n)) / n**2, gloss_share)


FINISHES = {"glossy": USUAL.g, "satin": 0.2, "sunk": 0.5, "matt": 1.0}
"""Share of the surface's reflection that reaches the eye, by finish of the dry picture (judgements): wet or varnished
with the glare turned away, satin, sunk in (the oil has gone into the ground), matt."""


@dataclass(frozen=True)
class Medium:
    """A kind of paint."""

    id: str
    name: str
    concentration: float
    """Pigment per volume against oil tube paint, for K and S alike."""
    dry: Surface
    wet: Surface
    haze: float
    """S that the wet binder adds, in units of titanium white in oil, rising to the blue."""
    on_paper: bool
    """A film that is seen over its ground, not a hiding layer."""
    words: str
    open_hours: float
    """For so long a pile can be mixed on from: until oil skins, until acrylic sets; what water opens again, for weeks
    (common practice, no source)."""
    finish: str
    """Of the dry paint as it comes, a key of ``FINISHES``."""
    film_mm: float
    """Wet thickness of a usual layer, millimetres of tube paint (a judgement)."""

    def surface(self, state: State = "dry", finish: str = "") -> Surface:
        """How it reflects wet, or dry with a finish (a key of ``FINISHES``; "" is the usual one of the medium)."""
        if state == "wet":
            return self.wet
        return replace(self.dry, g=FINISHES[finish]) if finish else self.dry


MEDIA: dict[str, Medium] = {
    m.id: m
    for m in (
        Medium(
            "oil",
            "Oil",
            1.0,
            USUAL,
            USUAL,
            0.0,
            False,
            "Keeps its colour; where it sinks in, darks look lighter until they are varnished.",
            72.0,
            "glossy",
            0.2,
        ),
        Medium(
            "acrylic",
            "Acrylic",
            0.65,
            USUAL,
            surface_of(WATER, USUAL.g),
            0.03,
            False,
            "Dries darker: the milky binder clears, darks and glazes most.",
            0.75,
            "glossy",
            0.2,
        ),
        Medium(
            "gouache",
            "Gouache",
            0.85,
            replace(USUAL, g=1.0),
            surface_of(WATER, USUAL.g),
            0.0,
            False,
            "Dries matt: darks dry lighter, lights a little darker.",
            720.0,
            "matt",
            0.1,
        ),
        Medium(
            "watercolour",
            "Watercolour",
            0.9,
            replace(USUAL, g=0.6),
            surface_of(WATER, USUAL.g),
            0.0,
            True,
            "Dries lighter: wet paper is darker than dry paper.",
            720.0,
            "matt",
            0.02,
        ),
    )
}


def paper(state: State) -> float:
    """Internal reflectance of rag paper. The fibres absorb alike wet and dry; what they scatter goes with the square of
    the Lorentz-Lorenz contrast of cellulose to what lies between them, air or water."""
    if state == "dry":
        return _PAPER_DRY

    def contrast(medium: float) -> float:
        m2 = (_CELLULOSE / medium) ** 2
        return ((m2 - 1) / (m2 + 2)) ** 2

    ratio = absorption_ratio(_PAPER_DRY) * contrast(1.0) / contrast(WATER)
    return float(infinite_reflectance(ratio, 1.0))


def seen(
    K: Array, S: Array, medium: Medium, state: State = "dry", um: float = 4.0, finish: str = ""
) -> tuple[float, float, float]:
    """CIELAB of a mixture, K and S (36,) as of its oil tubes, painted in ``medium`` and looked at wet or dry.

    ``um``: thickness of the film in micrometres of tube paint, for media that are films on paper; others hide.
    ``finish``: of the dry paint, a key of ``FINISHES``; "" is the medium's usual one.
    """
    surface = medium.surface(state, finish)
    k, s = K * medium.concentration, S * medium.concentration
    if state == "wet" and medium.haze:
        s = s + medium.haze * (WAVELENGTHS / 550) ** -2.0
    if medium.on_paper:
        lab = film_lab(k, s, um / 1000, np.full(len(K), paper(state)), surface)
    else:
        lab = layer_lab(k, s, surface)
    return as_lab(lab)
