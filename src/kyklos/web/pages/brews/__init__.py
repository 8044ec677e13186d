"""One place in the house: a brew."""

from . import futures, going, happening, harvesting, inspection, tasting, titrating, watching
from .routes import bp

__all__ = ["bp", "futures", "going", "happening", "harvesting", "inspection", "tasting", "titrating", "watching"]
