"""Mixing by hand: piles on a simulated palette, pushed about without a plan."""
