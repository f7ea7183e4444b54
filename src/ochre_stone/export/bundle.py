"""The whole way from a photo to a folder of files, as ``ochre-stone plan`` goes it."""

import json
import re
import uuid
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ochre_stone.core.document.choices import HarmonyChoice, MassChoice
from ochre_stone.core.document.document import TITLE, Canvas, Document, MixChoice
from ochre_stone.core.errors import OchreError, one_line
from ochre_stone.core.picture.load import load
from ochre_stone.core.planning.drying import with_paint
from ochre_stone.core.planning.massing import fine_masses
from ochre_stone.core.planning.noting import with_shares
from ochre_stone.core.planning.planning import make_sheet, mix_strings
from ochre_stone.core.planning.ranging import with_proposed_range
from ochre_stone.core.planning.suggesting import suggest_notes
from ochre_stone.core.store.atomic import write_bytes
from ochre_stone.core.store.files import save
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


def plan_photo(
    photo: str,
    mix: MixChoice,
    canvas: Canvas,
    values: int,
    count: int,
    folder: Path,
    paint: tuple[str, str] = ("", ""),
    tell: Callable[[str, float], None] = lambda words, share: None,
) -> dict[str, Any]:
    """Notes, masses, strings and the sheet for a photo; writes plan.ochre, sheet.pdf, recipes.csv, palette.gpl and
    plan.json. ``paint``: medium and finish, "" for the usual ones; ``tell`` is told what is done next and how far all
    of it is, 0..1.

    Raises OchreError for bad input or a folder that cannot be written.
    """
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
    document = document.model_copy(update={"mixed": mixed})
    tell("making masses", 0.65)
    sheet = make_sheet(picture, document, fine_masses(picture, document), date.today().isoformat())
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise OchreError(f"The folder '{folder}' cannot be made ({error.strerror}): choose another one.") from None
    tell("writing", 0.85)
    data = sheet_json(sheet) | {"left_over": {"mean": round(rest.mean, 3), "p95": round(rest.p95, 3)}}
    data |= {"range": document.masses.range.model_dump() | {"words": ranged}}
    save(folder / "plan.ochre", document, picture)
    write_bytes(folder / "sheet.pdf", sheet_pdf(sheet))
    write_bytes(folder / "recipes.csv", recipes_csv(sheet).encode())
    write_bytes(folder / "palette.gpl", palette_gpl(sheet).encode())
    write_bytes(folder / "plan.json", (json.dumps(data, ensure_ascii=False, indent=1) + "\n").encode())
    tell("", 1.0)
    names = ("plan.ochre", "sheet.pdf", "recipes.csv", "palette.gpl", "plan.json")
    return data | {"files": [str(folder / n) for n in names]}
