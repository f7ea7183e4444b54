"""The bench: a page that Mix and the Paint box both show."""
