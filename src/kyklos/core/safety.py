"""Judgements: is it all right, from pH, time and temperature, and what was seen. Errs on the side of discarding."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from .facts import INSTRUMENTS, limit
from .kinds import MeasuredBy
from .observations import CARRY_ON, DISCARD, GROWTH, HOLD, ORDER, WATCH, Look, Reason, reasons_from

__all__ = ["CARRY_ON", "DISCARD", "HOLD", "WATCH", "BrewFacts", "Look", "PhReading", "Reason", "Verdict", "judge"]

STILL_DAYS = 4.0  #: pH not falling for so long is a hold. [d]
STILL_PH = 0.05  #: Less than this is not falling (assumed, a meter's repeatability). [pH]


@dataclass(frozen=True, slots=True)
class PhReading:
    """One pH of a brew."""

    day: float  #: Since the pitch. [d]
    ph: float  #: [pH]
    instrument: str = "meter"


@dataclass(frozen=True, slots=True, kw_only=True)
class BrewFacts:
    """What a judgement reads."""

    day: float  #: Today, since the pitch. [d]
    mean_c: float  #: Mean temperature so far. [degC]
    now_c: float  #: Last temperature. [degC]
    ph: Sequence[PhReading] = field(default=())
    looks: Sequence[Look] = field(default=())
    measured_c: float | None = None  #: Warmest temperature measured in the liquid. [degC]


@dataclass(frozen=True, slots=True)
class Verdict:
    """What to do with a brew, and why."""

    word: str  #: carry on, watch, hold or discard
    reasons: tuple[Reason, ...]
    measured: bool  #: False: never called safe by calculation.


def settles(ph: float, instrument: str, bound: float) -> bool:
    """Say whether an instrument can tell this pH from a limit.

    >>> settles(4.0, "strip", 4.2)
    False
    """
    return abs(ph - bound) >= INSTRUMENTS[instrument].straddles


def _start_rule(facts: BrewFacts) -> list[Reason]:
    start = [r for r in facts.ph if r.day <= 1.0]
    if not start or any(r.day > 1.0 for r in facts.ph):
        return []
    last, bound = start[-1], limit("start_ph")
    if last.ph > bound:
        return [Reason(HOLD, f"It starts at pH {last.ph:g}, above {bound:g}: add starter, stir, measure again.")]
    if not settles(last.ph, last.instrument, bound):
        name = INSTRUMENTS[last.instrument].name.lower()
        return [
            Reason(
                WATCH,
                f"pH {last.ph:g} by {name} lies too near {bound:g} to settle it: measure by a meter, or add starter.",
            )
        ]
    return []


def _week_rule(facts: BrewFacts) -> list[Reason]:
    bound, gate, cool = limit("safe_ph"), limit("safe_by_day"), facts.mean_c < limit("cool_below")
    late = [r for r in facts.ph if r.day >= gate]
    if not late:
        if facts.ph and facts.day > gate and facts.ph[-1].ph > bound:
            return [
                Reason(
                    HOLD, f"Day {int(facts.day)}, and the last pH was above {bound:g}: measure before anything else."
                )
            ]
        return []
    last = late[-1]
    if last.ph <= bound:
        if settles(last.ph, last.instrument, bound):
            return []
        return [
            Reason(
                WATCH,
                f"A strip or rough meter at {last.ph:g} cannot settle the limit of {bound:g}: use a calibrated meter.",
            )
        ]
    if cool and last.day < limit("cool_last_day"):
        return [
            Reason(
                HOLD,
                f"Above pH {bound:g} after day {gate:g} in the cool: move it warmer and measure by day 10; then discard.",
            )
        ]
    return [
        Reason(DISCARD, f"Still above pH {bound:g} on day {int(last.day)}: too slow to be safe. Liquid and disc go.")
    ]


def _heat_rule(facts: BrewFacts) -> list[Reason]:
    warm = facts.measured_c
    if warm is None or warm <= limit("ferment_hold"):
        return []
    if warm > limit("culture_dead"):
        return [Reason(HOLD, f"It stood at {warm:g} °C: above 42 °C the culture is dead. Do not pitch from it.")]
    return [Reason(HOLD, f"It stood at {warm:g} °C: do not pitch from it until it works again.")]


def _still_rule(facts: BrewFacts) -> list[Reason]:
    if any(look.surface in GROWTH for look in facts.looks) or len(facts.ph) < 2:
        return []
    first, last = facts.ph[0], facts.ph[-1]
    span = [r for r in facts.ph if last.day - r.day >= STILL_DAYS]
    if span and span[-1].ph - last.ph < STILL_PH and not is_alive_by_ph(first.ph - last.ph):
        return [
            Reason(
                HOLD, "pH has not fallen for four days and no new skin shows: dead culture, or chlorine in the water."
            )
        ]
    return []


def _look_rule(facts: BrewFacts) -> list[Reason]:
    return reasons_from(facts.looks)


def _sour_rule(facts: BrewFacts) -> list[Reason]:
    if facts.ph and facts.ph[-1].ph < limit("drinking_ph"):
        return [Reason(WATCH, "Below pH 2.5: not for drinking as it is; strong starter or vinegar.")]
    return []


def judge(facts: BrewFacts) -> Verdict:
    """Judge a brew in its first ferment; the gravest reason gives the word.

    Args:
        facts: What is known now.

    Source: rule of pH 4.2 within 7 days and not below 2.5: Nummer 2013; the rest usual practice.
    """
    rules = (_start_rule, _week_rule, _heat_rule, _still_rule, _look_rule, _sour_rule)
    reasons = [reason for rule in rules for reason in rule(facts)]
    reasons.sort(key=lambda reason: -ORDER.index(reason.verdict))
    return Verdict(reasons[0].verdict if reasons else CARRY_ON, tuple(reasons), bool(facts.ph))


@dataclass(frozen=True, slots=True)
class TrialVerdict:
    """Whether a trial of an unusual base may be tasted at all; whether it tastes well is another verdict."""

    fit: bool
    missing: tuple[str, ...]  #: What speaks against it, or is not known yet.


def trial_verdict(facts: BrewFacts) -> TrialVerdict:
    """Judge a trial: fit to taste only if the disc grew, no mould, and pH 4.2 or lower by a meter within 7 days.

    >>> trial_verdict(BrewFacts(day=6, mean_c=24, now_c=24)).fit
    False
    """
    bound, gate = limit("safe_ph"), limit("safe_by_day")
    grown = any(look.surface == "disc" for look in facts.looks)
    clean = all(seen.verdict in {CARRY_ON, WATCH} for look in facts.looks for seen in look.seen)
    sour = any(r.ph <= bound and r.day <= gate and r.instrument == MeasuredBy.METER for r in facts.ph)
    told = (
        (grown, "the disc has not been seen to grow"),
        (clean, "something on it was odd or mouldy"),
        (sour, f"no meter has read pH {bound:g} or lower within {gate:g} days"),
    )
    return TrialVerdict(grown and clean and sour, tuple(text for holds, text in told if not holds))


def is_alive_by_ph(fallen: float) -> bool:
    """Return whether a fall since the pitch is a sign of life; three tenths are, however a machine writes them. [pH]

    >>> is_alive_by_ph(4.3 - 4.0), is_alive_by_ph(0.29)
    (True, False)
    """
    return round(fallen, 3) >= limit("sign_of_life_ph")


def shows_life(facts: BrewFacts, ta_rise_g_per_l: float | None = None) -> bool:
    """Say whether a brew has shown that it lives: acidity up by 1 g/L, pH down by 0.3 since the pitch, or a new skin."""
    if any(look.surface in GROWTH for look in facts.looks):
        return True
    fallen = len(facts.ph) > 1 and is_alive_by_ph(facts.ph[0].ph - facts.ph[-1].ph)
    return fallen or (ta_rise_g_per_l is not None and ta_rise_g_per_l >= limit("sign_of_life_ta"))
