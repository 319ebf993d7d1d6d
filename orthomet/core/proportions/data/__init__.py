"""Norm tables: one JSON file each, every row with its source."""
