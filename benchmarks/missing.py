"""What a plan gains from the three notes that its list of what is missing names first: on the demo, on photographs that
scikit-image and scikit-learn carry, and on two parts of them. Beside it the same number of notes more, suggested anew.

python -m benchmarks.missing
"""

import numpy as np
from PIL import Image

from ochre_stone.core.document.document import Document, MixChoice
from ochre_stone.core.picture.load import load, load_bytes
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.planning.blockin import LaidIn, block_in
from ochre_stone.core.planning.lacking import lacking, note_of_lacking
from ochre_stone.core.planning.noting import with_shares
from ochre_stone.core.planning.planning import mix_strings
from ochre_stone.core.planning.suggesting import suggest_notes
from tests.support.cases import PHOTOS, cases, with_strings
from tests.support.made import encoded

_NOTES, _MORE = 12, 3
_HEAD, _HALF = (120, 0, 340, 260), (0, 0, 320, 427)
"""Left, top, right, bottom of the portrait's head and of the building's left half, in pixels."""


def _part(path: object, box: tuple[int, int, int, int]) -> Picture:
    return load_bytes(encoded(np.asarray(Image.open(str(path)).convert("RGB").crop(box))), "part.png")


def _noted(picture: Picture, count: int) -> Document:
    document = Document(reference=picture.name, mix=MixChoice(palette="portrait-ten"))
    notes = suggest_notes(picture, count, document).notes
    return with_shares(picture, document.model_copy(update={"notes": notes}))[0]


def _planned(document: Document) -> Document:
    return document.model_copy(update={"mixed": mix_strings(document)})


def pictures() -> list[tuple[str, Picture, Document]]:
    """Ten pictures with their plans."""
    out = [(name, picture, with_strings(name)) for name, picture, _ in cases()]
    folder = PHOTOS["portrait"].parent
    more = {
        "rocket": load(folder / "rocket.jpg"),
        "workshop": load(folder / "motorcycle_left.png"),
        "head": _part(PHOTOS["portrait"], _HEAD),
        "half": _part(PHOTOS["building"], _HALF),
    }
    return out + [(name, picture, _planned(_noted(picture, _NOTES))) for name, picture in more.items()]


def with_missing(picture: Picture, document: Document, laid: LaidIn) -> Document:
    """The plan with the first notes of its list."""
    for one in lacking(picture, document, laid).found[:_MORE]:
        document = document.with_note(note_of_lacking(picture, document, one))
    return _planned(document)


def main() -> None:
    print(
        "picture      piles  mean   p95 | with what is missing: piles  mean   p95 | suggested anew: piles  mean   p95"
    )
    rows = []
    for name, picture, document in pictures():
        before = block_in(picture, document)
        assert before is not None
        after = block_in(picture, with_missing(picture, document, before))
        anew = block_in(picture, _planned(_noted(picture, len(document.notes) + _MORE)))
        assert after is not None and anew is not None
        said = [f"{f.piles:5d} {f.off:5.2f} {f.worst:5.1f}" for f in (before.figures, after.figures, anew.figures)]
        print(f"{name:11s} {said[0]} | {said[1]:>39s} | {said[2]:>33s}", flush=True)
        rows.append([(f.off, f.worst) for f in (before.figures, after.figures, anew.figures)])
    figures = np.array(rows)
    fall = figures[:, :1] - figures[:, 1:]
    lower = (fall[:, 0, 1] > 0).sum()
    print(
        f"what is missing lowers the 95 % on {lower} of {len(rows)}; mean fall {fall[:, 0, 0].mean():.2f} of the mean, "
        f"{fall[:, 0, 1].mean():.2f} of the 95 %; suggested anew {fall[:, 1, 0].mean():.2f} and "
        f"{fall[:, 1, 1].mean():.2f}"
    )


if __name__ == "__main__":
    main()
