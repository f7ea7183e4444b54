"""Ochre Stone: from a reference picture to a printed mixing plan."""

import os

__version__ = "0.1.0"

# Nothing of another package is to look into how files are checked, and looking for it takes a tenth of a start.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "1")
# Matrices here are small: more threads of the linear algebra only wait for each other.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
