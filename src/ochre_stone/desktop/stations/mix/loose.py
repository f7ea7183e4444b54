"""The Loose page of Mix: the pile in hand from parents at its value, combined loosely; and as a glaze."""

from dataclasses import dataclass
from typing import Any

from PyQt6.QtWidgets import QComboBox, QSpinBox

from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.document.choices import LooseChoice
from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.mixing.technique.glazes import (
    Glaze,
    ground_of,
    is_transparent,
    plan_glaze,
    underpainting,
    white_ground,
)
from ochre_stone.core.mixing.technique.together import MOST_TOGETHER, Bits, Together, greying, leans
from ochre_stone.core.planning.loosening import Loosened, brought_words, loosened, suggested, with_loose
from ochre_stone.core.planning.planning import session_terms, session_tubes
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.widgets.parts import Aside, button, counts, narrow, set_tip, signals_blocked
from ochre_stone.desktop.widgets.togetherview import TogetherView
from ochre_stone.desktop.widgets.touching import Block, TouchingRow
from ochre_stone.desktop.widgets.tray import Tray

_UNDER = {
    "best": "on underpainting", "white": "on the white ground", "ground": "on the ground",
}  # fmt: skip


@dataclass(frozen=True)
class _Worked:
    """What is shown of one pile."""

    pairs: list[tuple[str, str]]
    """Of tubes that come near to it, best first; none where the painter chose."""
    made: Loosened
    parents: tuple[str, ...]
    leans: list[Together]
    bits: list[Bits]
    glazed: tuple[str, Glaze] | None


class LoosePage:
    """Luminous mixing and glazes for the pile in hand."""

    def __init__(self, tray: Tray, piles: Piles) -> None:
        self.piles, self.studio = piles, piles.studio
        self.next = button("Another pair", "The next best parents for this pile", "small")
        self.next.clicked.connect(self._next)
        self.bits = Aside("How to grey the pile and keep it alive")
        self.head = tray.head("", self.bits, self.next)
        self.parents: list[QComboBox] = []
        self.parts: list[QSpinBox] = []
        for k, which in enumerate(("First", "Second", "Third")):
            box, parts = narrow(QComboBox()), QSpinBox()
            box.setAccessibleName(f"{which} parent")
            box.activated.connect(lambda _: self._chosen())
            parts.setRange(1, MOST_TOGETHER)
            counts(parts, "part")
            parts.setAccessibleName(f"Parts of the {which.lower()} parent")
            parts.valueChanged.connect(lambda _, n=k: self._measured(n))
            tray.row(box, parts).setStretch(0, 1)
            self.parents.append(box)
            self.parts.append(parts)
        self.recipe = tray.label("")
        self.view = TogetherView()
        tray.rows.addWidget(self.view)
        self.under = narrow(QComboBox())
        self.under.setAccessibleName("What the glaze goes over")
        set_tip(self.under, "An underpainting made for it, dry; the white ground; or the ground of Block in")
        for key, words in _UNDER.items():
            self.under.addItem(words, key)
        self.under.activated.connect(lambda _: self.refresh())
        self.over = Aside("What the glaze goes over, and how")
        tray.head("Glaze", self.over, self.under)
        self.coats = TouchingRow(58, above=7)
        tray.rows.addWidget(self.coats)
        self.glaze = tray.label("")
        self.question: Question[_Worked] = Question(
            self.studio.jobs, "loose", self._shown_key, lambda _: self._show(), self.studio.failed.emit
        )
        self._shared: tuple[object, ...] = ()
        self._at = 0
        self._at_of = ""

    # What is chosen

    def _choice(self, p: Pile) -> LooseChoice | None:
        return next((c for c in self.studio.document.mix.loose if c.pile == p.id), None)

    def _choose(self, words: str, kind: str, parents: tuple[str, ...], parts: tuple[float, ...] = ()) -> None:
        found = self.piles.found()
        if found is None:
            return
        document, p = self.studio.document, found[1]
        if len(parents) < 2:
            self.studio.told.emit("Choose two different parents.")
            self._fill(p)
            return
        made = loosened(document, p, parents, parts)
        if made.made is None:
            self.studio.told.emit(made.why)
            self._fill(p)
            return
        choice = LooseChoice(pile=p.id, parents=parents, parts=made.made.parts)
        loose = [c.model_dump() for c in with_loose(document, p.id, choice)]
        self.studio.adjust("mix", words, kind, loose=loose)

    def _chosen(self) -> None:
        ids = [box.currentData() for box in self.parents]
        self._choose("Parents of a loose mixture", "", tuple(dict.fromkeys(i for i in ids if i)))

    def _measured(self, which: int) -> None:
        found = self.piles.found()
        if found is None:
            return
        parents = self._worked.parents if self._worked is not None else ()
        parts = tuple(float(box.value()) for box in self.parts[: len(parents)])
        self._choose("Parts of a loose mixture", f"loose {which}", parents, parts)

    def _next(self) -> None:
        """The next best pair takes the place of what was chosen."""
        found = self.piles.found()
        if found is None:
            return
        document, p = self.studio.document, found[1]
        self._at += 1
        if self._choice(p) is not None:
            loose = [c.model_dump() for c in with_loose(document, p.id, None)]
            self.studio.adjust("mix", "Another pair of parents", loose=loose)
        self.refresh()

    # Showing

    def refresh(self) -> None:
        """Work both out for the pile in hand, off the main thread."""
        found = self.piles.found()
        for w in (self.head, self.recipe, self.view, self.next, self.coats, self.glaze, *self.parents, *self.parts):
            w.setVisible(found is not None)
        if found is None:
            return
        _, p = found
        document, how = self.studio.document, self.under.currentData()
        self.head.setText(f"{self.piles.names()[p.id]}: parents of its value")
        if self._at_of != p.id:
            self._at_of, self._at = p.id, 0
        at, choice = self._at, self._choice(p)
        shared = self._key(p)[:4]
        before = self.question.last if self._shared == shared else None  # bits and glaze do not hang on the parents
        self._shared = shared

        def work(_: Any) -> _Worked:
            terms = session_terms(document)
            pairs = suggested(document, p) if choice is None else []
            chosen = choice.parents if choice is not None else pairs[at % len(pairs)] if pairs else ()
            parts = choice.parts if choice is not None else ()
            made = loosened(document, p, chosen, parts) if chosen else Loosened(p.id, None, (), _NO_PAIR)
            turned = leans(made.made.parents, terms) if made.made is not None else []
            bits = before.bits if before is not None else greying(p.recipe.lab, terms)
            glazed = before.glazed if before is not None else _glaze(document, p, how)
            return _Worked(pairs, made, chosen, turned, bits, glazed)

        if self.question.ask(work):
            self._show()
        elif self.question.jobs.busy("loose"):
            self._wait(f"Parents of {self.piles.names()[p.id]} and its glaze are being worked out.")

    def _wait(self, words: str) -> None:
        """Show nothing of another pile meanwhile."""
        self.recipe.setText(words)
        self.bits.setText("")
        self.over.setText("")
        self.glaze.setText("")
        for w in (self.view, self.coats, self.next, *self.parents, *self.parts):
            w.setVisible(False)

    @property
    def _worked(self) -> _Worked | None:
        return self.question.last

    def _shown_key(self) -> object:
        found = self.piles.found()
        return None if found is None else self._key(found[1])

    def _key(self, p: Pile) -> tuple[object, ...]:
        document = self.studio.document
        how = self.under.currentData()
        return document.mixed.fingerprint, p.id, how, document.canvas.ground, self._choice(p), self._at

    def _fill(self, p: Pile) -> None:
        """Tubes and piles to choose from, and what is chosen."""
        names = self.piles.names()
        choices = [
            *((t.short, t.id) for t in session_tubes(self.studio.document)),
            *((name, i) for i, name in names.items() if i != p.id),
        ]
        parents = self._worked.parents if self._worked is not None else ()
        for k, box in enumerate(self.parents):
            with signals_blocked(box):
                box.clear()
                if k == 2:
                    box.addItem("no third parent", "")
                for name, i in choices:
                    box.addItem(name, i)
                box.setCurrentIndex(max(box.findData(parents[k] if k < len(parents) else ""), 0))

    def _show(self) -> None:
        found = self.piles.found()
        assert found is not None and self._worked is not None
        p, worked = found[1], self._worked
        self._fill(p)
        made = worked.made.made
        self.coats.setVisible(True)
        for w in (*self.parents, *self.parts):
            w.setVisible(True)
        self.view.setVisible(made is not None)
        self.next.setVisible(len(worked.pairs) > 1 or self._choice(p) is not None)
        for k, box in enumerate(self.parts):
            there = made is not None and k < len(made.parts)
            box.setEnabled(there)
            with signals_blocked(box):
                box.setValue(round(made.parts[k]) if made is not None and there else 1)
        if made is None:
            self.recipe.setText(worked.made.why)
        else:
            document = self.studio.document
            rows = [
                f"<b>{parts:g}</b> of ({brought_words(document, one)})"
                for parts, one in zip(made.parts, made.parents, strict=True)
            ]
            self.recipe.mark_up(f"{', '.join(rows)}.")
            self.view.show_made(made, p.target.lab, worked.leans)
        bits = "; ".join(
            f"1 of ({brought_words(self.studio.document, b.parent)}) to {b.pile_parts} of the pile" for b in worked.bits
        )
        self.bits.setText(f"To grey it by a third and keep it alive, bits at its value: {bits}." if bits else "")
        self._show_glaze(worked.glazed, p)

    def _show_glaze(self, glazed: tuple[str, Glaze] | None, p: Pile) -> None:
        self.coats.setVisible(glazed is not None)
        self.over.setText("")
        if glazed is None:
            clear = any(is_transparent(t) for t in session_tubes(self.studio.document))
            words = "no ground lighter than it can be made" if clear else "no tube of this palette is transparent"
            self.glaze.setText(f"No glaze: {words}.")
            return
        under, glaze = glazed
        named = [("under", glaze.under), *((str(n), c.lab) for n, c in enumerate(glaze.coats, 1))]
        blocks = [Block(lab, f"{name}\n{_value(lab)}") for name, lab in (*named, ("target", p.target.lab))]
        said = ", ".join(f"coat {n}: {self._short(c.tube)}" for n, c in enumerate(glaze.coats, 1))
        self.coats.show_blocks(blocks, f"Glaze, {said}")
        count = len(glaze.coats)
        layers = ", then ".join(f"1 {self._short(c.tube)} in {c.medium} of medium, {c.um:.0f} µm" for c in glaze.coats)
        off = "" if glaze.off <= 3 else f"; off by {glaze.off:.1f}"
        less = "" if glaze.off <= 3 else " It stays off: films only take light away."
        self.glaze.setText(f"{count} coat{'s' * (count > 1)}: {layers}{off}.")
        self.over.setText(f"Over {under}; each coat dry before the next.{less}")

    def _short(self, tube_id: str) -> str:
        return self.studio.document.mixed.tube(tube_id).short


def _value(lab: Lab) -> str:
    return numbers.value(float(value_of_lightness(min(lab[0], 100.0))))


_NO_PAIR = "This palette has no two colours that can be brought to this value."


def _glaze(document: Document, p: Pile, how: str) -> tuple[str, Glaze] | None:
    """What the glaze goes over, in words, and the glaze; None where there is none."""
    tubes, surface, target = session_tubes(document), document.mix.chosen().surface, p.target.lab
    by_id = {t.id: t.short for t in tubes}
    if how != "best":
        below = white_ground(surface=surface) if how == "white" else ground_of(document.canvas.ground, tubes, surface)
        glazes = plan_glaze(target, below, tubes, surface=surface, count=1)
        return ("the white ground" if how == "white" else "the ground", glazes[0]) if glazes else None
    planned = underpainting(target, tubes, surface)
    if planned is None:
        return None
    return " and ".join(f"{c:.0%} {by_id[i]}" for i, c in planned[0] if c >= 0.005), planned[1]
