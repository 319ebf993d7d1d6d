"""Checking a drawing: registration to the plan, readings against tolerances, smallest fixes, findings in words."""
