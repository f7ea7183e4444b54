"""Your hand: what the painter can dose, as the plan takes it."""

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QDoubleSpinBox, QGridLayout, QVBoxLayout, QWidget

from ochre_stone.core.document.choices import HandChoice
from ochre_stone.desktop.session.studio import Studio
from ochre_stone.desktop.widgets.parts import Words, signals_blocked

_FIELDS: tuple[tuple[str, str, str, float, float, float, int, float], ...] = (
    # field, words, unit, least, most, step, decimals, shown over kept
    ("least_ml", "Smallest dose that you can tell from nothing", " ml", 0.01, 1.0, 0.01, 2, 1.0),
    ("dose", "A dose by eye is off by about", " %", 0.0, 100.0, 5.0, 0, 100.0),
    ("touch", "A touch is off by about", " %", 0.0, 100.0, 5.0, 0, 100.0),
    ("knife", "Of a dose stays on the knife", " %", 0.0, 50.0, 1.0, 0, 100.0),
    ("pile_ml", "Smallest pile that is more than a smear", " ml", 0.1, 20.0, 0.5, 1, 1.0),
)


class HandDialog(QDialog):
    """Five figures; each change is the document's, and undone like any other."""

    def __init__(self, parent: QWidget, studio: Studio) -> None:
        super().__init__(parent)
        self.studio = studio
        self.setWindowTitle("Your hand")
        rows = QVBoxLayout(self)
        rows.setContentsMargins(20, 16, 20, 16)
        about = Words(
            "Recipes are chosen by what a hand gets of them, and piles are made large enough for their smallest dose. "
            "These are common figures for a palette knife; change what is different for you."
        )
        about.setWordWrap(True)
        rows.addWidget(about)
        grid = QGridLayout()
        grid.setHorizontalSpacing(18)
        rows.addLayout(grid)
        self.boxes: dict[str, QDoubleSpinBox] = {}
        for k, (field, words, unit, least, most, step, decimals, scale) in enumerate(_FIELDS):
            box = QDoubleSpinBox()
            box.setRange(least, most)
            box.setSingleStep(step)
            box.setDecimals(decimals)
            box.setSuffix(unit)
            box.setAccessibleName(words)
            box.valueChanged.connect(lambda v, f=field, s=scale: self._set(f, v / s))
            label = Words(words)
            label.setBuddy(box)
            grid.addWidget(label, k, 0)
            grid.addWidget(box, k, 1)
            self.boxes[field] = box
        buttons = QDialogButtonBox()
        buttons.addButton("Close", QDialogButtonBox.ButtonRole.RejectRole)
        self.usual = buttons.addButton("As usual", QDialogButtonBox.ButtonRole.ResetRole)
        if self.usual is not None:
            self.usual.clicked.connect(lambda: self._choose(HandChoice(), "The usual hand"))
        buttons.rejected.connect(self.reject)
        rows.addWidget(buttons)
        studio.changed.connect(lambda *_: self.refresh())
        self.refresh()

    def _set(self, field: str, value: float) -> None:
        hand = self.studio.document.mix.hand
        self._choose(HandChoice.model_validate(hand.model_dump() | {field: round(value, 4)}), "Your hand", field)

    def _choose(self, hand: HandChoice, words: str, kind: str = "") -> None:
        self.studio.adjust("mix", words, f"hand {kind}" if kind else "", hand=hand.model_dump())

    def refresh(self) -> None:
        """Show what is chosen."""
        hand = self.studio.document.mix.hand
        for field, _, _, _, _, _, _, scale in _FIELDS:
            with signals_blocked(self.boxes[field]):
                self.boxes[field].setValue(getattr(hand, field) * scale)
