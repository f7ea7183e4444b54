"""The one error that reaches the painter."""

_MOST = 600
"""Characters of a sentence; what is quoted from a file can be of any length."""


def one_line(text: str, most: int = _MOST) -> str:
    """Text from anywhere as one line of at most ``most`` characters that can be shown and printed.

    Line ends and other control characters become spaces, bytes of a name that are no UTF-8 become question marks, and
    the middle of what is too long becomes an ellipsis.

    >>> one_line("a\\nb")
    'a b'
    """
    if len(text) > most:
        end = most // 3
        text = f"{text[: most - end - 3]} … {text[len(text) - end :]}"
    text = text.encode("utf-8", "replace").decode()
    return " ".join("".join(c if c.isprintable() else " " for c in text).split())


class OchreError(ValueError):
    """Bad input, said in one clear sentence: what happened, to what, what to do."""

    def __init__(self, words: str) -> None:
        super().__init__(one_line(words))
