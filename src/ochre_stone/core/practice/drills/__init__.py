"""The drills, by what they train."""
