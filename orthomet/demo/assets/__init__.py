"""Painted pictures of the demo with their true landmarks."""
