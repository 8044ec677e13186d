"""One place in the house: the almanac, absences, and the calendar feed."""

from . import away, feed
from .routes import bp

__all__ = ["away", "bp", "feed"]
