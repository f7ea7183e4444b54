"""What plans are measured on: the demo and five photographs that scikit-image and scikit-learn carry."""

import functools
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
            document = Document(title=name, reference=picture.name, mix=MixChoice(palette="portrait-ten"))
            notes = suggest_notes(picture, 12, document).notes
            out.append((name, picture, with_shares(picture, document.model_copy(update={"notes": notes}))[0]))
    return out


@functools.cache
def with_strings(name: str) -> Document:
    """One of them with its strings. Made once."""
    document = next(d for n, _, d in cases() if n == name)
    return document.model_copy(update={"mixed": mix_strings(document)})
