"""Paint box: tubes, palettes, charts, calibration."""
