"""What the command line runs, by the part of the work it belongs to."""
