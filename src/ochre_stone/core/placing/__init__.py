"""Where each pile goes: the picture laid in with exactly the piles of a plan, in few clean shapes."""
