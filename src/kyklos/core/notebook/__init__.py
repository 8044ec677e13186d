"""What is kept so that it is found when it helps: words and how they are searched for, lessons, comparing two things.

`comparing` tells whether two sets of scores differ, and how many more would tell; `terms` knows the field's many words for one
thing; `days` reads "last winter" and "march 2026"; `lessons` proposes what happened more than once.
"""

from __future__ import annotations

from .comparing import Difference, Triangle, compare, triangle

__all__ = ["Difference", "Triangle", "compare", "triangle"]
