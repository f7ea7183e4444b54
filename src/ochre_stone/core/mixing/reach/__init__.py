"""What a palette can mix, and the smallest that does."""
