"""Tolerances of the check, with their sources."""
