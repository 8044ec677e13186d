"""What is due: computed from a brew's state, never stored; each with why."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from ..base import limit
from ..base.kinds import BrewStatus, DueKind, KindOfBrew
from .safety import CARRY_ON, DISCARD, HOLD, WATCH, Verdict

TASTE_FROM = {"sugar": 6.0, "jun": 3.0}  #: First taste, at 22 degC or cooler. [d]
WARM_C, WARM_SOONER = 26.0, 2.0  #: In the warm so many days sooner. [degC, d]
PH_EVERY = 2.0  #: [d]
LOOK_AFTER = 1.0  #: [d]
LOOK_EVERY = 3.0  #: [d]
HIGH_LOOK_EVERY = 2.0  #: On a high shelf, which gets tasted too rarely. [d]
RUNNING_LOOK_EVERY = 7.0  #: A tapped vessel that runs is seen at each draw. [d]
AGAIN_AFTER = 1.0  #: What is watched or held is looked at again. [d]
LABEL_UNTIL = 40.0  #: Nobody labels an older brew. [d]
OVER_SOUR = 1.6  #: Acidity so many times a point is over-sour (assumed). [-]
CANNOT_WAIT = {"discard", "hold"}  #: Kinds that cannot be put off.


@dataclass(frozen=True, slots=True)
class Due:
    """One thing to do now."""

    kind: str  #: discard, hold, measure, harvest, salvage, taste, look, label or nothing
    what: str
    why: str
    urgent: bool = False

    @property
    def can_wait(self) -> bool:
        """Whether the due thing may be put off."""
        return self.kind not in CANNOT_WAIT


@dataclass(frozen=True, slots=True, kw_only=True)
class DueFacts:
    """What decides which things are due."""

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
    reach: str = "easy"  #: Of its place: easy or high.
    labelled: bool = True
    dry_disc: bool = False  #: The last look saw the disc lifted, its top dry.
    look_verdict: str = CARRY_ON  #: What the last look came to.
    doubted_ph: float | None = None  #: The newest reading, where the others speak against it. [pH]
    sourness: float | None = None  #: Acidity against the sourest taster's point. [-]
    soured: bool = False  #: Starter or vinegar went in since its pH was last read.
    runs: bool = False  #: In a tapped vessel: drawn from and topped up, never harvested at a window.


def first_taste_day(diet: str, mean_c: float) -> float:
    """Return when to taste first: jun earlier, warm earlier. [d]

    >>> first_taste_day("sugar", 24)
    6.0
    """
    return TASTE_FROM[diet] - (WARM_SOONER if mean_c >= WARM_C else 0.0)


def _grave(f: DueFacts) -> Due | None:
    reason = f.verdict.reasons[0].sentence if f.verdict.reasons else ""
    if f.verdict.word == DISCARD:
        return Due(DueKind.DISCARD, "Discard it", reason, True)
    if f.status == BrewStatus.HELD:
        return Due(DueKind.HOLD, "Measure it again" if f.soured else "Add starter, measure again", reason or "It started above pH 4.5.", True)
    if f.verdict.word == HOLD:
        return Due(DueKind.HOLD, "Hold it", reason, True)
    return None


def _gate(f: DueFacts) -> Due | None:
    if f.day < limit("safe_by_day") - 0.5:
        return None
    known = f.last_ph is not None and f.last_ph <= limit("safe_ph")
    if f.measures_ph and not known and (f.last_ph_day is None or f.last_ph_day < limit("safe_by_day") - 1):
        return Due(
            "measure",
            "Measure its pH",
            f"By day {limit('safe_by_day'):g} it must stand at {limit('safe_ph'):g} or lower.",
            True,
        )
    return None


def _doubted(f: DueFacts) -> Due | None:
    """A newest reading that does not fit is settled by another one."""
    if f.doubted_ph is None:
        return None
    why = f"pH {f.doubted_ph:g} does not fit what else is known of it: take a fresh sample with a clean spoon."
    return Due(DueKind.MEASURE, "Measure it again", why, True)


def _own_looks(f: DueFacts) -> Due | None:
    """Growing, reviving and trying have their own days, and nobody drinks them at a window."""
    if not f.watch:
        return None
    due = [day for day in f.watch if day <= f.day + 0.25]
    if due and (f.last_look_day is None or f.last_look_day < due[-1] - 0.5):
        return Due(DueKind.LOOK, f"Look at it: day {due[-1]}", _WATCHED.get((f.kind, due[-1]), _WATCHING.get(f.kind, "")))
    if f.kind == KindOfBrew.GROW and f.day >= f.watch[-1]:
        return Due(
            "harvest",
            "Step it up",
            "Four weeks: with a disc of ⟦thickness:5⟧ to ⟦thickness:6⟧ it goes into a wider vessel; its liquid is strong starter.",
        )
    if f.kind in {KindOfBrew.GROW, KindOfBrew.TRIAL}:
        ahead = next((day for day in f.watch if day > f.day), None)
        return Due(DueKind.NOTHING, "Leave it in peace", f"Next look on day {ahead}." if ahead else "Nothing is due.")
    return None


_WATCHING = {
    "grow": "A disc grows from the bottle's liquid; do not move it.",
    "dried": "A dried disc wakes slowly; a new film shows that it lives.",
    "trial": "Did the disc grow, is anything on it mould?",
}
_WATCHED = {
    ("grow", 4): "First wisps about now.",
    ("grow", 7): "A clear film with bubbles like eyes: often taken for mould, and is none.",
    ("grow", 14): "About ⟦thickness:5⟧ to ⟦thickness:6⟧: usable, if it holds together.",
    ("grow", 28): "⟦thickness:12⟧ is sturdy: step it up into a wider vessel.",
    ("trial", 7): "The last day: pH 4.2 or lower by a meter, disc grown, no mould; else it is thrown out.",
}


def _look_again(f: DueFacts) -> Due | None:
    """What was watched or held is looked at again in a day; a dry disc too."""
    if f.last_look_day is None or f.day - f.last_look_day < AGAIN_AFTER - 0.1:
        return None
    if f.dry_disc:
        return Due(
            "look", "Is its disc still dry?", "Its top was dry a day ago: wet or turned, it should be wet now.", True
        )
    if f.look_verdict in {WATCH, HOLD}:
        return Due(DueKind.LOOK, "Look again", "What was seen a day ago was to be looked at again in 24 hours.", True)
    return None


def _window(f: DueFacts) -> Due | None:
    tasted = f.last_taste_day is not None and f.day - f.last_taste_day < 0.8
    if f.ready_to is not None and f.day > f.ready_to:
        if (f.sourness or 0) >= OVER_SOUR:
            return Due(
                "salvage",
                "Too sour to drink as it is: use it",
                "Strong starter, diluted, vinegar, or food for the hotel; never simply thrown away.",
            )
        return Due(
            "harvest",
            "Harvest it, or keep it as strong starter",
            "It is past its window: what is too sour to drink is starter, not waste.",
        )
    if f.ready_from is not None and f.day >= f.ready_from:
        return (
            Due(DueKind.HARVEST, "Harvest it", "It is inside its window.")
            if tasted
            else Due(DueKind.TASTE, "Taste it, then harvest", "It is inside its window; your tongue decides.")
        )
    return None


def _first_looks(f: DueFacts) -> Due | None:
    every = RUNNING_LOOK_EVERY if f.runs else HIGH_LOOK_EVERY if f.reach == "high" else LOOK_EVERY
    if f.day < LOOK_AFTER or (f.last_look_day is not None and f.day - f.last_look_day < every):
        return None
    if f.last_look_day is None:
        return Due(DueKind.LOOK, "First look", "A new film shows that it lives; mould shows early.")
    since = f"{f.day - f.last_look_day:.0f} days since the last look."
    return Due(DueKind.LOOK, "Look at it", f"{since} A high shelf is passed by." if f.reach == "high" else since)


def _settle(f: DueFacts) -> Due | None:
    if f.verdict.word != CARRY_ON and f.verdict.reasons:
        return Due(DueKind.MEASURE, "Measure it by a meter", f.verdict.reasons[0].sentence)
    return None


def _taste(f: DueFacts) -> Due | None:
    tasted = f.last_taste_day is not None and f.day - f.last_taste_day < 0.8
    sooner = 1.0 if f.reach == "high" else 0.0
    if f.day >= first_taste_day(f.diet, f.mean_c) - sooner and not tasted:
        return Due(DueKind.TASTE, "Taste it", "Near the end it changes fast: a spoonful a day.")
    return None


def _measure(f: DueFacts) -> Due | None:
    if f.measures_ph and f.last_ph_day is not None and f.day - f.last_ph_day >= PH_EVERY:
        return Due(DueKind.MEASURE, "Measure its pH", "Every other day keeps the forecast narrow.")
    return None


def _label(f: DueFacts) -> Due | None:
    if f.labelled or f.day > LABEL_UNTIL:
        return None
    return Due(DueKind.LABEL, "Label it", "No label yet: in a week nobody knows what stands there since when.")


#: Of a tapped vessel that runs; its draws and its care are due by `tapped/care.py`.
RUNNING_RULES = (_grave, _doubted, _look_again, _first_looks, _settle, _label)
RULES = (_grave, _gate, _doubted, _look_again, _own_looks, _window, _first_looks, _settle, _taste, _measure, _label)
PEACE = Due(DueKind.NOTHING, "Leave it in peace", "Nothing is due.")


def dues(f: DueFacts) -> tuple[Due, ...]:
    """List all that a brew wants now, most pressing first; each kind once.

    A brew that is discarded or held wants nothing else.

    Args:
        f: What decides.
    """
    grave = _grave(f)
    if grave is not None:
        return (grave,)
    if f.runs:
        return _each_once(f, RUNNING_RULES)
    own = _own_looks(f)
    rules = (
        (_gate, _look_again, _own_looks, _label)
        if own is not None and f.kind in {KindOfBrew.GROW, KindOfBrew.TRIAL}
        else RULES
    )
    found = {due.kind: due for due in _each_once(f, rules)}
    if {"harvest", "salvage"} & set(found):
        found.pop("measure", None) if not found.get("measure", PEACE).urgent else None
    return tuple(found.values())


def _each_once(f: DueFacts, rules: Sequence[Callable[[DueFacts], Due | None]]) -> tuple[Due, ...]:
    """List what rules want, the first of each kind."""
    found: dict[str, Due] = {}
    for rule in rules:
        due = rule(f)
        if due is not None:
            found.setdefault(due.kind, due)
    return tuple(found.values())


def due_now(f: DueFacts) -> Due:
    """Return the one thing that a brew needs first.

    Args:
        f: What decides.
    """
    wants = dues(f)
    return wants[0] if wants else PEACE
