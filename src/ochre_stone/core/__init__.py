"""The computation: no interface, no printing, no global state."""
