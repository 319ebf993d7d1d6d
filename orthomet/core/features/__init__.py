"""What the artist decides about single features: how each is drawn, marks on the face, the expression it wears."""
