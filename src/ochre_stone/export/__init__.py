"""Printed sheets and open files; knows the core."""
