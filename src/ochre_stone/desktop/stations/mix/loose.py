"""The Loose page of Mix: the pile in hand as unmixed strokes of two colours, and as a glaze."""

from typing import Any

from PyQt6.QtWidgets import QComboBox

from ochre_stone.core.mixing.technique.glazes import (
    Glaze,
    ground_of,
    is_transparent,
    plan_glaze,
    underpainting,
    white_ground,
)
from ochre_stone.core.mixing.technique.loose import Loose, Parent, alive_grey, loosely
from ochre_stone.core.project.planning import session_tubes
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.widgets.coats import CoatsView
from ochre_stone.desktop.widgets.parts import Aside, button, narrow
from ochre_stone.desktop.widgets.swatch import HalvesSwatch
from ochre_stone.desktop.widgets.tray import Tray

_UNDER = {
    "best": "over an underpainting, dry", "white": "over the white ground", "ground": "over the ground of Block in",
}  # fmt: skip


class LoosePage:
    """Luminous mixing and glazes for the pile in hand."""

    def __init__(self, tray: Tray, piles: Piles) -> None:
        self.piles, self.studio = piles, piles.studio
        self.next = button("Another pair", "The next best parents", "small")
        self.next.clicked.connect(self._next)
        self.bits = Aside("How to grey the pile and keep it alive")
        self.head = tray.head("", self.bits, self.next)
        self.parents, self.compare = HalvesSwatch(62), HalvesSwatch(62)
        tray.row(self.parents, self.compare).setSpacing(6)
        self.recipe = tray.label("")
        self.kept = tray.label("")
        tray.label("As a glaze", "head")
        self.under = narrow(QComboBox())
        self.under.setAccessibleName("What the glaze goes over")
        for key, words in _UNDER.items():
            self.under.addItem(words, key)
        self.under.activated.connect(lambda _: self.refresh())
        tray.rows.addWidget(self.under)
        self.coats = CoatsView()
        tray.rows.addWidget(self.coats)
        self.glaze = tray.label("")
        self._made_for: object = None
        self._pairs: list[Loose] = []
        self._bits: list[Parent] = []
        self._glazed: tuple[str, Glaze] | None = None
        self._at = 0

    def _next(self) -> None:
        if self._pairs:
            self._at = (self._at + 1) % len(self._pairs)
            self._show()

    def refresh(self) -> None:
        """Work both out for the pile in hand, off the main thread."""
        found = self.piles.found()
        for w in (self.head, self.parents, self.recipe, self.compare, self.kept, self.next, self.coats,
                  self.glaze):  # fmt: skip
            w.setVisible(found is not None)
        if found is None:
            return
        s, p = found
        document, target = self.studio.document, p.target.lab
        self.head.setText(f"{s.name} {p.id.rsplit('-', 1)[1]} of {len(s.piles)}: two parents of its value")
        surface, how = document.mix.chosen().surface, self.under.currentData()
        key = (document.mixed.fingerprint, p.id, how, document.canvas.ground)
        if key == self._made_for:
            self._show()
            return

        def work(_: Any) -> tuple[list[Loose], list[Parent], tuple[str, Glaze] | None]:
            tubes = session_tubes(document)
            pairs = loosely(target, tubes, surface, 4, order=document.mix.order)
            bits = alive_grey(p.recipe.lab, tubes, surface)
            by_id = {t.id: t.short for t in tubes}
            if how != "best":
                toned = document.canvas.ground
                below = white_ground() if how == "white" else ground_of(toned, tubes, surface)
                glazes = plan_glaze(target, below, tubes, surface=surface, count=1)
                name = "the white ground" if how == "white" else "the ground"
                return pairs, bits, (name, glazes[0]) if glazes else None
            planned = underpainting(target, tubes, surface)
            if planned is None:
                return pairs, bits, None
            under = " and ".join(f"{c:.0%} {by_id[i]}" for i, c in planned[0])
            return pairs, bits, (under, planned[1])

        def arrived(answer: tuple[list[Loose], list[Parent], tuple[str, Glaze] | None]) -> None:
            now = self.piles.found()
            here = self.studio.document
            if now is None or key != (here.mixed.fingerprint, now[1].id, self.under.currentData(), here.canvas.ground):
                return
            self._made_for, self._at = key, 0
            self._pairs, self._bits, self._glazed = answer
            self._show()

        self.studio.jobs.start("loose", work, arrived, self.studio.failed.emit)

    def _short(self, tube_id: str) -> str:
        return self.studio.document.mixed.tube(tube_id).short

    def _parent(self, p: Parent) -> str:
        return " and ".join(f"{c:.0%} {self._short(i)}" for i, c in p.shares)

    def _show(self) -> None:
        found = self.piles.found()
        assert found is not None
        target = found[1].target.lab
        pair = self._pairs[self._at] if self._pairs else None
        for w in (self.parents, self.compare, self.kept, self.next):
            w.setVisible(pair is not None)
        self.next.setVisible(len(self._pairs) > 1)
        if pair is None:
            self.recipe.setText("This palette has no two colours that can be brought to this value.")
        else:
            first, second = self._short(pair.first.tube), self._short(pair.second.tube)
            self.parents.show_pair(pair.first.lab, pair.second.lab, first, second)
            ways = self._parent(pair.first), self._parent(pair.second)
            self.recipe.mark_up(
                f"<b>{pair.area:.0%}</b> of ({ways[0]}), <b>{1 - pair.area:.0%}</b> of ({ways[1]}), two turns of "
                "the knife."
            )
            self.compare.show_pair(pair.loose, pair.full, "loose", "stirred")
            gain = "" if pair.kept == float("inf") else f"; loose keeps {pair.kept:.1f} times the chroma"
            self.kept.setText(
                f"Loose, from where the strokes melt, it is off by {pair.off_loose:.1f}; stirred by "
                f"{pair.off_full:.1f}{gain}."
            )
        bits = ", ".join(self._short(p.tube) for p in self._bits)
        self.bits.setText(f"To grey the pile and keep it alive: bits of {bits}, brought to its value." if bits else "")
        if self._glazed is None:
            clear = any(is_transparent(t) for t in session_tubes(self.studio.document))
            self.coats.hide()
            words = "no ground lighter than it can be made" if clear else "no tube of this palette is transparent"
            self.glaze.setText(f"No glaze: {words}.")
            return
        under, glaze = self._glazed
        self.coats.show()
        self.coats.show_coats(glaze, target, self._short)
        count = len(glaze.coats)
        layers = ", then ".join(f"1 {self._short(c.tube)} in {c.medium} of medium, {c.um:.0f} µm" for c in glaze.coats)
        off = "" if glaze.off <= 3 else f" It stays off by {glaze.off:.1f}: films only take light away."
        self.glaze.setText(
            f"Over {under}: {count} coat{'s' * (count > 1)}, {layers}; each coat dry before the next.{off}"
        )
