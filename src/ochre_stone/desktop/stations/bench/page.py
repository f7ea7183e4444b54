"""The Bench page: paint pushed about by hand, with or without a target."""

from collections.abc import Callable

from ochre_stone.desktop.session.benchkeeping import BenchKeeping
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.stations.bench.around import AroundPart
from ochre_stone.desktop.stations.bench.dials import DialsPart
from ochre_stone.desktop.stations.bench.paint import AROUND, ROW, PaintPart
from ochre_stone.desktop.stations.bench.pile import PilePart
from ochre_stone.desktop.stations.bench.rowpart import RowPart
from ochre_stone.desktop.stations.bench.target import TargetPart
from ochre_stone.desktop.stations.bench.view import BenchView, ShownPile
from ochre_stone.desktop.stations.bench.words import contents_words, rungs_of
from ochre_stone.desktop.widgets.tray import Tray


class BenchPage:
    """The bench in the centre, paint and acts in the tray."""

    def __init__(self, tray: Tray, keeping: BenchKeeping, piles: Piles) -> None:
        work = keeping.work
        self.tray, self.work, self.studio = tray, work, work.studio
        self.view = self.panel = BenchView()
        self.view.hint = "Take a paint in hand at the right and press: each press is a touch, held for more."
        self.view.pile_taken.connect(work.take)
        self.view.rung_opened.connect(work.keep_rung)
        tray.rows.setSpacing(3)  # many rows, and none below the edge
        self.paint = PaintPart(tray, keeping, piles, self.refresh)
        self.rows = RowPart(tray, work, self.refresh)
        self.around = AroundPart(tray, work, self.refresh)
        self.pile = PilePart(tray, keeping)
        self.dials = DialsPart(tray, work)
        self.target = TargetPart(tray, work, piles, self.refresh)
        self.shown = False
        """Whether the page is looked at."""
        for signal in (work.changed, work.paints.supplied, work.row_made, work.advised):
            signal.connect(self._refresh_if_shown)

    def _refresh_if_shown(self) -> None:
        if self.shown and self.tray.widget.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Show the bench as it is."""
        self.paint.refresh()
        self.pile.refresh()
        self.pile.swatch.setVisible(self.work.advice is None)  # room for the advice
        self.dials.refresh()
        self.target.refresh()
        self.rows.refresh(self.paint.chosen == ROW)
        self.around.refresh(self.paint.chosen == AROUND)
        self._show_view()

    def _show_view(self) -> None:
        work, choice = self.work, self.studio.document.bench
        piles = []
        for p in work.bench.piles:
            seen = work.paints.look_at(p)
            if seen is not None:
                wet = seen.drying.wet if seen.drying.differs else None
                inside = contents_words(p, choice.part_ml)
                piles.append(ShownPile(p.id, p.name, p.ml, seen.lab, self.pile.before(p), wet, inside))
        rungs = rungs_of(work.row) if work.row is not None else []
        target = (choice.target_name, choice.target) if choice.target is not None else None
        title = work.row.title if work.row is not None else work.no_row
        self.view.ground = self.around.colour()
        self.view.show_bench(piles, work.in_hand, rungs, title, target)


def bench_page(keeping: BenchKeeping, piles: Piles) -> Callable[[Tray], BenchPage]:
    """Makes the page on a tray."""
    return lambda tray: BenchPage(tray, keeping, piles)
