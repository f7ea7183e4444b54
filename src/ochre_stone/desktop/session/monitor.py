"""The monitor's colour profile, as the desktop's colour service (colord) knows it, asked over D-Bus."""

import contextlib
from pathlib import Path
from typing import Any

_MS = 1500
_SERVICE, _ROOT = "org.freedesktop.ColorManager", "/org/freedesktop/ColorManager"


def profile_file(output: str = "", bus: Any = None) -> Path | None:
    """File of the profile of the display called ``output`` (its connector, e.g. "DP-1"), else of the first display.

    ``bus``: a connection to the bus, the system's where none is given. None where there is no colour service, no
    display or no profile; never raises. May block for a second or two.
    """
    from PyQt6.QtDBus import QDBus, QDBusConnection, QDBusMessage  # where the window is up already

    on = bus if bus is not None else QDBusConnection.systemBus()

    def ask(path: str, interface: str, member: str, *words: str) -> Any:
        message = QDBusMessage.createMethodCall(_SERVICE, path, interface, member)
        message.setArguments(list(words))
        reply = on.call(message, QDBus.CallMode.Block, _MS)
        if reply.type() != QDBusMessage.MessageType.ReplyMessage:
            raise LookupError(reply.errorMessage())
        return reply.arguments()[0]

    def part(path: str, kind: str, name: str) -> Any:
        return ask(path, "org.freedesktop.DBus.Properties", "Get", f"{_SERVICE}.{kind}", name)

    try:
        devices = list(ask(_ROOT, _SERVICE, "GetDevicesByKind", "display"))
        if output:  # the wanted display first, if it is known by its connector
            with contextlib.suppress(LookupError):
                devices.insert(0, ask(_ROOT, _SERVICE, "FindDeviceByProperty", "XRANDR_name", output))
        for device in devices:
            for path in part(device, "Device", "Profiles"):
                file = Path(part(path, "Profile", "Filename"))
                if file.is_file():
                    return file
    except Exception:  # no bus, no service, or answers of another kind: then there is no profile
        return None
    return None
