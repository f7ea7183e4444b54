"""Recipes, strings and amounts; knows paint."""
