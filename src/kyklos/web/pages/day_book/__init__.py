"""One place in the house: the day book."""
