"""The painter's own tubes and palettes: what is in the box, checked when it is read."""

import functools
import hashlib
from collections.abc import Mapping
from datetime import date
from typing import Annotated, Literal

import numpy as np
from pydantic import AfterValidator, Field, field_validator, model_validator

from ochre_stone.core.colour.munsell import notation
from ochre_stone.core.colour.spaces import Array, as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.frozen import Frozen
from ochre_stone.core.paint.calibration import TubeCorrection
from ochre_stone.core.paint.layers import undertone
from ochre_stone.core.paint.media import MEDIA
from ochre_stone.core.paint.optics import layer_lab, mixture
from ochre_stone.core.paint.palettes import MOST_TUBES, PALETTES, Palette
from ochre_stone.core.paint.tubes import PEAK, Tolerance, Tube, all_tubes, figures_of, tube
from ochre_stone.core.paint.usual import EDITION, MediumName

OWN = "own-"
"""What the ids of own tubes and palettes begin with, so that none is taken for a generic one."""
_OPACITY = ("T", "ST", "SO", "O")
_LASTING = ("I", "II", "III")
_DRYING = ("fast", "medium", "slow", "very slow")


def _pigment(paint_id: str) -> str:
    if paint_id not in all_tubes():
        raise ValueError(f"'{paint_id}' is no pigment: see 'ochre-stone paints' for the names")
    return paint_id


def _day(text: str) -> str:
    if text:
        try:
            date.fromisoformat(text)
        except ValueError:
            raise ValueError("must be a day as 2026-05-31, or empty") from None
    return text


class PigmentPart(Frozen):
    """One pigment of a tube and its share by volume."""

    pigment: Annotated[str, AfterValidator(_pigment)]
    parts: float = Field(default=1.0, gt=0, le=1000)


class OwnTube(Frozen):
    """One tube of the painter's."""

    id: str = Field(pattern=r"^own-[a-z0-9-]{1,60}$")
    name: str = Field(min_length=1, max_length=80)
    parts: tuple[PigmentPart, ...] = Field(min_length=1, max_length=6)
    medium: MediumName = "oil"
    size_ml: float = Field(default=37.0, gt=0, le=10_000)
    stock_ml: float = Field(default=37.0, ge=0, le=100_000)
    """What is left, all tubes of the kind together."""
    price: float = Field(default=0.0, ge=0, le=100_000)
    """Of one tube, in whatever money the painter counts; 0 where unknown."""
    opened: Annotated[str, AfterValidator(_day)] = ""
    remark: str = Field(default="", max_length=300)
    archived: bool = False
    corrections: tuple[TubeCorrection, ...] = Field(default=(), max_length=50)
    """Calibrations, oldest first."""
    using: int = Field(default=-1, ge=-1)
    """Which of them holds; -1 for the generic figures."""

    @field_validator("parts")
    @classmethod
    def _each_once(cls, parts: tuple[PigmentPart, ...]) -> tuple[PigmentPart, ...]:
        if len({p.pigment for p in parts}) != len(parts):
            raise ValueError("names a pigment twice")
        return parts

    @model_validator(mode="after")
    def _there(self) -> "OwnTube":
        if self.using >= len(self.corrections):
            raise ValueError("uses a calibration that is not there")
        return self

    @property
    def price_per_ml(self) -> float:
        return self.price / self.size_ml

    @property
    def correction(self) -> TubeCorrection | None:
        """The calibration that holds."""
        return self.corrections[self.using] if self.using >= 0 else None

    def generic(self) -> Tube:
        """The tube by the figures of its pigments, not calibrated."""
        return _made(self, None)

    def tube(self) -> Tube:
        """The tube as it is mixed with."""
        return _made(self, self.correction)


@functools.lru_cache(maxsize=1024)
def _made(own: OwnTube, correction: TubeCorrection | None) -> Tube:
    of = [tube(p.pigment) for p in own.parts]
    share = np.array([p.parts for p in own.parts])
    share = share / share.sum()
    figures = [figures_of(t.id, correction.edition if correction is not None else EDITION) for t in of]
    K, S = mixture(share, np.stack([k for k, _ in figures]), np.stack([s for _, s in figures]))
    tolerance = Tolerance(
        *(float(share @ [getattr(t.tolerance, f) for t in of]) for f in ("strength", "scatter", "hue_nm"))
    )
    if correction is not None:
        K, S = correction.apply(K, S)
        tolerance = Tolerance(correction.strength_sd, correction.scatter_sd, correction.hue_sd)
    K.setflags(write=False)
    S.setflags(write=False)
    lab = layer_lab(K, S)
    main = of[int(share.argmax())]
    hazards = sorted({t.hazard for t in of if not t.hazard.startswith("none")})
    white = tube("titanium-white")
    strength = float(S[17]) if main.is_white else float(K[PEAK].max() / tube("ultramarine-blue").K[PEAK].max())
    tints = tuple((n, *(float(x) for x in layer_lab(K + n * white.K, S + n * white.S))) for n in (1.0, 3.0, 10.0, 30.0))
    return Tube(
        id=own.id,
        name=own.name,
        ci=" ".join(dict.fromkeys(t.ci for t in of)),
        opacity=_OPACITY[max(_OPACITY.index(t.opacity) for t in of)],
        lightfastness=_LASTING[max(_LASTING.index(t.lightfastness) for t in of)],
        hazard=", ".join(hazards) or "none",
        drying=_DRYING[max(_DRYING.index(t.drying) for t in of)],
        confidence="own" if correction is not None else max(t.confidence for t in of),
        density=float(share @ [t.density for t in of]),
        tinting_strength=strength,
        lab=as_lab(lab),
        munsell=notation(lab),
        K=K,
        S=S,
        tolerance=tolerance,
        granulation=main.granulation,
        tints=tints,
        undertone=undertone(K, S).lab,
        parts=tuple((t.id, float(c)) for t, c in zip(of, share, strict=True)),
        stamp=_stamp(K, S, own.name),
    )


def _stamp(K: Array, S: Array, name: str) -> str:
    return hashlib.sha256(K.tobytes() + S.tobytes() + name.encode()).hexdigest()[:12]


class OwnPalette(Frozen):
    """A named choice of own and generic tubes, in the order in which they lie."""

    id: str = Field(pattern=r"^own-[a-z0-9-]{1,60}$")
    name: str = Field(min_length=1, max_length=80)
    about: str = Field(default="", max_length=300)
    paints: tuple[str, ...] = Field(min_length=1, max_length=MOST_TUBES)

    @field_validator("paints")
    @classmethod
    def _each_once(cls, paints: tuple[str, ...]) -> tuple[str, ...]:
        if len(set(paints)) != len(paints):
            raise ValueError("names a tube twice")
        return paints


class Laid(Frozen):
    """An own palette with the own tubes on it: what a project keeps, so that it can be opened where the box is not."""

    palette: OwnPalette
    tubes: tuple[OwnTube, ...] = Field(default=(), max_length=MOST_TUBES)

    @model_validator(mode="after")
    def _known(self) -> "Laid":
        there = {t.id for t in self.tubes}
        for paint_id in self.palette.paints:
            if paint_id not in there and paint_id not in all_tubes():
                raise ValueError(f"has a palette with an unknown tube '{paint_id}'")
        return self

    def made(self) -> Palette:
        """The palette to mix with; made once."""
        return _laid_out(self)

    def _made(self) -> Palette:
        p, own = self.palette, {t.id: t for t in self.tubes}
        media = [own[i].medium for i in p.paints if i in own]
        medium = media[0] if media else "oil"
        return Palette(p.id, p.name, p.about, p.paints, tuple(t.tube() for t in self.tubes), medium)

    def strangers(self, medium: str = "") -> str:
        """A caution where own tubes are of another medium than the picture's (that of the first own tube, where it has
        none yet), or are planned as what they are not; "" elsewhere. Generic tubes are taken in any medium."""
        medium = medium or self.made().medium
        other: dict[str, list[str]] = {}
        for t in self.tubes:
            if t.id in self.palette.paints and t.medium != medium:
                other.setdefault(MEDIA[t.medium].name.lower(), []).append(t.name)
        if other:
            said = [f"{', '.join(names)} {'is' if len(names) == 1 else 'are'} {m}" for m, names in other.items()]
            return f"{'; '.join(said)}, the picture is {MEDIA[medium].name.lower()}: these do not mix in one pile."
        return AS_BODY_COLOUR if medium == "watercolour" else ""


AS_BODY_COLOUR = "Watercolour is planned as body colour here, lightened with white; a wash on paper is no recipe yet."


@functools.lru_cache(maxsize=16)
def _laid_out(laid: Laid) -> Palette:
    return laid._made()


class PaintBox(Frozen):
    """All tubes and palettes of the painter's."""

    version: Literal[1] = 1
    tubes: tuple[OwnTube, ...] = Field(default=(), max_length=1000)
    palettes: tuple[OwnPalette, ...] = Field(default=(), max_length=200)

    @model_validator(mode="after")
    def _whole(self) -> "PaintBox":
        for what, things in (("tubes", self.tubes), ("palettes", self.palettes)):
            if len({t.id for t in things}) != len(things):
                raise ValueError(f"two {what} have the same id")
        own = {t.id for t in self.tubes}
        for p in self.palettes:
            for paint_id in p.paints:
                if paint_id not in own and paint_id not in all_tubes():
                    raise ValueError(f"the palette '{p.name}' has an unknown tube '{paint_id}'")
        return self

    def own(self, tube_id: str) -> OwnTube | None:
        """The own tube of that id, if there is one."""
        return next((t for t in self.tubes if t.id == tube_id), None)

    def tube(self, paint_id: str) -> Tube:
        """The tube of that id, own or generic. Raises OchreError for an unknown one."""
        own = self.own(paint_id)
        return own.tube() if own is not None else tube(paint_id)

    def laid(self, palette_id: str) -> Laid | None:
        """An own palette with its tubes; None where there is none of that id."""
        for p in self.palettes:
            if p.id == palette_id:
                return Laid(palette=p, tubes=tuple(t for t in self.tubes if t.id in p.paints))
        return None

    def palette(self, palette_id: str) -> Palette:
        """The palette of that id, own or shipped. Raises OchreError for an unknown one."""
        laid = self.laid(palette_id)
        if laid is not None:
            return laid.made()
        if palette_id not in PALETTES:
            known = ", ".join([*PALETTES, *(p.id for p in self.palettes)])
            raise OchreError(f"There is no palette called '{palette_id}': choose one of {known}")
        return PALETTES[palette_id]

    def with_tube(self, own: OwnTube) -> "PaintBox":
        """The box with a tube added, or put in place of the one with its id."""
        return self._with("tubes", own)

    def with_palette(self, own: OwnPalette) -> "PaintBox":
        """The box with a palette added, or put in place of the one with its id."""
        return self._with("palettes", own)

    def _with(self, what: str, thing: OwnTube | OwnPalette) -> "PaintBox":
        held = getattr(self, what)
        if any(t.id == thing.id for t in held):
            return self.replaced({what: tuple(thing if t.id == thing.id else t for t in held)})
        return self.replaced({what: (*held, thing)})

    def without_palette(self, palette_id: str) -> "PaintBox":
        return self.replaced({"palettes": tuple(p for p in self.palettes if p.id != palette_id)})

    def without_tube(self, tube_id: str) -> "PaintBox":
        """The box without a tube. Raises OchreError where a palette still holds it."""
        holding = [p.name for p in self.palettes if tube_id in p.paints]
        if holding:
            own = self.own(tube_id)
            name = own.name if own is not None else tube_id
            raise OchreError(f"{name} lies on {', '.join(holding)}: take it off there first, or put it away instead.")
        return self.replaced({"tubes": tuple(t for t in self.tubes if t.id != tube_id)})

    def replaced(self, fields: Mapping[str, object]) -> "PaintBox":
        """The box with these fields, checked."""
        return PaintBox.model_validate({"tubes": self.tubes, "palettes": self.palettes} | dict(fields))

    def fresh_id(self, name: str) -> str:
        """An id made from a name that no tube and no palette has."""
        used = {t.id for t in self.tubes} | {p.id for p in self.palettes}
        plain = "".join(c if c.isascii() and c.isalnum() else "-" for c in name.lower()).strip("-")
        base = OWN + "-".join(w for w in plain.split("-") if w)[:50]
        base = base if len(base) > len(OWN) else f"{OWN}tube"
        return next(i for n in range(1, len(used) + 2) if (i := base if n == 1 else f"{base}-{n}") not in used)
