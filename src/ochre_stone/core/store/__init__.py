"""The disk: projects, the paint box, safe copies, written whole and locked between windows."""
