"""The Pile page of Mix: the pile in hand, its recipe and the order of adding."""

from ochre_stone.core.document.document import Document
from ochre_stone.core.mixing.recipe.finding import Finer, by_eye_words, finer
from ochre_stone.core.mixing.session.adding import Step
from ochre_stone.core.mixing.strings.subjects import RULE_BY_ID
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.paint.cautions import instead, tube_cautions
from ochre_stone.core.paint.predict import Prediction
from ochre_stone.core.planning.drying import drying
from ochre_stone.core.planning.mending import last_reading
from ochre_stone.core.planning.naming import also_for
from ochre_stone.core.planning.planning import session_terms
from ochre_stone.core.planning.steps import steps_of
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.logkeeper import LogKeeper
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.widgets.addingview import AddingView
from ochre_stone.desktop.widgets.parts import Aside, Words, button
from ochre_stone.desktop.widgets.swatch import PileSwatch
from ochre_stone.desktop.widgets.tray import Tray

ORIGIN_WORDS = {"note": "Measured in the picture", "between": "Between two notes", "rule": "Beyond the notes, by rule"}


class PilePage:
    """The recipe of the pile in hand."""

    def __init__(self, tray: Tray, piles: Piles, log: LogKeeper) -> None:
        self.piles, self.studio, self.log = piles, piles.studio, log
        self.trust = Aside("How far the figures can be trusted")
        self.begin = button("Begin", "For the log: this pile is being mixed from here", "small")
        self.begin.clicked.connect(self.begin_or_finish)
        self.head = tray.head("", self.trust)
        self.swatch = PileSwatch()
        tray.row(self.swatch, self.begin).setStretch(0, 1)
        self.result = tray.label("")
        self.adding = AddingView()
        tray.rows.addWidget(self.adding)
        self.why = tray.label("")
        self.wet = tray.label("", "quiet")
        self.care = Aside("Cautions for the paints of this pile, in full")
        self.caution = Words("")
        self.caution.setProperty("kind", "warning")
        self.caution.setWordWrap(True)
        tray.row(self.caution, self.care).setStretch(0, 1)
        jobs, failed = self.studio.jobs, self.studio.failed.emit
        self.finer: Question[Finer] = Question(jobs, "finer", self._pile_key, lambda _: self._tell_now(), failed)
        self.steps: Question[list[Step]] = Question(jobs, "steps", self._step_key, self._draw_steps, failed)

    def _pile_key(self) -> object:
        found = self.piles.found()
        return (self.studio.document.mixed.fingerprint, found[1].id, found[1].recipe.ingredients) if found else None

    def _step_key(self) -> object:
        return self._pile_key(), self.studio.document.readings, self.piles.needed()

    def begin_or_finish(self) -> None:
        """For the log: the pile in hand is being mixed from here, or is done."""
        found = self.piles.found()
        if found is None:
            return
        name, pile_id = self.piles.names()[found[1].id], found[1].id
        if self.log.is_begun(pile_id):
            self.log.finish(pile_id)
            self.studio.told.emit(f"{name}: done. What is left of it is said at Log.")
        else:
            self.log.begin(pile_id)
            self.studio.told.emit(f"{name}: begun.")
        self.refresh()

    def _ask_finer(self, p: Pile) -> None:
        """Work out what counting more parts would bring."""
        document, recipe = self.studio.document, p.recipe
        if self.studio.strings.ready():
            self.finer.ask(lambda _: finer(recipe, session_terms(document)))

    def _tell_now(self) -> None:
        found = self.piles.found()
        if found is not None:
            self._tell(found[1])

    def _tell(self, p: Pile) -> None:
        said = by_eye_words(p.recipe, self.finer.answer)
        self.result.mark_up(f"{result_words(p)} {said[0].upper()}{said[1:]}.")

    def _show_steps(self, document: Document, p: Pile) -> None:
        """The order of adding; what the readings teach of the tubes is learnt off the main thread."""
        needed = self.piles.needed()
        if not (document.readings and document.mix.learn):
            self.adding.show_steps(steps_of(document, p, needed), p.target.lab)
            return

        if self.steps.ask(lambda _: steps_of(document, p, needed)):
            self._draw_steps(self.steps.answer or [])

    def _draw_steps(self, steps: list[Step]) -> None:
        found = self.piles.found()
        if found is not None:
            self.adding.show_steps(steps, found[1].target.lab)

    def refresh(self) -> None:
        """Show the pile in hand."""
        found = self.piles.found()
        shown = found is not None
        for w in (self.head, self.swatch, self.result, self.adding, self.why, self.wet, self.trust):
            w.setVisible(shown)
        self.begin.setVisible(shown)
        self.caution.hide()
        self.care.setText("")
        if found is None:
            return
        _, p = found
        again = last_reading(self.studio.document, p.id) is not None
        begun = self.log.is_begun(p.id)
        self.begin.setText("Done" if begun else "Begin anew" if again else "Begin")
        r, document = p.recipe, self.studio.document
        on = any(i.id in self.piles.names() for i in r.ingredients)
        chosen = "as you mixed it" if last_reading(document, p.id) is not None else "your choice"
        kind = chosen if p.pinned else "a tweak of a pile" if on else "from tubes"
        self.head.setText(f"{p.name[:1].upper()}{p.name[1:]}, value {numbers.short(p.target.value)}: {kind}")
        self._tell(p)
        self._ask_finer(p)
        self._show_steps(document, p)
        self.why.setText(r.why)
        tubes = [document.mixed.tube(i) for i, _ in r.shares]
        dried = drying(document, r)
        self.swatch.show_pile(p.id, p.target.lab, r.lab, dried.wet if dried.differs else None)
        self.wet.setText(dried.words)
        self.wet.setVisible(bool(self.wet.text()))
        mine = all(t.confidence == "own" for t in tubes if not t.is_white)
        figures = "your own calibrated tubes" if mine else "generic figures from memory, not measured"
        if document.readings and document.mix.learn:
            figures = f"{figures}, corrected by {len(document.readings)} reading{'s' * (len(document.readings) > 1)}"
        rules = "; ".join(RULE_BY_ID[i].title.lower() for i in p.target.rules if i in RULE_BY_ID)
        origin = f"{ORIGIN_WORDS[p.target.origin]}{f' ({rules})' if rules else ''}. {also_for(document, p)}".rstrip()
        self.trust.setText(f"{origin} {Prediction(r.lab, r.uncertainty).trust.capitalize()}: {figures}.")
        warn = [f"{t.name}: {text}" for t in tubes for text in tube_cautions(t)]
        other = instead(tubes)
        risky = ", ".join(t.short for t in tubes if tube_cautions(t))
        self.caution.setText(f"Can hurt: {risky}")
        self.caution.setVisible(bool(warn))
        self.care.setText("\n".join([*warn, *([other] if other else [])]) if warn else "")


def result_words(p: Pile) -> str:
    """How near a pile comes, value first."""
    v = p.recipe.value_error
    words = "Value right" if abs(v) < 0.05 else f"Value {abs(v):.1f} too {'light' if v > 0 else 'dark'}"
    turn, chroma = p.recipe.hue_error, p.recipe.chroma_error
    hue = "hue right" if abs(turn) < 4 else f"hue off by {abs(turn):.0f}°"
    strength = "chroma right" if abs(chroma) < 1.5 else "a little too strong" if chroma > 0 else "a little too grey"
    if abs(chroma) > 5:
        strength = strength.replace("a little too", "too")
    return f"<b>{words}</b>, {hue}, {strength}; {p.nearness.words}."
