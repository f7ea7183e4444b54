"""What a thing most likely is, and how sure that is. Common practice, no source; measured in benchmarks/keys.

A wrong name costs more than none: below a half of sureness a thing is 'other', and the painter is asked.

Every bound below is a judgement, set by hand on the labelled pictures of tests/support/labelled and the demo: shares
are of the picture (places and outlines) or of an edge of it, hues degrees of CIELAB, chroma and lightness CIELAB's,
fine contrast L*. What the rules say is common practice: sky is above and blue or pale, leaves are green and rough,
fruit is round and strong, earth is warm and low. benchmarks/keys tells how often they are right.
"""

from collections.abc import Mapping

import numpy as np

from ochre_stone.core.keys.things import ThingLook, Things

SURE_NAME = 0.5
KNOWN = 0.95
"""Sureness of what a face or the painter says."""
_ROUND, _FRUIT_ROUND = 0.85, 0.62
"""Roundness (1 for a disc) of what is round alone, and of fruit among fruit or where a leaf is the other guess."""
_SMOOTH, _ROUGH, _FOLDED = 3.2, 2.2, 1.5
"""Fine contrast, L*: below the first a thing is smooth as sky and walls are, above the second it is rough as leaves and
hair are, above the third it has folds."""
_BLUE = (215.0, 300.0)
"""Hues of sky, of water, and of blue cloth (from 225)."""
_LEAVES = (100.0, 205.0)
_WARM_HUE = 112.0
"""Hue up to which a thing is warm: from red over orange to yellow."""
_FRUIT_CHROMA, _SMALL = 38.0, 0.06
"""Chroma of a fruit alone, and its share at most."""

Guess = tuple[str, float]
_UNSURE: Guess = ("other", 0.4)


def name_things(things: Things, known: Mapping[int, str] | None = None) -> None:
    """Give each thing its subject; ``known``: subjects by number that the painter has said."""
    faces = bool(things.faces)
    for t in things.all:
        t.subject, t.sure = _by_face(t.look) if faces else _UNSURE
        if t.sure < SURE_NAME:
            t.subject, t.sure = _alone(t.look, faces)
    if faces:
        _within(things, "cloth", things.faces[0].bottom / things.number.shape[0])
    else:
        _among_leaves(things)
        _beside_sky(things)
        _under_sky(things)
        _fruits(things)
    for t in things.all:
        if known and t.number in known:
            t.subject, t.sure = known[t.number], KNOWN
        if t.sure < SURE_NAME:
            t.subject = "other"


def _by_face(f: ThingLook) -> Guess:
    """What lies round a face: hair about it, clothes below it, a wall behind it."""
    chroma, hue = _polar(f)
    if f.skin:
        return "skin", KNOWN
    hair_hue = hue < 110 or hue > 330 or chroma < 8
    about_the_head = f.by_face > 0.12 and f.y < 0.6 and 0.01 < f.share < 0.2
    if about_the_head and 14 < f.lab[0] < 62 and chroma < 45 and hair_hue and f.rough > _ROUGH:
        return "hair", 0.6 if f.lab[0] > 27 else 0.45
    if f.below_face > 0.25 and f.share > 0.02 and abs(f.face_away) < 0.9 and f.top < 0.1:
        return "cloth", 0.75
    if f.below_face > 0.12 and f.bottom > 0.3 and f.top == 0 and chroma > 12:
        return "cloth", 0.55
    if f.share > 0.1 and f.top > 0.25 and f.rough < 3:
        return "wall", 0.6
    if f.side > 0.2 and chroma > 12:
        return "cloth", 0.5
    return _UNSURE


def _polar(f: ThingLook) -> tuple[float, float]:
    return float(np.hypot(f.lab[1], f.lab[2])), float(np.degrees(np.arctan2(f.lab[2], f.lab[1])) % 360)


def _alone(f: ThingLook, faces: bool) -> Guess:
    """By colour, place and texture."""
    chroma, hue = _polar(f)
    lightness = f.lab[0]
    most = f.top > 0.9 and f.share > 0.4 and f.rough < 2  # smooth, from the upper edge down
    above = f.top > 0.3 and f.low < (0.9 if most else 0.75) and f.rough < _SMOOTH and lightness > 25
    blue_or_pale = _BLUE[0] < hue < _BLUE[1] or (lightness > 72 and chroma < (8 if 190 < hue < 310 else 3))
    if above and blue_or_pale and not faces:
        if f.brighter_down > 2 or lightness > 60:
            return "sky", 0.85
        if f.share > 0.05:
            return "sky", 0.55
    night = f.top > 0.6 and _BLUE[0] < hue < _BLUE[1] and f.rough < 2 and f.share > 0.25
    if night and lightness > 8 and (most or f.brighter_down > 2) and not faces:
        return "sky", 0.6 if f.brighter_down > 2 else 0.5
    green = _LEAVES[0] < hue < _LEAVES[1] and chroma > (8.5 if hue < _WARM_HUE else 5)
    if green and (f.rough > _ROUGH or lightness < 45):
        if f.round > _FRUIT_ROUND and f.rough < 3.6:  # a leaf is no disc: a fruit, a cup, a button
            return _UNSURE
        if lightness > (60 if hue < 118 else 75):  # pale: a wall or a cloth as likely
            return _UNSURE
        return "foliage", min(0.9, 0.5 + 0.08 * f.rough + (0.1 if lightness < 50 else 0))
    if f.bottom > 0.9 and f.y > 0.7 and f.share > 0.12 and chroma < 13 and hue < 110 and lightness < 75 and not faces:
        return "ground", 0.5
    strong = chroma > _FRUIT_CHROMA and (hue < _WARM_HUE or hue > 345)
    if strong and f.share < _SMALL and f.round > _ROUND and lightness > 35:
        return "fruit", 0.55
    on_the_floor = f.bottom > 0.6 and f.y > 0.66
    ceiling = f.top > 0.6 and f.bottom < 0.05 and f.low < 0.5
    pale = chroma < 16 and lightness > 60 and f.share > 0.15 and f.rough < _SMOOTH and (hue < 120 or chroma < 4)
    if pale and not on_the_floor and not ceiling and f.side > 0.1:
        return "wall", 0.5
    large_and_low = f.y > 0.45 and f.share > 0.06 and f.top < 0.05
    if large_and_low and f.rough > _FOLDED and 225 < hue < 300 and chroma > 8 and 20 < lightness < 62:
        return "cloth", 0.55
    return _UNSURE


def _within(things: Things, subject: str, below: float = 0.0) -> None:
    """What is enclosed by things of a subject is part of them: a collar or a badge of clothes, the pith of a fruit."""
    own = {t.number for t in things.all if t.subject == subject and t.sure >= SURE_NAME}
    for t in things.all:
        small = t.look.share < 0.05 and t.look.y > below
        if t.sure < SURE_NAME and small and things.beside(t, own) > 0.6:
            t.subject, t.sure = subject, 0.55


def _fruits(things: Things) -> None:
    """Several smooth things of strong colours from orange to green, indoors: fruit."""
    like = [t for t in things.all if _like_fruit(t.look)]
    hues = [_polar(t.look)[1] for t in like]
    named = any(t.subject == "sky" and t.sure >= SURE_NAME for t in things.all)
    if named or len(like) < 3 or max(hues) - min(hues) < 30:
        return
    for t in things.all:
        f = t.look
        green_disc = 95 < _polar(f)[1] < 140 and f.round > _FRUIT_ROUND and f.rough < 3.6
        if t.sure < SURE_NAME and (t in like or green_disc):
            t.subject, t.sure = "fruit", 0.55
    _within(things, "fruit")


def _like_fruit(f: ThingLook) -> bool:
    chroma, hue = _polar(f)
    return chroma > 28 and 40 < hue < 125 and f.rough < 2.7 and f.share > 0.03


def _among_leaves(things: Things) -> None:
    """Yellowish rough things that touch green leaves are leaves too: grass in the sun, dry reeds."""
    green = {t.number for t in things.all if t.subject == "foliage" and t.sure >= SURE_NAME}
    for t in things.all:
        f = t.look
        chroma, hue = _polar(f)
        olive = 85 < hue < 125 and chroma > 8.5 and f.lab[0] < 62
        rough = f.rough > 2.4 and f.round < 0.45
        if t.sure < SURE_NAME and olive and rough and things.beside(t, green) > 0.15:
            t.subject, t.sure = "foliage", 0.55


def _beside_sky(things: Things) -> None:
    """What touches a sky and is like it: more sky above the middle, water below it."""
    sky = {t.number for t in things.all if t.subject == "sky" and t.sure >= SURE_NAME}
    if not sky:
        return
    for t in things.all:
        f = t.look
        chroma, hue = _polar(f)
        if t.subject not in ("other", "wall", "sky") or f.share < 0.008 or f.rough > _SMOOTH:
            continue
        beside = things.beside(t, sky)
        if f.lab[0] < 55:
            if beside > 0.3 and _BLUE[0] < hue < _BLUE[1] and f.rough < 2.5 and f.top > 0.05:
                t.subject, t.sure = "sky", 0.55
            continue
        if beside < 0.1 or f.lab[2] > 3 or chroma > 22:
            continue
        if f.low < 0.5:
            t.subject, t.sure = "sky", 0.6
        elif f.top < 0.02 and f.rough < _ROUGH and f.share > 0.03:
            t.subject, t.sure = "water", 0.5


def _under_sky(things: Things) -> None:
    """What lies low and wide under a sky, brown or yellow or warm grey, is the ground."""
    if not any(t.subject == "sky" and t.sure >= SURE_NAME for t in things.all):
        return
    for t in things.all:
        f = t.look
        chroma, hue = _polar(f)
        if t.sure >= SURE_NAME or f.high < 0.5 or f.share < 0.05 or f.y < 0.6 or f.lab[0] < 22:
            continue
        earth = (55 < hue < _WARM_HUE and chroma < 62) or (30 < hue < _WARM_HUE and 3 < chroma < 13)
        if earth and f.lab[0] < 64 and f.wide > 0.6 and (f.bottom > 0.5 or f.side > 0.2):
            t.subject, t.sure = "ground", 0.6
