"""The one error that reaches the painter."""


class OchreError(ValueError):
    """Bad input, said in one clear sentence: what happened, to what, what to do."""
