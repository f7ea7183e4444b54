"""One pile as it was really mixed, and one answer of practice: what the log keeps, checked when it is read."""

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import AfterValidator, ConfigDict, Field, model_serializer, model_validator

from ochre_stone.core.colour.spaces import Array, Lab
from ochre_stone.core.frozen import Frozen
from ochre_stone.core.mixing.recipe.dose import Dose
from ochre_stone.core.paint.media import MEDIA
from ochre_stone.core.paint.optics import ANCHORS

IN_BASE_64 = ConfigDict(ser_json_bytes="base64", val_json_bytes="base64")
"""Of pictures in JSON."""
Text = Annotated[str, Field(max_length=200)]
Name = Annotated[str, Field(min_length=1, max_length=120)]
ENTRY_BANDS = 36
_MOST_PICTURE = 4_000_000
_SITTING_S = 4 * 3600.0


def _colour(lab: Lab) -> Lab:
    if not (0 <= lab[0] <= 130 and abs(lab[1]) <= 300 and abs(lab[2]) <= 300):
        raise ValueError("is no colour that light can have")
    return lab


Colour = Annotated[Lab, AfterValidator(_colour)]
LAST = 32_503_680_000.0
"""The year 3000, in seconds since 1970."""
Time = Annotated[float, Field(ge=0, le=LAST)]
"""Seconds since 1970, UTC."""


class TubeThen(Frozen):
    """A tube as it was when it was mixed with."""

    tube: Name
    stamp: Text = ""
    """Tells states of an own tube apart, as tubes.Tube has it."""
    name: Text = ""
    k: tuple[float, ...] = Field(min_length=ENTRY_BANDS, max_length=ENTRY_BANDS)
    s: tuple[float, ...] = Field(min_length=ENTRY_BANDS, max_length=ENTRY_BANDS)

    @property
    def key(self) -> str:
        return tube_key(self.tube, self.stamp)

    def spectra(self) -> tuple[Array, Array]:
        """K and S (36,)."""
        return np.array(self.k), np.array(self.s)


def tube_key(tube: str, stamp: str) -> str:
    """The name of one state of a tube: its id, and what tells the state apart where it is the painter's own."""
    return f"{tube}@{stamp}" if stamp else tube


_DOSE = {"supply": "source", "name": "name", "ml": "volume", "error": "error", "within": "within", "shares": "shares"}
"""Of a dose in a log's file: what its fields are called there, and here."""


class Put(Frozen):
    """One thing that went in. In a file the dose's fields stand beside the others."""

    at: Time
    dose: Dose
    """In millilitres; its tubes by their keys."""
    parts: float = Field(ge=0, le=1e6)
    """As meant, in parts of the recipe that the pile was begun with."""
    first: bool = True
    """Whether it was of the first mixing; else it was added since."""

    @model_validator(mode="before")
    @classmethod
    def _beside(cls, raw: object) -> object:
        if not isinstance(raw, dict) or "dose" in raw:
            return raw
        rest = dict(raw)
        return rest | {"dose": {here: rest.pop(there) for there, here in _DOSE.items() if there in raw}}

    @model_serializer
    def _told(self) -> dict[str, object]:
        dose = {there: getattr(self.dose, here) for there, here in _DOSE.items()}
        return {"at": self.at, **dose, "parts": self.parts, "first": self.first}

    @property
    def ml(self) -> float:
        return self.dose.volume


class Cut(Frozen):
    """The pile was cut, or some of it set aside."""

    at: Time
    place: int = Field(ge=0, le=10_000)
    """After so many things had gone in."""
    keep: float = Field(gt=0, le=1)


class Seen(Frozen):
    """The pile was read, or described."""

    at: Time
    place: int = Field(ge=0, le=10_000)
    """After so many things had gone in."""
    lab: Colour
    noise: float = Field(gt=0, le=50)
    how: Literal["reader", "photo", "words", "typed"]
    said: Text = ""
    gloss: float = Field(default=ANCHORS.g, ge=0, le=1)
    """Share of the surface's reflection that was seen, as optics.Surface has it."""


class Entry(Frozen):
    """A pile as it was really mixed."""

    model_config = IN_BASE_64

    uid: str = Field(min_length=8, max_length=64, pattern=r"^[a-z0-9-]+$")
    project: str = Field(max_length=64, pattern=r"^[a-z0-9-]*$")
    title: Text = ""
    """Of the project."""
    pile: Text = ""
    """Its id in the plan; "" for one that was mixed without."""
    number: int = Field(default=0, ge=0, le=10_000)
    """How often the pile was begun anew before."""
    name: Text = ""
    origin: Literal["plan", "bench"] = "plan"
    begun: Time
    finished: Time | None = None
    medium: Text = "oil"
    palette: Text = ""
    target: Colour | None = None
    planned: tuple[tuple[Name, Annotated[float, Field(ge=0, le=1.0001)]], ...] = Field(default=(), max_length=48)
    """Tube and share of volume of the recipe."""
    planned_ml: float = Field(default=0.0, ge=0, le=1e5)
    planned_minutes: float = Field(default=0.0, ge=0, le=1e4)
    predicted: Colour | None = None
    """Of all that went in, as the tubes' figures were then."""
    left_ml: float | None = Field(default=None, ge=0, le=1e5)
    left_at: Time | None = None
    dried: Colour | None = None
    dried_at: Time | None = None
    line: str = Field(default="", max_length=2000)
    picture: bytes = Field(default=b"", max_length=_MOST_PICTURE)
    puts: tuple[Put, ...] = Field(min_length=1, max_length=400)
    cuts: tuple[Cut, ...] = Field(default=(), max_length=400)
    seen: tuple[Seen, ...] = Field(default=(), max_length=400)

    @model_validator(mode="after")
    def _known(self) -> "Entry":
        if self.medium not in MEDIA:
            raise ValueError(f"has an unknown medium '{self.medium}'")
        return self

    @property
    def came_out(self) -> Lab | None:
        """How it looked last: dried, else as it was read by figures, else as predicted."""
        read = [s.lab for s in self.seen if s.how != "words"]
        return self.dried or (read[-1] if read else self.predicted)

    @property
    def was_read(self) -> bool:
        """Whether that was seen, not worked out."""
        return self.dried is not None or any(s.how != "words" for s in self.seen)

    def inside(self, upto: int | None = None) -> dict[str, float]:
        """Key of the tube to millilitres in the pile, just after ``upto`` things had gone in; at the end by default."""
        end = len(self.puts) if upto is None else upto
        last = 10_000_000 if upto is None else end - 1
        out: dict[str, float] = {}
        for n, put in enumerate(self.puts[:end]):
            kept = math.prod(c.keep for c in self.cuts if n < c.place <= last)
            for key, share in put.dose.shares:
                out[key] = out.get(key, 0.0) + put.ml * kept * share
        return out

    @property
    def ml(self) -> float:
        """Millilitres in the pile at the end."""
        return sum(self.inside().values())

    @property
    def used_ml(self) -> float:
        """Millilitres that went in, what was set aside counted."""
        return sum(p.ml for p in self.puts)

    def ended(self, now: float) -> float:
        """When it was finished, said ``now``: then, or where nothing happened for hours, when something last did."""
        last = max([self.begun, *(p.at for p in self.puts), *(s.at for s in self.seen)])
        return now if now - last < _SITTING_S else last

    @property
    def corrections(self) -> int:
        """How often something was added after the first mixing."""
        added = [p for p in self.puts if not p.first]
        return len({p.at for p in added})

    @property
    def minutes(self) -> float | None:
        """From beginning to end; None where either is not known."""
        return (self.finished - self.begun) / 60 if self.finished is not None else None


class Answer(Frozen):
    """One answer of practice."""

    uid: str = Field(min_length=8, max_length=64, pattern=r"^[a-z0-9-]+$")
    at: Time
    drill: Name
    level: float = Field(ge=-1e3, le=1e3)
    """How hard it was, in the drill's own measure."""
    right: bool
    error: float = Field(ge=-1e4, le=1e4)
    """How far off, in the drill's own measure; 0 where it is right or wrong only."""
    told: Text = ""
    """What was answered, and what is true, in words."""
