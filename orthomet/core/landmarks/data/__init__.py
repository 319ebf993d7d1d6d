"""Tables of the mesh network: which of its points is which landmark, and its own answer on a level face."""
