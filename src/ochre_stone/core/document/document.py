"""The project document: everything the painter chose, immutable, checked when it is read."""

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import AfterValidator, Field, field_validator, model_validator

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.choices import (
    BenchChoice,
    HandChoice,
    HarmonyChoice,
    LooseChoice,
    MassChoice,
    PileContents,
    PileReading,
    PinChoice,
    StringChoice,
    one_of,
)
from ochre_stone.core.frozen import Frozen
from ochre_stone.core.mixing.recipe.search import ORDERS
from ochre_stone.core.mixing.session.branching import Branching
from ochre_stone.core.mixing.strings.subjects import RULE_BY_ID
from ochre_stone.core.mixing.strings.targets import STEP, TOUCH, MixString
from ochre_stone.core.paint.box import AS_BODY_COLOUR, Laid
from ochre_stone.core.paint.palettes import PALETTES, Palette
from ochre_stone.core.paint.tubes import Tube, tube
from ochre_stone.core.paint.usual import PALETTE, FinishName, MediumName
from ochre_stone.core.picture.balance import (
    IDENTITY,
    LEAST_KELVIN,
    MOST_KELVIN,
    MOST_STOPS,
    MOST_TINT,
    NEUTRAL_KELVIN,
    Balance,
    Matrix,
    as_rows,
    light_matrix,
)
from ochre_stone.core.picture.frame import Frame, Point, framed
from ochre_stone.core.picture.picture import Floats, Picture
from ochre_stone.core.picture.sampling import Part

FORMAT_VERSION = 15
TITLE = 200
"""Characters of a title."""

SUBJECTS = ("skin", "foliage", "sky", "water", "ground", "cloth", "hair", "wall", "fruit", "other")
ROLES = ("highlight", "light", "halftone", "core shadow", "cast shadow", "reflected light", "dark accent")
LOST_SHARE, LIFTED = 0.05, 1.3
WHITE_PRIMED: Lab = (95.0, 0.0, 2.0)
TONED = 80.0
"""Lightness of a ground below which it is toned: a value of about 7.8 (a judgement)."""
SHADOW_ROLES = ("cast shadow", "dark accent")
STRING_ORDER = ("skin", "foliage", "sky", "shadows", *(s for s in SUBJECTS if s not in ("skin", "foliage", "sky")))

NOTE_BANDS = 36


class Note(Frozen):
    """A sampled key colour."""

    id: str = Field(min_length=1, max_length=40)
    name: str = Field(max_length=80)
    x: float | None = Field(default=None, ge=0)
    y: float | None = Field(default=None, ge=0)
    """Pixels of the upright, full-size reference; none for a reading of the scene that has no place in the photo."""
    aperture: int = Field(default=15, ge=1, le=101)
    area: tuple[Point, ...] = Field(default=(), max_length=400)
    """Corners of a drawn area in the same pixels; none for a round spot."""
    lab: Lab
    spread: float = Field(default=0.0, ge=0)
    clipped: float = Field(default=0.0, ge=0, le=1)
    subject: Annotated[str, AfterValidator(one_of(SUBJECTS))] = "other"
    role: Annotated[str, AfterValidator(one_of((*ROLES, "")))] = "light"
    """Its place in light and shadow; "" for none, as of a colour that was typed."""
    distance: Literal["", "near", "middle", "far"] = ""
    """How far away it lies, in a landscape."""
    share: float = Field(default=0.0, ge=0, le=1)
    """Share of the picture that is nearest to this note."""
    source: Literal["photo", "reader", "given"] = "photo"
    """Given: typed, from a chart, or from another picture; it has no place in this one."""
    given: str = Field(default="", max_length=120)
    """Where a given colour comes from, in words."""
    spectrum: tuple[float, ...] = ()
    """From the spot reader: reflectance at 380, 390 ... 730 nm, 1 = the white tile's perfect white."""
    lifted: float = Field(default=1.0, ge=1, le=20)
    """How many times the light of these darks was raised."""
    pair: tuple[Part, ...] = Field(default=(), max_length=2)
    """Where the area holds two colours: both, the larger first."""
    part: Literal["all", "larger", "smaller"] = "all"
    """Which colour of a mixed area this note stands for."""
    gradation: str = Field(default="", max_length=40)
    """Id of the note at the other end of a gradation."""
    locked: bool = False
    """Neither moved, read anew, merged nor removed."""
    whole_thing: bool = False
    """The painter has said that the whole thing it lies on is of its subject."""
    pile: Literal["", "keep", "none"] = ""
    """Whether its pile is kept however few are mixed, or it is left without one; "": as the plan has it."""

    @field_validator("spectrum")
    @classmethod
    def _bands(cls, spectrum: tuple[float, ...]) -> tuple[float, ...]:
        if len(spectrum) not in (0, NOTE_BANDS) or any(not 0 <= v <= 20 for v in spectrum):
            raise ValueError(f"must be empty or {NOTE_BANDS} reflectances")
        return spectrum

    @field_validator("pair")
    @classmethod
    def _parts(cls, pair: tuple[Part, ...]) -> tuple[Part, ...]:
        for p in pair:
            cls._possible(p.lab)
            if not 0 <= p.share <= 1:
                raise ValueError("has a share that is no share")
        return pair

    @model_validator(mode="after")
    def _placed(self) -> "Note":
        if (self.x is None) != (self.y is None):
            raise ValueError("needs both x and y, or neither")
        if len(self.area) in (1, 2) or (self.x is None and self.area):
            raise ValueError("has an area without a shape or place")
        return self

    @property
    def place(self) -> Point | None:
        """Where it was taken in the photo, if anywhere."""
        return None if self.x is None or self.y is None else (self.x, self.y)

    @property
    def unreliable(self) -> str:
        """Why the photo cannot be trusted here, in words; "" where it can."""
        if self.source == "photo" and self.clipped > LOST_SHARE:
            return "The photo is burnt out or crushed here: judge this one from life."
        if self.source == "photo" and self.lifted > LIFTED:
            return f"Lifted darks: raised {self.lifted:.1f} times, grain and all. Trust its value more than its hue."
        return ""

    @field_validator("lab")
    @classmethod
    def _possible(cls, lab: Lab) -> Lab:
        if not (0 <= lab[0] <= 130 and abs(lab[1]) <= 300 and abs(lab[2]) <= 300):
            raise ValueError("is no colour that light can have")
        return lab

    @property
    def lit(self) -> bool:
        """Whether it belongs to the family of the light."""
        return self.role not in (*SHADOW_ROLES, "core shadow", "reflected light")

    @property
    def group(self) -> str:
        """The string that this note belongs to: its subject, or the shadows."""
        return "shadows" if self.role in SHADOW_ROLES else self.subject


class LightChoice(Frozen):
    """The light of the scene, on top of what was set by a grey, a white or a chart."""

    kelvin: float = Field(default=NEUTRAL_KELVIN, ge=LEAST_KELVIN, le=MOST_KELVIN)
    tint: float = Field(default=0.0, ge=-MOST_TINT, le=MOST_TINT)
    """Above 0 the light is greener than daylight of its temperature, below 0 pinker; 1 is .001 Duv."""
    stops: float = Field(default=0.0, ge=-MOST_STOPS, le=MOST_STOPS)
    lift: float = Field(default=0.0, ge=0, le=1)


class MixChoice(Frozen):
    """Palette and strings."""

    palette: str = PALETTE
    laid: Laid | None = None
    """The painter's own palette with its tubes, as they were when it was chosen; none for one that ships."""
    medium: Literal[""] | MediumName = ""
    """What the picture is painted in; "" is what the palette's own tubes are, and oil without any."""
    finish: FinishName | Literal[""] = ""
    """Of the dry picture; "" is the medium's usual one."""
    stand: Literal["notes", "even"] = "notes"
    """Whether piles stand on the notes, or at even steps of value."""
    step: float = Field(default=STEP, ge=0.5, le=5)
    """Value steps between two notes from which piles are set between them."""
    touch: float = Field(default=TOUCH, ge=0.5, le=8)
    """CIEDE2000 within which notes share a pile."""
    piles: int = Field(default=0, ge=0, le=60)
    """How many piles are to be mixed in all; 0 for one on every note."""
    steps: int = Field(default=5, ge=3, le=9)
    """Piles of a string at even steps."""
    most_tubes: int = Field(default=4, ge=2, le=5)
    tints: int | None = Field(default=None, ge=0, le=24)
    """Tint piles at most; None for as many as the session is worth."""
    order: Annotated[str, AfterValidator(one_of(ORDERS))] = "value"
    """What an error of a mixture weighs."""
    left_out: tuple[str, ...] = ()
    """Strings that are not wanted, although there are notes for them."""
    strings: tuple[StringChoice, ...] = Field(default=(), max_length=60)
    """Strings that are built in a way of their own."""
    rules: tuple[tuple[Annotated[str, AfterValidator(one_of(RULE_BY_ID))], bool], ...] = Field(
        default=(), max_length=60
    )
    """Rules of subjects that were switched on or off by hand."""
    apart: tuple[tuple[Annotated[str, AfterValidator(one_of(SUBJECTS))], Literal["light", "distance"]], ...] = Field(
        default=(), max_length=20
    )
    """Subjects with a string each for light and shade, or for near, middle and far."""
    pins: tuple[PinChoice, ...] = Field(default=(), max_length=500)
    loose: tuple[LooseChoice, ...] = Field(default=(), max_length=500)
    """Piles that are mixed loosely."""
    mix_on: bool = True
    """Piles may go on from other piles of their string."""
    across: bool = False
    """Also from piles of other strings."""
    hand: HandChoice = HandChoice()
    learn: bool = True
    """Later piles are mixed from the tubes as the readings show them."""

    @model_validator(mode="after")
    def _known(self) -> "MixChoice":
        if self.laid is None and self.palette not in PALETTES:
            raise ValueError(f"has an unknown palette '{self.palette}'")
        if self.laid is not None and self.laid.palette.id != self.palette:
            raise ValueError("keeps another palette than it names")
        for what, ids in (
            ("strings", [s.id for s in self.strings]),
            ("pins", [p.pile for p in self.pins]),
            ("loose mixtures", [p.pile for p in self.loose]),
        ):
            if len(set(ids)) != len(ids):
                raise ValueError(f"has two {what} of the same name")
        return self

    def of_string(self, string_id: str) -> StringChoice:
        """How a string is built. What was said of all things without a name holds for each family of them."""
        said = {s.id: s for s in self.strings}
        whole = said.get("other") if string_id.startswith("other-") else None
        found = said.get(string_id) or whole or StringChoice(id=string_id)
        return found if found.id == string_id else found.model_copy(update={"id": string_id})

    def leaves_out(self, string_id: str) -> bool:
        """Whether a string is left out."""
        return string_id in self.left_out or (string_id.startswith("other-") and "other" in self.left_out)

    def rule(self, rule_id: str) -> bool:
        """Whether a rule is taken."""
        return dict(self.rules).get(rule_id, RULE_BY_ID[rule_id].on)

    def chosen(self) -> Palette:
        """The palette to mix with, shipped or own, in the picture's medium and finish."""
        found = self.laid.made() if self.laid is not None else PALETTES[self.palette]
        return replace(found, medium=self.medium or found.medium, finish=self.finish)

    @property
    def strangers(self) -> str:
        """A caution where own tubes do not belong to the picture's medium; "" elsewhere."""
        medium = self.chosen().medium
        if self.laid is not None:
            return self.laid.strangers(medium)
        return AS_BODY_COLOUR if medium == "watercolour" else ""


class Canvas(Frozen):
    """The support and how thick the paint goes on."""

    width: float = Field(default=30.0, gt=0, le=10_000)
    height: float = Field(default=40.0, gt=0, le=10_000)
    unit: Literal["cm", "in"] = "cm"
    thickness: float = Field(default=0.2, gt=0, le=5)
    """Millimetres of wet paint."""
    spare: float = Field(default=0.3, ge=0, le=3)
    paper: Literal["A4", "A3", "Letter"] = "A4"
    thick: tuple[tuple[Annotated[int, Field(ge=0, lt=18)], Annotated[float, Field(gt=0, le=5)]], ...] = Field(
        default=(), max_length=18
    )
    """Masses with a thickness of their own, in millimetres."""
    ground: Lab = WHITE_PRIMED
    """Colour of the canvas before the first stroke."""
    laying: Literal["", "dark", "light", "middle", "large"] = ""
    """What is laid in first; "" for what the ground asks for."""
    board_width: float = Field(default=40.0, gt=0, le=300)
    board_height: float = Field(default=30.0, gt=0, le=300)
    """Centimetres of the palette."""

    @property
    def area_cm2(self) -> float:
        per = 2.54 if self.unit == "in" else 1.0
        return self.width * self.height * per * per

    @property
    def school(self) -> Literal["dark", "light", "middle", "large"]:
        """The order of laying in: the painter's, or dark to light on a white ground and the largest first on a toned
        one, which come nearest to the picture the soonest (measured on four pictures)."""
        return self.laying or ("large" if self.ground[0] < TONED else "dark")

    @property
    def words(self) -> str:
        return f"{self.width:g} x {self.height:g} {self.unit}"


class Mixed(Frozen):
    """Strings as worked out, with the fingerprint of the choices that they were worked out from."""

    fingerprint: str = ""
    strings: tuple[MixString, ...] = ()
    laid: Laid | None = None
    """The own palette that they were mixed from; none for one that ships."""
    branching: Branching | None = None
    """Which pile goes on from which, and how good that plan is."""
    tweaks: tuple[str, ...] = ()
    """Strings that are no main ones: what rules of subjects add."""

    def tube(self, paint_id: str) -> Tube:
        """A tube of these strings."""
        return self.laid.made().tube(paint_id) if self.laid is not None else tube(paint_id)


class Document(Frozen):
    """A whole project but for the bytes of its reference."""

    version: Literal[15] = 15
    uid: str = Field(default="", max_length=64, pattern=r"^[a-z0-9-]*$")
    """By which the log knows the project; given when it is first shown."""
    title: str = Field(default="", max_length=TITLE)
    reference: str = Field(default="", max_length=255)
    """File name of the reference inside the project; empty before one is opened."""
    frame: Frame = Frame()
    balance: Matrix = IDENTITY
    """Correction of linear sRGB found from a grey, a white, a card or a chart."""
    balance_from: str = Field(default="", max_length=80)
    balance_words: str = Field(default="", max_length=300)
    """What a chart left uncorrected."""
    light: LightChoice = LightChoice()
    notes: tuple[Note, ...] = Field(default=(), max_length=500)
    masses: MassChoice = MassChoice()
    harmony: HarmonyChoice = HarmonyChoice()
    mix: MixChoice = MixChoice()
    canvas: Canvas = Canvas()
    mixed: Mixed = Mixed()
    readings: tuple[PileReading, ...] = Field(default=(), max_length=2000)
    """Piles as they were seen while mixing, in the order of time."""
    put_in: tuple[PileContents, ...] = Field(default=(), max_length=500)
    """Piles into which something went since they were seen."""
    bench: BenchChoice = BenchChoice()

    @field_validator("notes")
    @classmethod
    def _unique(cls, notes: tuple[Note, ...]) -> tuple[Note, ...]:
        if len({n.id for n in notes}) != len(notes):
            raise ValueError("two notes have the same id")
        return notes

    def the_balance(self) -> Balance:
        """Everything that is done to the light, as one correction."""
        light = self.light
        if light == LightChoice():
            return Balance(self.balance)
        matrix = light_matrix(light.kelvin, light.tint, light.stops) @ np.array(self.balance)
        return Balance(as_rows(matrix), light.lift)

    @property
    def light_is_set(self) -> bool:
        """Whether the light is not as photographed."""
        return self.balance != IDENTITY or self.light != LightChoice()

    @property
    def light_key(self) -> tuple[object, ...]:
        """Changes whenever the picture looks different: its light or its frame."""
        return self.balance, self.light, self.frame

    def seen(self, picture: Picture, pixels: int) -> Floats:
        """Linear-light copy of the picture through the frame and in the chosen light, about ``pixels`` large."""
        return self.the_balance().apply(framed(picture, self.frame).reduced(pixels))

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
