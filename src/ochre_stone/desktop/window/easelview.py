"""At the easel: one pile at a time, full screen, in type that is read from two metres, worked by one key."""

import time
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QCloseEvent, QKeyEvent, QPainter, QPainterPath, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QDialog, QWidget

from ochre_stone.core.colour.spaces import Lab
from ochre_stone.core.mixing.correcting.words import WORDS, said_words
from ochre_stone.core.mixing.session.adding import Step
from ochre_stone.core.mixing.strings.targets import Pile
from ochre_stone.core.planning.advising import addition_list, kept_words, makings, verdict_words
from ochre_stone.core.planning.drying import drying
from ochre_stone.core.planning.mending import Advice, expected_of
from ochre_stone.core.planning.steps import steps_of
from ochre_stone.desktop.session import numbers
from ochre_stone.desktop.session.session import Session
from ochre_stone.desktop.stations.mix.allpiles import AllPilesDialog
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.shapes import pile, stacked
from ochre_stone.desktop.window.awake import Awake
from ochre_stone.desktop.window.easelkeys import EaselKey
from ochre_stone.desktop.window.easelpicture import EaselPicture
from ochre_stone.desktop.window.easelwords import write_large

WORD_KEYS: dict[str, str] = dict(zip("1234567890WCKM", WORDS, strict=True))
"""The key of each word, while it is said how a pile is off."""
LETTER_CM = 2.0
"""Height of the recipe's line on the screen, where there is room for it."""
_BAR = 64
_BEGIN, _FINISHED = "begin", "finished"
"""Words for the log, on the button that says them."""
_NEXT = (Qt.Key.Key_Space, Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_PageDown, Qt.Key.Key_Return, Qt.Key.Key_Enter)
_BACK = (Qt.Key.Key_Left, Qt.Key.Key_Up, Qt.Key.Key_PageUp, Qt.Key.Key_Backspace)


class EaselPage(QDialog):
    """Piles in the order of mixing; each first whole, then addition by addition."""

    closed = pyqtSignal()

    def __init__(self, parent: QWidget, session: Session) -> None:
        super().__init__(parent)
        theme.style(self)
        self.session, self.studio, self.piles, self.work = session, session.studio, session.piles, session.mending
        self.setWindowTitle("At the easel")
        self.setModal(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.awake = Awake()
        self.step = 0
        """0 shows the whole pile, 1... its additions."""
        self.saying = False
        self.advice: Advice | None = None
        """What is shown of what the pile needs."""
        self.keys = self._make_keys()
        self._began = time.monotonic()
        self.timing = False
        self._tick = QTimer(self)
        self._tick.setInterval(1000)
        self._tick.timeout.connect(self.update)
        self._steps: tuple[object, list[Step]] = (None, [])
        self.studio.changed.connect(self._changed)
        self.picture = EaselPicture(session, self)
        self.picture.changed.connect(lambda: self._shown() if self.isVisible() else None)
        self.work.seen.connect(self._seen)
        self.work.advised.connect(self._advised)
        self.piles.measured.connect(self._measured)
        self._shown()

    # What is shown

    def pile(self) -> Pile | None:
        """The pile in hand."""
        return self.work.pile()

    def steps(self) -> list[Step]:
        """Additions of the pile in hand."""
        p = self.pile()
        if p is None:
            return []
        needed = self.piles.needed()
        key = (p, self.studio.document.mixed.fingerprint, needed)
        if self._steps[0] != key:
            self._steps = key, steps_of(self.studio.document, p, needed)
        return self._steps[1]

    def _changed(self, old: Any, new: Any) -> None:
        if self.isVisible():
            self.step = min(self.step, len(self.steps()))
            self._shown()

    def _measured(self) -> None:
        """How much paint the plan takes is known now."""
        if self.isVisible():
            self._shown()

    def _describe(self) -> None:
        """The same in words, for who does not see the screen."""
        self.setAccessibleName("At the easel: " + " ".join([*self.lines(), self.why()]).strip())

    def lines(self) -> list[str]:
        """The words in huge type: where we are, what to do."""
        p = self.pile()
        if p is None:
            return ["No piles yet", "Come back when the strings are worked out."]
        mixed = ", being mixed" if self.session.log.is_begun(p.id) else ""
        where = f"{p.order} of {len(self.piles.order())}: {self.piles.names()[p.id]}{mixed}"
        if self.saying:
            said = said_words(self.work.saying.pairs())
            ask = [] if said else ["Press a word again for more."]
            return [f"{where} is …", said or "Which way is it off?", *ask]
        if self.picture.scene:
            return self.picture.lines(where)
        value = f"value {numbers.short(p.target.value)}"
        if self.advice is not None:
            return [where, *self._advice_lines(self.advice)]
        if self.step == 0:
            said = drying(self.studio.document, p.recipe).words
            recipe = [i.said for i in p.recipe.ingredients]
            return [f"{where}, {value}", *recipe, *([said] if said else [])]
        step = self.steps()[self.step - 1]
        return [f"{where}, {value}", step.said, *([step.words] if step.act != "cut" else [])]

    def _advice_lines(self, now: Advice) -> list[str]:
        c = now.correction
        if c.verdict == "again":
            return [*(f"Make {m}" for m in makings(self.studio.document, now)), "Start it again:", *now.again_words()]
        if c.verdict not in ("add", "cut"):
            return [verdict_words(now)]
        first = "Add" if c.verdict == "add" else f"Keep {kept_words(c.keep)} of the pile, add"
        made = [f"Make {words}" for words in makings(self.studio.document, now)]
        return [*made, f"{first}, half first:" if c.half_first else f"{first}:", *addition_list(now)]

    def why(self) -> str:
        """Why just this is added, where words fixed it; "" otherwise."""
        if self.advice is None or self.saying or self.picture.scene:
            return ""
        return self.advice.correction.why

    # What is done

    def forward(self) -> None:
        """The next addition; after the last, the next pile."""
        if self.saying:
            self.say()
            return
        if self.picture.scene:
            self._picture_step(1)
            return
        if self.advice is not None:
            self._take_advice()
            return
        if self.step < len(self.steps()):
            self.step += 1
        else:
            self._go(1)
        self._shown()

    def back(self) -> None:
        """The addition before; before the first, the pile before."""
        if self.picture.scene and not self.saying:
            self._picture_step(-1)
            return
        if self.advice is not None or self.saying:
            self.advice, self.saying = None, False
            self.work.saying.clear()
        elif self.step > 0:
            self.step -= 1
        else:
            self._go(-1)
        self._shown()

    def _picture_step(self, way: int) -> None:
        """The next pile on the canvas, or the next pile in hand."""
        if not self.picture.step(way):
            self._go(way)
            self.picture.refresh()
        self._shown()

    def next_picture(self) -> None:
        """Where the pile goes, the block-in, what is missing, the photo, laying in; then the recipe again."""
        self.advice, self.saying = None, False
        self.picture.next()
        self._shown()

    def _go(self, way: int) -> None:
        if self.work.go(way):
            self.step, self.advice = 0, None
            self._began = time.monotonic()

    def _shown(self) -> None:
        self._describe()
        self._show_keys()
        self.update()

    def word(self, word: str) -> None:
        """The pile is off that way; pressed again, by more."""
        self.work.saying.press(word)
        self._shown()

    def say(self) -> None:
        """What was pressed is how the pile is off: work out what to add."""
        self.saying = False
        self.work.say()
        self._shown()

    def _seen(self) -> None:
        if self.isVisible() and self.work.ask():
            self._advised()

    def _advised(self) -> None:
        answer = self.work.answer
        if not self.isVisible():
            return
        if isinstance(answer, str):
            self.studio.failed.emit(answer)
        else:
            self.advice = answer
            self._shown()

    def ask_words(self) -> None:
        """Say how the pile is off, or not after all."""
        self.picture.close()
        self.saying = not self.saying
        self._shown()

    def _log_word(self) -> str:
        p = self.pile()
        return _FINISHED if p is not None and self.session.log.is_begun(p.id) else _BEGIN

    def begin_or_finish(self) -> None:
        """For the log: the pile in hand is being mixed from here, or is finished; then the next one comes."""
        p = self.pile()
        if p is None:
            return
        if self.session.log.is_begun(p.id):
            self.session.log.finish(p.id)
            self._go(1)
        else:
            self.session.log.begin(p.id)
        self._shown()

    def all_piles(self) -> None:
        """All piles from one photo of the palette."""
        dialog = AllPilesDialog(self, self.piles, self.session.settings)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.finished.connect(lambda _: self._came_back())
        dialog.open()

    def _came_back(self) -> None:
        """From the photo: at the beginning of the pile that is in hand now."""
        self.step, self.advice = 0, None
        self._shown()

    def _take_advice(self) -> None:
        """What was advised went in."""
        now, self.advice = self.advice, None
        if now is not None and now.correction.verdict in ("add", "cut", "again"):
            self.work.put_in(now)
        self._shown()

    def toggle_timer(self) -> None:
        """A clock for this pile, or none."""
        self.timing = not self.timing
        self._began = time.monotonic()
        self._tick.start() if self.timing else self._tick.stop()
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key = event.key()
        pressed = event.text().upper()
        if self.saying and pressed in WORD_KEYS:
            self.word(WORD_KEYS[pressed])
        elif key in _NEXT:
            self.forward()
        elif key in _BACK:
            self.back()
        elif key == Qt.Key.Key_T:
            self.toggle_timer()
        elif key == Qt.Key.Key_R:
            self.work.read_it()
        elif key == Qt.Key.Key_P:
            self.all_piles()
        elif key == Qt.Key.Key_B:
            self.begin_or_finish()
        elif key == Qt.Key.Key_O:
            self.ask_words()
        elif key == Qt.Key.Key_K:
            self.next_picture()
        elif key in (Qt.Key.Key_Escape, Qt.Key.Key_F11):
            self.close()
        else:
            super().keyPressEvent(event)

    def show_it(self) -> None:
        """Full screen, the screen kept awake."""
        self.step, self.saying, self.advice = 0, False, None
        self.picture.close()
        self.work.saying.clear()
        self._began = time.monotonic()
        self._shown()
        self.awake.hold()
        parent = self.parentWidget()
        screen = parent.screen() if parent is not None else None
        if screen is not None:  # a desktop without a window manager makes nothing full screen by itself
            self.setGeometry(screen.geometry())
        self.showFullScreen()
        self.setFocus()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self.awake.let_go()
        self.picture.close()
        self._tick.stop()
        self.timing = False
        super().closeEvent(event)
        self.closed.emit()

    # What can be pressed

    def _make_keys(self) -> list[list[EaselKey]]:
        """The row that is always there, then two rows of words."""
        acts = {
            "previous": self.back,
            "next": self.forward,
            _BEGIN: self.begin_or_finish,
            "too …": self.ask_words,
            "read": self.work.read_it,
            "all piles": self.all_piles,
            "picture": self.next_picture,
            "done": self.close,
        }
        letters = {word: key for key, word in WORD_KEYS.items()}
        words = list(WORDS)
        rows = [[EaselKey(self, name, 24) for name in acts]]
        for key, act in zip(rows[0], acts.values(), strict=True):
            key.clicked.connect(lambda _, act=act: act())
        for part, last, act in ((words[:7], "back", self.back), (words[7:], "say so", self.say)):
            row = [EaselKey(self, word, 19, letters[word]) for word in part]
            for key, word in zip(row, part, strict=True):
                key.clicked.connect(lambda _, word=word: self.word(word))
            row.append(EaselKey(self, last, 19))
            row[-1].clicked.connect(lambda _, act=act: act())
            rows.append(row)
        return rows

    def _show_keys(self) -> None:
        usual, *words = self.keys
        usual[2].setText(self._log_word())
        usual[2].setAccessibleName(self._log_word())
        there = self.studio.picture is not None
        usual[6].setEnabled(there)
        usual[6].setAccessibleName("picture" if there else "picture: there is none, open a photo first")
        for key in (key for row in words for key in row):
            key.degree = self.work.saying.degree(key.text()) if key.text() in WORDS else 0
            times = f", {key.degree} of 3" if key.degree else ""
            key.setAccessibleName(f"{key.text()}{times}")
            key.update()
        shown = words if self.saying else [usual]
        for row in self.keys:
            top = self.height() - _BAR * (len(shown) - shown.index(row)) if row in shown else 0
            wide = self.width() / len(row)
            for k, key in enumerate(row):
                key.setGeometry(QRectF(k * wide + 4, top + 2, wide - 8, _BAR - 8).toRect())
                key.setVisible(row in shown)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._show_keys()

    # Painting

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surround"))
        wide, high = float(self.width()), float(self.height() - _BAR * (1 + self.saying))
        p = self.pile()
        if self.picture.scene and not self.saying:
            room = QRectF(wide * 0.02, high * 0.04, wide * 0.96, high * 0.92)
            self.picture.paint(painter, room, lambda beside: self._write(painter, beside))
            return
        if p is not None:
            seen = p.recipe.lab
            if self.advice is not None:
                seen = expected_of(self.advice)
            elif self.step:
                seen = self.steps()[self.step - 1].lab
            box = QRectF(wide * 0.02, high * 0.06, wide * 0.46, high * 0.88)
            path = pile(p.id, box) if self.step == 0 and self.advice is None else _block(box)
            stacked(painter, path, [p.target.lab, seen, *self._wet(p)])
        self._write(painter, QRectF(wide * 0.52, high * 0.05, wide * 0.46, high * 0.9))

    def _wet(self, p: Pile) -> list[Lab]:
        """What the finished pile looks like wet, where that is another colour."""
        if self.advice is not None or self.step not in (0, len(self.steps())):
            return []
        dried = drying(self.studio.document, p.recipe)
        return [dried.wet] if dried.differs else []

    def _write(self, painter: QPainter, room: QRectF) -> None:
        """The words, two centimetres high where they fit, and the clock."""
        screen = self.screen()
        dots = screen.physicalDotsPerInch() if screen is not None else 96.0
        clock = time.monotonic() - self._began if self.timing else None
        write_large(painter, room, self.lines(), LETTER_CM / 2.54 * dots, clock, self.why())


def _block(box: QRectF) -> QPainterPath:
    """A plain block: what grows on the palette has no form yet."""
    path = QPainterPath()
    path.addRoundedRect(QRectF(QPointF(box.left(), box.top()), box.size()), 24, 24)
    return path
