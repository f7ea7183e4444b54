"""Try to lose work: python -m benchmarks.torture [PART ...] [--seed N] [--short] [--again]

Parts: inputs, kills, writers, logs, windows, unplug, memory, actions. Each goes on where it was left, with the same
seed, until its count is done; the state and the summary lie in build/torture.
"""

import argparse
import importlib
import os
import sys
import tempfile

from tests.support.torture.tally import STATE, Tally

COUNTS = {"inputs": (10_000, 200), "kills": (500, 24), "writers": (60, 6), "logs": (210, 7), "windows": (100, 2),
          "unplug": (1, 40),
          "memory": (24, 2), "actions": (10_000, 200)}  # fmt: skip
"""How many, whole and short; for unplug, every so many bytes."""


def main() -> int:
    """Run what was asked for; 1 where anything happened that must not."""
    asked = argparse.ArgumentParser(prog="python -m benchmarks.torture", description=__doc__)
    asked.add_argument("parts", nargs="*", choices=[*COUNTS, []], help="which parts (default: all)")
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--short", action="store_true", help="a few of each")
    asked.add_argument("--again", action="store_true", help="from the start")
    given = asked.parse_args()
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    wrong = 0
    with tempfile.TemporaryDirectory(prefix="ochre-torture-") as home:
        for name in ("HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME"):
            os.environ[name] = home
        for part in given.parts or COUNTS:
            tally = Tally.load(f"{part}-short" if given.short else part, given.seed, given.again)
            importlib.import_module(f"tests.support.torture.{part}").run(tally, COUNTS[part][given.short])
            tally.save()
            print(tally.words, flush=True)
            for words in tally.other:
                print(f"  {words}", flush=True)
            wrong += tally.others
    print(f"anything else: {wrong}; kept in {STATE}")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
