"""The String page of Mix: how strings are built, what shapes them, and two ways of building side by side."""

from contextlib import ExitStack
from dataclasses import dataclass, replace
from typing import Any

from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QSpinBox, QWidget

from ochre_stone.core.colour.relations import warmer_by
from ochre_stone.core.document.choices import StringChoice
from ochre_stone.core.mixing.session.plan import MixOn, plan_session
from ochre_stone.core.mixing.strings.methods import MethodVerdict, verdict
from ochre_stone.core.mixing.strings.schools import METHODS
from ochre_stone.core.mixing.strings.shapes import SHAPES
from ochre_stone.core.mixing.strings.subjects import RULES, Rule
from ochre_stone.core.planning.planning import session_terms
from ochre_stone.core.planning.rows import ADDED_ROWS, LADDERS, lights, string_title, wanted_rows
from ochre_stone.core.planning.standing import stands
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.widgets.parts import button, counts, enable, narrow, set_tip, signals_blocked
from ochre_stone.desktop.widgets.stringrows import StringRows
from ochre_stone.desktop.widgets.tray import Tray

FIRST_WORDS = {"middle": "middle pile first", "lightest": "lightest pile first", "darkest": "darkest pile first"}
STAND_CHOICES = {
    "": "as all strings",
    "notes": "a pile on each note",
    "even": "even steps of value",
    **{key: words for key, (words, _) in SHAPES.items()},
}
APART_WORDS = {"": "one string", "light": "lit and shaded apart", "distance": "near, middle and far apart"}


@dataclass(frozen=True)
class _Compared:
    """The string in hand by two methods."""

    methods: tuple[str, str]
    piles: list[list[Any]]
    verdicts: list[MethodVerdict]


def _built(how: StringChoice) -> tuple[str, str]:
    """By which method, and with which mother colour, if it takes one."""
    return how.method, how.mother if how.method == "mother" else ""


class StringPage:
    """What is wanted of the string in hand."""

    def __init__(self, tray: Tray, piles: Piles) -> None:
        self.piles, self.studio = piles, piles.studio
        self.head = tray.label("", "head")
        self.method = narrow(QComboBox())
        self.method.setAccessibleName("How this string is built")
        for key, (title, about) in METHODS.items():
            self.method.addItem(title, key)
            self.method.setItemData(self.method.count() - 1, about, 3)
        self.method.activated.connect(lambda _: self._choose(method=self.method.currentData()))
        self.mother = narrow(QComboBox())
        self.mother.setAccessibleName("Mother colour")
        self.mother.activated.connect(lambda _: self._choose(mother=self.mother.currentData()))
        self.all_so = button("All strings so", "Build every string this way", "small")
        self.all_so.clicked.connect(self.build_all_so)
        tray.row(self.method, self.all_so).setStretch(0, 1)
        tray.rows.addWidget(self.mother)
        self.about = tray.label("", "quiet")
        self.first = narrow(QComboBox())
        self.first.setAccessibleName("Which pile is mixed first")
        for key, words in FIRST_WORDS.items():
            self.first.addItem(words, key)
        self.first.activated.connect(lambda _: self._choose(first=self.first.currentData()))
        self.apart = narrow(QComboBox())
        self.apart.setAccessibleName("Strings of this subject")
        for key, words in APART_WORDS.items():
            self.apart.addItem(words, key)
        self.apart.activated.connect(lambda _: self._keep_apart())
        self.stand = narrow(QComboBox())
        self.stand.setAccessibleName("Where the piles of this string stand")
        for key, words in STAND_CHOICES.items():
            self.stand.addItem(words, key)
        self.stand.activated.connect(lambda _: self._stand(stand=self.stand.currentData()))
        self.count = QSpinBox()
        self.count.setRange(0, 20)
        self.count.setSpecialValueText("no number")
        counts(self.count, "pile")
        set_tip(self.count, "How many piles of this string you want to mix; what matters least is dropped first")
        self.count.setAccessibleName("Piles of this string")
        self.count.valueChanged.connect(lambda v: self._stand("string count", count=v))
        tray.row(self.stand, self.count).setStretch(0, 1)
        tray.row(self.first, self.apart)
        self.beside = narrow(QComboBox())
        self.beside.setAccessibleName("Method to compare with")
        self.compare = button("Beside", "Work this string out both ways and show them touching")
        self.compare.clicked.connect(self.compare_methods)
        tray.row(self.beside, self.compare).setStretch(0, 1)
        self.rows = StringRows()
        tray.rows.addWidget(self.rows)
        self.figures = tray.label("")
        tray.label("What shapes it", "head")
        self.light = tray.label("", "quiet")
        self.rules_box = QWidget()
        self.rules = QGridLayout(self.rules_box)
        self.rules.setContentsMargins(0, 0, 0, 0)
        self.rules.setVerticalSpacing(2)
        tray.rows.addWidget(self.rules_box)
        self.rule_boxes: dict[str, QCheckBox] = {}
        self.compared: Question[_Compared] = Question(
            self.studio.jobs, "compare", self._compare_key, self._show_both, self.studio.failed.emit
        )

    def _set(self, text: str, kind: str = "", **fields: object) -> None:
        self.studio.adjust("mix", text, kind, **fields)

    def _string(self) -> str:
        found = self.piles.found()
        return found[0].id if found is not None else ""

    def _choose(self, words: str = "", kind: str = "", **fields: object) -> None:
        mix, string_id = self.studio.document.mix, self._string()
        if not string_id:
            return
        new = StringChoice.model_validate(mix.of_string(string_id).model_dump() | fields)
        rest = [s for s in mix.strings if s.id != string_id]
        plain = new == StringChoice(id=string_id)
        words = words or f"Build {string_title(string_id)} another way"
        self._set(words, kind, strings=[s.model_dump() for s in rest] + ([] if plain else [new.model_dump()]))

    def build_all_so(self) -> None:
        """Every string by the method of the one in hand; the rest of what is wanted of each stays."""
        document, string_id = self.studio.document, self._string()
        if not string_id:
            return
        how = document.mix.of_string(string_id)
        ids = dict.fromkeys([*(s.id for s in document.mixed.strings), *(s.id for s in document.mix.strings)])
        same = {"method": how.method, "mother": how.mother}
        new = [StringChoice.model_validate(document.mix.of_string(i).model_dump() | same) for i in ids]
        words = f"All strings: {METHODS[how.method][0].lower()}"
        self._set(words, strings=[s.model_dump() for s in new if s != StringChoice(id=s.id)])

    def _stand(self, kind: str = "", **fields: object) -> None:
        """Another place or number of its piles; a number that the place cannot have goes."""
        how = self.studio.document.mix.of_string(self._string() or "none")
        stand, count = str(fields.get("stand", how.stand)), int(str(fields.get("count", how.count)))
        if stand in SHAPES or (stand == "even" and not 2 <= count <= 9):
            count = 0
        self._choose(f"Piles of {string_title(self._string())}", kind, stand=stand, count=count)

    def _keep_apart(self) -> None:
        subject, how = self._string().partition("-")[0], self.apart.currentData()
        rest = tuple(a for a in self.studio.document.mix.apart if a[0] != subject)
        self._set(f"Strings of {subject}", apart=(*rest, (subject, how)) if how else rest)

    def _rule(self, rule: Rule, on: bool) -> None:
        rest = tuple(r for r in self.studio.document.mix.rules if r[0] != rule.id)
        changed = rest if on == rule.on else (*rest, (rule.id, on))
        self._set(f"{'With' if on else 'Without'}: {rule.title}", rules=changed)

    def compare_methods(self) -> None:
        """Work the string in hand out by another method too, off the main thread."""
        document, string_id, other = self.studio.document, self._string(), self.beside.currentData()
        found = self.piles.found()
        if found is None or not other:
            return
        here = document.mix.of_string(string_id)

        def work(_: Any) -> _Compared:
            terms = session_terms(document)
            row = next(r for r in wanted_rows(document) if r.id == string_id)
            made = []
            for method in (here.method, other):
                built = replace(row, method=method, mother=here.mother, first=here.first)
                found = plan_session([built], terms, mix_on=MixOn(False), tints=document.mix.tints).strings
                made.append([p for s in found for p in s.piles])
            a, b = ([p.recipe for p in m] for m in made)
            verdicts = [verdict(here.method, a, terms.tubes), verdict(other, b, terms.tubes)]
            return _Compared((here.method, other), made, verdicts)

        self.compared.forget()
        self.compared.ask(work)

    def _compare_key(self) -> object:
        return self.studio.document.mixed.fingerprint, self._string(), self.beside.currentData()

    def _show_both(self, both: _Compared) -> None:
        first, second = both.piles
        self.rows.show_rows([(METHODS[m][0], piles) for m, piles in zip(both.methods, both.piles, strict=True)])
        self.rows.show()
        same = [p.recipe.ingredients for p in first] == [p.recipe.ingredients for p in second]
        alike = ["Both come to the same recipes here."] if same else []
        self.figures.mark_up("<br>".join([*alike, *(self._figures(v) for v in both.verdicts)]))
        self.figures.show()

    def _figures(self, v: MethodVerdict) -> str:
        warm = warmer_by(v.warmer)
        mud = "low" if v.mud < 0.35 else "some" if v.mud < 0.65 else "high"
        return (
            f"<b>{METHODS[v.method][0]}</b>: {v.chroma_kept:.0%} of the chroma, {warm}, {len(v.tubes)} tubes, "
            f"risk of mud {mud}, off by {v.off:.1f} (value {v.value_off:.2f}), by eye {v.by_eye:.1f}."
        )

    def refresh(self) -> None:
        """Show what is chosen."""
        document, string_id = self.studio.document, self._string()
        m, how = document.mix, document.mix.of_string(self._string() or "none")
        self.head.setText(f"String: {string_title(string_id)}" if string_id else "No string yet")
        subject = string_id.partition("-")[0]
        tubes = m.chosen().tubes
        boxes = (self.method, self.mother, self.first, self.apart, self.beside, self.stand, self.count)
        built = {_built(m.of_string(s.id)) for s in document.mixed.strings}
        enable(self.all_so, "Every string is built so." if built <= {_built(how)} else "")
        with ExitStack() as quiet:
            for box in boxes:
                quiet.enter_context(signals_blocked(box))
            self.method.setCurrentIndex(self.method.findData(how.method))
            self.mother.clear()
            self.mother.addItem("mother colour: the one that costs least", "")
            for t in tubes:
                if not t.is_white:
                    self.mother.addItem(f"mother colour: {t.short}", t.id)
            self.mother.setCurrentIndex(max(self.mother.findData(how.mother), 0))
            self.first.setCurrentIndex(self.first.findData(how.first))
            self.stand.setCurrentIndex(self.stand.findData(how.stand))
            self.count.setValue(how.count)
            self.apart.setCurrentIndex(self.apart.findData(dict(m.apart).get(subject, "")))
            held = self.beside.currentData()
            self.beside.clear()
            for key, (title, _) in METHODS.items():
                if key != how.method:
                    self.beside.addItem(title, key)
            self.beside.setCurrentIndex(max(self.beside.findData(held), 0))
        ladder = string_id in LADDERS or string_id in ADDED_ROWS
        own = "Its piles are where the ladder or the rule puts them." if ladder else ""
        enable(self.stand, own or ("" if string_id else "No string yet."))
        shape = "This shape has its own number of piles." if how.stand in SHAPES else ""
        enable(self.count, own or shape or ("" if string_id else "No string yet."))
        self.mother.setVisible(how.method == "mother")
        whole = subject in ("", "shadows") or string_id in ("distance", "sky-ladder")
        enable(self.apart, "This string stays one: it is no subject of its own." if whole else "")
        made = self.piles.found()
        kit = f" Here: {made[0].kit_words}." if made is not None and made[0].kit else ""
        self.about.setText(METHODS[how.method][1] + kit)
        shown = self.compared.answer is not None
        self.rows.setVisible(shown)
        self.figures.setVisible(shown)
        self._rules(subject)

    def _rules(self, subject: str) -> None:
        wanted = [r for r in RULES if r.subject in ("", subject)]
        if [r.id for r in wanted] != list(self.rule_boxes):
            for box in self.rule_boxes.values():
                self.rules.removeWidget(box)
                box.hide()
                box.deleteLater()
            self.rule_boxes = {}
            for k, rule in enumerate(wanted):
                box = QCheckBox(rule.title)
                set_tip(box, rule.why)
                box.setAccessibleDescription(rule.why)
                box.clicked.connect(lambda on, r=rule: self._rule(r, on))
                self.rules.addWidget(box, k, 0)
                self.rule_boxes[rule.id] = box
        mix = self.studio.document.mix
        for rule_id, box in self.rule_boxes.items():
            box.setChecked(mix.rule(rule_id))
            shapes = stands(mix, self._string() or "none") != "even" and rule_id not in ADDED_ROWS
            enable(box, "Piles stand on the notes: this rule shapes even steps only." if shapes else "")
        found = lights(self.studio.document) if subject in ("shadows", "sky") else None
        if subject == "shadows" and found is None:
            self.light.setText("No thing is noted both in light and in shadow: shadows cannot be worked out.")
        else:
            self.light.setText(found.words if found is not None else "")
        self.light.setVisible(bool(self.light.text()))
