"""A cure shown on the drawing itself: the feature moves, a ring about it gives way, everything else stays."""
