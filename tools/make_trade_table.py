"""Write the table of trade facts into docs/colour-model.md, between its marks. The tests hold it current."""

import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))
BEGIN, END = "<!-- facts of the trade: begin -->", "<!-- facts of the trade: end -->"


def main() -> None:
    from tests.external.trade import table

    path = ROOT / "docs" / "colour-model.md"
    text = path.read_text(encoding="utf-8")
    before, rest = text.split(BEGIN)
    after = rest.split(END)[1]
    path.write_text(f"{before}{BEGIN}\n{table()}\n{END}{after}", encoding="utf-8")
    print(path)


if __name__ == "__main__":
    main()
