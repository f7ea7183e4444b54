"""Write the tables of trade facts and of what the palettes reach into docs/colour-model.md, between their marks. The
tests hold them current."""

import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))


def main() -> None:
    from tests.support.trade import mixtures_table, reach_table, table

    path = ROOT / "docs" / "colour-model.md"
    text = path.read_text(encoding="utf-8")
    for name, made in (
        ("facts of the trade", table()),
        ("facts of mixtures", mixtures_table()),
        ("what the palettes reach", reach_table()),
    ):
        begin, end = f"<!-- {name}: begin -->", f"<!-- {name}: end -->"
        before, rest = text.split(begin)
        text = f"{before}{begin}\n{made}\n{end}{rest.split(end)[1]}"
    path.write_text(text, encoding="utf-8")
    print(path)


if __name__ == "__main__":
    main()
