"""The Scene page of Look: connect the spot reader, calibrate it on its white tile, and read the scene itself."""

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox

from ochre_stone.desktop.easel.tools import Tool, tool_named
from ochre_stone.desktop.session.notes import Notes
from ochre_stone.desktop.session.reader import ReaderLink
from ochre_stone.desktop.widgets.parts import button, enable
from ochre_stone.desktop.widgets.spectrum import SpectrumView
from ochre_stone.desktop.widgets.tray import Tray
from ochre_stone.devices.reader import lab_of, ports

_SIMULATED = "simulated reader (the demo scene)"


class ScenePage:
    """Controls of the spot reader; ``read`` takes a note of what it is pointed at."""

    def __init__(self, tray: Tray, link: ReaderLink, notes: Notes, read: Callable[[], None]) -> None:
        self.link, self.notes = link, notes
        tray.label("Spot reader", "head")
        self.port = QComboBox()
        self.port.setAccessibleName("Where the reader is plugged in")
        self.again = button("Look again", "See what is plugged in")
        self.again.clicked.connect(self._find)
        tray.row(self.port).setStretch(0, 1)
        self.connect_ = button("Connect", kind="main")
        self.connect_.clicked.connect(self._connect)
        tray.row(self.connect_, self.again, None)
        self.state = tray.label("")
        self.calibrate = button("Calibrate", "With the reader flat on its white tile")
        self.calibrate.clicked.connect(self.link.calibrate)
        self.read = button("Read", "Take a note of what it is pointed at (R)")
        self.read.clicked.connect(read)
        tray.row(self.calibrate, self.read, None)
        self.hint = tray.label("", "quiet")
        self.spectrum = SpectrumView()
        tray.rows.addWidget(self.spectrum)
        self.port.addItem(_SIMULATED, "")
        self._looked = False

    def _find(self) -> None:
        self._looked = True
        self.port.clear()
        self.port.addItem(_SIMULATED, "")
        for p in ports():
            self.port.addItem(p.words, p.path)

    def _connect(self) -> None:
        if self.link.connected:
            self.link.close()
        elif not self.link.busy:
            self.link.connect_to(str(self.port.currentData()))

    def spot_clicked(self, x: float, y: float) -> None:
        """Read where the picture was clicked."""
        if self.link.connected:
            self.link.read((x, y), self.notes.aperture)

    def refresh(self) -> None:
        """Show how the reader is."""
        if not self._looked and self.port.isVisible():
            self._find()
        link = self.link
        self.state.setText(link.words())
        self.connect_.setText("Disconnect" if link.connected else "Connect")
        for w in (self.port, self.again):
            enable(w, "A reader is connected: disconnect it first." if link.connected or link.busy else "")
        for w in (self.calibrate, self.read):  # also while it reads: a disabled button would lose the keys
            enable(w, "" if link.connected else "Connect a reader first.")
        simulated = link.reader is not None and link.reader.is_simulated
        self.hint.setText(
            "Click the picture where it is to be pointed. The simulated reader looks at the demo scene, whatever "
            "picture is open."
            if simulated
            else "Point the reader at the scene and choose Read. Click the picture instead to note where it was."
            if link.connected
            else "A spot reader measures the scene itself, past all that a photo loses. Notes from it keep their "
            "spectrum."
        )
        reading = link.last if link.connected else None
        self.spectrum.setVisible(reading is not None)
        if reading is not None:
            self.spectrum.show_spectrum(reading.spectrum, lab_of(reading))

    def tool(self) -> Tool | None:
        """What clicks on the picture do on this page."""
        return tool_named("reader", self.notes.aperture) if self.link.connected else None
