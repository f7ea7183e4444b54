"""Few values, big shapes: thresholds, shapes, light and shadow, edges; knows colour and pictures."""
