"""One place in the house: brews."""
