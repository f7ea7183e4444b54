"""What is mixed toward, if anything, and what would bring the pile nearer."""

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox, QInputDialog

from ochre_stone.core.colour.parse import parse_colour
from ochre_stone.core.colour.spaces import as_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.core.mixing.correcting.words import addition_words
from ochre_stone.desktop.session.benchwork import BenchWork
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.stations.bench.words import TAKE_ONE
from ochre_stone.desktop.widgets.parts import Words, button, enable, narrow, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray

_NONE, _TYPED = "none", "typed"


class TargetPart:
    """Choosing a target, and asking for advice; neither has to be."""

    def __init__(self, tray: Tray, work: BenchWork, piles: Piles, turned: Callable[[], None]) -> None:
        self.tray, self.work, self.piles, self.studio = tray, work, piles, work.studio
        self._turned = turned
        self.target = narrow(QComboBox())
        self.target.setAccessibleName("Target")
        self.target.setMinimumContentsLength(5)
        self.target.activated.connect(lambda _: self._choose(str(self.target.currentData())))
        self.nearer = button("Nearer?", "What would bring it nearer to the target?", "small")
        self.nearer.clicked.connect(work.ask_nearer)
        tray.row(Words("Target"), self.target, self.nearer).setStretch(1, 1)
        self.advice = Words("")
        self.advice.setWordWrap(True)
        self.follow = button("Do that", "Put it in, as one step", "small")
        self.follow.clicked.connect(work.follow)
        tray.row(self.advice, self.follow).setStretch(0, 1)

    def _choose(self, what: str) -> None:
        kind, _, key = what.partition(":")
        if kind == _NONE:
            self.work.mix_toward(None)
        elif kind == _TYPED:
            self.ask()
        elif kind == "note":
            note = self.studio.document.note(key)
            self.work.mix_toward(note.lab, note.name)
        elif kind == "pile":
            self.work.mix_toward_pile(key)
        elif kind == "bench":
            pile = self.work.bench.pile(key)
            seen = self.work.paints.look_at(pile)
            if seen is not None:
                self.work.mix_toward(seen.lab, pile.name)
        self._turned()

    def ask(self) -> None:
        """A colour that is typed as the target."""
        text, said = QInputDialog.getText(
            self.tray.widget, "Target", "A colour: “lab 62 14 22”, “#c9a27e” or “munsell 5YR 6/4”"
        )
        if said and text.strip():
            self.take_typed(text)

    def take_typed(self, text: str) -> None:
        """Mix toward a colour that was typed; what is none is said."""
        try:
            lab = as_lab(parse_colour(text))
        except OchreError as error:
            self.studio.failed.emit(str(error))
            return
        self.work.mix_toward(lab, text.strip())

    def refresh(self) -> None:
        """Offer what can be mixed toward, and show the advice."""
        work, choice, document = self.work, self.studio.document.bench, self.studio.document
        note = next((n for n in document.notes if n.id == self.studio.selected), None)
        found = self.piles.found()
        with signals_blocked(self.target):
            self.target.clear()
            if choice.target is not None:
                self.target.addItem(choice.target_name or "a colour", "same:")
            self.target.addItem("none", f"{_NONE}:")
            if note is not None:
                self.target.addItem(f"the note: {note.name}", f"note:{note.id}")
            if found is not None:
                self.target.addItem(f"the plan's pile: {self.piles.names()[found[1].id]}", f"pile:{found[1].id}")
            for p in work.bench.piles:
                if p.id != work.in_hand:
                    self.target.addItem(f"on the bench: {p.name}", f"bench:{p.id}")
            self.target.addItem("typed…", f"{_TYPED}:")
            self.target.setCurrentIndex(0)
        why = "" if choice.target is not None else "Choose a target first."
        enable(self.nearer, why or ("" if work.pile() is not None else TAKE_ONE))
        words, can = self._advice_words()
        self.advice.setText(words)
        self.advice.setVisible(bool(words))
        self.follow.setVisible(can)

    def _advice_words(self) -> tuple[str, bool]:
        """The advice, and whether there is something to do."""
        found = self.work.advice
        if found is None:
            return "", False
        if isinstance(found, str):
            return found, False
        if found.verdict in ("add", "cut") and found.additions:
            said = " and ".join(addition_words(v, n) for (_, v), n in zip(found.additions, found.names, strict=True))
            aside = f"Set {'half' if found.keep == 0.5 else 'two thirds'} aside, then add"
            first = aside if found.verdict == "cut" else "Add"
            return f"{first} {said}: it comes to {found.de00:.1f} from {found.now:.1f}.", True
        words = {"home": "It matches.", "look": "It matches as far as can be told."}
        return words.get(found.verdict, "Nothing at hand brings it nearer."), False
