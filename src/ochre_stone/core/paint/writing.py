"""Mixtures as people type them."""

from ochre_stone.core.errors import OchreError

_MOST = 1e6


def parts_of(text: str, example: str = "titanium-white:4 yellow-ochre:2") -> dict[str, float]:
    """Names and parts of "titanium-white:4 yellow-ochre:2"; a part where no number stands, a name told twice adds up.

    Raises OchreError, showing ``example``, for parts that are no numbers above 0 and for an empty text.
    """
    out: dict[str, float] = {}
    for item in text.replace(",", " ").split():
        name, _, number = item.partition(":")
        try:
            parts = float(number) if number else 1.0
        except ValueError:
            parts = float("nan")
        if not 0 < parts < _MOST:
            raise OchreError(f"'{item}': parts must be a number above 0, as in {example.split()[0]}.")
        out[name] = out.get(name, 0.0) + parts
    if not out:
        raise OchreError(f"The mixture is empty: write for example '{example}'.")
    return out
