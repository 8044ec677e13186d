"""Slow, stuck or odd: which causes the evidence speaks for. A cause is named only when all of its evidence holds."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ..base import limit, marked
from ..base.facts import table_of
from ..base.saying import day_of
from ..base.water import HARD_MEQ
from ..liquid.sweet_tea import density
from .safety import is_alive_by_ph

SLOW, STUCK, FAST, USUAL, UNKNOWN = "slow", "stuck", "fast", "usual", "unknown"
WARM_C = 24.0  #: What a pace is held against, besides the brew's own warmth. [degC]
SWING_K = 8.0  #: A day's low and high so far apart count as a swing (assumed). [K]
WEAK_PH = 3.5  #: A starter above it is weak (assumed). [pH]
START_OFF_PH = 0.2  #: A start so much above plan is over-diluted (assumed). [pH]
START_OFF_SG = 0.004  #: The same by gravity (assumed). [-]
OLD_DAYS = 60.0  #: A starter older than this is tired (assumed). [d]
SLOW_TEA = 0.95  #: Vigour on this tea against black. [-]
HONEY_STEP = 0.25  #: A larger step than the usual 0.2 (assumed). [-]
LITTLE_SUGAR = 35.0  #: Below the usual range. [g/L]
HOT_ROOM_C, MUCH_STARTER = 27.0, 0.2  #: [degC, share]
ROSE_PH = 0.2  #: A rise by so much is no ferment's (assumed). [pH]
LOW_START_PH = 3.4  #: Already low on the first day (assumed). [pH]
EARLY_DAY = 3.0  #: Before it a pace says little. [d]
SKIN_DAY = 5.0  #: From here a new skin should show. [d]


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence:
    """What is known of a brew that speaks for or against a cause."""

    day: float  #: Since the pitch. [d]
    pace: str = UNKNOWN  #: Against the band at its own warmth: slow, stuck, fast, usual or unknown.
    pace_against_warm: str = UNKNOWN  #: Against the band at 24 degC.
    mean_c: float = WARM_C  #: So far. [degC]
    hottest_c: float | None = None  #: Measured in it. [degC]
    swing_k: float | None = None  #: Widest daily swing recorded. [K]
    treatment: str = "none"  #: Of the water: none, chlorine, chloramine or unknown
    source: str = "tap"  #: Of the water.
    skin: bool | None = None  #: Whether a new skin was seen; None: nobody looked.
    life: bool = False  #: Any sign of life.
    starter_fraction: float = 0.12  #: [-]
    starter_ph: float = 3.2  #: [pH]
    starter_age_days: float | None = None  #: [d]
    start_ph: float | None = None  #: Measured on the first day. [pH]
    planned_start_ph: float | None = None  #: [pH]
    start_gravity: float | None = None  #: Measured on the first day. [-]
    planned_sugar_g_per_l: float = 55.0  #: Of the whole. [g/L]
    tea_vigour: float = 1.0  #: [-]
    honey_share: float = 0.0  #: [-]
    diet_honey_share: float = 0.0  #: What the line was last brewed on. [-]
    sugar_g_per_l: float = 55.0  #: [g/L]
    alkalinity_meq_per_l: float = 0.5  #: [meq/L]
    largest_rise_ph: float = 0.0  #: Between two readings. [pH]


@dataclass(frozen=True, slots=True, kw_only=True)
class Cause:
    """A cause with the checks that must all hold."""

    key: str
    name: str
    evidence: tuple[str, ...]
    remedy: str


@dataclass(frozen=True, slots=True)
class Finding:
    """A cause that the evidence speaks for."""

    cause: Cause
    because: tuple[str, ...]


CAUSES: Mapping[str, Cause] = table_of("causes", Cause)


def _planned_gravity(sugar_g_per_l: float) -> float:
    per_cent = sugar_g_per_l / 10 / (0.99823 + 0.00386 * sugar_g_per_l / 10)
    return float(density(per_cent) / density(0))


def _slow(e: Evidence) -> str:
    return "it is behind its band, warmth reckoned with" if e.pace in {SLOW, STUCK} else ""


def _stuck(e: Evidence) -> str:
    return "pH does not fall" if e.pace == STUCK else ""


def _no_skin(e: Evidence) -> str:
    return f"no new skin by day {day_of(e.day)}" if e.skin is False and e.day >= SKIN_DAY else ""


def _starts_high(e: Evidence) -> str:
    if e.start_ph is not None and e.planned_start_ph is not None and e.start_ph - e.planned_start_ph >= START_OFF_PH:
        return f"it started at pH {e.start_ph:.2f}, planned was {e.planned_start_ph:.2f}"
    if e.start_gravity is not None and _planned_gravity(e.planned_sugar_g_per_l) - e.start_gravity >= START_OFF_SG:
        return (
            f"its first gravity was {e.start_gravity:.3f}, planned was {_planned_gravity(e.planned_sugar_g_per_l):.3f}"
        )
    return ""


def _weak_starter(e: Evidence) -> str:
    if e.starter_fraction < limit("starter_floor"):
        return f"only {e.starter_fraction:.0%} starter".replace("%", " %")
    return f"its starter had pH {e.starter_ph:.2f}" if e.starter_ph > WEAK_PH else ""


#: Each check gives its evidence in words, or nothing.
CHECKS: Mapping[str, Callable[[Evidence], str]] = {
    "slow": _slow,
    "stuck": _stuck,
    "stalled": lambda e: _slow(e) or _stuck(e),
    "fast": lambda e: "it is ahead of its band" if FAST in {e.pace, e.pace_against_warm} else "",
    "slow_against_warm": lambda e: f"it is behind what {marked(WARM_C, 'temperature')} would bring" if e.pace_against_warm in {SLOW, STUCK} else "",
    "cool": lambda e: f"it stood at {marked(e.mean_c, 'temperature')}" if e.mean_c < limit("cool_below") else "",
    "as_its_warmth": lambda e: "and goes as expected at that warmth" if e.pace in {USUAL, FAST} else "",
    "swings": lambda e: f"its days swing by {e.swing_k:.0f} K" if (e.swing_k or 0) >= SWING_K else "",
    "treated_water": lambda e: "its water is not known to be free of chlorine" if e.treatment != "none" and e.source == "tap" else "",
    "no_skin": _no_skin,
    "warm_enough": lambda e: f"at {marked(e.mean_c, 'temperature')} it could work" if e.mean_c >= limit("pitch_low") else "",
    "no_life": lambda e: "no sign of life since it was started" if not e.life and e.day >= EARLY_DAY else "",
    "was_too_hot": lambda e: f"{marked(e.hottest_c or 0.0, 'temperature')} was measured in it" if (e.hottest_c or 0) > limit("ferment_hold") else "",
    "weak_starter": _weak_starter,
    "old_starter": lambda e: f"its starter was {e.starter_age_days:.0f} days old" if (e.starter_age_days or 0) > OLD_DAYS else "",
    "starts_high": _starts_high,
    "slow_tea": lambda e: "cultures work more slowly on this tea" if e.tea_vigour < SLOW_TEA else "",
    "honey_above_diet": lambda e: f"{e.honey_share:.0%} honey, its line is used to {e.diet_honey_share:.0%}".replace("%", " %") if e.honey_share - e.diet_honey_share >= HONEY_STEP else "",
    "little_sugar": lambda e: f"only {marked(e.sugar_g_per_l, 'strength')} of sugars" if e.sugar_g_per_l < LITTLE_SUGAR else "",
    "hard_water": lambda e: f"alkalinity {e.alkalinity_meq_per_l:g} meq/L" if e.alkalinity_meq_per_l >= HARD_MEQ else "",
    "low_from_start": lambda e: f"pH {e.start_ph:.2f} from the first day" if e.start_ph is not None and e.start_ph <= LOW_START_PH else "",
    "hot_room": lambda e: f"it stood at {marked(e.mean_c, 'temperature')}" if e.mean_c >= HOT_ROOM_C else "",
    "strong_start": lambda e: f"{e.starter_fraction:.0%} starter".replace("%", " %") if e.starter_fraction >= MUCH_STARTER else "",
    "rose": lambda e: f"pH rose by {e.largest_rise_ph:.2f}" if e.largest_rise_ph >= ROSE_PH else "",
}  # fmt: skip


def diagnose(evidence: Evidence) -> list[Finding]:
    """Name the causes that all of their evidence speaks for, in the order of the table.

    Args:
        evidence: What is known.

    Source: table of causes, usual practice; thresholds assumed as told.
    """
    out = []
    for cause in CAUSES.values():
        because = tuple(CHECKS[name](evidence) for name in cause.evidence)
        if all(because):
            out.append(Finding(cause, because))
    return out


def unknown_yet(evidence: Evidence) -> list[str]:
    """Return what would help to find the cause of a slow brew that none explains."""
    asks = []
    if evidence.start_ph is None:
        asks.append("what pH it started at")
    if evidence.skin is None:
        asks.append("whether a new film shows: look at it")
    if evidence.treatment == "unknown":
        asks.append("whether the water holds chlorine or chloramine")
    if evidence.starter_age_days is None:
        asks.append("how old its starter was")
    return asks


def pace_of(ph: float, sd: float, low: float, high: float, still_days: float = 0.0, fallen: float = 1.0) -> str:
    """Return how a pH stands against a band.

    Args:
        ph: Measured. [pH]
        sd: Of the instrument. [pH]
        low, high: The band foretold without this brew's readings, 10 to 90 %. [pH]
        still_days: How long it has not fallen. [d]
        fallen: By how much it fell since the pitch. [pH]

    >>> pace_of(3.9, 0.05, 3.3, 3.6)
    'slow'
    """
    if still_days >= 4.0 and not is_alive_by_ph(fallen):
        return STUCK
    if ph - sd > high:
        return SLOW
    return FAST if ph + sd < low else USUAL
