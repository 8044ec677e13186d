"""One place in the house: its numbers, as live tables."""

from .routes import bp

__all__ = ["bp"]
