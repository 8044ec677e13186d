"""One place in the house: a brew."""

from . import futures, harvesting, inspection, tasting, watching
from .routes import bp

__all__ = ["bp", "futures", "harvesting", "inspection", "tasting", "watching"]
