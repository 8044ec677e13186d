"""What is due: computed from a brew's state, never stored; each with why."""

from __future__ import annotations

from dataclasses import dataclass

from .facts import limit
from .safety import CARRY_ON, DISCARD, HOLD, Verdict

TASTE_FROM = {"sugar": 6.0, "jun": 3.0}  #: First taste, at 22 degC or cooler. [d]
WARM_C, WARM_SOONER = 26.0, 2.0  #: In the warm so many days sooner. [degC, d]
PH_EVERY = 2.0  #: [d]
LOOK_AFTER = 1.0  #: [d]
LOOK_EVERY = 3.0  #: [d]


@dataclass(frozen=True, slots=True)
class Due:
    """One thing to do now."""

    kind: str  #: discard, hold, measure, harvest, taste, look or nothing
    what: str
    why: str
    urgent: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class DueFacts:
    """What decides about it."""

    status: str
    diet: str
    day: float  #: [d since pitch]
    mean_c: float  #: [degC]
    verdict: Verdict
    measures_ph: bool  #: This household reads pH.
    last_ph_day: float | None = None  #: [d since pitch]
    last_ph: float | None = None  #: [pH]
    last_taste_day: float | None = None  #: [d since pitch]
    last_look_day: float | None = None  #: [d since pitch]
    ready_from: float | None = None  #: 10 % of the first window. [d]
    ready_to: float | None = None  #: 90 % of the last window. [d]
    watch: tuple[int, ...] = ()  #: A kind's own looks. [d]
    kind: str = "batch"


def first_taste_day(diet: str, mean_c: float) -> float:
    """Say when to taste first: jun earlier, warm earlier. [d]

    >>> first_taste_day("sugar", 24)
    6.0
    """
    return TASTE_FROM[diet] - (WARM_SOONER if mean_c >= WARM_C else 0.0)


def _grave(f: DueFacts) -> Due | None:
    reason = f.verdict.reasons[0].sentence if f.verdict.reasons else ""
    if f.verdict.word == DISCARD:
        return Due("discard", "Discard it", reason, True)
    if f.status == "held":
        return Due("hold", "Add starter, measure again", reason or "It started above pH 4.5.", True)
    if f.verdict.word == HOLD:
        return Due("hold", "Hold it", reason, True)
    return None


def _gate(f: DueFacts) -> Due | None:
    if f.day < limit("safe_by_day") - 0.5:
        return None
    told = f.last_ph is not None and f.last_ph <= limit("safe_ph")
    if f.measures_ph and not told and (f.last_ph_day is None or f.last_ph_day < limit("safe_by_day") - 1):
        return Due(
            "measure",
            "Measure its pH",
            f"By day {limit('safe_by_day'):g} it must stand at {limit('safe_ph'):g} or lower.",
            True,
        )
    return None


def _own_looks(f: DueFacts) -> Due | None:
    """Growing, reviving and trying have their own days, and nobody drinks them at a window."""
    if not f.watch:
        return None
    due = [day for day in f.watch if day <= f.day + 0.25]
    if due and (f.last_look_day is None or f.last_look_day < due[-1] - 0.5):
        return Due("look", f"Look at it: day {due[-1]}", _WATCHED.get((f.kind, due[-1]), _WATCHING[f.kind]))
    if f.kind == "grow" and f.day >= f.watch[-1]:
        return Due(
            "harvest",
            "Step it up",
            "Four weeks: with a disc of 5 to 6 mm it goes into a wider vessel; its liquid is strong starter.",
        )
    if f.kind in {"grow", "trial"}:
        ahead = next((day for day in f.watch if day > f.day), None)
        return Due("nothing", "Leave it in peace", f"Next look on day {ahead}." if ahead else "Nothing is due.")
    return None


_WATCHING = {
    "grow": "A disc grows from the bottle's liquid; do not move it.",
    "dried": "A dried disc wakes slowly; a new film shows that it lives.",
    "trial": "Did the disc grow, is anything on it mould?",
}
_WATCHED = {
    ("grow", 4): "First wisps about now.",
    ("grow", 7): "A clear film with bubbles like eyes: often taken for mould, and is none.",
    ("grow", 14): "About 5 to 6 mm: usable, if it holds together.",
    ("grow", 28): "12 mm is sturdy: step it up into a wider vessel.",
    ("trial", 7): "The last day: pH 4.2 or lower by a meter, disc grown, no mould; else it is thrown out.",
}


def due_now(f: DueFacts) -> Due:
    """Say the one thing that a brew wants now.

    Args:
        f: What decides.
    """
    for rule in (_grave, _gate, _own_looks):
        if (found := rule(f)) is not None:
            return found
    tasted = f.last_taste_day is not None and f.day - f.last_taste_day < 0.8
    if f.ready_to is not None and f.day > f.ready_to:
        return Due(
            "harvest",
            "Harvest it, or keep it as strong starter",
            "It is past its window: what is too sour to drink is starter, not waste.",
        )
    if f.ready_from is not None and f.day >= f.ready_from:
        return (
            Due("harvest", "Harvest it", "It is inside its window.")
            if tasted
            else Due("taste", "Taste it, then harvest", "It is inside its window; your tongue decides.")
        )
    return _routine(f, tasted)


def _routine(f: DueFacts, tasted: bool) -> Due:
    if f.day >= LOOK_AFTER and (f.last_look_day is None or f.day - f.last_look_day >= LOOK_EVERY):
        first = f.last_look_day is None
        return Due(
            "look",
            "First look" if first else "Look at it",
            "A new film shows that it lives; mould shows early." if first else "Three days since the last look.",
        )
    if f.verdict.word != CARRY_ON and f.verdict.reasons:
        return Due("measure", "Measure it by a meter", f.verdict.reasons[0].sentence)
    if f.day >= first_taste_day(f.diet, f.mean_c) and not tasted:
        return Due("taste", "Taste it", "Near the end it changes fast: a spoonful a day.")
    if f.measures_ph and f.last_ph_day is not None and f.day - f.last_ph_day >= PH_EVERY:
        return Due("measure", "Measure its pH", "Every other day keeps the forecast narrow.")
    return Due("nothing", "Leave it in peace", "Nothing is due.")
