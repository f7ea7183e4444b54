"""Note: key colours."""
