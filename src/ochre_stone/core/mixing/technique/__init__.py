"""Other ways with paint than stirring: loose mixing, glazes, what happens where piles meet."""
