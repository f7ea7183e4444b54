"""What is usual where nothing is said, and the names of the mediums: light, for the command line and for files."""

from typing import Literal, get_args

MediumName = Literal["oil", "acrylic", "gouache", "watercolour"]
MEDIUMS: tuple[MediumName, ...] = get_args(MediumName)
"""What a picture can be painted in; what each is: :data:`ochre_stone.core.paint.media.MEDIA`."""
PALETTE = "portrait-ten"
"""Id of the palette that is mixed with where none was chosen."""
