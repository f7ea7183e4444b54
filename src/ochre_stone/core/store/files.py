"""Read and write ``*.ochre``: a ZIP of project.json, the reference byte for byte, and a preview.

Written whole or not at all. Reading trusts nothing: sizes are checked before anything is unpacked, names are never
used as paths, every field is validated; whatever is wrong raises OchreError with one sentence and changes nothing.
"""

import hashlib
import io
import json
import struct
import zipfile
import zlib
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from typing import Any

from ochre_stone.core.document.document import FORMAT_VERSION, Document
from ochre_stone.core.document.older import brought_up
from ochre_stone.core.errors import OchreError
from ochre_stone.core.later import later
from ochre_stone.core.picture.load import load_bytes
from ochre_stone.core.picture.picture import Picture, linear_to_code
from ochre_stone.core.picture.reading import open_regular
from ochre_stone.core.store.atomic import write_bytes
from ochre_stone.core.store.checking import read_model

Image = later("PIL.Image")

SUFFIX = ".ochre"
_MOST_JSON = 16_000_000
_MOST_REFERENCE = 600_000_000
_MOST_MEMBERS = 16
_MOST_FILE = _MOST_REFERENCE + 50_000_000


@dataclass(frozen=True, eq=False)
class Project:
    """A document and its picture (None before one is opened)."""

    document: Document
    picture: Picture | None


def save(path: str | Path, document: Document, picture: Picture | None) -> None:
    """Write a project. Raises OchreError when the file cannot be written; an older file is then left as it was."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("project.json", document.model_dump_json(indent=1) + "\n")
        if picture is not None:
            archive.writestr(f"reference/{document.reference}", picture.source, zipfile.ZIP_STORED)
            archive.writestr("preview.png", preview(document, picture), zipfile.ZIP_STORED)
    write_bytes(path, out.getvalue())


def preview(document: Document, picture: Picture) -> bytes:
    """A small PNG of the picture through the frame and in the chosen light."""
    small = document.seen(picture, 60_000)
    out = io.BytesIO()
    Image.fromarray(linear_to_code(small)).save(out, "PNG")
    return out.getvalue()


def open_project(path: str | Path) -> Project:
    """Read a project. Raises OchreError when the file is missing, damaged, hostile or from a newer version."""
    path = Path(path)
    name = path.name
    try:
        with open_regular(path, _MOST_FILE) as file, zipfile.ZipFile(file) as archive:
            members = {i.filename: i for i in archive.infolist()}
            if len(members) > _MOST_MEMBERS:
                raise OchreError(f"'{name}' holds more files than a project does: it was not made by Ochre Stone.")
            told = _read(archive, members, "project.json", _MOST_JSON, name)
            document = read_document(told, name)
            if not document.uid:  # the same in every window, for the log
                uid = hashlib.sha256(told).hexdigest()[:32]
                document = document.model_copy(update={"uid": uid})
            picture = None
            if document.reference:
                data = _read(archive, members, f"reference/{document.reference}", _MOST_REFERENCE, name)
                picture = load_bytes(data, document.reference)
    except OchreError:
        raise
    except FileNotFoundError:
        raise OchreError(f"There is no file '{path}': check the name and the folder.") from None
    except IsADirectoryError:
        raise OchreError(f"'{path}' is a folder: choose a project file in it.") from None
    except (zipfile.BadZipFile, zlib.error, EOFError, RuntimeError, ValueError, OverflowError, struct.error):
        raise OchreError(f"'{name}' is damaged or no project: go back to an older copy of it.") from None
    except OSError as error:
        raise OchreError(f"'{name}' cannot be read ({error.strerror or 'damaged'}): check the file.") from None
    return checked(document, picture, name)


def checked(document: Document, picture: Picture | None, name: str) -> Project:
    """The project, where everything in it lies inside its picture; else OchreError, naming what does not."""
    if picture is not None:
        w, h = picture.width, picture.height
        if not document.frame.lies_in(w, h):
            raise OchreError(f"'{name}': the frame lies outside the picture; the file is damaged.")
        outside = [
            n
            for n in document.notes
            if (n.place is not None and (n.place[0] >= w or n.place[1] >= h))
            or any(not (0 <= x <= w and 0 <= y <= h) for x, y in n.area)
        ]
        if outside:
            raise OchreError(f"'{name}': the note '{outside[0].name}' lies outside the picture; the file is damaged.")
        masses = document.masses
        places = [p for a in (*masses.focus, *masses.painted) for p in a.points]
        places += [(b.x, b.y) for b in masses.blends]
        if any(not (0 <= x <= w and 0 <= y <= h) for x, y in places):
            raise OchreError(f"'{name}': an area of the masses lies outside the picture; the file is damaged.")
    return Project(document, picture)


def _read(archive: zipfile.ZipFile, members: dict[str, zipfile.ZipInfo], member: str, most: int, name: str) -> bytes:
    info = members.get(member)
    if info is None:
        raise OchreError(f"'{name}' lacks {member}: it is damaged or no project; go back to an older copy.")
    if info.file_size > most:
        raise OchreError(
            f"'{name}': {member} claims {info.file_size / 1e6:.0f} MB, which no project has; it was not opened."
        )
    with archive.open(info) as file:
        data = file.read(most + 1)  # a lying header cannot make this larger
    if len(data) > most:
        raise OchreError(f"'{name}': {member} is larger than it says; it was not opened.")
    return data


def read_document(data: bytes, name: str) -> Document:
    """The document in the bytes of a project.json of this or an older version. Raises OchreError."""
    try:
        raw: Any = json.loads(data)
    except (ValueError, RecursionError):
        raise OchreError(f"'{name}': project.json is damaged; go back to an older copy of the project.") from None
    if not isinstance(raw, dict):
        raise OchreError(f"'{name}': project.json is not a project; go back to an older copy.")
    version = raw.get("version")
    if isinstance(version, int) and version > FORMAT_VERSION:
        raise OchreError(
            f"'{name}' was saved by a newer Ochre Stone (format {version}): update the program to open it."
        )
    if isinstance(version, int) and version in range(1, FORMAT_VERSION):
        data = json.dumps(brought_up(raw, version)).encode()
    try:
        document = read_model(Document, data)
    except ValueError as error:
        raise OchreError(f"'{name}': {error}; the file was not opened.") from None
    if document.reference != PurePosixPath(document.reference).name or document.reference in (".", ".."):
        raise OchreError(
            f"'{name}': the reference's name '{document.reference}' is no plain file name; it was not opened."
        )
    return document
