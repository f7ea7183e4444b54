"""The whole way from a photo to a folder of files, as ``ochre-stone plan`` goes it."""

import json
import re
import uuid
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ochre_stone.core.document.choices import HarmonyChoice, MassChoice
from ochre_stone.core.document.document import TITLE, Canvas, Document, MixChoice
from ochre_stone.core.errors import OchreError, one_line
from ochre_stone.core.keys.cover import LeftOver
from ochre_stone.core.picture.load import load
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.planning.blockin import block_in
from ochre_stone.core.planning.drying import with_paint
from ochre_stone.core.planning.massing import fine_masses
from ochre_stone.core.planning.noting import with_shares
from ochre_stone.core.planning.planning import make_sheet, mix_strings
from ochre_stone.core.planning.ranging import with_proposed_range
from ochre_stone.core.planning.rows import is_current
from ochre_stone.core.planning.suggesting import suggest_notes
from ochre_stone.core.store.atomic import write_bytes
from ochre_stone.core.store.files import open_project, save
from ochre_stone.export.blockoutlines import block_in_bytes
from ochre_stone.export.blockpicture import block_in_json, block_in_png
from ochre_stone.export.pdf import sheet_pdf
from ochre_stone.export.tables import palette_gpl, recipes_csv, sheet_json


def parse_canvas(text: str, paper: str = "A4") -> Canvas:
    """A canvas from "30x40cm", "12 x 16 in" and the like. Raises OchreError."""
    match = re.fullmatch(r"\s*(\d+(?:\.\d+)?)\s*[x×*]\s*(\d+(?:\.\d+)?)\s*(cm|in)\s*", text, re.I)
    if match:
        try:
            return Canvas.model_validate(
                {"width": float(match[1]), "height": float(match[2]), "unit": match[3].lower(), "paper": paper}
            )
        except ValidationError:
            pass
    raise OchreError(f"'{text}' is no canvas size: write for example 30x40cm or 12x16in.")


def laid_as(canvas: Canvas, width: int, height: int) -> Canvas:
    """The canvas upright or lying, as a picture of this size lies."""
    if (width > height) == (canvas.width > canvas.height):
        return canvas
    return canvas.model_copy(update={"width": canvas.height, "height": canvas.width})


Tell = Callable[[str, float], None]


@dataclass(frozen=True, eq=False)
class PhotoPlan:
    """A photo with its notes and strings."""

    picture: Picture
    document: Document
    rest: LeftOver
    """What the notes leave over."""
    ranged: str
    """What was done about the range, in words."""


def planned(
    photo: str, mix: MixChoice, canvas: Canvas, values: int, count: int, paint: tuple[str, str], tell: Tell
) -> PhotoPlan:
    """Notes and strings for a photo. ``paint``: medium and finish, "" for the usual ones; ``tell`` is told what is done
    next and how far all of it is, 0..1. Raises OchreError for bad input."""
    if not 2 <= values <= 9:
        raise OchreError(f"{values} values are not possible: choose 2 to 9.")
    tell("opening the photo", 0.0)
    picture = load(photo)
    canvas = laid_as(canvas, picture.width, picture.height)
    document = Document(
        uid=uuid.uuid4().hex,
        title=one_line(Path(photo).stem, TITLE),
        reference=picture.name,
        canvas=canvas,
        masses=MassChoice(values=values),
        harmony=HarmonyChoice(),
        mix=mix,
    )
    document = with_paint(document, *paint)
    tell("taking notes", 0.05)
    found = suggest_notes(picture, count, document).notes
    document, rest = with_shares(picture, document.model_copy(update={"notes": found}))
    document, ranged = with_proposed_range(document)
    mixed = mix_strings(document, lambda share: tell("mixing", 0.35 + 0.3 * share))
    return PhotoPlan(picture, document.model_copy(update={"mixed": mixed}), rest, ranged)


def plan_photo(
    photo: str,
    mix: MixChoice,
    canvas: Canvas,
    values: int,
    count: int,
    folder: Path,
    paint: tuple[str, str] = ("", ""),
    tell: Tell = lambda words, share: None,
) -> dict[str, Any]:
    """Notes, masses, strings, the block-in and the sheet for a photo; writes plan.ochre, sheet.pdf, recipes.csv,
    palette.gpl, block-in.png and plan.json. ``paint`` and ``tell`` as of :func:`planned`.

    Raises OchreError for bad input or a folder that cannot be written.
    """
    made = planned(photo, mix, canvas, values, count, paint, tell)
    picture, document, rest, ranged = made.picture, made.document, made.rest, made.ranged
    tell("making masses", 0.65)
    sheet = make_sheet(picture, document, fine_masses(picture, document), date.today().isoformat())
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise OchreError(f"The folder '{folder}' cannot be made ({error.strerror}): choose another one.") from None
    data = sheet_json(sheet) | {"left_over": {"mean": round(rest.mean, 3), "p95": round(rest.p95, 3)}}
    data |= {"range": document.masses.range.model_dump() | {"words": ranged}}
    tell("laying in", 0.8)
    laid = block_in(picture, document)
    if laid is not None:
        data |= {"block_in": block_in_json(laid, document)}
        for pile in (p for s in data["strings"] for p in s["piles"]):
            pile["share"] = data["block_in"]["shares"][pile["id"]]
    tell("writing", 0.85)
    save(folder / "plan.ochre", document, picture)
    if laid is not None:
        write_bytes(folder / "block-in.png", block_in_png(laid))
    write_bytes(folder / "sheet.pdf", sheet_pdf(sheet))
    write_bytes(folder / "recipes.csv", recipes_csv(sheet).encode())
    write_bytes(folder / "palette.gpl", palette_gpl(sheet).encode())
    write_bytes(folder / "plan.json", (json.dumps(data, ensure_ascii=False, indent=1) + "\n").encode())
    tell("", 1.0)
    names = ("plan.ochre", "sheet.pdf", "recipes.csv", "palette.gpl", "block-in.png", "plan.json")
    return data | {"files": [str(folder / n) for n in names if (folder / n).exists()]}


def block_in_file(
    path: str,
    mix: MixChoice | None,
    piles: int | None,
    count: int,
    out: Path,
    width: int,
    canvas: Canvas | None = None,
    lines_only: bool = False,
    tell: Tell = lambda words, share: None,
) -> dict[str, Any]:
    """The block-in of a photo or a project, written to ``out`` as PNG, SVG or PDF, see
    :func:`blockoutlines.block_in_bytes`. ``mix``: whose palette is taken; None for the project's own, or the usual one;
    ``piles``: how many, None as the project has it; ``canvas``: another than the project's.

    Raises OchreError for bad input, or where there is no pile.
    """
    if Path(path).suffix.lower() == ".ochre":
        project = open_project(path)
        if project.picture is None:
            raise OchreError(f"'{Path(path).name}' holds no picture: there is nothing to lay in.")
        picture, document = project.picture, project.document
        asked = document.mix
        if mix is not None:
            asked = asked.model_copy(update={"palette": mix.palette, "laid": mix.laid})
        if piles is not None:
            asked = asked.model_copy(update={"piles": piles})
        if asked != document.mix or not is_current(document):
            document = document.model_copy(update={"mix": asked})
            mixed = mix_strings(document, lambda share: tell("mixing", 0.2 + 0.5 * share))
            document = document.model_copy(update={"mixed": mixed})
    else:
        asked = (mix or MixChoice()).model_copy(update={"piles": piles or 0})
        made = planned(path, asked, canvas or Canvas(), 4, count, ("", ""), tell)
        picture, document = made.picture, made.document
    tell("laying in", 0.8)
    laid = block_in(picture, document)
    if laid is None:
        raise OchreError(f"'{Path(path).name}' has no pile to lay in: take notes first.")
    h, w = laid.labels.shape
    size = laid_as(canvas, w, h) if canvas is not None else document.canvas
    title = one_line(Path(path).stem)
    write_bytes(out, block_in_bytes(laid, out.suffix.lower().lstrip("."), size, title, width, lines_only))
    tell("", 1.0)
    return block_in_json(laid, document) | {"palette": document.mix.palette, "file": str(out)}
