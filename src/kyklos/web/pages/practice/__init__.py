"""One place in the house: practice. Nothing here touches a record of the household."""

from . import deciding, eye, looks, measuring
from .routes import bp

__all__ = ["bp", "deciding", "eye", "looks", "measuring"]
