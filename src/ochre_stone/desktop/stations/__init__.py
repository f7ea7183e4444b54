"""The stations: each a tray beside the easel."""
