"""The monitor: which profile it has, and the screen encoding that picture and swatches go through."""

from pathlib import Path

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import decode_srgb
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.screen import Screen
from ochre_stone.desktop.session.monitor import profile_file
from ochre_stone.devices.monitor import read_profile

_screen = Screen()
_from = ""


def screen() -> Screen:
    """The encoding in use."""
    return _screen


def use_screen(new: Screen, source: str = "") -> None:
    """Show picture and swatches through this encoding; ``source`` says where its profile came from."""
    global _screen, _from
    _screen, _from = new, source


def find_screen(chosen: str, output: str = "") -> tuple[Screen, str]:
    """The encoding for a chosen profile file, else for the one that the desktop knows, else sRGB; and its source.

    May block for a second or two. Raises OchreError where a chosen file does not serve.
    """
    if chosen:
        try:
            return Screen(read_profile(Path(chosen))), f"file {Path(chosen).name}"
        except (OSError, ValueError):
            raise OchreError(
                f"'{chosen}' is no colour profile that can be read: choose an .icc or .icm file."
            ) from None
    known = profile_file(output)
    if known is not None:
        try:
            return Screen(read_profile(known)), "the desktop's setting"
        except (OSError, ValueError, OchreError):
            return Screen(), ""
    return Screen(), ""


def words() -> str:
    """What the window says of the display."""
    if _screen.is_srgb:
        return "display: no profile, taken as sRGB"
    return f"display: {_screen.name or 'own profile'}"


def details() -> str:
    """The same, in full."""
    if _screen.is_srgb:
        return (
            "No monitor profile is set: the screen is taken as sRGB, so colours are only as true as it is. "
            "Choose the profile made for your monitor."
        )
    return f"Picture and swatches go through “{_screen.name or 'a profile without a name'}”, from {_from}."


def greys(code: npt.NDArray[np.uint8]) -> npt.NDArray[np.uint8]:
    """Grey sRGB bytes (...) as the monitor's numbers (..., 3)."""
    ramp = np.repeat(decode_srgb(np.arange(256) / 255).astype(np.float32)[None, :, None], 3, axis=2)
    return np.asarray(_screen.encode(ramp)[0][code])
