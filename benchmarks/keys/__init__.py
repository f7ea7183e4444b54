"""How good suggested key colours are, on pictures labelled by hand."""
