"""The value scale and the notes in the order of their values."""
