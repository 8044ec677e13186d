"""Enough to drink, from the records: what is drunk, what runs out, the plan, the cupboard, what it costs."""
