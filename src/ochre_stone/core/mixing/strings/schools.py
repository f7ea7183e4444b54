"""What a painter can choose of a string: how it is built, and which pile of it is mixed first."""

METHODS: dict[str, tuple[str, str]] = {
    "nearest": ("Nearest match", "Any tubes of the palette, whatever comes nearest."),
    "chain": ("Cut and go on", "A part of each pile is cut off and goes on to the next, the rest stays."),
    "parents": ("Value first, then combine", "Two parents are each brought to the pile's value, compared, combined."),
    "ladder": ("One tube and white", "One tube carries the string, white lightens it, the darkest tube darkens it."),
    "complement": ("Greyed by its complement", "A colour, dulled by its complement, and white."),
    "neutral": ("From one neutral", "One grey pile is mixed first, every pile goes on from it."),
    "mother": ("From a mother colour", "One tube goes into every pile: they hold together."),
    "fewest": ("Fewest tubes", "The smallest set of tubes that comes as near as makes no difference."),
}
FIRST = ("middle", "lightest", "darkest")
"""Which pile of a string is mixed first: a matter of school."""
