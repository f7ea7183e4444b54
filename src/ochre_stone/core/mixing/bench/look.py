"""What a pile on the bench looks like: dry, wet, and how sure that is."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.mixing.recipe.drying import Drying
from ochre_stone.core.paint.media import MEDIA, seen
from ochre_stone.core.paint.predict import predict, spectra
from ochre_stone.core.paint.tubes import Tube


@dataclass(frozen=True)
class PileLook:
    """A mixture as it is seen."""

    drying: Drying
    uncertainty: float
    """As :attr:`predict.Prediction.uncertainty`."""
    trust: str

    @property
    def lab(self) -> Lab:
        """Dry."""
        return self.drying.dry


def look(amounts: Mapping[str, float], known: Callable[[str], Tube], medium: str = "oil", finish: str = "") -> PileLook:
    """What a mixture looks like.

    Parameters: ``amounts``: tube id to volume, above 0 together; ``known`` finds a tube by its id; ``medium`` and
    ``finish``: keys of media.MEDIA and media.FINISHES, "" for the medium's usual finish.

    Returns: the colour of a hiding layer as :func:`predict` has it, CIELAB D65, dry and wet.

    Raises OchreError for an unknown tube, ValueError without paint.

    >>> from ochre_stone.core.paint.tubes import tube
    >>> grey = look({"titanium-white": 2.0, "ivory-black": 1.0}, tube, "gouache")
    >>> grey.drying.wet[0] < grey.drying.dry[0]  # darks dry lighter
    True
    """
    there = {i: v for i, v in amounts.items() if v > 0}
    paint = MEDIA[medium]
    found = predict(there, known, paint.surface("dry", finish))
    K, S = spectra([known(i) for i in there], list(there.values()))
    wet, dry = (np.array(seen(K, S, paint, s, finish=finish)) for s in ("wet", "dry"))
    return PileLook(Drying(as_lab(np.array(found.lab) + wet - dry), found.lab), found.uncertainty, found.trust)
