"""What the painter decided: one immutable document, checked when it is read."""
