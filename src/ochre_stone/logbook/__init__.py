"""What was really mixed, kept in one file of the painter's own; it knows the core and no interface."""
