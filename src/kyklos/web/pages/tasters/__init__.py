"""One place in the house: who tastes, what they like, and how well forecasts did."""

from . import blind
from .routes import bp

__all__ = ["blind", "bp"]
