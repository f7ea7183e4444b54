"""Every tool of the easel does what its kind says, by dragging and by clicks."""

import itertools

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from ochre_stone.desktop.easel.tools import TOOLS, tool_named
from tests.desktop.helpers import PictureCase

ROUND = ((60, 40), (240, 40), (240, 180), (60, 180), (62, 60))


class EveryTool(PictureCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.go_to("Note")
        self.settle()
        self.easel = self.window.easel
        self.done: list[tuple[str, int]] = []
        self.spots: list[tuple[float, float]] = []
        # Only the easel is in question: what stations do with it is tested with them.
        showing = self.window.desk.showing
        wired = ((self.easel.drawn, showing._drawn, self._drawn), (self.easel.clicked, showing._clicked, self._clicked))
        for signal, theirs, ours in wired:
            signal.disconnect(theirs)
            signal.connect(ours)
            self.addCleanup(signal.connect, theirs)
            self.addCleanup(signal.disconnect, ours)

    def _drawn(self, name: str, points: list[tuple[float, float]]) -> None:
        self.done.append((name, len(points)))

    def _clicked(self, x: float, y: float) -> None:
        self.spots.append((x, y))

    def stroke(self) -> None:
        at = [self.easel.to_widget(x, y).toPoint() for x, y in ROUND]
        QTest.mousePress(self.easel, Qt.MouseButton.LeftButton, pos=at[0])
        for a, b in itertools.pairwise(at):
            for k in range(1, 9):
                QTest.mouseMove(self.easel, (QPointF(a) + (QPointF(b) - QPointF(a)) * k / 8).toPoint())
                self.app.processEvents()
        QTest.mouseRelease(self.easel, Qt.MouseButton.LeftButton, pos=at[-1])
        self.app.processEvents()

    def test_by_dragging(self) -> None:
        for name, tool in TOOLS.items():
            with self.subTest(name):
                self.done.clear()
                self.easel.take(tool_named(name, 9))
                self.stroke()
                if tool.by_dragging:
                    self.assertEqual([n for n, _ in self.done], [name])
                    self.assertEqual(self.done[0][1] == 2, tool.draws == "line")
                else:
                    self.assertEqual(self.done, [])
                self.easel.take(None)
                self.easel.fit()

    def test_by_clicks(self) -> None:
        for name, tool in TOOLS.items():
            with self.subTest(name):
                self.done.clear()
                self.spots.clear()
                self.easel.take(tool_named(name, 9))
                for x, y in ROUND[:4]:
                    self.click_picture(x, y)
                if tool.draws == "area":
                    self.key(Qt.Key.Key_Return, widget=self.easel)
                self.assertEqual(len(self.spots), 4 if tool.points == 1 else 0)
                whole = {"spot": [], "line": [(name, 2)] * 2}.get(tool.draws, [(name, 4)])
                self.assertEqual(self.done, whole)
                self.easel.take(None)
