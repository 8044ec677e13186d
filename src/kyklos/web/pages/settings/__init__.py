"""Settings: the household, its backups, signed-in devices, a spreadsheet brought in."""

from . import importing
from .routes import bp

__all__ = ["bp", "importing"]
