"""One place in the house: brew day."""

from . import clock, kitchen, labels, recipes, routes, walking
from .place import bp

__all__ = ["bp", "clock", "kitchen", "labels", "recipes", "routes", "walking"]
