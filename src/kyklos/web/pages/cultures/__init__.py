"""One place in the house: cultures."""

from . import discs, giving, keeping, leading, routes, tracing
from .place import bp

__all__ = ["bp", "discs", "giving", "keeping", "leading", "routes", "tracing"]
