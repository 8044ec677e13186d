"""One place in the house: settings."""
