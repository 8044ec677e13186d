"""One place in the house: round."""
