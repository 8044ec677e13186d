"""Instruments: what measures here and how well; devices that are paired; calibration step by step."""

from . import calibration, paired, routes, weighing  # noqa: F401, they add their addresses to the place
from .place import bp

__all__ = ["bp"]
