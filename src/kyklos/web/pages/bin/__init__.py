"""One place in the house: the bin."""
