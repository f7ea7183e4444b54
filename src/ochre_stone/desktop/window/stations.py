"""The stations of the window, a line each; each says for itself where it stands."""

from ochre_stone.desktop.stations.block_in.station import BlockIn
from ochre_stone.desktop.stations.harmonise.station import Harmonise
from ochre_stone.desktop.stations.log.station import LogStation
from ochre_stone.desktop.stations.look.station import Look
from ochre_stone.desktop.stations.mass.station import MassStation
from ochre_stone.desktop.stations.mix.station import Mix
from ochre_stone.desktop.stations.note.station import NoteStation
from ochre_stone.desktop.stations.paint_box.station import PaintBoxStation
from ochre_stone.desktop.stations.practice.station import Practice
from ochre_stone.desktop.stations.station import Station

STATIONS: tuple[type[Station], ...] = (
    Look,
    NoteStation,
    MassStation,
    Harmonise,
    Mix,
    BlockIn,
    PaintBoxStation,
    LogStation,
    Practice,
)
