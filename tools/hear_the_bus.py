"""Walk the accessibility tree of the running program and print what is said while keys are pressed.

Runs in the system's Python, which has the bus's bindings; see docs/accessibility.md.
"""

import subprocess
import threading
import time
from typing import Any

import gi

gi.require_version("Atspi", "2.0")
from gi.repository import Atspi, GLib  # noqa: E402

WORKED = {"push button", "check box", "combo box", "slider", "spin button", "list item", "page tab", "toggle button"}


def walk(node: Any, found: list[Any], depth: int = 0) -> list[Any]:
    if node is not None and depth < 14:
        found.append(node)
        for i in range(min(node.get_child_count(), 100)):
            walk(node.get_child_at_index(i), found, depth + 1)
    return found


def main() -> None:
    Atspi.init()
    heard: list[str] = []

    def said(event: Any) -> None:
        if event.detail1 and event.source is not None:
            heard.append(f"{event.source.get_role_name()}: {event.source.get_name()}")

    listener = Atspi.EventListener.new(said)
    listener.register("object:state-changed:focused")
    loop = GLib.MainLoop()

    def press() -> None:
        time.sleep(2)
        for key in ("d", "Down", "Down", "Up"):
            subprocess.run(["xdotool", "key", key], check=True)
            time.sleep(0.7)
        loop.quit()

    threading.Thread(target=press).start()
    loop.run()
    desktop = Atspi.get_desktop(0)
    nodes = [n for i in range(desktop.get_child_count()) for n in walk(desktop.get_child_at_index(i), [])]
    seen = [n for n in nodes if n.get_state_set().contains(Atspi.StateType.SHOWING)]
    blank = [n.get_role_name() for n in seen if n.get_role_name() in WORKED and not n.get_name()]
    scale = next((n for n in nodes if n.get_name() == "Value scale"), None)
    print(f"{len(nodes)} things, {len(seen)} in sight, of these without a name: {blank or 'none'}")
    if scale is not None:
        first = scale.get_child_at_index(0)
        box = first.get_extents(Atspi.CoordType.SCREEN)
        print(
            f"{scale.get_role_name()} {scale.get_name()}: {scale.get_child_count()} notes; {first.get_name()} at "
            f"{box.x}, {box.y}, {box.width} x {box.height}"
        )
    print("\n".join(heard))


if __name__ == "__main__":
    main()
