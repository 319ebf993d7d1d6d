"""Shapes: contours of parts, the plain shapes nearest to them, how much detail they keep, and how far they are pushed."""
