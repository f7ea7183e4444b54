"""Small files that would unpack to gigabytes: one sentence, in little memory."""

import json
import subprocess
import sys
import tempfile
import unittest
import zipfile
from pathlib import Path

from ochre_stone.core.document.document import Document
from ochre_stone.core.paint.box import PaintBox
from ochre_stone.core.store.files import open_project
from ochre_stone.logbook.exchange import Exchanged
from ochre_stone.resources import resource

MOST_MB = 600
_OPENER = """
import json, sys
from pathlib import Path
from ochre_stone.core.errors import OchreError
from ochre_stone.core.store import boxfile, files
from ochre_stone.logbook import exchange
from ochre_stone.logbook.book import Book
path = Path(sys.argv[1])
said = ""
try:
    if path.suffix == ".ochre":
        files.open_project(path)
    elif path.name.startswith("box"):
        boxfile.load_box(path)
    else:
        with Book.in_memory() as book:
            exchange.load_log(book, path)
except OchreError as error:
    said = str(error)
peak = next(line.split()[1] for line in open("/proc/self/status") if line.startswith("VmHWM:"))
print(json.dumps([said, int(peak) / 1024]))  # of this program alone, not of what started it
"""
MANY = 4_000_000


class Bombs(unittest.TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)

    def project(self, data: str) -> Path:
        path = self.folder / "bomb.ochre"
        with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("project.json", data)
        return path

    def opened(self, path: Path) -> str:
        """What is said of a file, once it is seen that it took little memory."""
        ran = subprocess.run([sys.executable, "-c", _OPENER, str(path)], capture_output=True, text=True, check=True)
        said, peak = json.loads(ran.stdout)
        self.assertLess(len(said), 400)
        self.assertLess(peak, MOST_MB)
        return str(said)

    def test_a_project_of_millions_of_zeros(self) -> None:
        whole = json.loads(open_project(resource("demo", "orchard-keeper.ochre")).document.model_dump_json())
        whole["mixed"]["tweaks"] = 0
        zeros = json.dumps(whole).replace('"tweaks": 0', '"tweaks": [' + "0," * MANY + "0]")
        path = self.project(zeros)
        self.assertLess(path.stat().st_size, 400_000)
        self.assertRegex(self.opened(path), "bomb.ochre.*mixed.tweaks")

    def test_a_box_and_a_log_of_them(self) -> None:
        box, log = self.folder / "box.json", self.folder / "log.json"
        box.write_text('{"tubes": [' + "0," * 1_000_000 + "0]}")
        self.assertIn("tubes", self.opened(box))
        log.write_text('{"format": "ochre-stone-log", "piles": [' + "0," * 1_000_000 + "0]}")
        self.assertIn("piles", self.opened(log))

    def test_names_without_end(self) -> None:
        strange = ",".join(f'"n{i}":0' for i in range(1_000_000))
        said = self.opened(self.project('{"title": "x",' + strange + "}"))
        self.assertIn("n0 and thousands more are no fields", said)

    def test_every_list_and_table_of_files_has_a_limit(self) -> None:
        def endless(part: object, where: str) -> list[str]:
            found = []
            if isinstance(part, dict):
                table = isinstance(part.get("additionalProperties"), dict)
                if (part.get("type") == "array" and "maxItems" not in part) or (table and "maxProperties" not in part):
                    found.append(where)
                for key, held in part.items():
                    found += endless(held, f"{where}.{key}")
            elif isinstance(part, list):
                for held in part:
                    found += endless(held, where)
            return found

        for model in (Document, PaintBox, Exchanged):
            self.assertEqual(endless(model.model_json_schema(), ""), [], model.__name__)


if __name__ == "__main__":
    unittest.main()
