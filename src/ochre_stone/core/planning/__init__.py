"""What follows from a document: its rows, strings, steps and advice."""
