"""The fit of the generic pigments: from remembered figures and facts of mixtures to K and S (``python -m
tools.pigments``)."""
