"""The pile in hand under the spot reader: what the window and the view at the easel both do."""

from collections.abc import Callable

from ochre_stone.core.errors import OchreError
from ochre_stone.core.project.mending import held, with_reading
from ochre_stone.core.project.planning import batch_key
from ochre_stone.desktop.session.piles import Piles
from ochre_stone.desktop.session.reader import ReaderLink
from ochre_stone.devices.madeup import painted
from ochre_stone.devices.protocol import Reading
from ochre_stone.devices.reader import lab_of


def read_in_hand(piles: Piles, link: ReaderLink, done: Callable[[], None]) -> None:
    """Read the pile in hand and put what was read into the document; ``done`` once it is there. The simulated reader
    finds a pile of made-up tubes, dosed by a made-up hand, under it."""
    found, studio = piles.found(), piles.studio
    if found is None:
        return
    if not link.connected:
        studio.told.emit("No reader is connected: connect one at Look, on its Scene page.")
        return
    document, pile = studio.document, found[1]
    now = held(document, pile)
    try:
        tubes = [document.mixed.tube(i) for i, _ in now.amounts]
    except OchreError:
        studio.failed.emit("This pile holds tubes that are not on the palette any more: forget its readings.")
        return
    patch = painted(tubes, now.doses, batch_key(now), document.mix.chosen().surface)

    def arrived(reading: Reading) -> None:
        now = piles.found()
        if now is None or now[1].id != pile.id:
            return
        try:
            new = with_reading(studio.document, pile.id, lab_of(reading), "reader")
        except ValueError as error:
            studio.failed.emit(f"{str(error)[0].upper()}{str(error)[1:]}.")
            return
        studio.change("Read a pile", new)
        done()

    link.read_pile(patch.tolist(), arrived)
