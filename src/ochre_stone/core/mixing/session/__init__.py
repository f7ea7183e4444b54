"""The whole session: what is mixed on from what, how much, in which order, and where it goes."""
