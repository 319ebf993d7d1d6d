"""Orthomet: the proportion desk of a character artist."""

__version__ = "0.1.0"
