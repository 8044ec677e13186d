"""Flavours: kept by name, proposed, tried on the bench, drawn out in a jar; ingredients and what is at hand."""

from . import infusing, trying
from .routes import bp

__all__ = ["bp", "infusing", "trying"]
