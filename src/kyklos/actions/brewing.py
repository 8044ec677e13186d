"""A brew in its vessel: read, taste, look, correct, discard."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ..core.facts import INSTRUMENTS, limit
from ..core.observations import OBSERVATIONS, of_group
from ..core.safety import trial_verdict
from ..store import queries, values
from ..store.models import Brew, Disc, Look, Reading, StarterLot, StarterPortion, Taster, Tasting
from .base import FUTURE_GRACE, Checks, Done, action, check_version, flushed

UNLIKELY_PH = 5.5  #: A brew above it is asked about. [pH]


@dataclass(frozen=True, slots=True, kw_only=True)
class LogReading:
    """A measurement; at least one of pH and temperature."""

    brew_id: int
    ph: float | None = None  #: [pH]
    instrument: str = "meter"
    celsius: float | None = None  #: [degC]
    at: datetime | None = None  #: Now unless told.
    note: str = ""
    sure: bool = False  #: An unlikely value was asked about and confirmed.


def _living(session: Session, brew_id: int) -> Brew:
    brew = queries.get(session, Brew, brew_id)
    checks = Checks()
    checks.refuse_if(not brew.alive, "", f"This brew ended ({brew.status}); nothing more is logged to it.")
    checks.done()
    return brew


def _check_time(checks: Checks, brew: Brew, when: datetime, now: datetime) -> None:
    checks.refuse_if(when > now + FUTURE_GRACE, "at", "That lies in the future.")
    checks.refuse_if(when < brew.pitched_at - FUTURE_GRACE, "at", "That is before the brew was pitched.")


@action
def log_reading(session: Session, ask: LogReading, at: datetime) -> Done:
    """Log a pH, a temperature, or both; a held brew that measures 4.5 or lower goes on."""
    brew, when, checks = _living(session, ask.brew_id), ask.at or at, Checks()
    checks.refuse_if(ask.ph is None and ask.celsius is None, "ph", "Type a pH, a temperature, or both.")
    checks.refuse_if(ask.ph is not None and not 0 <= ask.ph <= 14, "ph", "pH runs from 0 to 14.")
    odd = ask.ph is not None and (UNLIKELY_PH < ask.ph <= 14 or 0 <= ask.ph < 2.0) and not ask.sure
    checks.refuse_if(
        odd,
        "sure",
        f"pH {ask.ph:g} is unusual in a brew. Is the probe rinsed and the number right? Tick to keep it."
        if odd
        else "",
    )
    checks.refuse_if(ask.instrument not in INSTRUMENTS, "instrument", "Choose what measured it.")
    checks.between(ask.celsius, "celsius", 0, 60, "A brew at (°C)")
    _check_time(checks, brew, when, at)
    checks.done()
    reading = Reading(
        brew_id=brew.id, at=when, ph=ask.ph, instrument=ask.instrument, celsius=ask.celsius, note=ask.note.strip()[:500]
    )
    made = {"reading": flushed(session, reading)}
    told = " and ".join(
        ([f"pH {ask.ph:g}"] if ask.ph is not None else [])
        + ([f"{ask.celsius:.1f} °C"] if ask.celsius is not None else [])
    )
    if brew.status == "held" and ask.ph is not None and ask.ph <= limit("start_ph"):
        brew.status = "fermenting"
        return Done(f"{told}: {brew.vessel.name} may go on.", made)
    return Done(f"{told} logged for {brew.vessel.name}.", made)


@dataclass(frozen=True, slots=True, kw_only=True)
class StrikeReading:
    """A reading that was wrong."""

    reading_id: int


@action
def strike_reading(session: Session, ask: StrikeReading, at: datetime) -> Done:
    """Strike out a reading: it stays on the page, crossed out, and counts no more."""
    reading = queries.get(session, Reading, ask.reading_id)
    reading.struck = True
    return Done("Reading struck out. It stays in the record.")


@dataclass(frozen=True, slots=True, kw_only=True)
class LogTasting:
    """One taster's judgement."""

    brew_id: int
    taster_id: int
    score: int  #: -3 to 3. [step]


@action
def log_tasting(session: Session, ask: LogTasting, at: datetime) -> Done:
    """Log a taste: a reading of the same rank as a pH."""
    from ..core.taste import score_word

    brew, taster, checks = _living(session, ask.brew_id), queries.get(session, Taster, ask.taster_id), Checks()
    checks.refuse_if(not -3 <= ask.score <= 3, "score", "Choose from much too sweet to much too sour.")
    if brew.kind == "trial":
        trial = trial_verdict(values.facts_of(brew, at))
        checks.refuse_if(not trial.fit, "score", f"Do not taste this trial: {'; '.join(trial.missing)}.")
    checks.refuse_if(brew.status == "held", "score", "This brew is held: do not taste it until it is measured.")
    checks.done()
    made = {"tasting": flushed(session, Tasting(brew_id=brew.id, taster_id=taster.id, at=at, score=ask.score))}
    return Done(f"{taster.name}: {score_word(ask.score)}.", made)


@dataclass(frozen=True, slots=True, kw_only=True)
class LogLook:
    """What was seen on the surface."""

    brew_id: int
    surface: str
    signs: tuple[str, ...] = ()
    smell: str = ""  #: Empty: nobody smelled it.
    note: str = ""


@action
def log_look(session: Session, ask: LogLook, at: datetime) -> Done:
    """Log what was seen: the dial draws it, the judgement reads it."""
    brew, checks = _living(session, ask.brew_id), Checks()
    for group, name, keys in (
        ("surface", "surface", (ask.surface,)),
        ("sign", "signs", ask.signs),
        ("smell", "smell", (ask.smell,)),
    ):
        known = {seen.key for seen in of_group(group)} | ({""} if group == "smell" else set())
        checks.refuse_if(
            any(key not in known for key in keys),
            name,
            "Choose what you see." if group != "smell" else "Choose how it smells.",
        )
    checks.done()
    look = Look(
        brew_id=brew.id,
        at=at,
        surface=ask.surface,
        signs=list(dict.fromkeys(ask.signs)),
        smell=ask.smell,
        note=ask.note.strip()[:500],
    )
    made = {"look": flushed(session, look)}
    return Done(f"{brew.vessel.name}: {OBSERVATIONS[ask.surface].name.lower()}.", made)


@dataclass(frozen=True, slots=True, kw_only=True)
class AddStarter:
    """More starter for a brew that starts too high."""

    brew_id: int
    litres: float  #: [L]
    lot_id: int | None = None


@action
def add_starter(session: Session, ask: AddStarter, at: datetime) -> Done:
    """Add starter to a held brew; it stays held until a pH of 4.5 or lower is measured."""
    brew, checks = _living(session, ask.brew_id), Checks()
    checks.between(ask.litres, "litres", 0.005, 20, "Starter of (L)")
    checks.refuse_if(
        brew.final_l + ask.litres > brew.vessel.nominal_l,
        "litres",
        "The vessel would overflow: take some sweet tea out first.",
    )
    lot = queries.get(session, StarterLot, ask.lot_id) if ask.lot_id is not None else None
    checks.refuse_if(
        lot is not None and lot.left_l < ask.litres - 0.005, "litres", "There is not so much left of this starter."
    )
    checks.done()
    starter = brew.starter_fraction * brew.final_l + ask.litres
    brew.final_l += ask.litres
    brew.starter_fraction = starter / brew.final_l
    name, ph = "other starter", None
    if lot is not None:
        lot.left_l = max(0.0, lot.left_l - ask.litres)
        name, ph = lot.culture.name, lot.ph if lot.ph is not None else lot.estimated_ph
    session.add(StarterPortion(brew_id=brew.id, lot_id=ask.lot_id, name=name, litres=ask.litres, ph=ph))
    return Done(f"{ask.litres * 1000:.0f} mL of starter added. Stir, then measure again.")


@dataclass(frozen=True, slots=True, kw_only=True)
class DiscardBrew:
    """A brew that ends badly."""

    brew_id: int
    reason: str
    version: int | None = None


@action
def discard_brew(session: Session, ask: DiscardBrew, at: datetime) -> Done:
    """Throw a brew out, with its disc."""
    brew, checks = _living(session, ask.brew_id), Checks()
    check_version(ask.version, brew.version, brew.vessel.name)
    checks.refuse_if(not ask.reason.strip(), "reason", "Say in a word why: it helps next time.")
    checks.done()
    brew.status, brew.ended_at, brew.end_note = "discarded", at, ask.reason.strip()[:500]
    if brew.disc_id is not None:
        queries.get(session, Disc, brew.disc_id).ended_at = at
    return Done(
        f"{brew.vessel.name} discarded. Wash, rinse, sanitise as the label says; cloth and wood are thrown out."
    )
