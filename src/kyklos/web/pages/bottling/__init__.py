"""Bottling: a plan fills the clean bottles with the wished flavours, and is written in one go."""

from .routes import bp

__all__ = ["bp"]
