"""Measurements, as ratios against a named baseline in the same run: ``make bench``."""
