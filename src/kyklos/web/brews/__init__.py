"""One place in the house: a brew."""

from . import harvesting, inspection
from .routes import bp

__all__ = ["bp", "harvesting", "inspection"]
