"""Write the tables of trade facts and of what the palettes reach into docs/colour-model.md, and that of the drills into
docs/practice.md, between their marks. The tests hold them current."""

import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))


def main() -> None:
    from tests.support.drilltable import drill_table
    from tests.support.trade import mixtures_table, reach_table, table

    for page, name, made in (
        ("practice.md", "drills", drill_table()),
        ("colour-model.md", "facts of the trade", table()),
        ("colour-model.md", "facts of mixtures", mixtures_table()),
        ("colour-model.md", "what the palettes reach", reach_table()),
    ):
        path = ROOT / "docs" / page
        begin, end = f"<!-- {name}: begin -->", f"<!-- {name}: end -->"
        before, rest = path.read_text(encoding="utf-8").split(begin)
        path.write_text(f"{before}{begin}\n{made}\n{end}{rest.split(end)[1]}", encoding="utf-8")
        print(f"{path}: {name}")


if __name__ == "__main__":
    main()
