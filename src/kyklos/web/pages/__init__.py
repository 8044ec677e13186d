"""One package a place in the house: its routes, forms and templates."""
