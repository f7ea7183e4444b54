"""Change the core and the log in small ways and see whether the tests notice: ``python -m tools.mutants``."""
