"""A pile that is off: what the tubes really are, what to add, and how it is said."""
