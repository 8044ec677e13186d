"""Migrations, one per change of the models."""
