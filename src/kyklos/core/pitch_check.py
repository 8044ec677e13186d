"""The last look before the start: is the mix cool enough, and sour enough?"""

from __future__ import annotations

from .facts import INSTRUMENTS, limit
from .observations import CARRY_ON, HOLD, WATCH, VerdictWord
from .safety import settles
from .saying import Said, plain, said


def check(celsius: float | None, ph: float | None, instrument: str = "meter") -> tuple[VerdictWord, Said]:
    """Judge a brew before its culture goes in.

    Args:
        celsius: Of the mix, if measured. [degC]
        ph: Of the mix, if measured. [pH]
        instrument: What read the pH.

    Returns: A word, and why.
    """
    low, high, most = (limit(name) for name in ("pitch_low", "pitch_high", "pitch_refuse"))
    if celsius is not None and celsius > most:
        return HOLD, said("Above {most} it harms the culture: wait, measure again.", most=(most, "temperature"))
    if celsius is not None and not low <= celsius <= high:
        ends = {"low": (low, "temperature"), "high": (high, "temperature")}
        return WATCH, said("Best is {low} to {high}: outside it the first days go wrong or slow.", **ends)
    if ph is None:
        return WATCH, said("Not measured: the plan's figure is a calculation. Go by look, smell, taste and time.")
    if ph > limit("start_ph"):
        return HOLD, said(f"Above pH {limit('start_ph'):g}: it will be held. Add starter, stir, measure again.")
    if not settles(ph, instrument, limit("start_ph")):
        name = plain(INSTRUMENTS[instrument].name.lower())
        return WATCH, said(
            f"pH {ph:g} by {name} lies too near {limit('start_ph'):g} to settle it: measure by a meter, or add starter."
        )
    return CARRY_ON, said(f"pH {ph:g} is low enough to start.")
