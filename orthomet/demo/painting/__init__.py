"""The code that paints the demo's pictures. It runs on the developer's machine (`make paint`); the pictures ship as data."""
