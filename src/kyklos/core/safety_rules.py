"""The rules of a judgement, each a function from facts to reasons. `safety.py: judge` asks them all; the gravest gives the word.

A reading settles a limit when its instrument can tell it apart: a calibrated meter always does, others only beyond their error.
Readings, looks and tastes are read in order of time, in whichever order they were written down.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise

from .facts import INSTRUMENTS, limit
from .kinds import KindOfBrew, MeasuredBy
from .observations import CARRY_ON, DISCARD, GROWTH, HOLD, OBSERVATIONS, WATCH, Look, Reason, reasons_from
from .saying import marked

STILL_DAYS = 4.0  #: pH not falling for so long is a hold. [d]
STILL_PH = 0.05  #: Less than this is not falling (assumed, a meter's repeatability). [pH]
RISE_PH = 0.2  #: A rise this large, by one instrument, is no noise. [pH]
LIFE_DAY, LIFE_DAY_GROWN = 4.0, 14.0  #: From here on a brew, or a SCOBY being grown, shows that it lives. [d]
BARE_DAY = 10.0  #: A bare surface, unmeasured and untasted, is to be watched from here on. [d]
ODD_APART = 0.5  #: Two odd looks so far apart are no mistake. [d]
REST_DAYS = 7.0  #: A tapped vessel still too high so long after topping up is too slow. [d]
STARTS = 1.0  #: Until then a reading is of the start. [d]
ODD = {"coloured", "odd"}  #: Surfaces that nobody can name.


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
    looks: Sequence[Look] = field(default=())
    tastes: Sequence[float] = field(default=())  #: Days on which it was tasted. [d]
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
        """Whether it stood below 20 degC."""
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
        """Readings that can be told from pH 4.2."""
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


def _gates(facts: BrewFacts) -> bool:
    """Return whether the gate of day 7 is that of the whole brew; a tapped vessel's is that of its first fill."""
    return not facts.top_ups


def start_rule(facts: BrewFacts) -> list[Reason]:
    """Above pH 4.5 at the start is a hold, until a later reading takes its place."""
    start = [r for r in facts.ph if r.day <= STARTS]
    if not start or any(r.day > STARTS for r in facts.ph):
        return []
    last, bound = start[-1], limit("start_ph")
    if last.ph > bound:
        return [
            Reason(
                HOLD, f"It starts at pH {last.ph:g}, above {bound:g}: add starter, stir, measure again.", key="start"
            )
        ]
    if not settles(last.ph, last.instrument, bound):
        name = INSTRUMENTS[last.instrument].name.lower()
        says = f"pH {last.ph:g} by {name} lies too near {bound:g} to settle it: measure by a meter, or add starter."
        return [Reason(WATCH, says, key="start-unsettled")]
    return []


def gate_rule(facts: BrewFacts) -> list[Reason]:
    """At or below pH 4.2 by day 7, in the cool by day 10. What missed it stays missed; what rose again is asked about."""
    first_fill = facts.top_ups[0] if facts.top_ups else float("inf")
    bound, early, gate = limit("safe_ph"), limit("safe_by_day"), facts.gate_day
    passed, risen = False, 0
    state: list[Reason] = []
    for r in facts.settled:
        if r.day >= first_fill:
            break
        if r.ph <= bound:
            passed, risen, state = True, 0, []
        elif passed:
            risen += 1
            if risen > 1:
                return [
                    Reason(
                        DISCARD,
                        f"Above pH {bound:g} again, and twice: something eats its acid. Liquid and disc go.",
                        key="risen-twice",
                    )
                ]
            says = f"pH {r.ph:g} on day {r.day:.0f}, and it was at or below {bound:g} before: a misreading, or something eats acid."
            state = [Reason(HOLD, says, "Look at it, and measure again.", key="risen")]
        elif r.day >= gate:
            return [
                Reason(
                    DISCARD, f"Still above pH {bound:g} on day {int(r.day)}: too slow to be safe. Liquid and disc go.",
                    changes="Only if that reading was wrong: strike it out, with a word why.", key="gate",
                )
            ]  # fmt: skip
        elif r.day >= early:
            state = [Reason(HOLD, _in_the_cool(facts.day), key="gate-cool")]
    return state or (_unknown_rule(facts) if _gates(facts) else [])


def _in_the_cool(day: float) -> str:
    """Return what a brew that was above the limit in the cool needs, today. [d]"""
    bound, early, gate = limit("safe_ph"), limit("safe_by_day"), limit("cool_last_day")
    if day <= gate:
        return f"Above pH {bound:g} after day {early:g} in the cool: move it warmer and measure by day {gate:g}; then discard."
    return f"Above pH {bound:g} when it was last measured, and day {gate:g} is past: measure now. Still above, it goes."


def _unknown_rule(facts: BrewFacts) -> list[Reason]:
    """Return what is not known of the gate: measured only by what cannot tell, too early, or too late."""
    bound, gate = limit("safe_ph"), facts.gate_day
    low = [r for r in facts.settled if r.ph <= bound]
    if not low:
        return _nothing_settled(facts)
    if int(low[0].day) <= gate or _clean_after(facts, low[0].day):
        return []
    says = f"At or below pH {bound:g} on day {low[0].day:.0f}, but nobody knows whether it got there by day {gate:g}."
    return [
        Reason(WATCH, says, "Look at it closely, and smell it.", "Nothing odd to see or smell: carry on.", key="late")
    ]


def _nothing_settled(facts: BrewFacts) -> list[Reason]:
    bound, early = limit("safe_ph"), limit("safe_by_day")
    late = [r for r in facts.ph if r.day >= early]
    if late:
        last = late[-1]
        name = INSTRUMENTS[last.instrument].name.lower()
        says = f"pH {last.ph:g} by {name} cannot be told from {bound:g}: measure by a calibrated meter before anything else."
        return [Reason(HOLD, says, key="unsettled")]
    if facts.ph and facts.day > early and facts.ph[-1].ph > bound:
        says = f"Day {int(facts.day)}, and the last pH was above {bound:g}: measure before anything else."
        return [Reason(HOLD, says, key="overdue")]
    return []


def _clean_after(facts: BrewFacts, day: float) -> bool:
    """Return whether a look and a smell from a day on found nothing."""
    looks = [look for look in facts.looks if look.day >= day]
    seen = any(look.surface for look in looks) and any(look.smell for look in looks)
    return seen and all(found.verdict == CARRY_ON for look in looks for found in look.seen)


def tapped_rule(facts: BrewFacts) -> list[Reason]:
    """A tapped vessel above pH 4.2 after topping up is watched, twice running rests, seven days later goes."""
    bound = limit("safe_ph")
    over: list[tuple[bool, bool]] = []  # first and last reading after each topping up
    for start, end in pairwise((*facts.top_ups, float("inf"))):
        after = [r for r in facts.ph if start <= r.day < end]
        late = [r for r in after if r.day >= start + REST_DAYS and settles(r.ph, r.instrument, bound) and r.ph > bound]
        if late:
            says = f"Still above pH {bound:g} {late[0].day - start:.0f} days after topping up: too slow to be safe."
            return [Reason(DISCARD, says, key="tapped-slow")]
        if after:
            over.append((after[0].ph > bound, after[-1].ph > bound))
    if not over or not over[-1][1]:
        return []
    if len(over) > 1 and over[-1][0] and over[-2][0]:
        return [
            Reason(
                HOLD,
                f"Above pH {bound:g} after topping up, twice running: let it rest until it is lower.",
                key="tapped-rest",
            )
        ]
    return [Reason(WATCH, f"Above pH {bound:g} after topping up: draw less, and measure tomorrow.", key="tapped-high")]


def heat_rule(facts: BrewFacts) -> list[Reason]:
    """Above 37 degC it is a hold, until it shows that it works again."""
    warm = facts.measured_c
    if warm is None or warm <= limit("ferment_hold") or shows_life(facts, since=facts.warmest_day):
        return []
    if warm > limit("culture_dead"):
        return [
            Reason(
                HOLD,
                f"It stood at {marked(warm, 'temperature')}: above {marked(42, 'temperature')} the culture is dead. Do not pitch from it.",
                key="dead",
            )
        ]
    return [
        Reason(
            HOLD, f"It stood at {marked(warm, 'temperature')}: do not pitch from it until it works again.", key="hot"
        )
    ]


def life_rule(facts: BrewFacts) -> list[Reason]:
    """Sour from the first day proves nothing: a starter's acid is not a ferment."""
    since = LIFE_DAY_GROWN if facts.kind == KindOfBrew.GROW else LIFE_DAY
    first = facts.ph[0] if facts.ph else None
    if first is None or first.day > STARTS or first.ph > limit("safe_ph") or facts.day < since or shows_life(facts):
        return []
    later = [look.day for look in facts.looks] + [r.day for r in facts.ph] + [day for day, _ in facts.ta]
    if any(day >= since for day in later):
        says = "Sour from the first day, and no sign of life since: no new skin, pH no lower. A starter's acid is not a ferment."
        return [
            Reason(
                HOLD, says, "Move it warmer, look and measure again; or begin with livelier starter.", key="lifeless"
            )
        ]
    return [
        Reason(
            WATCH, f"Sour from the start, and nobody looked since: look or measure from day {since:g} on.", key="unseen"
        )
    ]


def still_rule(facts: BrewFacts) -> list[Reason]:
    """A pH that does not fall for four days, with no new skin, is a hold."""
    told = [r for r in facts.ph if r.day >= facts.filled_day]
    if any(look.surface in GROWTH for look in facts.looks) or len(told) < 2:
        return []
    first, last = told[0], told[-1]
    span = [r for r in told if last.day - r.day >= STILL_DAYS]
    if span and span[-1].ph - last.ph < STILL_PH and not is_alive_by_ph(first.ph - last.ph):
        says = "pH has not fallen for four days and no new skin shows: dead culture, or chlorine in the water."
        return [Reason(HOLD, says, key="still")]
    return []


def rise_rule(facts: BrewFacts) -> list[Reason]:
    """A pH that rose by one instrument, beyond its error, is a hold: something eats acid, or a reading is wrong."""
    out = []
    for instrument in sorted({r.instrument for r in facts.ph}):
        own = [r for r in facts.ph if r.instrument == instrument and r.day >= facts.filled_day]
        if len(own) < 2:
            continue
        lowest = min(r.ph for r in own[:-1])
        if round(own[-1].ph - lowest, 3) >= max(RISE_PH, INSTRUMENTS[instrument].straddles):
            says = f"pH rose from {lowest:g} to {own[-1].ph:g}: film yeast or mould eats acid, or a reading is wrong."
            out.append(Reason(HOLD, says, "Look at it, and measure again.", key="rise"))
    return out


def bare_rule(facts: BrewFacts) -> list[Reason]:
    """Bare, unmeasured and untasted by day 10: nobody knows whether it lives."""
    known = any(r.day > STARTS for r in facts.ph) or any(day > STARTS for day in facts.tastes)
    surface = next((look.surface for look in reversed(facts.looks) if look.surface), "bare")
    if known or facts.day < BARE_DAY or surface != "bare":
        return []
    return [
        Reason(WATCH, f"Day {int(facts.day)}: nothing to see, measured or tasted. Taste it, or measure it.", key="bare")
    ]


def look_rule(facts: BrewFacts) -> list[Reason]:
    """What was seen and smelled; something that nobody can name, seen again, goes."""
    out = reasons_from(facts.looks)
    odd = [look.day for look in facts.looks if look.surface in ODD]
    if odd and odd[-1] - odd[0] >= ODD_APART:
        says = "Coloured or odd at two looks, and nobody can name it: liquid and disc go."
        out.append(Reason(DISCARD, says, OBSERVATIONS["fuzzy"].do, key="odd-again"))
    return out


def sour_rule(facts: BrewFacts) -> list[Reason]:
    """Below pH 2.5 it is starter or vinegar, no drink."""
    if facts.ph and facts.ph[-1].ph < limit("drinking_ph"):
        return [Reason(WATCH, "Below pH 2.5: not for drinking as it is; strong starter or vinegar.", key="sour")]
    return []


def touched_rule(facts: BrewFacts) -> list[Reason]:
    """What shared liquid or disc with something spoiled is held at once; what is farther off is watched."""
    if facts.touched_by:
        says = f"Something grave was seen in {facts.touched_by}, and the same liquid or disc was in both: do not drink, bottle or give it."
        do = "Follow the trace, then throw it out, or clear it there."
        return [Reason(HOLD, says, do, "Cleared in the trace with a clean look: it counts again.", key="touched")]
    if facts.near:
        says = f"Something grave was seen in {facts.near}; a longer way leads from there to here."
        return [Reason(WATCH, says, "Look at it daily, and smell it.", key="near")]
    return []


RULES: tuple[Callable[[BrewFacts], list[Reason]], ...] = (
    start_rule, gate_rule, tapped_rule, heat_rule, life_rule, still_rule, rise_rule, bare_rule, look_rule, sour_rule, touched_rule
)  # fmt: skip
