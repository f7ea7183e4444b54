"""``python -m benchmarks.boards``: see :mod:`benchmarks.boards.measure`."""

from benchmarks.boards.measure import main

if __name__ == "__main__":
    main()
