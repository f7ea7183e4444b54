"""From the document's choices to its masses: areas drawn on the photo become masks at the size that is worked at."""

import functools
from collections.abc import Callable, Sequence

import numpy as np
import numpy.typing as npt

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Lab, as_lab
from ochre_stone.core.document.choices import Area, Blend, RangeChoice
from ochre_stone.core.document.document import Document
from ochre_stone.core.later import later
from ochre_stone.core.masses.gradations import Turn, areas
from ochre_stone.core.masses.hues import hue_borders, hue_parts, shapes_of, with_shapes
from ochre_stone.core.masses.plan import (
    FINE_PIXELS,
    PAINTED_LIGHT,
    PAINTED_SHADOW,
    PREVIEW_PIXELS,
    Ground,
    MassPlan,
    plan,
    prepare,
    refined,
)
from ochre_stone.core.masses.render import Ramp, painted
from ochre_stone.core.masses.shapes import Labels
from ochre_stone.core.masses.statement import Statement, state
from ochre_stone.core.picture.frame import Framed, Point, framed
from ochre_stone.core.picture.picture import Mask, Picture, linear_to_lab
from ochre_stone.core.picture.sampling import in_polygon

cv2 = later("cv2")

_REMEMBERED = 3
"""How many grounds and plans are kept with a picture."""
Bytes = npt.NDArray[np.uint8]


def mask_of(points: Sequence[Point], seen: Framed, shape: tuple[int, int]) -> Mask:
    """What a drawn area covers (h, w) of the frame; ``points`` in pixels of the photo."""
    h, w = shape
    corners = np.array([seen.from_original(*p) for p in points]) * (w / seen.width, h / seen.height)
    out = np.zeros(shape, np.uint8)
    cv2.fillPoly(out, [np.round(np.clip(corners, -2 * w - 2 * h, 3 * w + 3 * h)).astype(np.int32)], 1)
    return out.astype(bool)


def focus_mask(picture: Picture, document: Document, shape: tuple[int, int]) -> Mask | None:
    """Where the painter wants more detail (h, w); None without any focus area."""
    drawn: tuple[Area, ...] = document.masses.focus
    if not drawn:
        return None
    seen = framed(picture, document.frame)
    out = np.zeros(shape, bool)
    for a in drawn:
        out |= mask_of(a.points, seen, shape)
    return out


def painted_map(picture: Picture, document: Document, shape: tuple[int, int]) -> Bytes | None:
    """Where the painter said light or shadow by hand (h, w), as of ``plan``; later areas cover earlier ones."""
    if not document.masses.painted:
        return None
    seen = framed(picture, document.frame)
    out = np.zeros(shape, np.uint8)
    for a in document.masses.painted:
        out[mask_of(a.points, seen, shape)] = PAINTED_LIGHT if a.family == "light" else PAINTED_SHADOW
    return out


def make_ground(picture: Picture, document: Document, pixels: int = PREVIEW_PIXELS) -> Ground:
    """The smoothed working copy of a document's picture; the last ones are remembered with it."""

    def make() -> Ground:
        linear = document.seen(picture, pixels)
        h, w = linear.shape[:2]
        return prepare(linear, document.masses.simplify, focus_mask(picture, document, (h, w)))

    key = document.light_key, document.masses.simplify, document.masses.focus, pixels
    return picture.remembered.recent("grounds", key, make, _REMEMBERED)


def make_plan(ground: Ground, picture: Picture, document: Document) -> MassPlan:
    """The document's masses on a prepared ground; the last ones are remembered with the picture."""

    def make() -> tuple[Ground, MassPlan]:
        h, w = ground.melted.shape
        return ground, plan(ground, document.masses.settings(), painted_map(picture, document, (h, w)))

    # The ground is held by what is remembered, so that its identity stays its own.
    key = id(ground), document.masses.settings(), document.masses.painted, document.frame
    return picture.remembered.recent("plans", key, make, _REMEMBERED)[1]


def fine_masses(picture: Picture, document: Document, preview: Ground | None = None) -> MassPlan:
    """The document's masses at the size at which they are printed, with the cuts of the preview.

    ``preview``: the document's ground as of :func:`make_ground`, where it is at hand.
    """
    ground = preview or make_ground(picture, document)
    key = id(ground), document.light_key, document.masses.settings(), document.masses.focus, document.masses.painted
    return picture.remembered.recent(
        "fine plans", key, lambda: (ground, _fine(ground, picture, document)), _REMEMBERED
    )[1]


def _fine(ground: Ground, picture: Picture, document: Document) -> MassPlan:
    linear = document.seen(picture, FINE_PIXELS)
    h, w = linear.shape[:2]
    shown = make_plan(ground, picture, document)
    if ground.melted.shape == (h, w):
        return shown
    fine = refined(
        ground,
        linear,
        document.masses.settings(),
        focus_mask(picture, document, (h, w)),
        painted_map(picture, document, (h, w)),
    )
    # A crumb of painted family that is there at one size only would give the masses other numbers.
    alike = [(m.step, m.family) for m in fine.masses] == [(m.step, m.family) for m in shown.masses]
    return fine if alike else shown


def stated(picture: Picture, document: Document) -> Statement:
    """What the document's plan is, read off the preview: the sheet says what the window says."""
    ground = make_ground(picture, document)
    return state(make_plan(ground, picture, document), ground.focus)


def ramps(picture: Picture, document: Document) -> list[Ramp]:
    """The planned blends as they are drawn, in values of the picture."""
    seen = framed(picture, document.frame)
    tone = document.masses.range.tone()
    out = []
    for b in document.masses.blends:
        if not seen.shows(b.x, b.y):
            continue
        x, y = seen.from_original(b.x, b.y)
        dark, light = tone.value(value_of_lightness(np.clip([b.dark[0], b.light[0]], 0, 100))).tolist()
        direction = _turned(b.direction, (b.x, b.y), seen.from_original)
        out.append(Ramp(x / seen.width, y / seen.height, direction, dark, light))
    return out


def draw_plan(plan: MassPlan, picture: Picture, document: Document, width: int, height: int) -> Bytes:
    """The masses as sRGB greys (height, width), with the planned blends."""
    found = ramps(picture, document)
    if not found:
        return painted(plan, width, height)
    return painted(plan, width, height, found, areas(linear_to_lab(document.seen(picture, PREVIEW_PIXELS))))


def with_hue_lines(code: Bytes, plan: MassPlan, picture: Picture, document: Document) -> Bytes:
    """Greys (h, w) of a drawn plan, with a line where two hues of one value meet if the painter wants them parted:
    light in the darks, dark in the lights."""
    if not document.masses.hues:
        return code
    lab = linear_to_lab(document.seen(picture, plan.labels.size))
    if lab.shape[:2] != plan.labels.shape:
        lab = np.asarray(cv2.resize(lab, plan.labels.shape[::-1], interpolation=cv2.INTER_AREA))
    lines = hue_borders(plan, hue_parts(plan, lab)).astype(np.uint8) * 255
    lines = cv2.resize(lines, code.shape[::-1], interpolation=cv2.INTER_LINEAR)
    lines = cv2.dilate(lines, np.ones((2, 2), np.uint8))
    return np.where(lines > 90, np.where(code < 118, 235, 20), code).astype(np.uint8)


def blend_of(turn: Turn, picture: Picture, document: Document) -> Blend:
    """A gradual turn as a planned blend."""
    seen = framed(picture, document.frame)
    place = turn.x * seen.width, turn.y * seen.height
    x, y = seen.to_original(*place)
    direction = _turned(turn.direction, place, seen.to_original)
    return Blend(x=max(x, 0.0), y=max(y, 0.0), direction=direction, dark=turn.dark, light=turn.light)


def _turned(direction: float, at: Point, move: Callable[[float, float], Point]) -> float:
    """A direction in degrees at a place, as it lies after a move of the plane."""
    step = 10 * np.cos(np.radians(direction)), 10 * np.sin(np.radians(direction))
    (x0, y0), (x1, y1) = move(*at), move(at[0] + float(step[0]), at[1] + float(step[1]))
    return round(float(np.degrees(np.arctan2(y1 - y0, x1 - x0))), 6) % 360


def with_scene_range(choice: RangeChoice, ground: Ground) -> RangeChoice:
    """The choice with the darkest and lightest value of the scene as it is now."""
    low, high = ground.span
    return choice.model_copy(update={"low": low, "high": high})


def note_in_focus(picture: Picture | None, document: Document, place: Point | None) -> bool | None:
    """Whether a place of the photo lies in a focus area; None without a place or any focus."""
    if place is None or picture is None or not document.masses.focus:
        return None
    return any(in_polygon(a.points, *place) for a in document.masses.focus)


def mass_at(plan: MassPlan, x: float, y: float) -> int:
    """Index of the mass at a place given as shares of width and height."""
    h, w = plan.labels.shape
    return int(plan.labels[min(max(int(y * h), 0), h - 1), min(max(int(x * w), 0), w - 1)])


@functools.lru_cache(maxsize=2)
def _hue_parts(plan: MassPlan, ground: Ground) -> Labels:
    return hue_parts(plan, ground.lab)


def hue_map(plan: MassPlan, ground: Ground, document: Document) -> Labels | None:
    """Which of two hues each pixel of the plan has; None where the painter wants values alone."""
    return _hue_parts(plan, ground) if document.masses.hues else None


def recoloured_labels(
    plan: MassPlan, fine: MassPlan, ground: Ground, picture: Picture, document: Document
) -> tuple[Labels, dict[int, tuple[float, float]]]:
    """Labels of ``fine`` with the swapped shapes as labels of their own, and hue and chroma of each swapped label.

    ``plan`` and ``ground`` are of the preview. A shape goes over its whole mass.
    """
    swaps = document.masses.swaps
    seen = framed(picture, document.frame)
    single = [s for s in swaps if s.place is not None]
    places = []
    for s in single:
        assert s.place is not None
        x, y = seen.from_original(*s.place)
        places.append((x / seen.width, y / seen.height))
    labels, own = with_shapes(fine.labels, plan, hue_map(plan, ground, document), places, [s.mass for s in single])
    colours = {s.mass: (s.hue, s.chroma) for s in swaps if s.place is None}
    colours |= {k: (s.hue, s.chroma) for k, s in zip(own, single, strict=True) if k >= 0}
    return labels, colours


def shape_lab(plan: MassPlan, ground: Ground, document: Document, place: Point) -> Lab:
    """Mean colour of the connected shape at a place, shares of width and height."""
    numbered, _ = shapes_of(plan, hue_map(plan, ground, document))
    h, w = numbered.shape
    own = numbered == numbered[min(max(int(place[1] * h), 0), h - 1), min(max(int(place[0] * w), 0), w - 1)]
    return as_lab(ground.lab[own].astype(float).mean(axis=0))


def same_shape(plan: MassPlan, ground: Ground, document: Document, a: Point, b: Point) -> bool:
    """Whether two places, as shares of width and height, lie in one connected shape of the plan."""
    numbered, _ = shapes_of(plan, hue_map(plan, ground, document))
    h, w = numbered.shape
    at = [(min(max(int(y * h), 0), h - 1), min(max(int(x * w), 0), w - 1)) for x, y in (a, b)]
    return bool(numbered[at[0]] == numbered[at[1]])
