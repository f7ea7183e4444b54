"""Block in: the sheet, and laying in."""
