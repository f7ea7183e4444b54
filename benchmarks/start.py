"""What it takes, in processor time, until the window can be used and until a shell command has answered.

python -m benchmarks.start [ROUNDS]

Each is a process of its own, bytecode compiled before, and is set against one that only loads what it stands on: the
toolkit with NumPy and an empty window, or Python with NumPy. Of all rounds the median is told, and its ratio.
"""

import os
import statistics
import subprocess
import sys
import tempfile

TOOLKIT = """
import numpy
from PyQt6.QtWidgets import QApplication, QMainWindow
app = QApplication([])
window = QMainWindow()
window.show()
app.processEvents()
"""
WINDOW = """
import gc
gc.disable()  # as the program does until the window is seen
from PyQt6.QtCore import QEvent, QObject
from ochre_stone.desktop.app import open_window

class Painted(QObject):
    seen = False

    def eventFilter(self, watched, event):
        self.seen = self.seen or event.type() == QEvent.Type.Paint
        return False

app, window = open_window()
painted = Painted()
window.stage.right.installEventFilter(painted)
while not painted.seen:
    app.processEvents()
"""
NUMPY = "import numpy"
COMMANDS = {
    "paints": ["paints", "--json"],
    "palettes": ["palettes", "--json"],
    "predict": ["predict", "titanium-white:4 yellow-ochre:2", "--json"],
    "predict --medium": ["predict", "titanium-white:4 yellow-ochre:2", "--medium", "gouache", "--json"],
    "log list": ["log", "list", "--json"],
    "mix": ["mix", "lab 62 14 22", "--palette", "four-tube-earth", "--json"],
}
_END = """
import os, resource
used = resource.getrusage(resource.RUSAGE_SELF)
print("took", used.ru_utime + used.ru_stime)
os._exit(0)
"""


def took(code: str, home: str, arguments: tuple[str, ...] = ()) -> float:
    """Processor seconds of a fresh Python that runs ``code`` and then ends at once."""
    kept = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}
    environment = kept | {"QT_QPA_PLATFORM": "offscreen", "HOME": home, "OPENBLAS_NUM_THREADS": "1"}
    done = subprocess.run(
        [sys.executable, "-c", code + _END, *arguments], env=environment, capture_output=True, text=True, check=True
    )
    return float(done.stdout.rsplit("took ", 1)[1])


def command(arguments: list[str]) -> str:
    """Code that runs a shell command in this process."""
    lines = (
        "import sys",
        f"sys.argv = ['ochre-stone', *{arguments!r}]",
        "from ochre_stone.cli import program",
        "program.main(standalone_mode=False)",
    )
    return "\n".join(lines)


def row(what: str, ours: list[float], theirs: list[float], against: str) -> None:
    """One line of the report."""
    ratio = statistics.median(ours) / statistics.median(theirs)
    print(f"{what:24s} {statistics.median(ours):6.2f} s   {ratio:5.2f} of {against}")


def main() -> None:
    rounds = int(sys.argv[1]) if len(sys.argv) > 1 else 7
    with tempfile.TemporaryDirectory() as home:
        took(WINDOW, home)  # compiled, and read once
        pairs = [(took(WINDOW, home), took(TOOLKIT, home)) for _ in range(rounds)]
        row("a usable window", [a for a, _ in pairs], [b for _, b in pairs], "toolkit and NumPy")
        for name, arguments in COMMANDS.items():
            code = command(arguments)
            took(code, home)
            pairs = [(took(code, home), took(NUMPY, home)) for _ in range(rounds)]
            row(name, [a for a, _ in pairs], [b for _, b in pairs], "Python and NumPy")


if __name__ == "__main__":
    main()
