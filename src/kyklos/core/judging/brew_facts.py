"""What a verdict is read from: the facts of a brew, and what readings settle."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

from ..base import limit
from ..base.facts import INSTRUMENTS
from ..base.kinds import KindOfBrew, MeasuredBy
from .observations import GROWTH, SeenLook


@dataclass(frozen=True, slots=True)
class PhReading:
    """One pH of a brew."""

    day: float  #: Since the pitch. [d]
    ph: float  #: [pH]
    instrument: str = "meter"


@dataclass(frozen=True, kw_only=True)
class BrewFacts:
    """What a judgement reads."""

    day: float  #: Today, since the pitch. [d]
    mean_c: float  #: Mean temperature so far. [degC]
    now_c: float  #: Last temperature. [degC]
    ph: Sequence[PhReading] = field(default=())
    looks: Sequence[SeenLook] = field(default=())
    tastes: Sequence[tuple[float, float]] = field(default=())  #: Days on which it was tasted, and the scores. [d, steps]
    top_ups: Sequence[float] = field(default=())  #: Days on which a tapped vessel was topped up. [d]
    ta: Sequence[tuple[float, float]] = field(default=())  #: Days and acidity, titrated. [d, g/L]
    measured_c: float | None = None  #: Warmest temperature measured in the liquid. [degC]
    warmest_day: float = 0.0  #: When that was. [d]
    kind: str = KindOfBrew.BATCH
    touched_by: str = ""  #: Name of a spoiled brew that had the same liquid or disc within days; empty: none.
    near: str = ""  #: Name of a spoiled brew to which an older or longer way leads; empty: none.

    def __post_init__(self) -> None:
        for name, order in (
            ("ph", lambda r: (r.day, r.ph, r.instrument)),
            ("looks", lambda look: (look.day, look.surface, look.signs, look.smell)),
            ("tastes", None),
            ("top_ups", None),
            ("ta", None),
        ):
            object.__setattr__(self, name, tuple(sorted(getattr(self, name), key=order)))

    @property
    def cool(self) -> bool:
        """Whether the brew stood below 20 degC."""
        return self.mean_c < limit("cool_below")

    @property
    def gate_day(self) -> float:
        """By when it must be sour: day 7, in the cool day 10. [d]"""
        return limit("cool_last_day") if self.cool else limit("safe_by_day")

    @property
    def filled_day(self) -> float:
        """Since when nothing sweet was added: readings from before are of another liquid. [d]"""
        return max((day for day in self.top_ups if day <= self.day), default=0.0)

    @cached_property
    def settled(self) -> tuple[PhReading, ...]:
        """Readings that can be told apart from pH 4.2."""
        return tuple(r for r in self.ph if settles(r.ph, r.instrument, limit("safe_ph")))


def settles(ph: float, instrument: str, bound: float) -> bool:
    """Return whether an instrument can tell this pH from a limit; a calibrated meter always can.

    >>> settles(4.0, "strip", 4.2), settles(4.15, "meter", 4.2)
    (False, True)
    """
    return instrument == MeasuredBy.METER or abs(ph - bound) >= INSTRUMENTS[instrument].straddles


def is_alive_by_ph(fallen: float) -> bool:
    """Return whether a fall since the pitch is a sign of life; three tenths are, however a machine writes them. [pH]

    >>> is_alive_by_ph(4.3 - 4.0), is_alive_by_ph(0.29)
    (True, False)
    """
    return round(fallen, 3) >= limit("sign_of_life_ph")


def shows_life(facts: BrewFacts, ta_rise_g_per_l: float | None = None, since: float = -1.0) -> bool:
    """Return whether a brew has shown that it lives: acidity up by 1 g/L, pH down by 0.3 since the pitch, or a new skin.

    Args:
        facts: What is known.
        ta_rise_g_per_l: How much acidity rose, where that is known otherwise. [g/L]
        since: Only what was seen or read after. [d]
    """
    if any(look.surface in GROWTH and look.day > since for look in facts.looks):
        return True
    if ta_rise_g_per_l is not None and ta_rise_g_per_l >= limit("sign_of_life_ta"):
        return True
    first = [r for r in facts.ph if r.day <= max(since, facts.ph[0].day)]
    if first and any(is_alive_by_ph(first[-1].ph - r.ph) for r in facts.ph if r.day > max(since, first[-1].day)):
        return True
    acid = [value for _, value in facts.ta]
    later = [value for day, value in facts.ta if day > since]
    return bool(later) and max(later) - acid[0] >= limit("sign_of_life_ta")
