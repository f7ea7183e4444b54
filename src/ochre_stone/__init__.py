"""Ochre Stone: from a reference picture to a printed mixing plan."""

__version__ = "0.1.0"
