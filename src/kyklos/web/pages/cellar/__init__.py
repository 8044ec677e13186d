"""The cellar: the rack, each bottle, scores and comparisons, the park, labels and gifts."""

from . import labels, park, scoring
from .routes import bp

__all__ = ["bp", "labels", "park", "scoring"]
