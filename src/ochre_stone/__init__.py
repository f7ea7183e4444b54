"""Ochre Stone: from a reference picture to a printed mixing plan."""

__version__ = "0.1.0"

import os

# Nothing of another package is to look into how files are checked, and looking for it takes a tenth of a start.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "1")
