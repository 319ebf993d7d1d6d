"""One folder per station: its panel, its stage, its actions. Stations never import each other."""
