"""One place in the house: what was noted of a thing, and a line more."""

from .routes import bp

__all__ = ["bp"]
