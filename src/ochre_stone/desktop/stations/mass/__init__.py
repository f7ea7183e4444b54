"""Mass: few values, big shapes."""
