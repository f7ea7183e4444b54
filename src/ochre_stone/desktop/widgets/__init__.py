"""Drawn parts of the window."""
