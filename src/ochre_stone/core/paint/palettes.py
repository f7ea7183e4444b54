"""The palettes that ship (product description, section 5), each a choice of generic tubes."""

from dataclasses import dataclass

from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.media import MEDIA
from ochre_stone.core.paint.optics import Surface
from ochre_stone.core.paint.tubes import Tube, tube

MOST_TUBES = 24
"""Tubes in a palette."""


@dataclass(frozen=True)
class Palette:
    """A named choice of tubes; the first is the white."""

    id: str
    name: str
    about: str
    paints: tuple[str, ...]
    own: tuple[Tube, ...] = ()
    """The painter's own tubes among them."""
    medium: str = "oil"
    finish: str = ""
    """Of the dry picture, a key of media.FINISHES; "" is the usual one of the medium."""

    @property
    def tubes(self) -> tuple[Tube, ...]:
        own = {t.id: t for t in self.own}
        return tuple(own.get(p) or tube(p) for p in self.paints)

    def tube(self, paint_id: str) -> Tube:
        """The own tube of that id, else the generic one. Raises OchreError for an unknown one."""
        return next((t for t in self.own if t.id == paint_id), None) or tube(paint_id)

    @property
    def surface(self) -> Surface:
        """The dry surface that its mixtures are looked at with."""
        return MEDIA[self.medium].surface("dry", self.finish)


_W = "titanium-white"
PALETTES: dict[str, Palette] = {
    p.id: p
    for p in (
        Palette(
            "four-tube-earth",
            "Four-tube earth",
            "Black is the blue; harmony comes by itself.",
            (_W, "yellow-ochre", "cadmium-red", "ivory-black"),
        ),
        Palette(
            "three-primaries",
            "Three primaries and white",
            "Everything from three colours; darks are mixed.",
            (_W, "cadmium-yellow-light", "quinacridone-rose", "ultramarine-blue"),
        ),
        Palette(
            "three-primaries-black",
            "Three primaries, white and black",
            "Three colours with an easy dark.",
            (_W, "cadmium-yellow-light", "quinacridone-rose", "ultramarine-blue", "ivory-black"),
        ),
        Palette(
            "double-primaries",
            "Double primaries and white",
            "A warm and a cool of each primary.",
            (
                _W,
                "cadmium-yellow-light",
                "cadmium-yellow-deep",
                "cadmium-red-light",
                "quinacridone-rose",
                "ultramarine-blue",
                "phthalo-blue-green-shade",
            ),
        ),
        Palette(
            "underpainting-three",
            "Underpainting",
            "Warm and cool darks with white, for the lay-in under glazes.",
            (_W, "transparent-red-oxide", "ultramarine-blue"),
        ),
        Palette(
            "portrait-ten",
            "Portrait of ten",
            "Earths and reds for any skin, a blue and a green to grey them.",
            (
                _W,
                "yellow-ochre",
                "cadmium-yellow-medium",
                "cadmium-red-light",
                "alizarin-crimson",
                "burnt-sienna",
                "raw-umber",
                "ultramarine-blue",
                "viridian",
                "ivory-black",
            ),
        ),
        Palette(
            "landscape-greens",
            "Landscape with shortcut greens",
            "Ready greens, tamed by earths.",
            (
                _W,
                "cadmium-yellow-light",
                "yellow-ochre",
                "burnt-sienna",
                "cadmium-red-light",
                "ultramarine-blue",
                "cerulean-blue",
                "viridian",
                "chromium-oxide-green",
                "phthalo-green-yellow-shade",
            ),
        ),
        Palette(
            "many-blues",
            "Many blues",
            "For skies, water and cool shadows.",
            (
                _W,
                "yellow-ochre",
                "cadmium-yellow-light",
                "burnt-sienna",
                "quinacridone-rose",
                "ultramarine-blue",
                "cobalt-blue",
                "cerulean-blue",
                "phthalo-blue-green-shade",
                "prussian-blue",
            ),
        ),
        Palette(
            "prismatic",
            "Prismatic",
            "Strong tubes all round the wheel, no earths, no black.",
            (
                _W,
                "cadmium-yellow-light",
                "cadmium-yellow-deep",
                "cadmium-orange",
                "cadmium-red-light",
                "quinacridone-rose",
                "dioxazine-violet",
                "ultramarine-blue",
                "phthalo-blue-green-shade",
                "viridian",
            ),
        ),
    )
}


def palette(palette_id: str) -> Palette:
    """The palette of that id. Raises OchreError for an unknown one."""
    if palette_id not in PALETTES:
        raise OchreError(f"There is no palette called '{palette_id}': choose one of {', '.join(PALETTES)}")
    return PALETTES[palette_id]


ONE_OF_EACH = (
    "titanium-white", "azo-yellow-light", "cadmium-yellow-medium", "yellow-ochre", "raw-sienna", "indian-yellow",
    "pyrrole-orange", "cadmium-red-light", "pyrrole-red", "quinacridone-rose", "quinacridone-magenta", "venetian-red",
    "burnt-sienna", "burnt-umber", "raw-umber", "dioxazine-violet", "ultramarine-blue", "cobalt-blue", "cerulean-blue",
    "phthalo-blue-green-shade", "phthalo-green-blue-shade", "viridian", "chromium-oxide-green", "ivory-black",
)  # fmt: skip
"""Twenty-four pigments round the wheel, with the usual earths."""
