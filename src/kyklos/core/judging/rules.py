"""The rules of a judgement, each a function from facts to reasons. `safety.py: judge` asks them all; the gravest gives the word.

A reading settles a limit when its instrument can tell it apart: a calibrated meter always does, others only beyond their error.
Readings, looks and tastes are read in order of time, in whichever order they were written down.
"""

from __future__ import annotations

import statistics
from collections.abc import Callable, Sequence
from itertools import pairwise

from ..base import limit, marked
from ..base.facts import INSTRUMENTS
from ..base.kinds import KindOfBrew, MeasuredBy
from ..base.saying import day_of
from ..liquid.taste import MUCH_TOO_SWEET
from .brew_facts import BrewFacts, PhReading, is_alive_by_ph, settles, shows_life
from .observations import CARRY_ON, DISCARD, GROWTH, HOLD, OBSERVATIONS, WATCH, Reason, reasons_from

STILL_DAYS = 4.0  #: A line through the readings of so many days that hardly falls is a hold. [d]
STILL_PH_PER_DAY = 0.02  #: Less than this is not falling. [pH/d]
STILL_PH = 0.05  #: What a meter repeats (assumed). [pH]
RISE_PH = 0.2  #: A rise this large against the reading before, by one instrument, is no noise. [pH]
STRIP_RISE_PH = 0.7  #: By strips half a unit is none either. [pH]
LIFE_DAY, LIFE_DAY_GROWN = 4.0, 14.0  #: From here on a brew, or a SCOBY being grown, shows that it lives. [d]
LIFELESS_TA, LIFELESS_TA_DAY = 0.5, 10.0  #: Acidity that has not risen so far by then is no ferment. [g/L, d]
BARE_DAY = 10.0  #: A bare surface, unmeasured and untasted, is to be watched from here on. [d]
SWEET_DAY = 10.0  #: Much too sweet from here on is late. [d]
REST_DAYS = 7.0  #: A tapped vessel still too high so long after topping up is too slow. [d]
STARTS = 1.0  #: Until then a reading is of the start. [d]
SECOND_STRIP_DAYS = 0.4  #: Another strip, in another light, about half a day later, counts as measuring again. [d]
ODD_APART = 0.5  #: Two odd looks so far apart are no mistake. [d]
ODD = {"coloured", "odd"}  #: Surfaces that nobody can name.


def _first_fill_ends(facts: BrewFacts) -> float:
    """Return when a tapped vessel's first fill was over, to which the gate of day 7 belongs; endless while it is not. [d]

    Sweet tea neither lifts a hold nor stops the count: topped up before the gate was met, the gate still counts from the pitch.
    """
    for top_up in facts.top_ups:
        before = [r for r in facts.settled if STARTS < r.day < top_up]
        high = bool(before) and before[-1].ph > limit("safe_ph")
        if any(r.ph <= limit("safe_ph") for r in before) or (top_up >= facts.gate_day and not high):
            return top_up
    return float("inf")


def start_rule(facts: BrewFacts) -> list[Reason]:
    """Above pH 4.5 is a hold until a reading that can tell is at or below it; a second one above does not lift it."""
    bound, high, unsure = limit("start_ph"), None, list[PhReading]()
    for r in facts.ph:
        if r.ph > bound:
            high, unsure = r, []
        elif settles(r.ph, r.instrument, bound) or (unsure and r.day - unsure[0].day >= SECOND_STRIP_DAYS):
            return []
        else:
            unsure.append(r)
    if high is not None:
        when = "It starts" if high.day <= STARTS else f"On day {day_of(high.day)} it stands"
        says = f"{when} at pH {high.ph:g}, above {bound:g}: add starter, stir, measure again."
        return [Reason(HOLD, says, key="start")]
    if unsure:
        last = unsure[-1]
        says = (
            f"pH {last.ph:g} by {INSTRUMENTS[last.instrument].name.lower()} lies at the edge of {bound:g}: read another in "
            "other light half a day later, or add a little starter or vinegar."
        )
        return [Reason(WATCH, says, key="start-unsettled")]
    return []


def gate_rule(facts: BrewFacts) -> list[Reason]:
    """At or below pH 4.2 by day 7, in the cool by day 10. What missed it stays missed; what rose again is asked about."""
    first_fill = _first_fill_ends(facts)
    bound, early, gate = limit("safe_ph"), limit("safe_by_day"), facts.gate_day
    passed, risen = False, 0
    state: list[Reason] = []
    for r in facts.settled:
        if r.day >= first_fill:
            break
        if r.ph <= bound:  # a start so low is no proof of a ferment
            passed, risen, state = passed or r.day > STARTS, 0, []
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
            says = f"pH {r.ph:g} on day {day_of(r.day)}, and it was at or below {bound:g} before: a misreading, or something eats acid."
            state = [Reason(HOLD, says, "Look at it, and measure again.", key="risen")]
        elif r.day >= gate:
            return [
                Reason(
                    DISCARD, f"Still above pH {bound:g} on day {day_of(r.day)}: too slow to be safe. Liquid and disc go.",
                    changes="Only if that reading was wrong: strike it out, with a word why.", key="gate",
                )
            ]  # fmt: skip
        elif r.day >= early:
            state = [Reason(HOLD, _in_the_cool(facts.day), key="gate-cool")]
    return state or (_unknown_rule(facts) if first_fill == float("inf") else [])


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
    says = f"At or below pH {bound:g} on day {day_of(low[0].day)}, but nobody knows whether it got there by day {gate:g}."
    return [
        Reason(WATCH, says, "Look at it closely, and smell it.", "Nothing odd to see or smell: carry on.", key="late")
    ]


def _nothing_settled(facts: BrewFacts) -> list[Reason]:
    bound, early = limit("safe_ph"), limit("safe_by_day")
    late = [r for r in facts.ph if r.day >= early]
    if late:
        last = late[-1]
        name = INSTRUMENTS[last.instrument].name.lower()
        says = f"pH {last.ph:g} by {name} cannot be told from {bound:g}: read again in daylight, until it is clearly lower, before anything else."
        return [Reason(HOLD, says, key="unsettled")]
    if facts.ph and facts.day > early and facts.ph[-1].ph > bound:
        says = f"Day {day_of(facts.day)}, and the last pH was above {bound:g}: measure before anything else."
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
    """Above 37 degC it is a hold: now or on the mean, or once, until it shows that it works again."""
    once = facts.measured_c if facts.measured_c is not None else facts.now_c
    if shows_life(facts, since=facts.warmest_day):
        once = facts.now_c
    warm = max(facts.now_c, facts.mean_c, once)
    if warm <= limit("ferment_hold"):
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
    """Sour from the first day proves nothing: a starter's acid is not a ferment. It falls slowly at first."""
    grown = facts.kind == KindOfBrew.GROW
    since, held = (LIFE_DAY_GROWN, LIFE_DAY_GROWN) if grown else (LIFE_DAY, facts.gate_day)
    if _acidity_stands(facts):
        return [_lifeless("Acidity has not risen since the start: a starter's acid is not a ferment.")]
    first = facts.ph[0] if facts.ph else None
    if first is None or first.day > STARTS or first.ph > limit("safe_ph") or facts.day < since or shows_life(facts):
        return []
    later = [look.day for look in facts.looks] + [r.day for r in facts.ph] + [day for day, _ in facts.ta]
    if any(day >= held for day in later) and not _only_strips(facts):
        return [
            _lifeless(
                "Sour from the first day, and no sign of life since: no new skin, pH no lower. A starter's acid is not a ferment."
            )
        ]
    if any(day >= since for day in later):
        says = "Sour from the start, and no sign of life yet: such a brew falls slowly at first."
        return [Reason(WATCH, says, f"Look and measure again on day {held:g}.", key="slow")]
    return [
        Reason(
            WATCH, f"Sour from the start, and nobody looked since: look or measure from day {since:g} on.", key="unseen"
        )
    ]


def _only_strips(facts: BrewFacts) -> bool:
    """Return whether strips alone were read, no two of them on day 7 or later: one cannot tell a fall of three tenths from none."""
    late = [r for r in facts.ph if r.day >= limit("safe_by_day")]
    return all(r.instrument == MeasuredBy.STRIP for r in facts.ph) and len(late) < 2


def _lifeless(says: str) -> Reason:
    do = "Move it warmer, look and measure again; or begin with livelier starter."
    return Reason(HOLD, says, do, key="lifeless")


def _acidity_stands(facts: BrewFacts) -> bool:
    """Return whether a titration on day 10 or later found acidity not up by 0.5 g/L since the first, and no new skin shows."""
    if len(facts.ta) < 2 or facts.ta[-1][0] < LIFELESS_TA_DAY or facts.ta[0][0] > STARTS or shows_life(facts):
        return False
    return facts.ta[-1][1] - facts.ta[0][1] < LIFELESS_TA


def still_rule(facts: BrewFacts) -> list[Reason]:
    """By a meter not falling for four days, on day 7 or later, with no new skin, is a hold."""
    readings = [r for r in facts.ph if r.day >= facts.filled_day and r.instrument == MeasuredBy.METER]
    if facts.day < limit("safe_by_day") or len(readings) < 2 or any(look.surface in GROWTH for look in facts.looks):
        return []
    first, last = readings[0], readings[-1]
    begun = [i for i, r in enumerate(readings) if last.day - r.day >= STILL_DAYS]
    if begun and _per_day(readings[begun[-1] :]) > -STILL_PH_PER_DAY and not is_alive_by_ph(first.ph - last.ph):
        says = "pH has not fallen for four days and no new skin shows: dead culture, or chlorine in the water."
        return [Reason(HOLD, says, key="still")]
    return []


def _per_day(readings: Sequence[PhReading]) -> float:
    """Return how fast a line through readings rises. [pH/d]"""
    return statistics.linear_regression([r.day for r in readings], [r.ph for r in readings]).slope


def rise_rule(facts: BrewFacts) -> list[Reason]:
    """A pH that rose against the reading before, by one instrument beyond its error: something eats acid, or a reading is wrong.

    By a meter it holds until a reading is back where it was; by strips it is watched until the next.
    """
    out = []
    for instrument in sorted({r.instrument for r in facts.ph}):
        own = [r for r in facts.ph if r.instrument == instrument and r.day >= facts.filled_day]
        strip = instrument == MeasuredBy.STRIP
        error = INSTRUMENTS[instrument].straddles
        least = STRIP_RISE_PH if strip else max(RISE_PH, error)
        rises = [i for i in range(1, len(own)) if round(own[i].ph - own[i - 1].ph, 3) >= least]
        if not rises:
            continue
        before, after, later = own[rises[-1] - 1], own[rises[-1]], own[rises[-1] + 1 :]
        if (strip and later) or any(r.ph <= before.ph + error for r in later):
            continue
        says = f"pH rose from {before.ph:g} to {after.ph:g}: film yeast or mould eats acid, or a reading is wrong."
        out.append(Reason(WATCH if strip else HOLD, says, "Look at it, and measure again.", key="rise"))
    return out


def bare_rule(facts: BrewFacts) -> list[Reason]:
    """Bare, unmeasured and untasted by day 10: nobody knows whether it lives."""
    known = any(r.day > STARTS for r in facts.ph) or any(day > STARTS for day, _ in facts.tastes)
    surface = next((look.surface for look in reversed(facts.looks) if look.surface), "bare")
    if known or facts.day < BARE_DAY or surface != "bare":
        return []
    return [
        Reason(WATCH, f"Day {day_of(facts.day)}: nothing to see, measured or tasted. Taste it, or measure it.", key="bare")
    ]


def still_sweet(facts: BrewFacts) -> bool:
    """Return whether it was last tasted much too sweet, on day 10 or later, and never measured."""
    if not facts.tastes or facts.ph or facts.ta:
        return False
    day, score = facts.tastes[-1]
    return day >= SWEET_DAY and score <= MUCH_TOO_SWEET


def sweet_rule(facts: BrewFacts) -> list[Reason]:
    """Much too sweet on day 10 or later, and never measured: nobody knows whether it works."""
    if not still_sweet(facts):
        return []
    says = f"Much too sweet on day {int(facts.tastes[-1][0])}, and never measured: nobody knows whether it works."
    return [Reason(WATCH, says, "Measure it before anything is bottled.", key="still-sweet")]


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
    gate_rule, start_rule, tapped_rule, heat_rule, life_rule, still_rule, rise_rule, bare_rule, sweet_rule, look_rule, sour_rule,
    touched_rule,
)  # fmt: skip
