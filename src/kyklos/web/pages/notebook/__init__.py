"""One place in the house: the notebook. Search, notes, lessons that come back, looking back, experiments, care."""

from . import care, experiments, lessons, season
from .routes import bp

__all__ = ["bp", "care", "experiments", "lessons", "season"]
