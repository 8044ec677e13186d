"""Kyklos: a kitchen companion for people who brew kombucha and jun at home."""

__version__ = "0.5.0"
