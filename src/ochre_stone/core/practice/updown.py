"""How hard the next question is, where an answer is a setting: a transformed up-and-down rule.

Harder after two right answers in a row, easier after one wrong (Levitt 1971, J. Acoust. Soc. Am. 49, "Transformed
up-down methods in psychoacoustics"): it comes to rest where two right ones in a row are as likely as not, at a share of
right answers of the root of one half, 70.7 in a hundred.
"""

from collections.abc import Iterable

IN_A_ROW = 2
EQUILIBRIUM = 0.5**0.5
"""Share of right answers at which the rule comes to rest (Levitt 1971, table I)."""


def level_after(answers: Iterable[bool], levels: int, first: int = 1) -> int:
    """The level (1 to ``levels``) after answers, right or wrong.

    >>> level_after([True, True, True, True, False], 6)
    2
    """
    level, row = first, 0
    for right in answers:
        row = row + 1 if right else 0
        if not right:
            level = max(level - 1, 1)
        elif row == IN_A_ROW:
            level, row = min(level + 1, levels), 0
    return level
