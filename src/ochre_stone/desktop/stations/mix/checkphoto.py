"""A photo of the palette with what is found in it: is everything taken for what it is?"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QPointF, Qt, QTimer
from PyQt6.QtGui import QImage, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from ochre_stone.core.boardphoto.layout import Layout, SeenRegion
from ochre_stone.core.boardphoto.outlines import pile_outlines
from ochre_stone.core.boardphoto.read import FIND, BoardPhoto, CardAt
from ochre_stone.core.boardphoto.square import Code8
from ochre_stone.core.colour.munsell import value_of_lightness
from ochre_stone.core.colour.spaces import Array
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture.picture import Picture
from ochre_stone.core.planning.palettephoto import Taken, to_take, with_photo
from ochre_stone.desktop.easel.easel import Easel
from ochre_stone.desktop.easel.marks import Mark
from ochre_stone.desktop.easel.tools import tool_named
from ochre_stone.desktop.session.jobs import Report
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import Words, button, signals_blocked

_INSET = 0.1
"""Where the corners begin that could not be told, as a share of the photo."""
_PATIENCE_MS = 350
NONE, ASK = "none of these", "?"


_Looked = tuple[BoardPhoto, list[SeenRegion], dict[int, list[tuple[float, float]]]]


@dataclass(frozen=True, eq=False)
class OpenedPhoto:
    """A photo of the palette, and where its corners seem to be."""

    picture: Picture
    image: QImage
    """As it is shown."""
    half: Code8
    corners: Array | None
    layout: Layout


class CheckPage(QWidget):
    """Is everything taken for what it is?"""

    def __init__(self, piles: Piles, taken: Callable[[list[Taken]], None], back: Callable[[], None]) -> None:
        super().__init__()
        self.piles, self.studio, self._taken = piles, piles.studio, taken
        self.photo: OpenedPhoto | None = None
        self.corners: Array = np.zeros((4, 2))
        self.card: CardAt | None = FIND
        self.board: BoardPhoto | None = None
        self.seen: list[SeenRegion] = []
        self.edges: dict[int, list[tuple[float, float]]] = {}
        self.names: dict[int, str] = {}
        """What the painter said that a pile is, by its number; "" for none of these."""
        self.joining: int | None = None
        self.easel = Easel()
        self.easel.hint = ""
        self.easel.marks_move = self.easel.show_marks = True
        self.mark = ""
        """The corner or the card in hand."""
        self.easel.mark_moved.connect(self.moved)
        self.easel.mark_chosen.connect(self._take_mark)
        self.easel.clicked.connect(self.clicked)
        self.easel.take(tool_named("pile"))
        self.says = Words("")
        self.says.setWordWrap(True)
        self.list = QListWidget()
        self.list.setAccessibleName("Piles in the photo")
        self.list.currentRowChanged.connect(lambda _: self._pick())
        self.name = QComboBox()
        self.name.setAccessibleName("What this pile is")
        self.name.activated.connect(self._named)
        self.split = button("Split", "This is two piles that touch")
        self.split.clicked.connect(self.split_it)
        self.join = button("Join with …", "Click the other part of the same pile", checkable=True)
        self.join.toggled.connect(self._join_next)
        self.right = button("Names are right", "All names that are asked for are right")
        self.right.clicked.connect(self.all_right)
        self.no_card = QCheckBox("No card in the photo")
        self.no_card.toggled.connect(self._without_card)
        self.take = button("Take readings", "Each pile that can be read and has its name", "main")
        self.take.clicked.connect(self.take_them)
        self.back = button("Another photo")
        self.back.clicked.connect(lambda: back())
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_PATIENCE_MS)
        self._timer.timeout.connect(self.look)
        self._lay_out()

    def _lay_out(self) -> None:
        side = QVBoxLayout()
        side.addWidget(self.says)
        side.addWidget(self.list, 1)
        side.addWidget(self.name)
        row = QHBoxLayout()
        row.addWidget(self.split)
        row.addWidget(self.join)
        row.addStretch(1)
        side.addLayout(row)
        side.addWidget(self.no_card)
        last = QHBoxLayout()
        for w in (self.right, self.take):
            last.addWidget(w)
        side.addLayout(last)
        side.addWidget(self.back)
        box = QWidget()
        box.setLayout(side)
        box.setFixedWidth(330)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(self.easel, 1)
        whole.addWidget(box)

    # The photo

    def begin(self, photo: OpenedPhoto) -> None:
        """A photo to be looked at."""
        self.photo = photo
        w, h = photo.picture.width, photo.picture.height
        given = np.array([(_INSET, _INSET), (1 - _INSET, _INSET), (1 - _INSET, 1 - _INSET), (_INSET, 1 - _INSET)])
        self.corners = photo.corners if photo.corners is not None else given * (w, h)
        self.card, self.names, self.board, self.seen = FIND, {}, None, []
        with signals_blocked(self.no_card):
            self.no_card.setChecked(False)
        self.look()

    def look(self) -> None:
        """Find and read the piles, by the corners and the card as they are."""
        photo, corners, card = self.photo, self.corners.copy(), self.card
        if photo is None:
            return
        self._show_photo()
        self.says.setText("Looking for the piles …")

        def work(_: Report) -> _Looked:
            board = BoardPhoto.of(photo.half, photo.layout, corners, card)
            piles = board.piles()
            return board, piles, pile_outlines(board)

        self._start(work)

    def _start(self, work: Callable[[Report], _Looked]) -> None:
        def arrived(found: _Looked) -> None:
            self.board, self.seen, self.edges = found
            numbers = {p.number for p in self.seen}
            self.names = {n: name for n, name in self.names.items() if n in numbers}
            self._show_photo()
            self._fill()

        self.studio.jobs.start("palette-photo", work, arrived, self.says.setText)

    def moved(self, mark: str, x: float, y: float) -> None:
        """A corner or the card was dragged."""
        if mark == "card":
            self.card = (x, y)
            with signals_blocked(self.no_card):
                self.no_card.setChecked(False)
        else:
            self.corners[int(mark[-1])] = x, y
        self._marks()
        self.names = {}
        self._timer.start()

    def _without_card(self, on: bool) -> None:
        self.card = None if on else FIND
        self.look()

    # What is found

    def name_of(self, p: SeenRegion) -> str:
        """What a pile is taken for, "" for none of these."""
        return self.names.get(p.number, "" if p.is_tube else p.id)

    def asked(self, p: SeenRegion) -> bool:
        """Whether its name still has to be said."""
        return p.asks and p.number not in self.names

    def planned(self) -> list[str]:
        """Ids of all planned piles, in the order of their names."""
        return list(self.piles.names())

    def _fill(self) -> None:
        names = self.piles.names()
        there = [p for p in self.seen if not p.is_tube]
        chosen = self._chosen()
        with signals_blocked(self.list):
            self.list.clear()
            for p in sorted(there, key=self._rank):
                item = QListWidgetItem(self._words(p))
                item.setData(Qt.ItemDataRole.UserRole, p.number)
                self.list.addItem(item)
                if chosen is not None and chosen.number == p.number:
                    self.list.setCurrentItem(item)
            missing = [names[i] for i in self.planned() if i not in {self.name_of(p) for p in there}]
            if missing:
                self.list.addItem(QListWidgetItem("not seen: " + ", ".join(missing)))
        self._summary(there, missing)
        self._pick()

    def _rank(self, p: SeenRegion) -> tuple[bool, bool, str]:
        """What needs the painter comes first."""
        return not self.asked(p), not p.unreadable, self.piles.names().get(self.name_of(p), "~")

    def _words(self, p: SeenRegion) -> str:
        names = self.piles.names()
        name = names.get(self.name_of(p), "not in the plan")
        if p.unreadable:
            return f"{name}: burnt out, take the photo one stop darker"
        if self.asked(p):
            other = names.get(p.other, "")
            return f"{name}?  {p.sure:.0%} sure{', or ' + other if other else ''}"
        return f"{name}: value {value_of_lightness(p.lab[0]):.1f}, give or take {p.noise:.1f}"

    def _summary(self, there: list[SeenRegion], missing: list[str]) -> None:
        burnt, asked = sum(p.unreadable for p in there), sum(self.asked(p) for p in there)
        said = [f"{len(there)} piles found"]
        if asked:
            said.append(f"{asked} to be named")
        if missing:
            said.append(f"{len(missing)} planned ones not seen")
        words = ", ".join(said) + "."
        if burnt:
            words += f" {burnt} burnt out: one stop darker, please."
        assert self.board is not None
        if self.card is None:
            words += " Without a card the palette counts as white."
        elif self.board.card is None:
            words += " No card found: drag its mark onto one, or the palette counts as white."
        self.says.setText(words)
        self.right.setEnabled(asked > 0)
        taken = len(to_take(self.seen, self.names))
        self.take.setEnabled(taken > 0)
        self.take.setText(f"Take {taken} readings")

    def _chosen(self) -> SeenRegion | None:
        item = self.list.currentItem()
        number = item.data(Qt.ItemDataRole.UserRole) if item is not None else None
        return next((p for p in self.seen if p.number == number), None)

    def _pick(self) -> None:
        p = self._chosen()
        for w in (self.name, self.split, self.join):
            w.setEnabled(p is not None)
        with signals_blocked(self.name):
            self.name.clear()
            if p is not None:
                names = self.piles.names()
                likely = [i for i in (p.id, p.other) if i in names]
                for i in [*likely, *(i for i in self.planned() if i not in likely)]:
                    self.name.addItem(names[i], i)
                self.name.addItem(NONE, "")
                self.name.setCurrentIndex(self.name.findData(self.name_of(p)))
        if p is not None and self.name_of(p) in self.piles.names() and self.name_of(p) != self.piles.in_hand:
            self.piles.choose(self.name_of(p))
        self._show_photo()

    def _named(self, row: int) -> None:
        p = self._chosen()
        if p is None:
            return
        name = str(self.name.itemData(row))
        for other in self.seen:  # one pile has one name
            if name and other.number != p.number and self.name_of(other) == name:
                self.names[other.number] = ""
        self.names[p.number] = name
        self._fill()

    def all_right(self) -> None:
        """Every name that is asked for is what it was taken for."""
        self.names |= {p.number: p.id for p in self.seen if self.asked(p)}
        self._fill()

    def split_it(self) -> None:
        """The pile in hand is two."""
        p, board = self._chosen(), self.board
        if p is None or board is None:
            return
        self.says.setText("Parting it in two …")
        count = len(self.seen)

        def work(_: Report) -> _Looked:
            new = board.with_split(p.number)
            parts = new.named_as_found()
            if len(parts) <= count:
                raise OchreError("It has no two parts that are thick enough for piles: it stays one.")
            return new, parts, pile_outlines(new)

        self._start(work)

    def _join_next(self, on: bool) -> None:
        p = self._chosen()
        self.joining = p.number if on and p is not None else None
        if on:
            self.says.setText("Click the other part of this pile.")

    def clicked(self, x: float, y: float) -> None:
        """A pile in the photo: take it in hand, or join it with the one in hand."""
        board = self.board
        if board is None:
            return
        number = board.number_at(x, y)
        if not number:
            return
        if self.joining is not None and number != self.joining:
            one = self.joining

            def work(_: Report) -> _Looked:
                new = board.with_joined(one, number)
                return new, new.named_as_found(), pile_outlines(new)

            self.join.setChecked(False)
            self._start(work)
            return
        for row in range(self.list.count()):
            item = self.list.item(row)
            if item is not None and item.data(Qt.ItemDataRole.UserRole) == number:
                self.list.setCurrentRow(row)

    # What is shown

    def _marks(self) -> None:
        assert self.photo is not None
        size = max(self.photo.picture.width, self.photo.picture.height) / 90
        places = {f"corner-{k}": (float(x), float(y)) for k, (x, y) in enumerate(self.corners)}
        at = self._card_at()
        if at is not None:
            places["card"] = at
        self.easel.show_marks_of(tuple(Mark(i, *p, size, chosen=i == self.mark) for i, p in places.items()))

    def _take_mark(self, mark: str) -> None:
        """A corner or the card in hand: Ctrl and the arrow keys move it."""
        self.mark = mark
        self._marks()

    def _card_at(self) -> tuple[float, float] | None:
        if isinstance(self.card, tuple):
            return self.card
        if self.card is None or self.board is None:
            return None
        card = self.board.card
        if card is None:  # beside the palette's middle, to be dragged onto a card
            return float(self.corners[:, 0].mean()), float(self.corners[:, 1].mean())
        x, y = self.board.squared.to_photo(np.array([(card.x, card.y)]))[0]
        return float(x), float(y)

    def _show_photo(self) -> None:
        if self.photo is None:
            return
        picture = self.photo.picture
        self.easel.show_image(self.photo.image, (picture.width, picture.height), self._cover(self.photo.image))
        self._marks()

    def _cover(self, image: QImage) -> QImage:
        """Outlines and names over the photo."""
        assert self.photo is not None
        cover = QImage(image.size(), QImage.Format.Format_ARGB32_Premultiplied)
        cover.fill(0)
        if self.board is None:
            return cover
        painter = QPainter(cover)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        scale = image.width() / self.photo.picture.width
        names, chosen, edges = self.piles.names(), self._chosen(), self.edges
        painter.setFont(theme.face(9, bold=True))
        for p in self.seen:
            path = QPolygonF([QPointF(x * scale, y * scale) for x, y in edges.get(p.number, [])])
            mine = chosen is not None and chosen.number == p.number
            style = Qt.PenStyle.DashLine if self.asked(p) or p.unreadable else Qt.PenStyle.SolidLine
            light = ("accent", 2.0) if mine else ("on_surround", 1.2)
            for colour, width in (("deep", light[1] + 1.6), light):
                painter.setPen(QPen(theme.colour(colour), width, style))
                painter.drawPolygon(path)
            if p.is_tube or path.isEmpty():
                continue
            said = names.get(self.name_of(p), "") + (ASK if self.asked(p) else "") or "–"
            said = "burnt" if p.unreadable else said
            box = painter.fontMetrics().boundingRect(said).toRectF()
            box.moveCenter(path.boundingRect().center())
            painter.fillRect(box.adjusted(-3, -1, 3, 1), theme.colour("deep"))
            painter.setPen(theme.colour("text"))
            painter.drawText(box.adjusted(-3, -1, 3, 1), Qt.AlignmentFlag.AlignCenter, said)
        painter.end()
        return cover

    def take_them(self) -> None:
        """What was seen counts as readings; then what to do about what is off."""
        taken = to_take(self.seen, self.names)
        if not taken:
            return
        self.studio.change("Read all piles from a photo", with_photo(self.studio.document, taken))
        self._taken(taken)
