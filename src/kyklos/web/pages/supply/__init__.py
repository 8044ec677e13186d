"""One place in the house: enough to drink. The plan, guests, the shopping list, the cupboard, what it comes to."""

from . import costs, cupboard, shopping
from .routes import bp

__all__ = ["bp", "costs", "cupboard", "shopping"]
