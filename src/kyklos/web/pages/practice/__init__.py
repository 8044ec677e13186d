"""One place in the house: practice. Nothing here touches a record of the household."""

from . import deciding, eye, kitchen, looks, measuring, rehearsing
from .routes import bp

__all__ = ["bp", "deciding", "eye", "kitchen", "looks", "measuring", "rehearsing"]
