"""Run the program with ``python -m ochre_stone``."""

from ochre_stone.cli import main

main()
