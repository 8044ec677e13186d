"""Lines that live on from brew to brew.

Discs and the hotel, who came from whom and what is left as a backup, what a spoiled thing may have reached, and leading
a line from one diet to another.
"""

from __future__ import annotations

from .trace import Link, Node

__all__ = ["Link", "Node"]
