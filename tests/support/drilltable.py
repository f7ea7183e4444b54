"""The table of drills in docs/practice.md, as the program has them."""

from ochre_stone.core.practice.every import DRILLS


def drill_table() -> str:
    """A row for each drill: what its figure is, what is asked, and between whom the painter stands."""
    rows = [
        "| drill | figure | asked, easiest to hardest | beginner | steady eye | questions |",
        "|---|---|---|---|---|---|",
    ]
    for d in DRILLS.values():
        of = f", one of {d.asks.choices}" if d.asks is not None else ""
        asked = f"{d.asks.most:g} to {d.asks.least:g}{of}" if d.asks is not None else f"{d.levels} levels"
        rows.append(f"| {d.name} | {d.measure} | {asked} | {d.beginner:g} | {d.steady:g} | {d.questions} |")
    return "\n".join(rows)
