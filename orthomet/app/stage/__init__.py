"""What lies on the board: zoom and pan, pictures, handles, the magnifier, lit spans."""
