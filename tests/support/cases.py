"""What plans are measured on: the demo and five photographs that scikit-image and scikit-learn carry."""

import fcntl
import functools
import os
from collections.abc import Callable
from pathlib import Path

import skimage.data
import sklearn.datasets

from ochre_stone.core.document.document import Document, MixChoice
from ochre_stone.core.picture.load import load
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.planning.noting import with_shares
from ochre_stone.core.planning.planning import mix_strings
from ochre_stone.core.planning.suggesting import suggest_notes
from ochre_stone.core.store.files import open_project
from ochre_stone.resources import resource

_SKIMAGE, _SKLEARN = Path(skimage.data.__file__).parent, Path(sklearn.datasets.__file__).parent / "images"
SHARED = "OCHRE_STONE_TESTS_SHARED"
"""Names the folder in which workers leave for each other what is dear to make."""
PHOTOS = {
    "portrait": _SKIMAGE / "astronaut.png",
    "still life": _SKIMAGE / "coffee.png",
    "animal": _SKIMAGE / "chelsea.png",
    "building": _SKLEARN / "china.jpg",
    "flower": _SKLEARN / "flower.jpg",
}


@functools.cache
def cases() -> list[tuple[str, Picture, Document]]:
    """Name, picture and document, its notes suggested; the strings are not worked out. Made once."""
    project = open_project(resource("demo", "orchard-keeper.ochre"))
    assert project.picture is not None
    out = [("demo", project.picture, project.document)]
    for name, path in PHOTOS.items():
        if path.exists():
            picture = load(path)
            out.append(
                (name, picture, _shared(f"{name} noted", lambda name=name, picture=picture: _noted(name, picture)))
            )
    return out


def _noted(name: str, picture: Picture) -> Document:
    document = Document(title=name, reference=picture.name, mix=MixChoice(palette="portrait-ten"))
    notes = suggest_notes(picture, 12, document).notes
    return with_shares(picture, document.model_copy(update={"notes": notes}))[0]


def _shared(name: str, make: Callable[[], Document]) -> Document:
    """A document that one worker makes and the other reads, where both run tests; else made here."""
    folder = os.environ.get(SHARED)
    if folder is None:
        return make()
    kept = Path(folder) / f"{name}.json"
    with open(kept.with_suffix(".lock"), "w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not kept.exists():
            made = make()
            kept.write_text(made.model_dump_json(), encoding="utf-8")
            return made
    return Document.model_validate_json(kept.read_text(encoding="utf-8"))


@functools.cache
def with_strings(name: str) -> Document:
    """One of them with its strings. Made once."""
    document = next(d for n, _, d in cases() if n == name)
    return _shared(name, lambda: document.model_copy(update={"mixed": mix_strings(document)}))
