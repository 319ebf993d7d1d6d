"""The youth table: what a stylised or a young face does to each trait."""
