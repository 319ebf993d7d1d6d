"""What a gauge row shows, as values: from measured faces, plans, checks and styles, in each reading's own unit."""
