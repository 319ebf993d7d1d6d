"""A drawing while it is being drawn: its states as the paint program saves them, the points carried from one to the next."""
