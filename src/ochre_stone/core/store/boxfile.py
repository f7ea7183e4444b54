"""The paint box on disk: JSON under the XDG data folder, and CSV or JSON for moving tubes about."""

import contextlib
from collections.abc import Sequence
from pathlib import Path
from typing import Any, TypeVar

from platformdirs import user_data_path
from pydantic import ValidationError

from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint import tabled
from ochre_stone.core.paint.box import OwnPalette, OwnTube, PaintBox, PigmentPart
from ochre_stone.core.paint.tubes import all_tubes
from ochre_stone.core.paint.writing import parts_of
from ochre_stone.core.picture.reading import read_bytes
from ochre_stone.core.store import locking
from ochre_stone.core.store.atomic import write_bytes
from ochre_stone.core.store.checking import first_fault, read_model

_MOST = 20_000_000
_MOST_PIGMENTS, _MOST_PARTS = 6, 1000
_MOST_LINES = 5000
OwnThing = TypeVar("OwnThing", OwnTube, OwnPalette)
COLUMNS = ("name", "pigments", "medium", "size_ml", "stock_ml", "price", "opened", "remark", "archived")


def box_file() -> Path:
    """Where the painter's box lies."""
    return user_data_path("ochre-stone") / "paintbox.json"


def load_box(path: Path | None = None) -> PaintBox:
    """The box; an empty one where none was saved yet. Raises OchreError for a damaged one, which stays as it is."""
    path = path or box_file()
    try:
        data = read_bytes(path, _MOST)
    except FileNotFoundError:
        return PaintBox()
    except OSError as error:
        raise OchreError(f"The paint box '{path}' cannot be read ({error.strerror}): check the file.") from None
    return _checked(data, str(path))


def save_box(box: PaintBox, path: Path | None = None) -> None:
    """Save the box whole or not at all. Raises OchreError where that is not possible."""
    path = path or box_file()
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise OchreError(f"The folder '{path.parent}' cannot be made ({error.strerror}): check the disk.") from None
    write_bytes(path, box.model_dump_json(indent=1).encode())


def change_box(before: PaintBox, after: PaintBox, path: Path | None = None) -> PaintBox:
    """Make the change from ``before`` to ``after`` in the box as it is on disk by now, and give that.

    Several windows may run: the file is read anew and written under a lock, and what others changed meanwhile stays.
    Where both changed the same tube or palette, this change holds. A damaged file is moved aside as ``.damaged``.
    Raises OchreError where nothing could be written.
    """
    path = path or box_file()
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise OchreError(f"The folder '{path.parent}' cannot be made ({error.strerror}): check the disk.") from None
    with locking.lock_held(path):
        try:
            now = load_box(path)
        except OchreError:
            with contextlib.suppress(OSError):
                path.replace(path.with_suffix(".json.damaged"))
            now = before
        made = merged_boxes(before, after, now)
        save_box(made, path)
    return made


def merged_boxes(before: PaintBox, after: PaintBox, now: PaintBox) -> PaintBox:
    """``now`` with the tubes and palettes that differ between ``before`` and ``after`` put in, changed or removed.

    A tube that a palette of somebody else's holds by now is not removed.
    """
    if now == before:
        return after
    palettes = _merged(before.palettes, after.palettes, now.palettes)
    tubes = _merged(before.tubes, after.tubes, now.tubes)
    there = {t.id for t in tubes}
    held = {i for p in palettes for i in p.paints}
    spare = {t.id: t for t in (*before.tubes, *now.tubes)}
    tubes += tuple(t for i, t in spare.items() if i in held and i not in there)
    return now.replaced({"tubes": tubes, "palettes": palettes})


def _merged(before: Sequence[OwnThing], after: Sequence[OwnThing], now: Sequence[OwnThing]) -> tuple[OwnThing, ...]:
    old: dict[str, OwnThing] = {t.id: t for t in before}
    new: dict[str, OwnThing] = {t.id: t for t in after}
    out: dict[str, OwnThing] = {t.id: t for t in now}
    for i, t in new.items():
        if t != old.get(i):
            out[i] = t
    for i in old:
        if i not in new:
            out.pop(i, None)
    if list(new) == list(old) or set(new) != set(old):
        return tuple(out.values())
    in_order = [*(i for i in new if i in out), *(i for i in out if i not in new)]  # only their order is another
    return tuple(out[i] for i in in_order)


def _checked(data: bytes, name: str) -> PaintBox:
    try:
        return read_model(PaintBox, data)
    except ValueError as error:
        raise OchreError(f"'{name}': {error}; nothing was taken from it.") from None


def tubes_csv(box: PaintBox) -> str:
    """The tubes as CSV: pigments as "ultramarine-blue:3 ivory-black:2", parts by volume. Calibrations are left out:
    JSON carries them."""
    table: list[Sequence[object]] = [COLUMNS]
    for t in box.tubes:
        pigments = " ".join(f"{p.pigment}:{p.parts:g}" for p in t.parts)
        sizes = (f"{t.size_ml:g}", f"{t.stock_ml:g}", f"{t.price:g}")
        table.append((t.name, pigments, t.medium, *sizes, t.opened, t.remark, "yes" if t.archived else ""))
    return tabled.as_text(table)


def box_json(box: PaintBox) -> str:
    """Everything, calibrations and palettes too."""
    return box.model_dump_json(indent=1) + "\n"


def imported(data: bytes, name: str, box: PaintBox) -> tuple[PaintBox, int]:
    """The box with the tubes (and from JSON the palettes) of a file added, and how many tubes came.

    Tubes get ids of their own; nothing that is there is changed. Raises OchreError, naming file, line and field.
    """
    if len(data) > _MOST:
        raise OchreError(f"'{name}' is far larger than any paint box: check the file.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise OchreError(f"'{name}' is no text: a paint box comes as CSV or JSON.") from None
    if text.lstrip().startswith("{"):
        return _from_json(text, name, box)
    return _from_csv(text, name, box)


def _from_json(text: str, name: str, box: PaintBox) -> tuple[PaintBox, int]:
    came = _checked(text.encode(), name)
    try:
        return _joined(box, came), len(came.tubes)
    except ValidationError as error:
        raise OchreError(f"'{name}': {first_fault(error)}; nothing was taken from it.") from None


def _joined(box: PaintBox, came: PaintBox) -> PaintBox:
    renamed: dict[str, str] = {}
    for t in came.tubes:
        renamed[t.id] = box.fresh_id(t.name)
        box = box.with_tube(t.model_copy(update={"id": renamed[t.id]}))
    for p in came.palettes:
        paints = tuple(renamed.get(i, i) for i in p.paints)
        box = box.with_palette(p.model_copy(update={"id": box.fresh_id(p.name), "paints": paints}))
    return box


def _from_csv(text: str, name: str, box: PaintBox) -> tuple[PaintBox, int]:
    head = tabled.lines(text).split("\n", 1)[0]
    mark = ";" if head.count(";") > 1 else ","
    if not {"name", "pigments"} <= {f.strip(' "') for f in head.split(mark)}:
        raise OchreError(f"'{name}' has no columns 'name' and 'pigments': a CSV of tubes begins with a line of them.")
    count = 0
    for line, raw in enumerate(tabled.rows(text, name, mark, _MOST_LINES), 2):
        row = {(k or "").strip(): (v or "").strip() if isinstance(v, str) else "" for k, v in raw.items()}
        if not any(row.values()):
            continue
        fields: dict[str, Any] = {"id": box.fresh_id(row["name"] or "tube"), "name": row["name"]}
        try:
            fields["parts"] = parse_pigments(row["pigments"])
        except OchreError as error:
            raise OchreError(f"'{name}', line {line}: {error}") from None
        for f in ("size_ml", "stock_ml", "price"):
            if row.get(f):
                fields[f] = row[f].replace(",", ".")
        for f in ("medium", "opened", "remark"):
            if row.get(f):
                fields[f] = row[f]
        fields["archived"] = row.get("archived", "").lower() in ("yes", "true", "1", "x")
        try:
            box = box.with_tube(OwnTube(**fields))
        except ValidationError as error:
            words = f"'{name}', line '{line}': {first_fault(error)}; nothing was taken from it."
            raise OchreError(words) from None
        count += 1
    if not count:
        raise OchreError(f"'{name}' holds no tubes: one line for each, under the line of columns.")
    return box, count


def parse_pigments(text: str) -> tuple[PigmentPart, ...]:
    """Pigments from "ultramarine-blue:3 ivory-black:2"; a part where no number stands. Raises OchreError."""
    found = parts_of(text, "ultramarine-blue:3 ivory-black:2")
    unknown = [name for name in found if name not in all_tubes()]
    if unknown:
        raise OchreError(f"'{unknown[0]}' is no pigment: see 'ochre-stone paints' for the names.")
    if len(found) > _MOST_PIGMENTS:
        raise OchreError(f"{len(found)} pigments in one tube: at most {_MOST_PIGMENTS} can be kept.")
    if max(found.values()) > _MOST_PARTS:
        raise OchreError(f"More than {_MOST_PARTS} parts of one pigment: write them in smaller numbers.")
    return tuple(PigmentPart(pigment=name, parts=n) for name, n in found.items())


def read_import(path: str | Path, box: PaintBox) -> tuple[PaintBox, int]:
    """As :func:`imported`, from a file."""
    path = Path(path)
    try:
        data = read_bytes(path, _MOST)
    except OSError as error:
        raise OchreError(f"'{path}' cannot be read ({error.strerror}): check the name and the folder.") from None
    return imported(data, path.name, box)
