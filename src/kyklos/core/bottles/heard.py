"""What bottles of a filling that were burped, squeezed or opened tell of the others: members weighted by what was heard, and drawn anew."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..base import require_between
from .bottle import VIGOUR_HIGH, VIGOUR_LOW, Array, BottleAsk, at_day, bottle_forecast, members_of, run_of

HISS_BAR = (
    (0.0, 0.3),
    (0.3, 1.0),
    (1.0, 2.0),
    (2.0, 3.2),
    (3.2, 6.0),
)  #: Pressure a hiss of 0 to 4 tells (assumed). [bar]
HISS_WORDS = ("silent, flat", "a whisper", "a clear hiss", "a loud hiss", "it gushed")
LOUDEST = len(HISS_WORDS) - 1  #: It gushed.
SQUEEZE_WORDS = ("soft", "a little firm", "firm", "hard", "like a stone")  #: What a plastic bottle tells, on the same scale.
HISS_SD_BAR = 0.4  #: How sharply a hiss tells pressure at the ends of its range (assumed). [bar]
SILENT = 0
LEAKS = 0.1  #: So many silent bottles only leaked, and say nothing of the others (assumed). [-]
LEAST_SD = 0.1  #: Of ln vigour, however much was heard: bottles of a filling differ (assumed). [-]
LONGEST_DELAY_DAYS = 0.5  #: One silent bottle alone delays the chill-by by no more. [d]
HALVINGS = 7  #: So often the share of its word is halved to find that. [-]


@dataclass(frozen=True, slots=True)
class Heard:
    """How one bottle of a filling sounded."""

    ask: BottleAsk  #: Its own, with what was let out of it before.
    day: float  #: [d since filling]
    hiss: int  #: 0 (silent) to 4 (gushed).
    bottle: int = 0  #: Which one.
    own: bool = False  #: The very bottle that is asked about: whether it leaks or not, so much is in it.

    def __post_init__(self) -> None:
        require_between(0, 4, "", hiss=self.hiss)


def _likelihood(heard: Heard) -> Array:
    """Return how well each member agrees with what was heard, shape (1 + members,). [-]"""
    low, high = HISS_BAR[heard.hiss]
    out = run_of(heard.ask)
    now = at_day(out.day, out.bar, heard.day)
    outside = np.maximum(low - now, 0) + np.maximum(now - high, 0)
    agrees: Array = -0.5 * (outside / HISS_SD_BAR) ** 2
    return np.logaddexp(np.log(1 - LEAKS) + agrees, np.log(LEAKS)) if heard.hiss == SILENT and not heard.own else agrees


def vigour_heard(ask: BottleAsk, heard: Sequence[Heard]) -> tuple[float, float]:
    """Learn from bottles of a filling how lively its yeast is; the members are the same in each of them.

    Args:
        ask: Of a bottle of that filling, before anything was heard.
        heard: What was heard.

    Returns: Vigour, and the spread of its logarithm that is left. [-, -]
    """
    own = np.log(members_of(ask).vigour)
    log_weight = np.sum([_likelihood(one) for one in heard], axis=0) if heard else np.zeros(len(own))
    weight = np.exp(log_weight - np.max(log_weight))
    mean = float(np.average(own, weights=weight))
    spread = float(np.sqrt(np.average((own - mean) ** 2, weights=weight)))
    vigour = float(np.clip(ask.vigour * np.exp(mean), VIGOUR_LOW, VIGOUR_HIGH))
    return vigour, min(max(spread, LEAST_SD), ask.vigour_sd)


def taught(ask: BottleAsk, heard: Sequence[Heard]) -> BottleAsk:
    """Return a bottle's question with what was heard of its filling.

    One other silent bottle alone may have leaked: it makes no chill-by later than by half a day; a second one may.

    Args:
        ask: Of the bottle, before anything was heard.
        heard: Of its filling, its own burps too.
    """
    if not heard:
        return ask
    vigour, spread = vigour_heard(ask, heard)
    likelier = replace(ask, vigour=round(vigour, 4), vigour_sd=round(spread, 4))
    alone = len({one.bottle for one in heard}) == 1 and all(one.hiss == SILENT and not one.own for one in heard)
    return _bounded(ask, likelier) if alone and ask.limit_bar is not None else likelier


def _bounded(ask: BottleAsk, found: BottleAsk) -> BottleAsk:
    """Let a lone silent bottle's word count as far as the chill-by comes later by half a day at most."""
    before = bottle_forecast(ask).chill_by_day
    if before is None or not _later(found, before):
        return found
    low, high, out = 0.0, 1.0, ask
    for _ in range(HALVINGS):
        share = (low + high) / 2
        between = replace(
            ask,
            vigour=round(float(np.exp((1 - share) * np.log(ask.vigour) + share * np.log(found.vigour))), 4),
            vigour_sd=round((1 - share) * ask.vigour_sd + share * found.vigour_sd, 4),
        )
        if _later(between, before):
            high = share
        else:
            low, out = share, between
    return out


def _later(ask: BottleAsk, before: float) -> bool:
    after = bottle_forecast(ask).chill_by_day
    return after is None or after > before + LONGEST_DELAY_DAYS
