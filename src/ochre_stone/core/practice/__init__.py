"""Practice: what is shown, what is right, how hard it is, and how it is scored."""
