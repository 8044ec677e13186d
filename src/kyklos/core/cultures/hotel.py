"""The hotel: spare discs in mature liquid. When it wants food, liquid or a fresh cover, and what its liquid is worth."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

FEED_DAYS = 28.0  #: Between feeds, until it has a rhythm of its own (about monthly). [d]
FEWEST_GAPS = 2  #: A rhythm is learned from so many gaps.
EVAPORATES_CM_PER_DAY = 0.2 / 7  #: Through a cloth: 2 mm a week (assumed). [cm/d]
LOW_SHARE = 0.75  #: Below this share of its line it wants liquid (assumed). [-]
COVER_DAYS = 56.0  #: A fresh cover every eight weeks (assumed). [d]
LOOK_AHEAD_DAYS = 1.0  #: What is due so soon is mentioned. [d]
WEAK_PH = 3.5  #: Above this its liquid protects little (assumed). [pH]
USUAL_PH = 2.8  #: Of a hotel nobody measured: very sour (assumed). [pH]


@dataclass(frozen=True, slots=True, kw_only=True)
class HotelFacts:
    """What is recorded of a hotel. Days are counted back from now."""

    usable_l: float  #: [L]
    diameter_cm: float  #: [cm]
    guests: int = 0
    feeds_days_ago: Sequence[float] = ()  #: Newest first. [d]
    level_l: float | None = None  #: As last read, discs aside. [L]
    level_days_ago: float = 0.0  #: [d]
    ph: float | None = None  #: As last measured.
    ph_days_ago: float = 0.0  #: [d]
    cover_days_ago: float | None = None  #: [d]


@dataclass(frozen=True, slots=True)
class HotelDue:
    """Something a hotel wants."""

    kind: str  #: feed, level, cover or acid
    what: str
    why: str


@dataclass(frozen=True, slots=True)
class HotelState:
    """How a hotel stands."""

    rhythm_days: float  #: Its own, or the usual. [d]
    own_rhythm: bool
    feed_in_days: float | None  #: Until the next feed; None: never fed. [d]
    level_now_l: float | None  #: Reckoned with what evaporates. [L]
    top_up_l: float  #: To its line. [L]
    dues: tuple[HotelDue, ...]


def rhythm(feeds_days_ago: Sequence[float]) -> tuple[float, bool]:
    """Return how often it is fed, by the median gap, and whether that is its own. [d]"""
    gaps = sorted(later - earlier for earlier, later in itertools.pairwise(feeds_days_ago))
    if len(gaps) < FEWEST_GAPS:
        return FEED_DAYS, False
    return max(1.0, gaps[len(gaps) // 2]), True


def level_now(facts: HotelFacts) -> float | None:
    """Return what is left of the level last read. [L]"""
    if facts.level_l is None:
        return None
    area = math.pi / 4 * facts.diameter_cm**2
    return max(0.0, facts.level_l - area * EVAPORATES_CM_PER_DAY * facts.level_days_ago / 1000)


def state_of(facts: HotelFacts) -> HotelState:
    """Return what a hotel wants."""
    days, own = rhythm(facts.feeds_days_ago)
    feed_in = days - facts.feeds_days_ago[0] if facts.feeds_days_ago else None
    now_l = level_now(facts)
    top_up = max(0.0, facts.usable_l - now_l) if now_l is not None else 0.0
    state = HotelState(days, own, feed_in, now_l, top_up, ())
    if not facts.guests:
        return state
    return HotelState(days, own, feed_in, now_l, top_up, tuple(_dues(facts, state)))


def _dues(facts: HotelFacts, state: HotelState) -> list[HotelDue]:
    out = []
    if state.feed_in_days is None:
        out.append(HotelDue("feed", "Feed it", "Nobody has fed it yet: a cup of sweet tea keeps the discs alive."))
    elif state.feed_in_days <= LOOK_AHEAD_DAYS:
        rhythm_words = f"usually every {state.rhythm_days:.0f} days"
        out.append(HotelDue("feed", "Feed it", f"Last fed {facts.feeds_days_ago[0]:.0f} days ago, {rhythm_words}."))
    if state.level_now_l is not None and state.level_now_l < LOW_SHARE * facts.usable_l:
        why = "What is left of its liquid, with what evaporates, leaves discs dry: dry discs mould."
        out.append(HotelDue("level", "Top it up", why))
    if facts.cover_days_ago is not None and facts.cover_days_ago > COVER_DAYS:
        out.append(HotelDue("cover", "Give it a fresh cover", f"This one is {facts.cover_days_ago / 7:.0f} weeks old."))
    if facts.ph is not None and facts.ph > WEAK_PH:
        why = f"At pH {facts.ph:.1f} its liquid protects little: pour mature liquid in, not sweet tea."
        out.append(HotelDue("acid", "Make it sourer", why))
    return out


def spare_l(level_l: float, discs_l: float) -> float:
    """Return how much may be drawn as starter: what stands over the discs, at most half. [L]"""
    return max(0.0, min(level_l / 2, level_l - discs_l))
