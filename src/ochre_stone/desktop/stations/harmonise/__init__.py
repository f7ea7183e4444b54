"""Harmonise: the scheme."""
