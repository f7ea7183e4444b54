"""Pack resources/demo/orchard-keeper.ochre from the picture and the project beside it, where it is not up to date.

The repository keeps the two apart, so that a new plan does not bring the picture along again. Standard library alone:
this runs before anything is installed.
"""

import zipfile
from pathlib import Path

DEMO = Path(__file__).parents[1] / "src" / "ochre_stone" / "resources" / "demo"
PACKED = DEMO / "orchard-keeper.ochre"
MEMBERS = {
    "project.json": DEMO / "orchard-keeper.json",
    "reference/orchard_keeper.png": DEMO / "orchard_keeper.png",
    "preview.png": DEMO / "preview.png",
}


def pack() -> bool:
    """Write the demo project; whether there was something to do."""
    newest = max(part.stat().st_mtime for part in MEMBERS.values())
    if PACKED.exists() and PACKED.stat().st_mtime >= newest:
        return False
    fresh = PACKED.with_suffix(".new")
    with zipfile.ZipFile(fresh, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, part in MEMBERS.items():
            kind = zipfile.ZIP_STORED if part.suffix == ".png" else zipfile.ZIP_DEFLATED
            archive.writestr(zipfile.ZipInfo(name, (2026, 1, 1, 0, 0, 0)), part.read_bytes(), kind)
    fresh.replace(PACKED)
    return True


if __name__ == "__main__":
    pack()
