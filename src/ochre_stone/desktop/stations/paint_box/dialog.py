"""Add or edit one tube of the box."""

from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QDoubleSpinBox,
    QFormLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.box import OwnTube
from ochre_stone.core.paint.media import MEDIA
from ochre_stone.core.store.boxfile import parse_pigments
from ochre_stone.desktop.session.box import box_said
from ochre_stone.desktop.widgets import theme
from ochre_stone.desktop.widgets.parts import Words, set_tip


def _spin(most: float, suffix: str, name: str, step: float = 1.0) -> QDoubleSpinBox:
    box = QDoubleSpinBox()
    box.setRange(0, most)
    box.setDecimals(2 if not suffix else 1)
    box.setSingleStep(step)
    box.setSuffix(suffix)
    box.setAccessibleName(name)
    return box


class TubeDialog(QDialog):
    """The fields of a tube; what is wrong is said beside them, and the dialog stays open."""

    def __init__(self, parent: QWidget, start: OwnTube, title: str) -> None:
        super().__init__(parent)
        theme.style(self)
        self.setWindowTitle(title)
        self.setMinimumWidth(460)
        self._start = start
        self.made: OwnTube | None = None
        self.name = QLineEdit(start.name)
        self.name.setMaxLength(80)
        self.pigments = QLineEdit(" ".join(f"{p.pigment}:{p.parts:g}" for p in start.parts))
        set_tip(self.pigments, "Pigments and their parts by volume, as ultramarine-blue:3 ivory-black:2")
        self.medium = QComboBox()
        for m in MEDIA.values():
            self.medium.addItem(m.name, m.id)
        self.medium.setCurrentIndex(self.medium.findData(start.medium))
        self.size_ml, self.stock = _spin(10_000, " ml", "Size of a tube"), _spin(100_000, " ml", "What is left")
        self.price = _spin(100_000, "", "Price of a tube")
        self.size_ml.setValue(start.size_ml)
        self.stock.setValue(start.stock_ml)
        self.price.setValue(start.price)
        set_tip(self.price, "Of one tube, in your own money; 0 where you do not know")
        self.opened = QLineEdit(start.opened)
        self.opened.setPlaceholderText("2026-05-31")
        self.remark = QLineEdit(start.remark)
        self.remark.setMaxLength(300)
        form = QFormLayout()
        for words, field in (
            ("Name", self.name),
            ("Pigments", self.pigments),
            ("Medium", self.medium),
            ("Size of a tube", self.size_ml),
            ("What is left", self.stock),
            ("Price of a tube", self.price),
            ("Opened on", self.opened),
            ("Remark", self.remark),
        ):
            form.addRow(words, field)
            field.setAccessibleName(words)
        self.wrong = Words("")
        self.wrong.setProperty("kind", "warning")
        self.wrong.setWordWrap(True)
        self.wrong.hide()
        kinds = QDialogButtonBox.StandardButton
        buttons = QDialogButtonBox(kinds.Ok | kinds.Cancel)
        for b in buttons.buttons():
            b.setIcon(QIcon())  # no colours of the desktop's beside paint
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addLayout(form)
        column.addWidget(self.wrong)
        column.addWidget(buttons)
        self.name.setFocus()
        self.name.selectAll()

    def accept(self) -> None:
        """Close where everything is right."""
        try:
            fields = {
                "name": self.name.text().strip(), "parts": parse_pigments(self.pigments.text()),
                "medium": self.medium.currentData(), "size_ml": self.size_ml.value(), "stock_ml": self.stock.value(),
                "price": self.price.value(), "opened": self.opened.text().strip(),
                "remark": self.remark.text().strip(),
            }  # fmt: skip
            held = {f: getattr(self._start, f) for f in ("id", "archived", "corrections", "using")}
            if fields["parts"] != self._start.parts:
                held |= {"corrections": (), "using": -1}  # corrections belong to the pigments they were fitted to
            self.made = OwnTube.model_validate(held | fields)
        except OchreError as error:
            self._tell(str(error))
        except ValueError as error:
            self._tell(box_said(error))
        else:
            super().accept()

    def _tell(self, words: str) -> None:
        self.wrong.setText(words)
        self.wrong.show()
