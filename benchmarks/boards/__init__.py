"""Simulated photos of palettes with known truth, and the reader over them."""
