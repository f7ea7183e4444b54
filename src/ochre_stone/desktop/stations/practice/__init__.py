"""Practice: short drills of eye and hand."""
