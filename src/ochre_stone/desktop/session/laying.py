"""The picture laid in pile by pile, or mass by mass as long as nothing is planned: worked out where it is played."""

from PyQt6.QtCore import QObject, pyqtSignal

from ochre_stone.core.planning.blockin import block_in, placing_ground
from ochre_stone.core.planning.blocking import LaidStage, pile_stages, stages
from ochre_stone.core.planning.massing import fine_masses
from ochre_stone.core.planning.rows import of_this_palette
from ochre_stone.desktop.session.question import Question
from ochre_stone.desktop.session.studio import Studio


class Laying(QObject):
    """The stages of laying in, from the bare ground to the last pile."""

    changed = pyqtSignal()
    """Other stages are there."""

    def __init__(self, studio: Studio) -> None:
        super().__init__(studio)
        self.studio = studio
        self.stages: list[LaidStage] = []
        """The newest, old ones as long as others are worked out."""
        self.question: Question[list[LaidStage]] = Question(
            studio.jobs, "laying", self._key, self._arrived, studio.failed.emit
        )
        studio.replaced.connect(self._forget)

    def _forget(self) -> None:
        self.stages = []
        self.question.forget()

    def _key(self) -> object:
        d, c = self.studio.document, self.studio.document.canvas
        return (
            self.studio.picture,
            d.masses,
            d.light_key,
            d.harmony,
            d.notes,
            d.mixed,
            d.mix.palette,
            c.school,
            c.ground,
        )

    def ask(self) -> bool:
        """Have them worked out; whether they are there."""
        document, picture = self.studio.document, self.studio.picture
        if picture is None:
            self._forget()
            return True
        planned = bool(document.mixed.strings) and of_this_palette(document)

        def work(_: object) -> list[LaidStage]:
            laid = block_in(picture, document) if planned else None
            if laid is None:
                return stages(document, fine_masses(picture, document))
            return pile_stages(document, laid, placing_ground(picture, document).melted)

        return self.question.ask(work)

    def _arrived(self, found: list[LaidStage]) -> None:
        self.stages = found
        self.changed.emit()


def stage_words(stages: list[LaidStage], at: int) -> str:
    """ "3 of 18: shirt in shade, 34% covered, off by 21"."""
    stage = stages[at]
    what = stage.name or (f"mass {stage.mass + 1}" if stage.mass is not None else "the bare ground")
    near = f", off by {stage.off:.0f}" if stage.off is not None else ""
    return f"{at} of {len(stages) - 1}: {what}, {stage.covered:.0%} covered{near}"
