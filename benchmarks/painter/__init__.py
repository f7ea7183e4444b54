"""A simulated painter at the palette, independent of the program: own forward optics, tubes, hand and eye."""
