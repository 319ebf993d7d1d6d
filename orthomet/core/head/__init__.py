"""The head as drawn: outline, features, the plan's own landmarks, construction drawings."""
