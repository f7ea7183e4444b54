"""Mix: strings of piles."""
