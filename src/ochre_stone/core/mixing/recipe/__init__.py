"""One pile: searching, rounding to parts, ranking, and why."""
