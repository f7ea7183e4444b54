"""The masses of the studio's picture, worked out off the main thread: at once as a preview, and finer once all is
calm."""

from collections.abc import Callable
from typing import Any, Protocol

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from ochre_stone.core.document.document import Document
from ochre_stone.core.masses.plan import FINE_PIXELS, Ground, MassPlan
from ochre_stone.core.picture.frame import Framed
from ochre_stone.core.picture.picture import Picture
from ochre_stone.desktop.session.jobs import Jobs

_CALM_MS = 400


def _shapes_of(document: Document) -> object:
    """Changes whenever the shapes or their values do: not with what is planned upon them."""
    return document.light_key, document.masses.model_copy(update={"swaps": (), "blends": (), "edges": ()})


class MassSource(Protocol):
    """Where the picture and the document are found, and where worked-out figures go."""

    document: Document
    picture: Picture | None

    @property
    def seen(self) -> Framed | None:
        """The picture through the frame."""

    def amend(self, document: Document) -> None:
        """Put worked-out figures into the document."""


class MassWork(QObject):
    """Keeps the plan of the present document. ``failed`` is told in one sentence why there is none."""

    changed = pyqtSignal()
    refined = pyqtSignal()

    def __init__(self, source: MassSource, jobs: Jobs, failed: Callable[[str], None], parent: QObject) -> None:
        super().__init__(parent)
        self.source, self.jobs, self.failed = source, jobs, failed
        self.plan: MassPlan | None = None
        self.ground: Ground | None = None
        self.fine: MassPlan | None = None
        self._ground_key: object = None
        self._fine_key: object = None
        self._wants_fine = False
        self._calm = QTimer(self)
        self._calm.setSingleShot(True)
        self._calm.setInterval(_CALM_MS)
        self._calm.timeout.connect(self._refine)

    def forget(self) -> None:
        """Another picture comes."""
        self.stop()
        self.plan, self.ground, self.fine, self._ground_key = None, None, None, None

    def stop(self) -> None:
        """Nothing more is to be refined."""
        self._calm.stop()
        self.jobs.cancel("refine")

    def make(self) -> None:
        """Make the plan anew; the smoothed copy is kept where neither light, frame, focus nor melting changed."""
        picture, document, old = self.source.picture, self.source.document, self.ground
        if picture is None:
            return
        key = (document.light_key, document.masses.simplify, document.masses.focus)
        reuse = old if key == self._ground_key else None

        def work(_: Any) -> tuple[Ground, MassPlan]:
            from ochre_stone.core.planning.massing import make_ground, make_plan

            ground = reuse or make_ground(picture, document)
            return ground, make_plan(ground, picture, document)

        def arrived(answer: tuple[Ground, MassPlan]) -> None:
            self.ground, self.plan = answer
            self._ground_key = key
            if self._fine_key != _shapes_of(document):
                self.stop()
                self.fine = None
            self._keep_range(answer[0])
            self.changed.emit()
            self.want_fine(self._wants_fine)

        self.jobs.start("masses", work, arrived, self.failed)

    def want_fine(self, wanted: bool) -> None:
        """Whether masses are looked at: once nothing moves, they are worked out at the size of print."""
        self._wants_fine = wanted
        if not wanted:
            self.stop()
        elif self.fine is None and self.plan is not None and not self.jobs.busy("refine"):
            self._calm.start()

    def _refine(self) -> None:
        picture, document, ground = self.source.picture, self.source.document, self.ground
        from ochre_stone.core.planning.massing import fine_masses

        seen = self.source.seen
        if picture is None or ground is None or seen is None or self.jobs.busy("masses"):
            return
        if seen.shape(FINE_PIXELS) == ground.melted.shape:
            return  # there is no more to be seen

        def arrived(found: MassPlan) -> None:
            if _shapes_of(document) == _shapes_of(self.source.document):
                self.fine, self._fine_key = found, _shapes_of(document)
                self.refined.emit()

        self.jobs.start("refine", lambda _: fine_masses(picture, document, ground), arrived, self.failed)

    def _keep_range(self, ground: Ground) -> None:
        """Where the light changed, a chosen range follows the scene's."""
        from ochre_stone.core.planning.massing import with_scene_range

        document = self.source.document
        masses = document.masses
        if masses.range.keep not in ("scene", "drawn"):
            now = with_scene_range(masses.range, ground)
            if now != masses.range:
                changed = masses.model_copy(update={"range": now})
                self.source.amend(document.model_copy(update={"masses": changed}))
