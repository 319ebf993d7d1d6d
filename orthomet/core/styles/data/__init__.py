"""Styles: one JSON file each. Adding a style is adding a file."""
