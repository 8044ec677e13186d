"""One place in the house: brew day."""
