"""The palette in hand at the Paint box, and the one that the picture is mixed with."""

from dataclasses import replace

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.document.document import Document, MixChoice
from ochre_stone.core.errors import OchreError
from ochre_stone.core.paint.palettes import PALETTES, Palette
from ochre_stone.desktop.session.box import BoxKeeper
from ochre_stone.desktop.session.studio import Studio


class Palettes(QObject):
    """Own palettes and those that ship."""

    taken = pyqtSignal()
    """Another palette is in hand."""

    def __init__(self, studio: Studio, keeper: BoxKeeper) -> None:
        super().__init__(studio)
        self.studio, self.keeper = studio, keeper
        self.in_hand = studio.document.mix.palette
        """Id of the palette in hand: the picture's, unless the painter looks at another in the Paint box."""
        studio.changed.connect(self._follow)

    def _follow(self, old: Document, new: Document) -> None:
        if old.mix.palette != new.mix.palette:
            self.in_hand = new.mix.palette

    def come_back(self) -> None:
        """Back to the picture's palette."""
        self.in_hand = self._document.mix.palette

    @property
    def elsewhere(self) -> bool:
        """Whether another palette than the picture's is in hand."""
        return self.chosen().id != self._document.mix.palette

    @property
    def _document(self) -> Document:
        return self.studio.document

    def known(self, palette_id: str) -> bool:
        """Whether a palette ships or lies in the box."""
        return palette_id in PALETTES or self.keeper.box.laid(palette_id) is not None

    def chosen(self) -> Palette:
        """The palette in hand, in the picture's medium; the picture's own palette where that one is not in this box."""
        mix = self._document.mix
        try:
            found = self.keeper.box.palette(self.in_hand)
            return replace(found, medium=mix.medium or found.medium, finish=mix.finish)
        except OchreError:
            chosen = self._document.mix.chosen()
            self.in_hand = chosen.id
            return chosen

    def take(self, palette_id: str) -> None:
        """Take another palette in hand."""
        self.in_hand = palette_id
        self.taken.emit()

    def choices(self) -> list[tuple[str, str, str]]:
        """Name, id and remark of each palette: own ones, then those that ship."""
        own = [(f"{p.name} (mine)", p.id, "") for p in self.keeper.box.palettes]
        return own + [(p.name, p.id, p.about) for p in PALETTES.values()]

    def use(self, palette_id: str) -> bool:
        """Make a palette the document's, with the tubes as they are now; False where nothing changed."""
        laid = self.keeper.box.laid(palette_id)
        mix = self._document.mix
        if not self.known(palette_id):
            return False  # the picture's own, from a box that is not here
        fields = mix.model_dump() | {"palette": palette_id, "laid": laid.model_dump() if laid is not None else None}
        choice = MixChoice.model_validate(fields)
        if choice == mix:
            return False
        self.studio.change("Choose a palette", self._document.model_copy(update={"mix": choice}))
        return True

    def changed_since(self) -> bool:
        """Whether the picture's own palette has changed in the box since it was chosen."""
        mix = self._document.mix
        now = self.keeper.box.laid(mix.palette) if mix.laid is not None else None
        if now is None or mix.laid is None:
            return False
        then, here = mix.laid.made(), now.made()  # stock and price do not change a mixture
        return (then.tubes, then.name, then.medium) != (here.tubes, here.name, here.medium)
