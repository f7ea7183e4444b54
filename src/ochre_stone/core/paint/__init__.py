"""Pigment optics, tubes, palettes and cautions; knows colour only."""
