"""The common currency: one registry of readings, how they are measured, and their norms."""
