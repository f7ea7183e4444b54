"""Wheel statistics, schemes and pulls; knows colour only."""
