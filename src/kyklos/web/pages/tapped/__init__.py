"""The tapped vessel: its page, drawing, topping up, care, a pause, and setting one up."""

from . import caring, pouring, setting_up
from .routes import bp

__all__ = ["bp", "caring", "pouring", "setting_up"]
