"""Palettes, and numbers of piles, tried on the picture in the background, to be chosen by looking."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.document.document import MixChoice
from ochre_stone.desktop.session.jobs import Report
from ochre_stone.desktop.session.palettes import Palettes
from ochre_stone.desktop.session.studio import Studio

if TYPE_CHECKING:
    from ochre_stone.core.planning.blockin import LaidIn
    from ochre_stone.core.planning.trying import Tried

Choosing = Literal["palettes", "numbers"]


_ACROSS = 900
"""Pixels across of a picture that is looked at large."""


def large_size(laid: "LaidIn") -> tuple[int, int]:
    """Width and height of a block-in that is looked at large."""
    h, w = laid.labels.shape
    return _ACROSS, max(1, round(_ACROSS * h / w))


@dataclass(frozen=True)
class Option:
    """One thing to choose."""

    key: str
    name: str
    mix: MixChoice


class Trying(QObject):
    """One is tried after another, the one that is looked at first; what was tried stays until something else that it
    hangs on is changed."""

    changed = pyqtSignal()
    """Another one was tried, or is being tried."""
    progress = pyqtSignal(float)

    def __init__(self, studio: Studio, palettes: Palettes) -> None:
        super().__init__(studio)
        self.studio, self.palettes = studio, palettes
        self.choosing: Choosing | None = None
        """What is looked at; None where nobody looks."""
        self.now: str = ""
        """Key of the option that is being tried."""
        self.looked_at = ""
        """Key of the option that is looked at."""
        self._tried: dict[MixChoice, Tried] = {}
        self._failed: dict[MixChoice, str] = {}
        """Why one cannot be mixed: told once, and not tried again and again."""
        self._of: object = None
        studio.changed.connect(lambda *_: self._go_on())
        studio.replaced.connect(self.forget)

    def forget(self) -> None:
        """Another project comes."""
        self._stop()
        self._tried.clear()
        self._failed.clear()
        self.looked_at, self._of = "", None

    def _stop(self) -> None:
        self.studio.jobs.cancel("try")
        self.now = ""

    # What there is

    def options(self) -> list[Option]:
        """What there is to choose from, what is chosen first."""
        mix = self.studio.document.mix
        if self.choosing == "palettes":
            out = []
            for name, palette_id, _ in self.palettes.choices():
                laid = self.palettes.keeper.box.laid(palette_id)
                fields = mix.model_dump() | {"palette": palette_id, "laid": laid.model_dump() if laid else None}
                own = mix if palette_id == mix.palette else MixChoice.model_validate(fields)
                out.append(Option(palette_id, name, own))
            if mix.palette not in [o.key for o in out]:
                out.append(Option(mix.palette, f"{mix.chosen().name} (this picture's)", mix))
            return sorted(out, key=lambda o: o.key != mix.palette)
        from ochre_stone.core.planning.trying import COUNTS

        few = [n for n in COUNTS if n < len(self.studio.document.notes)]
        counts = dict.fromkeys((*few, 0, mix.piles))
        named = sorted(counts, key=lambda n: n or 1000)
        words = {n: f"{n} piles" if n else "one on every note" for n in named}
        return [Option(str(n), words[n], mix.model_copy(update={"piles": n})) for n in named]

    def chosen(self) -> str:
        """Key of the option that the document has."""
        mix = self.studio.document.mix
        return mix.palette if self.choosing == "palettes" else str(mix.piles)

    def found(self, option: Option) -> "Tried | None":
        """What came of it; None as long as that is not known."""
        return self._tried.get(option.mix)

    def failed(self, option: Option) -> str:
        """Why it cannot be mixed; "" where it can, as far as is known."""
        return self._failed.get(option.mix, "")

    def alike_words(self) -> str:
        """Which palettes look as the chosen one does, once all were tried."""
        from ochre_stone.core.planning.trying import alike_words

        options = [o for o in self.options() if not self.failed(o)]
        laid = {o.name: t.laid for o in options if (t := self.found(o)) is not None and t.laid is not None}
        name = next((o.name for o in options if o.key == self.chosen()), "")
        return alike_words(laid, name) if len(laid) == len(options) and name in laid else ""

    # What is done

    def want(self, choosing: Choosing | None) -> None:
        """Look at palettes or at numbers of piles; None: nobody looks, and nothing is tried."""
        if choosing != self.choosing:
            self.choosing, self.looked_at = choosing, ""
            self._stop()
        self._go_on()

    def look_at(self, key: str) -> None:
        """Look at an option: it is tried next where it is not known."""
        if key == self.looked_at:
            return
        self.looked_at = key
        if self.now and self.now != key and any(o.key == key and self.found(o) is None for o in self.options()):
            self._stop()
        self._go_on()
        self.changed.emit()

    def take(self, key: str) -> None:
        """Choose an option for the picture; its strings are there already where it was tried."""
        option = next((o for o in self.options() if o.key == key), None)
        if option is None or key == self.chosen():
            return
        found = self.found(option)
        if found is not None:
            self.studio.strings.remember(found.mixed)
        if self.choosing == "palettes":
            self.palettes.use(key)
        else:
            self.studio.adjust("mix", "Piles in all", piles=option.mix.piles)

    def _hangs_on(self) -> object:
        d = self.studio.document
        rest = d.mix.model_copy(update={"palette": MixChoice().palette, "laid": None, "piles": 0})
        return self.studio.picture, d.notes, d.masses, d.harmony, d.light_key, rest, d.readings

    def _go_on(self) -> None:
        """Try what comes next."""
        document, picture = self.studio.document, self.studio.picture
        if self._of != self._hangs_on():
            self._of = self._hangs_on()
            self._tried.clear()
            self._failed.clear()
            self._stop()
        if self.choosing is None or picture is None or not document.notes or self.studio.jobs.busy("try"):
            return
        waiting: Sequence[Option] = [o for o in self.options() if self.found(o) is None and not self.failed(o)]
        nothing = Option("", "", document.mix)
        first = next((o for o in waiting if o.key == self.looked_at), waiting[0] if waiting else nothing)
        self.now = first.key
        if not first.key:
            return
        from ochre_stone.core.planning.trying import tried

        def arrived(found: "Tried") -> None:
            self._tried[first.mix] = found
            self.now = ""
            self._go_on()
            self.changed.emit()

        def failed(words: str) -> None:
            self._failed[first.mix] = words
            self.now = ""
            self._go_on()
            self.changed.emit()

        def work(report: Report) -> "Tried":
            found = tried(picture, document, first.mix, report)
            if found.laid is not None:  # enlarged here, not while the window waits
                found.laid.enlarged(*large_size(found.laid))
            return found

        self.studio.jobs.start("try", work, arrived, failed, self.progress.emit)
        self.changed.emit()
