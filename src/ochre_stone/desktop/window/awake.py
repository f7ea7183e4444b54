"""Keep the screen awake while the painter's hands are in paint, by the desktop's own service where there is one."""

import logging
import sys
from typing import Any

_log = logging.getLogger(__name__)
_SERVICE, _PATH = "org.freedesktop.ScreenSaver", "/org/freedesktop/ScreenSaver"


class Awake:
    """A request that the screen stays on; let go when it is not needed."""

    def __init__(self) -> None:
        self.cookie: int | None = None
        """What the service gave for the request; None without a service."""

    def hold(self) -> bool:
        """Ask for it. False where the desktop offers no such service: the screen then goes dark by its own settings."""
        if self.cookie is not None:
            return True
        interface = _interface()
        if interface is None:
            return False
        reply = interface.call("Inhibit", "ochre-stone", "Mixing at the easel")
        arguments = reply.arguments()
        if not arguments or not isinstance(arguments[0], int):
            return False
        self.cookie = arguments[0]
        return True

    def let_go(self) -> None:
        """The screen may sleep again."""
        interface = _interface() if self.cookie is not None else None
        if interface is not None:
            interface.call("UnInhibit", self.cookie)
        self.cookie = None


def _interface() -> Any:
    """The service, or None where there is none."""
    if not sys.platform.startswith("linux"):
        return None
    from PyQt6.QtDBus import QDBusConnection, QDBusInterface

    bus = QDBusConnection.sessionBus()
    if not bus.isConnected():
        return None
    interface = QDBusInterface(_SERVICE, _PATH, _SERVICE, bus)
    interface.setTimeout(500)
    return interface if interface.isValid() else None
