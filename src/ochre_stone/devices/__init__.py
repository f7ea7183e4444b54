"""Instruments beside the easel: the spot reader, its protocol, its driver, and a simulated stand-in."""
