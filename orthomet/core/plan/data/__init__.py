"""Limits of a plan: margins and bounds, each with its words and source."""
