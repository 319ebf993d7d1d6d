"""Guide schools: one JSON file each. Adding a school is adding a file."""
