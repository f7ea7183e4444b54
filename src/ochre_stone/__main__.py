"""The program's way in, as ``ochre-stone`` and ``python -m ochre_stone``: light, so that Ctrl+C is clean from the first
moment on."""

import os
import sys

INTERRUPTED = 130
"""What a shell is told of a command that was stopped by Ctrl+C."""


def main() -> None:
    """Run the command line."""
    try:
        from ochre_stone.cli import main as run

        run()
    except KeyboardInterrupt:
        print("ochre-stone: stopped.", file=sys.stderr)
    except SystemExit as end:
        if end.code != INTERRUPTED:
            raise
    else:
        return
    # Python takes an interrupt while a module is loaded for one that nobody dealt with, and would end by the signal.
    sys.stdout.flush()
    sys.stderr.flush()
    os._exit(INTERRUPTED)


if __name__ == "__main__":
    main()
