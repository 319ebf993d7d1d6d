"""Named points on a head: schemas, sets of points with their states, files, seeds."""
