"""One place in the house: vessels."""
