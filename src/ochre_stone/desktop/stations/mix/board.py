"""The Palette page of Mix: where each pile goes on a palette of this size."""

from collections.abc import Callable

from PyQt6.QtWidgets import QDoubleSpinBox

from ochre_stone.core.mixing.session.layout import Board
from ochre_stone.core.planning.drying import wet_piles
from ochre_stone.core.planning.palettephoto import laid_out
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.session.settings import Settings
from ochre_stone.desktop.widgets.boardview import BoardView
from ochre_stone.desktop.widgets.parts import Words, button, signals_blocked
from ochre_stone.desktop.widgets.tray import Tray


class BoardPage:
    """The palette laid out beside the picture; ``save`` asks where to write it."""

    def __init__(self, tray: Tray, piles: Piles, settings: Settings, save: Callable[[], None]) -> None:
        self.piles, self.studio, self.settings = piles, piles.studio, settings
        self.view = self.panel = BoardView()
        self.view.chosen.connect(piles.choose)
        tray.label("Your palette", "head")
        self.width, self.height = QDoubleSpinBox(), QDoubleSpinBox()
        for box, field in ((self.width, "board_width"), (self.height, "board_height")):
            box.setRange(8, 300)
            box.setDecimals(0)
            box.setSuffix(" cm")
            box.setAccessibleName(f"Palette {field.partition('_')[2]}")
            box.valueChanged.connect(lambda v, f=field: self.studio.adjust("canvas", "Palette size", "board", **{f: v}))
        tray.row(self.width, Words("×"), self.height, None)
        self.words = tray.label("")
        tray.label("Its surface is chosen in the menu View, Palette surface.", "quiet")
        self.print = button("Save the layout…", "As PDF at its real size, SVG or PNG")
        self.print.clicked.connect(lambda: save())
        tray.row(self.print, None)
        self.hint = tray.label(
            "Light above, dark below, warm left, cool right, neutral in the middle; tubes along the edge.", "quiet"
        )
        self.wet = tray.label("Each pile is dry above, wet below.", "quiet")
        self.laid: Question[Board] = Question(
            self.studio.jobs, "board", self._key, lambda _: self.refresh(), self.studio.failed.emit
        )

    def refresh(self) -> None:
        """Lay the piles out; off the main thread where it is new."""
        document, c = self.studio.document, self.studio.document.canvas
        with signals_blocked(self.width), signals_blocked(self.height):
            self.width.setValue(c.board_width)
            self.height.setValue(c.board_height)
        self.view.surface = self.settings.palette_surface
        needed = self.piles.needed()
        labs = {p.id: p.recipe.lab for s in document.mixed.strings for p in s.piles}
        names = self.piles.names()
        self.view.hint = self.piles.none_words()
        if needed is None or not labs:
            self.view.show_board(None, {}, {}, None)
            self.words.setText("")
            return
        tubes = {i: document.mixed.tube(i).lab for i in needed.tubes}
        both = {**labs, **tubes}
        wet = wet_piles(document)
        self.wet.setVisible(bool(wet))
        self.laid.ask(lambda _: laid_out(document, needed))
        if self.board is not None:
            self.view.show_board(self.board, both, names, self.piles.in_hand, wet)
            self.words.setText(self.board.words)

    @property
    def board(self) -> Board | None:
        """The layout of what is planned now, once it is worked out."""
        return self.laid.answer

    def _key(self) -> object:
        needed, c = self.piles.needed(), self.studio.document.canvas
        piles = tuple(needed.piles.items()) if needed is not None else ()
        return self.studio.document.mixed.fingerprint, piles, c.board_width, c.board_height
