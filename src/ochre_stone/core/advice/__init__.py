"""Advice: which tube a painter reaches for, and what it does."""
