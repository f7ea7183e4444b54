"""What the window is about: the document with what is worked out from it, box, reader, settings, what is in hand."""
