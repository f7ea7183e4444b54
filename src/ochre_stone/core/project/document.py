"""The project document: everything the painter chose, immutable, checked when it is read."""

from collections.abc import Callable, Collection
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, field_validator, model_validator

from ochre_stone.core.colour.wheel import WheelName
from ochre_stone.core.harmony.schemes import TITLES
from ochre_stone.core.masses.plan import Family, Settings
from ochre_stone.core.mixing.strings import MixString
from ochre_stone.core.paint.palettes import PALETTES
from ochre_stone.core.picture.balance import Balance

FORMAT_VERSION = 1

SUBJECTS = ("skin", "foliage", "sky", "water", "ground", "cloth", "hair", "wall", "fruit", "other")
ROLES = ("highlight", "light", "halftone", "core shadow", "cast shadow", "reflected light", "dark accent")
SHADOW_ROLES = ("cast shadow", "dark accent")
STRING_ORDER = (
    "skin",
    "foliage",
    "sky",
    "shadows",
    *(s for s in SUBJECTS if s not in ("skin", "foliage", "sky")),
)

Lab = tuple[float, float, float]
Row = tuple[float, float, float]


def _one_of(words: Collection[str]) -> Callable[[str], str]:
    """A check that a field holds one of the known words."""

    def check(word: str) -> str:
        if word not in words:
            raise ValueError(f"must be one of {', '.join(words)}")
        return word

    return check


class _Frozen(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class Note(_Frozen):
    """A sampled key colour."""

    id: str = Field(min_length=1, max_length=40)
    name: str = Field(max_length=80)
    x: float = Field(ge=0)
    y: float = Field(ge=0)
    """Pixels of the upright, full-size reference."""
    aperture: int = Field(ge=1, le=101)
    lab: Lab
    spread: float = Field(default=0.0, ge=0)
    clipped: float = Field(default=0.0, ge=0, le=1)
    subject: Annotated[str, AfterValidator(_one_of(SUBJECTS))] = "other"
    role: Annotated[str, AfterValidator(_one_of(ROLES))] = "light"
    share: float = Field(default=0.0, ge=0, le=1)
    """Share of the picture that is nearest to this note."""

    @field_validator("lab")
    @classmethod
    def _possible(cls, lab: Lab) -> Lab:
        if not 0 <= lab[0] <= 130 or max(abs(lab[1]), abs(lab[2])) > 300:
            raise ValueError("is no colour that light can have")
        return lab

    @property
    def group(self) -> str:
        """The string that this note belongs to: its subject, or the shadows."""
        return "shadows" if self.role in SHADOW_ROLES else self.subject


class MassChoice(_Frozen):
    """How the masses are made."""

    values: int = Field(default=4, ge=2, le=9)
    smallest: float = Field(default=0.2, ge=0, le=10)
    simplify: float = Field(default=0.5, ge=0, le=1)
    cuts: tuple[float, ...] = ()
    families: tuple[tuple[int, Family], ...] = ()

    @model_validator(mode="after")
    def _possible(self) -> "MassChoice":
        self.settings()
        return self

    def settings(self) -> Settings:
        return Settings(self.values, self.smallest, self.simplify, self.cuts, self.families)


class HarmonyChoice(_Frozen):
    """Which wheel and scheme, how it is turned, and how far the notes are pulled."""

    wheel: WheelName = "traditional"
    scheme: Annotated[str, AfterValidator(_one_of(TITLES))] = "none"
    rotation: float = Field(default=0.0, ge=0, lt=360)
    amount: float = Field(default=0.0, ge=0, le=1)


class MixChoice(_Frozen):
    """Palette and strings."""

    palette: Annotated[str, AfterValidator(_one_of(PALETTES))] = "portrait-ten"
    steps: int = Field(default=5, ge=3, le=9)
    most_tubes: int = Field(default=4, ge=2, le=4)
    left_out: tuple[str, ...] = ()
    """Strings that are not wanted, although there are notes for them."""


class Canvas(_Frozen):
    """The support and how thick the paint goes on."""

    width: float = Field(default=30.0, gt=0, le=10_000)
    height: float = Field(default=40.0, gt=0, le=10_000)
    unit: Literal["cm", "in"] = "cm"
    thickness: float = Field(default=0.2, gt=0, le=5)
    """Millimetres of wet paint."""
    spare: float = Field(default=0.3, ge=0, le=3)
    paper: Literal["A4", "Letter"] = "A4"

    @property
    def area_cm2(self) -> float:
        per = 2.54 if self.unit == "in" else 1.0
        return self.width * self.height * per * per

    @property
    def words(self) -> str:
        return f"{self.width:g} x {self.height:g} {self.unit}"


class Mixed(_Frozen):
    """Strings as worked out, with the fingerprint of the choices that they were worked out from."""

    fingerprint: str = ""
    strings: tuple[MixString, ...] = ()


class Document(_Frozen):
    """A whole project but for the bytes of its reference."""

    version: Literal[1] = 1
    title: str = Field(default="", max_length=200)
    reference: str = Field(default="", max_length=255)
    """File name of the reference inside the project; empty before one is opened."""
    balance: tuple[Row, Row, Row] = ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    balance_from: str = Field(default="", max_length=80)
    notes: tuple[Note, ...] = Field(default=(), max_length=500)
    masses: MassChoice = MassChoice()
    harmony: HarmonyChoice = HarmonyChoice()
    mix: MixChoice = MixChoice()
    canvas: Canvas = Canvas()
    mixed: Mixed = Mixed()

    @field_validator("notes")
    @classmethod
    def _unique(cls, notes: tuple[Note, ...]) -> tuple[Note, ...]:
        if len({n.id for n in notes}) != len(notes):
            raise ValueError("two notes have the same id")
        return notes

    def the_balance(self) -> Balance:
        return Balance(self.balance)

    def note(self, note_id: str) -> Note:
        """The note of that id; KeyError where there is none."""
        for n in self.notes:
            if n.id == note_id:
                return n
        raise KeyError(note_id)

    def with_note(self, note: Note) -> "Document":
        """The document with a note added, or put in place of the one with its id."""
        if any(n.id == note.id for n in self.notes):
            notes = tuple(note if n.id == note.id else n for n in self.notes)
        else:
            notes = (*self.notes, note)
        return self.model_copy(update={"notes": notes})

    def without_note(self, note_id: str) -> "Document":
        return self.model_copy(update={"notes": tuple(n for n in self.notes if n.id != note_id)})

    def fresh_note_id(self) -> str:
        """An id that no note has."""
        used = {n.id for n in self.notes}
        return next(f"n{i}" for i in range(1, len(used) + 2) if f"n{i}" not in used)
