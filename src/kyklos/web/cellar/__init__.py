"""One place in the house: cellar."""
