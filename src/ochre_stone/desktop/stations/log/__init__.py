"""Log: what was really mixed."""
