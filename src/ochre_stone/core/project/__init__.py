"""The document, its file, and the way from a picture to a plan; knows all of the core."""
