"""Harvest: reserve first, end the brew. What is filled into bottles stands in `filling.py`."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.base import limit, marked
from ...core.base.kinds import NOT_DRUNK, BrewStatus
from ...core.judging.safety import DISCARD, HOLD, may_bottle, shows_life, too_high
from ...core.liquid import Way
from ...reckon.bottles import harvests
from ...reckon.judging import verdicts
from ...store.read import queries
from ...store.records import Brew, Disc, StarterLot
from ..base import Checks, Done, action, check_version, flushed
from ..pouring import empty, lot_in

STARTER_FIRST = "First of all the starter: set it aside plain, or say that there is no next brew."


def starter_comes_first(brew: Brew) -> str:
    """Return why nothing is flavoured or bottled yet: its starter is still in it; empty where that is settled."""
    return "" if brew.reserved or brew.no_next_brew else STARTER_FIRST

@dataclass(frozen=True, slots=True, kw_only=True)
class ReserveStarter:
    """Plain liquid kept for the next brew."""

    brew_id: int
    litres: float  #: [L]
    ph: float | None = None  #: [pH]
    instrument: str = "meter"
    kept_in: str = "shelf"


def ready_to_harvest(session: Session, brew_id: int, now: datetime) -> Brew:
    """Find a living brew that may be harvested."""
    brew, checks = queries.get(session, Brew, brew_id), Checks()
    checks.refuse_if(not brew.alive, "", f"This brew ended already ({brew.status}).")
    if brew.alive:
        verdict = verdicts.verdict_of(brew, now)
        why = verdict.reasons[0].sentence if verdict.reasons else ""
        checks.refuse_if(
            verdict.word in {HOLD, DISCARD} or brew.status == BrewStatus.HELD, "", f"Not now: {verdict.word}. {why}"
        )
    checks.refuse_apart(session, "", ("brew", brew.id))
    checks.done()
    return brew


def why_not_bottled(brew: Brew, now: datetime) -> str:
    """Return why nothing of a brew may be bottled or given away now; empty: it may."""
    facts = verdicts.facts_of(brew, now)
    if may_bottle(verdicts.by_older_end(brew, facts), verdicts.verdict_of(brew, now, facts)):
        return ""
    if facts.kind in NOT_DRUNK:
        return "This one is not for drinking: nothing of it is bottled or given away."
    if too_high(facts):
        return f"Its last pH is above {limit('safe_ph'):g}, or cannot be told from it: measure by a calibrated meter first."
    return "Below pH 2.5 it is not for drinking as it is: strong starter, or vinegar."


@action
def reserve_starter(session: Session, ask: ReserveStarter, at: datetime) -> Done:
    """Set starter aside, first of all."""
    return reserve(session, ask, at)


def reserve(session: Session, ask: ReserveStarter, at: datetime) -> Done:
    """Set starter aside, within another action."""
    brew, checks = ready_to_harvest(session, ask.brew_id, at), Checks()
    checks.between(ask.litres, "litres", 0.02, 50, "Starter of", "volume")
    checks.refuse_if(
        ask.litres > brew.left_l + 0.005,
        "litres",
        f"Only {marked(brew.left_l, 'volume')} are left in it.",
    )
    checks.between(ask.ph, "ph", 1.8, 5.0, "A starter's pH of")
    checks.done()
    measured = (ask.ph, ask.instrument) if ask.ph is not None else harvests.measured_ph(brew, at)
    lot = StarterLot(
        culture_id=brew.culture_id,
        made_at=at,
        ph=measured[0] if measured is not None else None,
        instrument=measured[1] if measured is not None else ask.instrument,
        kept_in=ask.kept_in,
        estimated_ph=harvests.estimated_ph(session, brew, at),
    )
    brew.no_next_brew = False
    number = lot_in(session, lot, at, ask.litres, Way.RESERVED, brew.liquid)
    return Done(f"{marked(ask.litres, 'volume')} of {brew.culture.name} reserved.", {"lot": number})


@dataclass(frozen=True, slots=True, kw_only=True)
class SayNoNextBrew:
    """There will be no next brew from this one."""

    brew_id: int


@action
def say_no_next_brew(session: Session, ask: SayNoNextBrew, at: datetime) -> Done:
    """Record that no starter is wanted from this brew."""
    brew = ready_to_harvest(session, ask.brew_id, at)
    brew.no_next_brew = True
    return Done("No next brew from this one: nothing reserved.")


@dataclass(frozen=True, slots=True, kw_only=True)
class EndBrew:
    """The vessel is empty."""

    brew_id: int
    keep_disc: bool = True
    version: int | None = None


@action
def end_brew(session: Session, ask: EndBrew, at: datetime) -> Done:
    """End a harvest: the vessel is free; the new disc is kept if wanted."""
    brew, checks = ready_to_harvest(session, ask.brew_id, at), Checks()
    check_version(ask.version, brew.version, brew.vessel.name)
    checks.refuse_if(
        not brew.reserved and not brew.no_next_brew,
        "",
        STARTER_FIRST,
    )
    checks.done()
    made = ended(session, brew, at, ask.keep_disc)
    return Done(f"{brew.vessel.name} is empty and free.", made)


def ended(session: Session, brew: Brew, at: datetime, keep_disc: bool) -> dict[str, int]:
    """End a brew as harvested: what is left goes, guests leave, a new disc is kept if wanted; gives what was made."""
    brew.status, brew.ended_at = BrewStatus.HARVESTED, at
    empty(session, brew.liquid, at, Way.LEFT_OVER)
    for guest in brew.guests:
        guest.until = guest.until or at
    made: dict[str, int] = {}
    facts = verdicts.facts_of(brew, at)
    if keep_disc and shows_life(facts, ta_rise_g_per_l=1.0):
        disc = Disc(
            name=f"{brew.culture.name}, disc {len(brew.culture.discs) + 1}",
            culture_id=brew.culture_id,
            born_brew_id=brew.id,
            diameter_cm=brew.vessel.diameter_cm,
        )
        made["disc"] = flushed(session, disc)
    return made
