"""One place in the house: cultures."""
