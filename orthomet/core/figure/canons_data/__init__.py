"""Canons of the figure: readings and forms that go together, and how the form grows."""
