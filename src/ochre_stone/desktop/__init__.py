"""The window. Holds no arithmetic: it asks the core, off the main thread where that takes long, and shows the answer."""
