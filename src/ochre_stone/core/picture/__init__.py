"""Pictures: load, balance, look, sample; knows colour."""
