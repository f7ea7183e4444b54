"""Colour as the eye and the painter see it; knows nothing of paint or pictures."""
