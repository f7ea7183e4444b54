"""What is photographed, and how: surfaces, lamps, cameras, and how carefully the painter was."""

from dataclasses import dataclass

import cv2
import numpy as np

from ochre_stone.core.colour.spaces import WAVELENGTHS, XYZ_TO_SRGB, Array, spectral_weights
from ochre_stone.core.paint.optics import reflectance

W = WAVELENGTHS


def bump(middle: float, wide: float) -> Array:
    """A bell over the bands."""
    return np.exp(-0.5 * ((W - middle) / wide) ** 2)


def noise(
    rng: np.random.Generator, shape: tuple[int, int], size: float, stretch: float = 1.0, angle: float = 0.0
) -> Array:
    """Smooth noise of unit variance (h, w): features of ``size`` pixels, ``stretch`` times longer along ``angle``."""
    h, w = shape
    d = int(np.ceil(np.hypot(h, w))) + 4
    coarse = rng.standard_normal((max(4, int(d / size) + 3), max(4, int(d / size / stretch) + 3))).astype(np.float32)
    big = cv2.resize(coarse, (d, d), interpolation=cv2.INTER_CUBIC)
    if angle or stretch != 1:
        turn = cv2.getRotationMatrix2D((d / 2, d / 2), np.degrees(angle), 1.0)
        big = cv2.warpAffine(big, turn, (d, d), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    y, x = (d - h) // 2, (d - w) // 2
    out = big[y : y + h, x : x + w]
    return out / max(float(out.std()), 1e-6)


@dataclass(frozen=True)
class Conditions:
    """How a photo was taken."""

    plan: str
    surface: str
    card: bool
    kelvin: float
    tint: float
    led: bool
    balanced: float
    """How much of the lamp's colour the camera's white balance took out, 0..1."""
    stops: float
    """Fall-off of the light over the palette."""
    vignette: float
    mixed: float
    """Change of the light's colour over the palette."""
    gloss: float
    curve: float
    """Strength of the camera's contrast."""
    touching: int
    jitter: float
    """How far piles lie from their places, cm in each direction."""
    present: float
    strangers: int
    tilt: float
    leaning: bool
    """Whether one tube is stronger than its data: all errors lean one way."""
    quality: int
    blur: float
    grain: float
    careful: bool
    most_off: float = 12.0
    """The largest CIEDE2000 by which a pile is mixed off."""


def conditions(number: int, careful: bool, plans: tuple[str, ...]) -> Conditions:
    """Conditions go round by number, so that every photo can be made again alone. ``careful``: as the painter is asked
    to: daylight, the card in view and its border not burnt, piles apart."""
    rng = np.random.default_rng(9000 + number)
    surface = ("white", "grey", "wood")[number % 3]
    c = Conditions(
        plan=plans[number % len(plans)],
        surface=surface,
        card=surface != "white" or number % 2 == 0,
        kelvin=float(np.exp(rng.uniform(np.log(2700), np.log(9000)))),
        tint=float(rng.uniform(-12, 12)),
        led=bool(rng.random() < 0.25),
        balanced=float(rng.uniform(0, 0.9)),
        stops=float(rng.uniform(0.1, 1.0)),
        vignette=float(rng.uniform(0.05, 0.35)),
        mixed=float(rng.normal(0, 0.05) if rng.random() < 0.5 else 0),
        gloss=float((0.1, 0.5, 1.0)[rng.integers(3)]),
        curve=float(rng.uniform(0, 0.25)),
        touching=int(rng.integers(0, 4)),
        jitter=float((0.4, 0.8, 1.3)[rng.integers(3)]),
        present=float(rng.uniform(0.5, 1.0)),
        strangers=int(rng.integers(0, 3)),
        tilt=float(rng.uniform(0, 28)),
        leaning=bool(rng.random() < 0.25),
        quality=int(rng.integers(82, 96)),
        blur=float(rng.uniform(0.7, 2.2)),
        grain=float(rng.uniform(0.5, 2.0)),
        careful=careful,
    )
    if not careful:
        return c
    asked = {
        "kelvin": float(rng.uniform(4800, 7500)), "led": False, "tint": float(rng.uniform(-6, 6)),
        "balanced": float(rng.uniform(0.6, 1.0)), "stops": float(rng.uniform(0.1, 0.6)), "card": True, "touching": 0,
        "jitter": float((0.4, 0.8)[rng.integers(2)]), "mixed": 0.0, "gloss": float((0.1, 0.5)[rng.integers(2)]),
    }  # fmt: skip
    return Conditions(**{**c.__dict__, **asked})


class Camera:
    """Spectrum to camera-made linear sRGB under a lamp; its matrix is made for daylight only."""

    def __init__(self, rng: np.random.Generator, c: Conditions, K: Array, S: Array) -> None:
        planck = W**-5.0 / (np.exp(1.4388e7 / (W * c.kelvin)) - 1)
        light = planck / planck[18]
        if c.led:
            blue = np.clip((c.kelvin - 2200) / 4000, 0.15, 1.6)
            light = blue * bump(452, 11) * 1.6 + bump(575, 58) + 0.25 * bump(630, 40)
        light = light * (1 + c.tint * 0.008 * bump(545, 45))
        day = W**-5.0 / (np.exp(1.4388e7 / (W * 6504)) - 1)
        day /= day[18]
        sees = np.array(
            [
                bump(598 + rng.normal(0, 4), 38) + 0.12 * bump(440, 20),
                bump(535 + rng.normal(0, 4), 42),
                bump(462 + rng.normal(0, 3), 27),
            ]
        )
        mixes = rng.dirichlet(np.full(len(K), 0.5), 150)
        greys = np.linspace(0.05, 0.95, 8)[:, None] * np.ones(36)
        known = np.vstack([reflectance(mixes @ K, mixes @ S), reflectance(K, S), greys])
        want = known @ spectral_weights("D65") @ XYZ_TO_SRGB.T
        have = (known * day) @ sees.T / (day @ sees.T)
        a, *_ = np.linalg.lstsq(have[:, :2] - have[:, 2:], want - have[:, 2:], rcond=None)
        matrix = np.vstack([a, 1 - a.sum(axis=0)])
        white, by_day = light @ sees.T, day @ sees.T
        white, by_day = white / white[1], by_day / by_day[1]
        gains = white**-c.balanced * by_day ** -(1 - c.balanced)
        self.to = (light[:, None] * sees.T) / (light @ sees[1]) * gains @ matrix
        self.white = np.ones(len(W)) @ self.to

    def see(self, spectrum: Array) -> Array:
        """Linear RGB (..., 3) of reflectances (..., 36)."""
        return np.asarray(spectrum) @ self.to


def surface_of(kind: str, rng: np.random.Generator) -> Array:
    """Reflectances (36,) of a palette's surface."""
    if kind == "white":
        return 0.86 * (1 + rng.uniform(-0.03, 0.05)) * (1 - rng.uniform(0.0, 0.10) * bump(380, 70)) * np.ones(len(W))
    if kind == "grey":
        return rng.uniform(0.18, 0.28) * (1 + rng.normal(0, 0.03) * (W - 550) / 150)
    rise = 1 / (1 + np.exp(-(W - rng.uniform(560, 600)) / 55))
    return (0.10 + rng.uniform(0.30, 0.45) * rise) * rng.uniform(0.8, 1.1)
