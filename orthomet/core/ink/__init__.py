"""Ink: surfaces and planned lines in space become strokes with widths and closed tones, seen from any side."""
