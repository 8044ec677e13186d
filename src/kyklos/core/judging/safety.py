"""Judgements: is it all right, from pH, time and temperature, and what was seen. Errs on the side of discarding."""

from __future__ import annotations

from dataclasses import dataclass

from ..base import limit
from ..base.kinds import KindOfBrew, MeasuredBy
from .brew_facts import BrewFacts, PhReading, is_alive_by_ph, settles, shows_life
from .observations import CARRY_ON, DISCARD, HOLD, ORDER, WATCH, Reason, SeenLook
from .rules import RULES, STARTS, STILL_PH, still_sweet

__all__ = [
    "CARRY_ON",
    "DISCARD",
    "HOLD",
    "STILL_PH",
    "WATCH",
    "BrewFacts",
    "PhReading",
    "Reason",
    "SeenLook",
    "TrialVerdict",
    "Verdict",
    "is_alive_by_ph",
    "judge",
    "may_bottle",
    "settles",
    "shows_life",
    "too_high",
    "trial_verdict",
]  # fmt: skip

TRIAL_DAY = 3.0  #: A trial's last reading is from then on. [d]


@dataclass(frozen=True, slots=True)
class Verdict:
    """What to do with a brew, and why."""

    word: str  #: carry on, watch, hold or discard
    reasons: tuple[Reason, ...]
    measured: bool  #: False: never called safe by calculation.

    @property
    def final(self) -> bool:
        """Whether nobody may overrule it: mould, insects, eels, rot."""
        return any(reason.final for reason in self.reasons)


def judge(facts: BrewFacts) -> Verdict:
    """Judge a brew in its first ferment; the gravest reason gives the word.

    Args:
        facts: What is known now.

    Source: rule of pH 4.2 within 7 days and not below 2.5: Nummer 2013; the rest usual practice.
    """
    reasons = [reason for rule in RULES for reason in rule(facts)]
    keys = {reason.key for reason in reasons}
    reasons = [reason for reason in reasons if not (reason.key == "rise" and keys & {"risen", "risen-twice"})]
    reasons.sort(key=lambda reason: -ORDER.index(reason.verdict))
    return Verdict(reasons[0].verdict if reasons else CARRY_ON, tuple(reasons), bool(facts.ph))


def may_bottle(facts: BrewFacts, verdict: Verdict | None = None) -> bool:
    """Return whether a brew may be bottled or given away.

    Not at hold or discard, not a trial or a SCOBY being grown, not below pH 2.5, not while its last pH is above 4.2 or cannot
    be told from it, not when it was never measured and tasted much too sweet late. One that was never measured else may: looks,
    smell and taste speak.

    Args:
        facts: What is known now.
        verdict: Of the rules, or of the brewer; as the rules have it unless given.
    """
    verdict = verdict or judge(facts)
    if verdict.word in {HOLD, DISCARD} or facts.kind in {KindOfBrew.TRIAL, KindOfBrew.GROW}:
        return False
    return not too_high(facts) and not still_sweet(facts) and not (facts.ph and facts.ph[-1].ph < limit("drinking_ph"))


def too_high(facts: BrewFacts) -> bool:
    """Return whether the last pH after the first day is above 4.2, or cannot be told apart from it and none before it could."""
    bound = limit("safe_ph")
    later = [r for r in facts.ph if r.day > STARTS]
    if not later:
        return False
    last = later[-1]
    if last.ph > bound:
        return True
    known = any(r.ph <= bound for r in facts.settled if r.day <= last.day)
    return not settles(last.ph, last.instrument, bound) and not known


@dataclass(frozen=True, slots=True)
class TrialVerdict:
    """Whether a trial of an unusual base may be tasted at all; whether it tastes well is another verdict."""

    fit: bool
    missing: tuple[str, ...]  #: What speaks against it, or is not known yet.


def trial_verdict(facts: BrewFacts) -> TrialVerdict:
    """Judge a trial: fit to taste only if its last reading, on day 3 or later and by a meter, is at or below 4.2.

    One such reading must stand by day 7, pH must have fallen or acidity risen, the disc must have grown, and nothing be odd.

    >>> trial_verdict(BrewFacts(day=6, mean_c=24, now_c=24)).fit
    False
    """
    bound, gate = limit("safe_ph"), limit("safe_by_day")
    by_meter = [r for r in facts.ph if r.instrument == MeasuredBy.METER]
    last = facts.ph[-1] if facts.ph else None
    fallen = len(facts.ph) > 1 and is_alive_by_ph(facts.ph[0].ph - facts.ph[-1].ph)
    risen = len(facts.ta) > 1 and facts.ta[-1][1] - facts.ta[0][1] >= limit("sign_of_life_ta")
    rows = (
        (any(look.surface == "disc" for look in facts.looks), "the disc has not been seen to grow"),
        (_nothing_odd(facts), "something on it was odd or mouldy"),
        (
            last is not None and last in by_meter and last.day >= TRIAL_DAY and last.ph <= bound,
            f"its last pH is not {bound:g} or lower by a meter, on day {TRIAL_DAY:g} or later",
        ),
        (
            any(r.ph <= bound and r.day <= gate for r in by_meter),
            f"no meter has read pH {bound:g} or lower within {gate:g} days",
        ),
        (fallen or risen, "pH has not fallen by 0.3, nor acidity risen, since the start"),
    )
    return TrialVerdict(all(holds for holds, _ in rows), tuple(text for holds, text in rows if not holds))


def _nothing_odd(facts: BrewFacts) -> bool:
    return all(seen.verdict in {CARRY_ON, WATCH} for look in facts.looks for seen in look.seen)
