"""One place in the house: instruments."""
