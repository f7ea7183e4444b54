"""Can it be read, by eye and without: contrast on rendered pixels, text sizes, names of all that can be worked, the
order of Tab, drawn things by keys."""

import unittest
from itertools import pairwise

import numpy as np
from PyQt6.QtCore import QPoint, QRect, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractSlider,
    QAbstractSpinBox,
    QCheckBox,
    QComboBox,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QScrollBar,
    QTabBar,
    QWidget,
)

from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.items import Item, Items, toward_key
from ochre_stone.desktop.widgets.parts import Words, button
from tests.desktop.helpers import PictureCase, WindowCase, app

WORKED = (QAbstractButton, QAbstractSlider, QAbstractSpinBox, QComboBox, QLineEdit, QAbstractItemView, QTabBar)


def luminance(codes: np.ndarray) -> np.ndarray:
    """Relative luminance of sRGB bytes (..., 3), by WCAG 2.2's definition."""
    v = np.asarray(codes, dtype=float) / 255
    linear = np.where(v <= 0.04045, v / 12.92, ((v + 0.055) / 1.055) ** 2.4)
    return linear @ [0.2126, 0.7152, 0.0722]


def contrast(a: np.ndarray, b: np.ndarray) -> float:
    """Contrast ratio of two colours by WCAG 2.2."""
    low, high = sorted((float(luminance(a)), float(luminance(b))))
    return (high + 0.05) / (low + 0.05)


def pixels(widget: QWidget, part: QRect | None = None) -> np.ndarray:
    """Bytes (h, w, 3) of a widget as it is drawn."""
    image = widget.grab(part if part is not None else widget.rect()).toImage()
    image = image.convertToFormat(QImage.Format.Format_RGB888)
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    rows = np.array(bits, np.uint8).reshape(image.height(), image.bytesPerLine())
    return rows[:, : image.width() * 3].reshape(image.height(), image.width(), 3)


def ink_and_ground(seen: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """The ground is the commonest colour; the ink the one farthest from it in luminance, which is the glyphs' core:
    their edges lie between the two."""
    flat = seen.reshape(-1, 3)
    colours, counts = np.unique(flat, axis=0, return_counts=True)
    ground = colours[counts.argmax()]
    return colours[np.abs(luminance(colours) - luminance(ground)).argmax()], ground


class Contrast(unittest.TestCase):
    def setUp(self) -> None:
        self.app = app()
        self.addCleanup(theme.apply, self.app, "middle")

    def test_the_ratio_itself(self):
        """Black on white is 21, and #777777 on white 4.48 (WCAG 2.2's definition, worked by hand)."""
        self.assertAlmostEqual(contrast(np.array([0, 0, 0]), np.array([255, 255, 255])), 21.0, places=6)
        self.assertAlmostEqual(contrast(np.array([119, 119, 119]), np.array([255, 255, 255])), 4.478, places=3)

    def in_tray(self, widget: QWidget) -> QWidget:
        """A piece of tray with the widget on it, shown."""
        host = QWidget()
        host.setObjectName("trayBody")
        host.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        theme.style(host)
        widget.setParent(host)
        widget.move(10, 10)
        widget.adjustSize()
        host.resize(widget.width() + 40, widget.height() + 20)
        host.show()
        self.addCleanup(host.close)
        self.app.processEvents()
        return host

    def drawn(self, widget: QWidget) -> float:
        """Contrast of what is written on a widget against its ground."""
        seen = pixels(self.in_tray(widget), widget.geometry())
        return contrast(*ink_and_ground(seen[4:-4, 6:-6]))

    def test_words_in_trays(self):
        for name in theme.THEMES:
            theme.apply(self.app, name)
            for kind, least in (("", 4.5), ("quiet", 4.5), ("head", 4.5), ("title", 4.5)):
                label = Words("HHHH MMMM ■■■")
                if kind:
                    label.setProperty("kind", kind)
                self.assertGreaterEqual(self.drawn(label), least, (name, kind))

    def test_buttons_that_work_and_that_do_not(self):
        for name in theme.THEMES:
            theme.apply(self.app, name)
            for kind in ("", "main", "small"):
                b = button("■■■ MMM", kind=kind)
                self.assertGreaterEqual(self.drawn(b), 4.5, (name, kind))
                off = button("■■■ MMM", kind=kind)
                off.setEnabled(False)
                self.assertGreaterEqual(self.drawn(off), 3.0, (name, kind, "disabled"))

    def test_outlines_of_what_can_be_worked(self):
        for name, t in theme.THEMES.items():
            theme.apply(self.app, name)
            for make in (lambda: button("x"), QComboBox, QLineEdit, QCheckBox):
                widget = make()
                seen = pixels(self.in_tray(widget))
                row = seen[10 + widget.height() // 2, 5:30]
                ground = np.array([int(t.panel[i : i + 2], 16) for i in (1, 3, 5)])
                best = max(contrast(c, ground) for c in row)
                self.assertGreaterEqual(best, 3.0, (name, type(widget).__name__))

    def test_text_and_ring_on_the_surround(self):
        for name, t in theme.THEMES.items():
            ground = np.array([int(t.surround[i : i + 2], 16) for i in (1, 3, 5)])
            text = np.array([int(t.on_surround[i : i + 2], 16) for i in (1, 3, 5)])
            ring = np.array([int(t.accent[i : i + 2], 16) for i in (1, 3, 5)])
            self.assertGreaterEqual(contrast(text, ground), 4.5, name)
            self.assertGreaterEqual(contrast(ring, ground), 3.0, name)
            for grey in (t.surround, t.panel, t.deep, t.line, t.edge, t.text, t.quiet, t.off):
                self.assertEqual(len({grey[1:3], grey[3:5], grey[5:7]}), 1, f"{grey} is no true neutral")

    def test_nothing_below_nine_points(self):
        self.addCleanup(theme.scale_text, 1.0)
        for factor in (0.8, 1.0, 1.5):
            theme.scale_text(factor)
            for points in (7, 8.5, 9, 12):
                self.assertGreaterEqual(theme.face(points).pointSizeF(), 9.0)
        self.assertAlmostEqual(theme.face(10).pointSizeF(), 15.0)

    def test_a_larger_text_of_the_desktop_is_honoured(self):
        self.addCleanup(theme.learn_desktop, 0.0)
        for points, factor in ((9.0, 1.0), (11.0, 1.0), (16.5, 1.5), (0.0, 1.0)):
            theme.learn_desktop(points)
            self.assertAlmostEqual(theme.of_the_desktop(), factor)


class Ring(PictureCase):
    def test_the_note_in_hand_is_seen_on_the_scale(self):
        w = self.window
        w.go_to("Note")
        for x, y in ((150, 100), (30, 20)):
            self.click_picture(x, y)
        self.settle()
        box = next(b for i, b in w.scale.places() if i == w.studio.selected).toAlignedRect()
        seen = pixels(w.scale.viewport(), box.adjusted(-6, -6, 6, 6)).reshape(-1, 3)
        ground = np.array([int(theme.current().surround[i : i + 2], 16) for i in (1, 3, 5)])
        ring = np.array([int(theme.current().accent[i : i + 2], 16) for i in (1, 3, 5)])
        self.assertTrue((np.abs(seen.astype(int) - ring).max(axis=1) <= 2).sum() > 20, "the ring is drawn")
        self.assertGreaterEqual(contrast(ring, ground), 3.0)


class Sizes(WindowCase):
    def test_no_tray_and_no_word_of_a_button_is_cut(self):
        w = self.window
        self.open_small()
        self.addCleanup(w.session.preferences.size_text, "100")
        for percent in ("80", "150"):
            w.session.preferences.size_text(percent)
            self.settle()
            for s in w.stations:
                for page in s.pages.names:
                    w.go_to(s.title, page)
                    self.settle()
                    room = w.stage.trays.currentWidget().viewport().width()
                    self.assertLessEqual(s.minimumSizeHint().width(), room, (percent, s.title, page))
                    for b in s.findChildren(QPushButton):
                        if b.isVisible() and b.text():
                            wide = b.fontMetrics().horizontalAdvance(b.text().replace("&", ""))
                            self.assertGreaterEqual(b.width(), wide, (percent, s.title, page, b.text()))
            self.assertGreater(w.strip.height(), w.strip.fontMetrics().height(), percent)


class Tree(WindowCase):
    """What a screen reader is told is what the toolkit's widgets and item models hold."""

    def setUp(self) -> None:
        super().setUp()
        self.open_small()

    def test_every_page(self):
        """One walk through all pages: names, items, Tab, tips, and that nothing scrolls or is cut."""
        w = self.window
        seen: dict[str, int] = {}
        for s in w.stations:
            for page in s.pages.names:
                w.go_to(s.title, page)
                self.settle()
                with self.subTest(station=s.title, page=page):
                    self.names(s)
                    self.drawn_things(s, seen)
                    self.tab(s)
                    self.room(s)
                    self.assertTrue(any(c.text() for c in s.findChildren(QLabel) if c.isVisible()), "no words")
        w.go_to("Paint box", "Tubes")
        w.at("Paint box").tubes_page.search.setText("ochre")
        self.settle()
        self.names(w.station)
        for name in (
            "Value scale",
            "Wheel with the notes and the scheme",
            "Palette laid out",
            "Tubes",
            "Strings: columns of piles from light to dark",
            "Branching: which pile goes on from which",
            "The palette, light above, dark below, warm left, cool right",
        ):
            self.assertGreater(seen.get(name, 0), 0, name)

    def names(self, s) -> None:
        """All that can be worked has a name, and in the tray a tip."""
        for part in (s, self.window.stage.sides, self.window.scale, self.window.strip):
            for c in [part, *part.findChildren(QWidget)]:
                if not isinstance(c, WORKED) or not c.isVisible() or isinstance(c, QScrollArea | QScrollBar):
                    continue
                if isinstance(c.parent(), (QComboBox, QAbstractSpinBox)) or c.objectName().startswith("qt_"):
                    continue
                text = c.text() if isinstance(c, QAbstractButton) else ""
                self.assertTrue(c.accessibleName() or text, (type(c).__name__, c.toolTip()))
                if part is s and not isinstance(c, QTabBar):
                    self.assertTrue(c.toolTip(), c.accessibleName() or text)

    def drawn_things(self, s, seen: dict[str, int]) -> None:
        """Each is an item with name and state that lies where it is drawn."""
        w = self.window
        for view in [w.scale, *w.stage.sides.findChildren(Items), *s.findChildren(Items)]:
            if not view.isVisible():
                continue
            boxes = view.boxes()
            self.assertEqual(len(boxes), len(view.items), view.accessibleName())
            seen[view.accessibleName()] = seen.get(view.accessibleName(), 0) + len(boxes)
            for row, item in enumerate(view.items):
                index = view.model().index(row, 0)
                self.assertIn(item.name, index.data(Qt.ItemDataRole.AccessibleTextRole))
                self.assertTrue(item.name.strip())
                self.assertEqual(view.visualRect(index), boxes[row].toAlignedRect())

    def tab(self, s) -> None:
        """It reaches every control of the page and never jumps up."""
        wanted = [
            c
            for c in s.findChildren(QWidget)
            if isinstance(c, WORKED)
            and c.isVisible()
            and c.isEnabled()
            and c.focusPolicy() & Qt.FocusPolicy.TabFocus
            and not c.objectName().startswith("qt_")
            and not isinstance(c.parent(), (QComboBox, QAbstractSpinBox))
            and not c.focusProxy()
            and not isinstance(c, QScrollBar)
        ]
        start, found = wanted[0], [wanted[0]]
        step = start.nextInFocusChain()
        while step is not start:
            if step in wanted:
                found.append(step)
            step = step.nextInFocusChain()
        self.assertEqual(set(map(id, found)), set(map(id, wanted)))
        first = min(range(len(found)), key=lambda i: (_place(found[i], s)[0] // 24, _place(found[i], s)[1]))
        turned = [_place(c, s) for c in found[first:] + found[:first]]
        self.assertEqual([(a, b) for a, b in pairwise(turned) if b[0] < a[0] - 12], [], "jumps up")

    def room(self, s) -> None:
        """No page scrolls or is cut at 1280 x 800."""
        scroll = self.window.stage.trays.currentWidget()
        self.assertEqual(scroll.verticalScrollBar().maximum(), 0)
        self.assertLessEqual(s.minimumSizeHint().width(), scroll.viewport().width())

    def test_pages_are_tabs(self):
        for s in self.window.stations:
            self.assertIsInstance(s.pages.bar, QTabBar)
            self.assertEqual([s.pages.bar.tabText(i) for i in range(s.pages.bar.count())], list(s.pages.names))

    def test_a_note_on_the_wheel_and_an_arm_by_keys(self):
        w = self.window
        w.go_to("Harmonise")
        w.at("Harmonise").harmony.set("x", scheme="complementary", rotation=10.0)
        self.settle()
        wheel = w.at("Harmonise").wheel
        wheel.setFocus()
        self.key(Qt.Key.Key_Down, widget=wheel)
        first = w.studio.selected
        self.key(Qt.Key.Key_Down, widget=wheel)
        self.assertNotEqual(w.studio.selected, first)
        for _ in range(len(wheel.items)):
            self.key(Qt.Key.Key_Down, widget=wheel)
        self.assertTrue(wheel.held.startswith("arm"))
        self.assertTrue(wheel.items[-1].state)
        before = w.studio.document.harmony.rotation
        self.key(Qt.Key.Key_Right, widget=wheel)
        self.assertAlmostEqual(w.studio.document.harmony.rotation, (before + 5) % 360)

    def test_a_pile_on_the_palette_by_keys(self):
        w = self.window
        w.go_to("Mix", "Palette")
        self.settle()
        view = w.at("Mix").board_page.view
        view.setFocus()
        self.assertEqual(view.held, w.session.piles.in_hand)
        start = view.boxes()[view.row_of(view.held)].center()
        others = [b.center() for b in view.boxes()]
        key, ahead = (
            (Qt.Key.Key_Up, lambda p: start.y() - p.y())
            if any(p.y() < start.y() - 2 for p in others)
            else (Qt.Key.Key_Down, lambda p: p.y() - start.y())
        )
        self.key(key, widget=view)
        self.assertEqual(view.held, w.session.piles.in_hand)
        self.assertGreater(ahead(view.boxes()[view.row_of(view.held)].center()), 0)


def _place(c: QWidget, inside: QWidget) -> tuple[int, int]:
    at = c.mapTo(inside, QPoint(0, 0))
    return at.y() + c.height() // 2, at.x()


class Drawn(unittest.TestCase):
    """The base of all that is drawn as items."""

    class Three(Items):
        def boxes(self):
            return [QRect(20 * i, 0, 15, 15).toRectF() for i in range(len(self.items))]

        def paintEvent(self, e):
            pass

    def setUp(self) -> None:
        app()
        self.view = self.Three("three")
        self.view.resize(100, 30)
        self.view.set_items([Item("a", "first", "value 2"), Item("b", "second"), Item("c", "third")])
        self.told = []
        self.view.taken.connect(self.told.append)

    def test_taken_here_is_told_and_set_from_outside_is_not(self):
        self.view.hold("b")
        self.assertEqual((self.view.held, self.told), ("b", []))
        self.view.take("c")
        self.view.step(-1)
        self.assertEqual(self.told, ["c", "b"])
        self.view.step(-9)
        self.assertEqual(self.view.held, "a")

    def test_what_is_in_hand_stays_where_only_words_change(self):
        self.view.hold("b")
        self.view.set_items([Item("a", "first"), Item("b", "renamed", "locked"), Item("c", "third")])
        self.assertEqual(self.view.held, "b")
        said = self.view.model().index(1, 0).data(Qt.ItemDataRole.AccessibleTextRole)
        self.assertEqual(said, "renamed, locked")
        self.view.set_items([Item("c", "third"), Item("b", "second")])
        self.assertEqual(self.view.held, "b")
        self.view.set_items([Item("c", "third")])
        self.assertIsNone(self.view.held)

    def test_what_is_at_a_place(self):
        self.assertEqual(self.view.at(QPoint(25, 5)), "b")
        self.assertIsNone(self.view.at(QPoint(17, 5)))
        self.assertIsNone(self.view.at(QPoint(90, 5)))

    def test_toward(self):
        boxes = [QRect(x, y, 4, 4).toRectF() for x, y in ((0, 0), (20, 0), (20, 30), (60, 5))]
        self.assertEqual(toward_key(boxes, 0, 1, 0), 1)
        self.assertEqual(toward_key(boxes, 1, 0, 1), 2)
        self.assertEqual(toward_key(boxes, 0, -1, 0), 0, "nothing lies there")
        self.assertEqual(toward_key(boxes, -1, 1, 0), 0)


if __name__ == "__main__":
    unittest.main()
