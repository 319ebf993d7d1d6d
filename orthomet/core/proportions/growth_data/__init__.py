"""How the body grows: readings of the figure by age."""
