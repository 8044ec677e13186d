"""One place in the house: the notebook. Search, notes, lessons that come back, looking back."""

from . import lessons, season
from .routes import bp

__all__ = ["bp", "lessons", "season"]
