"""From linear light to the numbers that a monitor wants: sRGB, or the monitor's own profile."""

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.spaces import XYZ_TO_SRGB, decode_srgb, encode_srgb, lab_to_srgb, lab_to_xyz
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.picture import profiles
from ochre_stone.core.picture.picture import Floats, fixed_point, linear_to_code

cv2 = later("cv2")


class Screen:
    """A way to encode linear light for a monitor. Without a profile the monitor is taken as sRGB."""

    def __init__(self, profile: bytes = b"") -> None:
        """``profile``: an RGB display profile. Raises OchreError where it is none that can be used."""
        self.profile = profile
        self.name = profiles.description(profile) if profile else ""
        self._inverse: Floats | None = None
        self._tables: npt.NDArray[np.uint8] | None = None
        if not profile:
            return
        try:
            encoding = profiles.encoding_of(profile, 2)
            if encoding is None:  # a profile of tables: it must serve for screens, not only for cameras
                profiles.srgb_to_profile(np.zeros((1, 1, 3), np.uint16), profile)
        except ValueError:
            raise OchreError(
                "This is no profile of a monitor: choose an RGB profile (.icc or .icm) made for it."
            ) from None
        if encoding is None:
            return
        matrix = np.eye(3) if encoding.matrix is None else encoding.matrix.astype(float)
        self._inverse = np.linalg.inv(matrix).astype(np.float32)
        assert encoding.curve is not None
        codes = np.linspace(0, 255, len(encoding.curve))
        nodes = np.minimum(np.arange(65536) / 16384, 1.0)  # as fixed_point counts
        rows = [np.interp(nodes, np.maximum.accumulate(encoding.curve[:, i]), codes) for i in range(3)]
        self._tables = np.round(np.stack(rows)).astype(np.uint8)

    @property
    def is_srgb(self) -> bool:
        return not self.profile

    def encode(self, linear: Floats) -> npt.NDArray[np.uint8]:
        """Bytes (h, w, 3) for the monitor of linear-light sRGB (h, w, 3); what it cannot show is clipped."""
        if not self.profile:
            return linear_to_code(linear)
        if self._inverse is None or self._tables is None:  # a profile of tables: through sRGB at 16 bits
            code = np.round(encode_srgb(linear) * 65535).astype(np.uint16)
            return profiles.srgb_to_profile(code, self.profile)
        at = fixed_point(cv2.transform(np.ascontiguousarray(linear, dtype=np.float32), self._inverse))
        return np.stack([self._tables[i][at[..., i]] for i in range(3)], axis=-1)

    def hex_of(self, lab: tuple[float, float, float]) -> str:
        """``#rrggbb`` of a swatch. Without a profile, colours outside sRGB lose chroma, never lightness or hue."""
        if self._inverse is None:
            linear = decode_srgb(lab_to_srgb(np.array(lab)))
        else:
            linear = self._in_reach(lab, XYZ_TO_SRGB @ lab_to_xyz(np.array(lab)))
        r, g, b = self.encode(np.asarray(linear, dtype=np.float32).reshape(1, 1, 3))[0, 0].tolist()
        return f"#{r:02x}{g:02x}{b:02x}"

    def _in_reach(self, lab: tuple[float, float, float], linear: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
        """The colour with only as much chroma as the monitor shows."""
        assert self._inverse is not None
        low, high = 0.0, 1.0
        own = self._inverse @ linear
        if (own >= -1e-4).all() and (own <= 1.0001).all():
            return linear
        for _ in range(14):
            middle = (low + high) / 2
            trial = XYZ_TO_SRGB @ lab_to_xyz(np.array([lab[0], lab[1] * middle, lab[2] * middle]))
            own = self._inverse @ trial
            fits = (own >= -1e-4).all() and (own <= 1.0001).all()
            low, high = (middle, high) if fits else (low, middle)
        return np.asarray(XYZ_TO_SRGB @ lab_to_xyz(np.array([lab[0], lab[1] * low, lab[2] * low])))
