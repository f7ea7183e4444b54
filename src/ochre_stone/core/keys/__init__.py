"""Key colours where a painter would look for them: the things of a picture, what they are, and notes on them."""
