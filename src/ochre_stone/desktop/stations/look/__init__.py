"""Look: see the reference as painters look."""
