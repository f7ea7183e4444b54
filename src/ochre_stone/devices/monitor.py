"""The monitor's colour profile, as the desktop's colour service (colord) knows it, asked over D-Bus."""

from pathlib import Path
from typing import Any

from ochre_stone.core.picture.reading import read_bytes

_SECONDS = 1.5
_SERVICE, _ROOT = "org.freedesktop.ColorManager", "/org/freedesktop/ColorManager"
_MOST_BYTES = 64_000_000


def profile_file(output: str = "", connection: Any = None) -> Path | None:
    """File of the profile of the display called ``output`` (its connector, e.g. "DP-1"), else of the first display.

    None where there is no colour service, no display or no profile; never raises. May block for a second or two.
    """
    from jeepney import DBusAddress, DBusErrorResponse, MessageType, Properties, new_method_call
    from jeepney.io.blocking import open_dbus_connection

    mine = connection is None

    def ask(message: Any) -> Any:
        reply = connection.send_and_get_reply(message, timeout=_SECONDS)
        if reply.header.message_type == MessageType.error:
            raise DBusErrorResponse(reply)
        return reply.body[0]

    def properties(path: str, kind: str) -> dict[str, Any]:
        address = DBusAddress(path, bus_name=_SERVICE, interface=f"{_SERVICE}.{kind}")
        return {k: v[1] for k, v in ask(Properties(address).get_all()).items()}

    try:
        if mine:
            connection = open_dbus_connection(bus="SYSTEM")
        root = DBusAddress(_ROOT, bus_name=_SERVICE, interface=_SERVICE)
        found = [properties(d, "Device") for d in ask(new_method_call(root, "GetDevicesByKind", "s", ("display",)))]
        # The wanted display first, if it is known by its connector.
        found.sort(key=lambda d: d.get("Metadata", {}).get("XRANDR_name") != output)
        for device in found:
            for path in device.get("Profiles", ()):
                file = Path(properties(path, "Profile").get("Filename", ""))
                if file.is_file():
                    return file
    except Exception:  # no bus, no service, or answers of another kind: then there is no profile
        return None
    finally:
        if mine and connection is not None:
            connection.close()
    return None


def read_profile(path: Path) -> bytes:
    """The bytes of a profile file. Raises OSError or ValueError where it is none."""
    data = read_bytes(path, _MOST_BYTES)
    if data[36:40] != b"acsp":
        raise ValueError("no colour profile")
    return data
