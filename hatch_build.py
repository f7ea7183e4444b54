"""Packs the demo project before the program is built."""

import runpy
from pathlib import Path

from hatchling.builders.hooks.plugin.interface import BuildHookInterface


class PackDemo(BuildHookInterface):
    """See tools/pack_demo.py."""

    def initialize(self, version: str, build_data: dict) -> None:
        runpy.run_path(str(Path(self.root) / "tools" / "pack_demo.py"), run_name="__main__")
