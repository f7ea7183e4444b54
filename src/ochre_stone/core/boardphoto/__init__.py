"""All piles of a palette from one photo: its corners, its light, the piles, their colours, and which planned pile each
one is."""
