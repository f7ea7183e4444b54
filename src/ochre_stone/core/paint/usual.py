"""What is usual where nothing is said, and the names of the mediums: light, for the command line and for files."""

from typing import Literal, get_args

MediumName = Literal["oil", "acrylic", "gouache", "watercolour"]
MEDIUMS: tuple[MediumName, ...] = get_args(MediumName)
"""What a picture can be painted in; what each is: :data:`ochre_stone.core.paint.media.MEDIA`."""
FinishName = Literal["glossy", "satin", "sunk", "matt"]
FINISH_WORDS: dict[FinishName, str] = {
    "glossy": "wet or varnished", "satin": "satin", "sunk": "sunk in", "matt": "matt",
}  # fmt: skip
"""How a picture's surface can shine, in words; by how much: :data:`ochre_stone.core.paint.media.FINISHES`."""
FINISH_HELP = ", ".join(k if k == words else f"{k} ({words})" for k, words in FINISH_WORDS.items())
EDITION = 2
"""Which figures of the pigments ship: the first were told with a satin floor under every dark."""
PALETTE = "portrait-ten"
"""Id of the palette that is mixed with where none was chosen."""
