"""Rows turned into core values, and nothing else."""
