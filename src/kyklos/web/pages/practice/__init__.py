"""One place in the house: practice. Nothing here touches a record of the household."""

from . import eye, looks
from .routes import bp

__all__ = ["bp", "eye", "looks"]
