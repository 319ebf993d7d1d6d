"""From reference to plan: decisions, the nearest feasible plan, and how much likeness and style it keeps."""
