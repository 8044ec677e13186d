"""Whether a brew is all right, and what it wants.

`judge` weighs pH, time, warmth and what was seen into a `Verdict`; causes of a slow brew, due things, cautions,
instruments and how far they can be trusted, the brewer's own verdict. It errs on the side of discarding.
"""

from __future__ import annotations

from .cautions import Situation
from .due import Due, DueFacts, dues
from .observations import OBSERVATIONS
from .safety import BrewFacts, Verdict, judge

__all__ = ["OBSERVATIONS", "BrewFacts", "Due", "DueFacts", "Situation", "Verdict", "dues", "judge"]
