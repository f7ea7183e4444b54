"""Something that is asked of what is shown: worked out off the main thread, once, and shown when it comes; an answer
to what is not asked any more is dropped."""

from collections.abc import Callable
from typing import Generic, TypeVar

from ochre_stone.desktop.session.jobs import Jobs, Report

Reply = TypeVar("Reply")


class Question(Generic[Reply]):
    """One kind of question, of the job ``kind``.

    ``about`` tells what it would be asked about now: as long as it says the same, an answer stands. ``show`` is told
    the answer; where it fails, ``failed`` is told why, and it can be asked again.
    """

    def __init__(
        self,
        jobs: Jobs,
        kind: str,
        about: Callable[[], object],
        show: Callable[[Reply], None],
        failed: Callable[[str], None],
        progress: Report | None = None,
        outlives: bool = False,
    ) -> None:
        self.jobs, self.kind, self.about, self.show = jobs, kind, about, show
        self.failed, self.progress, self.outlives = failed, progress, outlives
        self._of: object = None
        self._answers: list[Reply] = []

    @property
    def answer(self) -> Reply | None:
        """The answer, where there is one to what is shown now."""
        return self._answers[0] if self._answers and self._of == self.about() else None

    @property
    def last(self) -> Reply | None:
        """The newest answer, to whatever it was."""
        return self._answers[0] if self._answers else None

    def ask(self, work: Callable[[Report], Reply]) -> bool:
        """Have ``work`` done, where that was not asked already. Whether the answer is there, and shown by the asker."""
        now = self.about()
        if self._of == now and (self._answers or self.jobs.busy(self.kind)):
            return bool(self._answers)
        self._of = now
        self._answers.clear()

        def arrived(found: Reply) -> None:
            if self._of == now and self.about() == now:
                self._answers.append(found)
                self.show(found)

        self.jobs.start(self.kind, work, arrived, self.failed, self.progress, self.outlives)
        return False

    def forget(self) -> None:
        """Drop the answer, and the question where it is under way."""
        self._of = None
        self._answers.clear()
        self.jobs.cancel(self.kind)
