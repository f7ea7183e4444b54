"""The Palette page of Mix: where each pile goes on a palette of this size."""

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QDoubleSpinBox, QLabel

from ochre_stone.core.mixing.layout import Board, lay_out
from ochre_stone.desktop.stations.base import button, quietly
from ochre_stone.desktop.widgets.boardview import BoardView

if TYPE_CHECKING:
    from ochre_stone.desktop.stations.mix import Mix


class BoardPage:
    """The palette laid out beside the picture."""

    def __init__(self, station: "Mix") -> None:
        self.station, self.studio = station, station.studio
        self.view = self.panel = BoardView()
        self.view.chosen.connect(station.choose)
        station.label("Your palette", "head")
        self.width, self.height = QDoubleSpinBox(), QDoubleSpinBox()
        for box, field in ((self.width, "board_width"), (self.height, "board_height")):
            box.setRange(8, 300)
            box.setDecimals(0)
            box.setSuffix(" cm")
            box.setAccessibleName(f"Palette {field.partition('_')[2]}")
            box.valueChanged.connect(lambda v, f=field: station.set_canvas("Palette size", "board", **{f: v}))
        station.row(self.width, QLabel("×"), self.height, None)
        self.words = station.label("")
        station.label("Its surface is chosen in the menu View, Palette surface.", "quiet")
        self.print = button("Save the layout…", "As PDF at its real size, SVG or PNG")
        self.print.clicked.connect(lambda: station.window_.filing.export_board())
        station.row(self.print, None)
        self.hint = station.label(
            "Light above, dark below, warm left, cool right, neutral in the middle; tubes along the edge.", "quiet"
        )
        self.board: Board | None = None
        self._made_for: object = None

    def refresh(self) -> None:
        """Lay the piles out; off the main thread where it is new."""
        document, c = self.station.document, self.station.document.canvas
        with quietly(self.width), quietly(self.height):
            self.width.setValue(c.board_width)
            self.height.setValue(c.board_height)
        self.view.surface = self.station.window_.settings.palette_surface
        needed = self.station.needed()
        labs = {p.id: p.recipe.lab for s in document.mixed.strings for p in s.piles}
        names = self.station.names()
        self.view.hint = "The strings are being worked out." if document.notes else "Take notes first."
        if needed is None or not labs:
            self.view.show_board(None, {}, {}, None)
            self.words.setText("")
            return
        tubes = {i: document.mixed.tube(i).lab for i in needed.tubes}
        key = (document.mixed.fingerprint, tuple(needed.piles.items()), c.board_width, c.board_height)
        both = {**labs, **tubes}
        if key == self._made_for and self.board is not None:
            self.view.show_board(self.board, both, names, self.station.pile_id)
            self.words.setText(self.board.words)
            return
        piles = {i: (lab, needed.piles[i]) for i, lab in labs.items() if i in needed.piles}

        def arrived(board: Board) -> None:
            self.board, self._made_for = board, key
            self.station.refresh_if_here()

        work = lambda _: lay_out(piles, tubes, c.board_width, c.board_height)  # noqa: E731
        self.studio.jobs.start("board", work, arrived, self.studio.failed.emit)
