"""Write resources/demo/orchard-keeper.json: the made-up picture with made-up notes, a scheme, a palette and strings.

Positions were chosen by eye on the picture; colours, spreads and shares are sampled, strings worked out, by the
program itself.
"""

from ochre_stone.core.document.choices import HarmonyChoice, MassChoice
from ochre_stone.core.document.document import Canvas, Document, MixChoice
from ochre_stone.core.harmony.schemes import fit, hue_weights
from ochre_stone.core.picture.load import load
from ochre_stone.core.planning.noting import read_note, with_shares
from ochre_stone.core.planning.planning import mix_strings
from ochre_stone.core.store.files import preview
from ochre_stone.logbook.demo import DEMO
from ochre_stone.resources import resource
from tools.pack_demo import pack

NOTES = (
    ("chest in the sun", 954, 706, 15, "skin", "light"),
    ("cheek in the sun", 847, 416, 9, "skin", "light"),
    ("cheek turning", 869, 391, 7, "skin", "halftone"),
    ("face in hat shade", 907, 302, 15, "skin", "core shadow"),
    ("far trees, sunny", 756, 542, 9, "foliage", "light"),
    ("orchard leaves", 416, 554, 9, "foliage", "halftone"),
    ("leaves in shade", 328, 592, 13, "foliage", "core shadow"),
    ("sky overhead", 1008, 25, 31, "sky", "halftone"),
    ("sky at the hills", 605, 328, 31, "sky", "light"),
    ("wall in leaf shade", 1550, 529, 25, "wall", "cast shadow"),
    ("quince's shadow", 1300, 1112, 9, "wall", "cast shadow"),
    ("sleeve fold", 743, 882, 9, "cloth", "dark accent"),
    ("shirt in the sun", 1008, 819, 21, "cloth", "light"),
    ("shirt in shade", 1335, 920, 15, "cloth", "core shadow"),
    ("wall in the sun", 1209, 529, 31, "wall", "light"),
    ("quince in the sun", 1172, 1046, 11, "fruit", "light"),
    ("straw hat", 882, 151, 15, "other", "light"),
    ("dry grass", 252, 806, 31, "ground", "halftone"),
)
DISTANCES = {"far trees, sunny": "far", "orchard leaves": "middle", "leaves in shade": "near", "dry grass": "near"}


def main() -> None:
    picture = load(resource("demo", "orchard_keeper.png"))
    document = Document(
        uid=DEMO,
        title="The orchard keeper",
        reference=picture.name,
        masses=MassChoice(values=5),
        mix=MixChoice(palette="portrait-ten", step=3.0),
        canvas=Canvas(width=16, height=12, unit="in"),
    )
    for name, x, y, aperture, subject, role in NOTES:
        note = read_note(picture, document, x, y, aperture)
        document = document.with_note(
            note.model_copy(
                update={"name": name, "subject": subject, "role": role, "distance": DISTANCES.get(name, "")}
            )
        )
    document, rest = with_shares(picture, document)
    ranked = fit(hue_weights([n.lab for n in document.notes], [n.share for n in document.notes], "traditional"))
    best = next(s for s in ranked if s.name != "none")
    chosen = HarmonyChoice(scheme=best.name, rotation=best.rotation, amount=0.3)
    document = document.model_copy(update={"harmony": chosen})
    document = document.model_copy(update={"mixed": mix_strings(document)})
    path = resource("demo", "orchard-keeper.json")
    path.write_text(document.model_dump_json(indent=1) + "\n", encoding="utf-8")
    resource("demo", "preview.png").write_bytes(preview(document, picture))
    pack()
    print(f"{path}: {len(document.notes)} notes, {best.title} explains {best.explained:.0%}, left over {rest}")


if __name__ == "__main__":
    main()
