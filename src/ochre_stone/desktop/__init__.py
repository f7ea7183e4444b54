"""The window. Holds no arithmetic: it asks the core, off the main thread, and shows the answer."""
