"""The proportion gauge, the same at every station: one row per proportion, its marks, lists of rows."""
