"""How long every place takes in a household of twenty years, beside the demo: `make bench` runs it, and fails outside."""
