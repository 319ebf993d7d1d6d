"""Pictures and tables as files other programs read."""
