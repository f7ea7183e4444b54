"""Rows of piles: what each should be, the rules of subjects, the schools of building."""
