"""When a brew is right for whom, in one sentence: who shares a window shares its words, the soonest comes first."""

from __future__ import annotations

import math
from collections.abc import Mapping
from datetime import datetime

from ...core.forecast import Window
from .first_names import joined
from .words import WAS_READY, right_word


def right_words(ready: Mapping[str, Window], start: datetime, now: datetime, zone: str) -> str:
    """Return when it is right for each taster.

    Args:
        ready: Their windows, by their names. [d since the start]
        start: When the brew began, or would begin.
        now: The moment.
        zone: Of the household.
    """
    together: dict[Window, list[str]] = {}
    for name, window in sorted(ready.items(), key=lambda one: math.inf if one[1].p10 is None else one[1].p10):
        together.setdefault(window, []).append(name)
    coming, gone = [], []
    for window, names in together.items():
        when = right_word(start, window, now, zone)
        if when.startswith(WAS_READY):
            gone.append(f"{joined(names)} would have liked it {when[len(WAS_READY) :]}.")
        else:
            coming.append(f"for {joined(names)} {when}")
    return " ".join([*gone, f"Right {', '.join(coming)}."] if coming else gone)
