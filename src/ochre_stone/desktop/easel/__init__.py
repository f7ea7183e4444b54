"""The picture and what is drawn over it."""
