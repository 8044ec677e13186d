"""What every wing stands on, and the facts that stand once.

Errors with a sentence for brewers; facts out of `data/` (teas, sweeteners, limits, sources); the kinds and states that
records keep as words; quantities in sentences; water. It knows no other wing.
"""

from __future__ import annotations

from .errors import CoreError, KyklosError, OutOfRangeError, require_between
from .facts import limit
from .saying import Said, marked

__all__ = ["CoreError", "KyklosError", "OutOfRangeError", "Said", "limit", "marked", "require_between"]
