"""A brew in its vessel: read, taste, look, correct, discard."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.base import limit, marked
from ...core.base.facts import INSTRUMENTS
from ...core.base.kinds import BrewStatus, KindOfBrew
from ...core.judging import OBSERVATIONS
from ...core.judging.observations import DISCARD, of_group
from ...core.judging.rules import STARTS
from ...core.judging.safety import trial_verdict
from ...core.liquid import Way, acids
from ...core.liquid.taste import score_word
from ...reckon.forecast import palates
from ...reckon.judging import verdicts
from ...store.read import queries
from ...store.read.meters import ph_told, right_ph
from ...store.read.moments import days_between
from ...store.records import Brew, Disc, Instrument, Look, Reading, Taster, Tasting
from ..base import FUTURE_GRACE, Checks, Done, action, check_version, flushed
from ..outdating import keep_tasted
from ..pouring import empty

DEPTHS = {"": "Not said", "top": "Top", "middle": "Middle", "bottom": "Bottom", "tap": "Tap"}
UNLIKELY_PH = 5.5  #: A brew above it is asked about. [pH]


@dataclass(frozen=True, slots=True, kw_only=True)
class LogReading:
    """A measurement; at least one number of it."""

    brew_id: int
    ph: float | None = None  #: [pH]
    instrument: str = "meter"
    instrument_id: int | None = None  #: Which of the household's.
    millivolts: float | None = None  #: Behind the pH, where the meter sent it. [mV]
    celsius: float | None = None  #: [degC]
    low_c: float | None = None  #: Lowest of the last day. [degC]
    high_c: float | None = None  #: Highest of the last day. [degC]
    gravity: float | None = None  #: Specific gravity. [-]
    gravity_by: str = ""  #: hydrometer or refractometer
    ta_g_per_l: float | None = None  #: As acetic. [g/L]
    base_ml: float | None = None  #: Or by titration: base used, [mL]
    base_normality: float | None = None  #: its strength [mol/L]
    sample_ml: float | None = None  #: and the sample. [mL]
    degassed: bool = False  #: The gas was stirred or warmed out of what was titrated.
    depth: str = ""  #: Where the sample came from.
    at: datetime | None = None  #: Now, unless given.
    note: str = ""
    sure: bool = False  #: An unlikely value was asked about and confirmed.


def living(session: Session, brew_id: int) -> Brew:
    """Find a brew that still stands in its vessel."""
    brew = queries.get(session, Brew, brew_id)
    checks = Checks()
    checks.refuse_if(not brew.alive, "", f"This brew ended ({brew.status}); nothing more is logged to it.")
    checks.done()
    return brew


def _check_time(checks: Checks, brew: Brew, when: datetime, now: datetime) -> None:
    checks.refuse_if(when > now + FUTURE_GRACE, "at", "That lies in the future.")
    checks.refuse_if(when < brew.pitched_at - FUTURE_GRACE, "at", "That is before the brew was started.")


def _check_ph(checks: Checks, ask: LogReading) -> None:
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


def _check_others(checks: Checks, ask: LogReading) -> None:
    for value, name in ((ask.celsius, "celsius"), (ask.low_c, "low_c"), (ask.high_c, "high_c")):
        checks.between(value, name, 0, 60, "A brew at", "temperature")
    checks.refuse_if((ask.low_c is None) != (ask.high_c is None), "high_c", "Lowest and highest belong together.")
    crossed = ask.low_c is not None and ask.high_c is not None and ask.low_c > ask.high_c
    checks.refuse_if(crossed, "high_c", "The highest lies below the lowest.")
    checks.between(ask.millivolts, "ph", -2000, 2000, "A voltage of (mV)")
    checks.between(ask.gravity, "gravity", 0.98, 1.1, "A gravity of")
    checks.between(ask.ta_g_per_l, "ta_g_per_l", 0.05, 60, "An acidity of", "acidity")
    titration = [ask.base_ml, ask.base_normality, ask.sample_ml]
    some = any(value is not None for value in titration)
    checks.refuse_if(
        some and None in titration, "base_ml", "A titration needs all three: base used, its strength, and the sample."
    )
    checks.between(ask.base_ml, "base_ml", 0.01, 500, "Base (mL)")
    checks.between(ask.base_normality, "base_normality", 0.001, 10, "Base of (mol/L)")
    checks.between(ask.sample_ml, "sample_ml", 0.1, 1000, "A sample of (mL)")
    checks.refuse_if(ask.depth not in DEPTHS, "depth", "Choose where the sample came from.")


def _titrated(ask: LogReading) -> tuple[float | None, dict[str, float]]:
    """Return the acidity, as given or from the titration, with what it came from. [g/L]"""
    if ask.base_ml is None or ask.base_normality is None or ask.sample_ml is None:
        return ask.ta_g_per_l, {}
    ta = acids.titration(ask.base_ml, ask.base_normality, ask.sample_ml)
    return ta, {"base_ml": ask.base_ml, "base_normality": ask.base_normality, "sample_ml": ask.sample_ml}


def write_reading(session: Session, ask: LogReading, brew: Brew, at: datetime) -> tuple[int, str]:
    """Check a reading and write it; gives its number and what it says."""
    when, checks = ask.at or at, Checks()
    ta, titration = _titrated(ask) if ask.sample_ml != 0 else (None, {})
    nothing = all(v is None for v in (ask.ph, ask.celsius, ask.low_c, ask.gravity, ta, ask.base_ml, ask.sample_ml))
    checks.refuse_if(nothing, "ph", "Type a pH, a temperature, or another number.")
    _check_ph(checks, ask)
    _check_others(checks, ask)
    checks.between(ta if titration else None, "base_ml", 0.05, 60, "That titration comes to an acidity that", "acidity")
    _check_time(checks, brew, when, at)
    tool = queries.find(session, Instrument, ask.instrument_id)
    checks.done()
    reading = Reading(
        liquid_id=brew.liquid_id,
        at=when,
        ph=ask.ph,
        instrument=ask.instrument,
        instrument_id=tool.id if tool is not None else None,
        millivolts=ask.millivolts if ask.ph is not None and tool is not None else None,
        celsius=ask.celsius,
        low_c=ask.low_c,
        high_c=ask.high_c,
        gravity=ask.gravity,
        gravity_by=(ask.gravity_by or "hydrometer") if ask.gravity is not None else "",
        ta_g_per_l=ta,
        titration=titration,
        degassed=ask.degassed and ta is not None,
        depth=ask.depth,
        note=ask.note.strip()[:500],
    )
    number = flushed(session, reading)
    right = right_ph(reading)
    says = [f"pH {ask.ph:g}"] if ask.ph is not None else []
    if right is not None and ask.ph is not None and abs(right.ph - ask.ph) >= LEAST_RIGHT_PH:
        says = [f"pH {ask.ph:g}, {right.ph:.2f} by its calibration,"]
    says += [marked(ask.celsius, "temperature")] if ask.celsius is not None else []
    says += (
        [f"{marked(ask.low_c, 'temperature')} to {marked(ask.high_c, 'temperature')}"]
        if ask.low_c is not None and ask.high_c is not None
        else []
    )
    says += [f"gravity {ask.gravity:.3f}"] if ask.gravity is not None else []
    says += [f"acidity {marked(ta, 'acidity')}"] if ta is not None else []
    return number, " and ".join(says)


LEAST_RIGHT_PH = 0.02  #: What a calibration puts right by less is not worth a word. [pH]
GAS_PH = 0.1  #: Gas left in a sample lowers what is read by about so much (assumed). [pH]


@action
def log_reading(session: Session, ask: LogReading, at: datetime) -> Done:
    """Log a measurement; a held brew that measures 4.5 or lower goes on."""
    brew = living(session, ask.brew_id)
    number, says = write_reading(session, ask, brew, at)
    if goes_on(session, brew, number):
        return Done(f"{says}: {brew.vessel.name} may go on.", {"reading": number})
    works = days_between(brew.pitched_at, ask.at or at) > STARTS
    near = works and ask.ph is not None and any(0 <= limit(name) - ask.ph < GAS_PH for name in ("safe_ph", "start_ph"))
    gas = " So near the limit gas left in it counts: stir it out and read again." if near else ""
    return Done(
        f"{says[0].upper() if says.startswith(('acidity', 'gravity')) else says[0]}{says[1:]} logged for {brew.vessel.name}.{gas}",
        {"reading": number},
    )


def goes_on(session: Session, brew: Brew, number: int) -> bool:
    """Let a held brew go on that measures low enough, by a reading as its calibrations put it right."""
    reading = queries.get(session, Reading, number)
    if brew.status != BrewStatus.HELD or reading.ph is None or ph_told(reading).ph > limit("start_ph"):
        return False
    brew.status = BrewStatus.FERMENTING
    return True


@dataclass(frozen=True, slots=True, kw_only=True)
class LogTasting:
    """One taster's judgement; all but the score may be left out."""

    brew_id: int
    taster_id: int
    score: int  #: -3 to 3. [step]
    tea: int | None = None  #: 0 none to 3 strong.
    yeast: int | None = None  #: 0 none to 3 strong.
    again: bool | None = None
    after: str = ""  #: What was eaten or drunk before.
    note: str = ""
    at: datetime | None = None  #: Now, unless given.
    blind: bool = False


def write_tasting(session: Session, ask: LogTasting, brew: Brew, at: datetime) -> tuple[int, str]:
    """Check a tasting and write it; gives its number and what it says."""
    taster, checks = queries.get(session, Taster, ask.taster_id), Checks()
    checks.refuse_if(not -3 <= ask.score <= 3, "score", "Choose from much too sweet to much too sour.")
    for name, value in (("tea", ask.tea), ("yeast", ask.yeast)):
        checks.refuse_if(value is not None and not 0 <= value <= 3, name, "Choose from none to strong.")
    if brew.kind == KindOfBrew.TRIAL:
        trial = trial_verdict(verdicts.facts_of(brew, at))
        checks.refuse_if(not trial.fit, "score", f"Do not taste this trial: {'; '.join(trial.missing)}.")
    checks.refuse_if(
        brew.status == BrewStatus.HELD, "score", "This brew is held: do not taste it until it is measured."
    )
    grave = verdicts.verdict_of(brew, at).word
    checks.refuse_if(grave == DISCARD, "score", "The verdict is discard: it is not tasted.")
    _check_time(checks, brew, ask.at or at, at)
    checks.done()
    tasting = Tasting(
        liquid_id=brew.liquid_id,
        taster_id=taster.id,
        at=ask.at or at,
        score=ask.score,
        tea=ask.tea,
        yeast=ask.yeast,
        again=ask.again,
        after=ask.after.strip()[:200],
        note=ask.note.strip()[:500],
        blind=ask.blind,
    )
    number = flushed(session, tasting)
    if brew.runs:
        keep_tasted(session, number, *palates.acidity_then(brew, tasting))
    return number, f"{taster.name}: {score_word(ask.score)}"


@action
def log_tasting(session: Session, ask: LogTasting, at: datetime) -> Done:
    """Log a taste: a reading of the same rank as a pH."""
    number, says = write_tasting(session, ask, living(session, ask.brew_id), at)
    return Done(f"{says}.", {"tasting": number})


@dataclass(frozen=True, slots=True, kw_only=True)
class LogLook:
    """What was seen on the surface."""

    brew_id: int
    surface: str  #: May be empty where signs or a smell are told: then the last one still holds.
    signs: tuple[str, ...] = ()
    smell: str = ""  #: Empty: nobody smelled it.
    note: str = ""
    at: datetime | None = None  #: Now, unless given.


def write_look(session: Session, ask: LogLook, brew: Brew, at: datetime) -> tuple[int, str]:
    """Check a look and write it; gives its number and what it says."""
    checks = Checks()
    for group, name, keys in (
        ("surface", "surface", (ask.surface,)),
        ("sign", "signs", ask.signs),
        ("smell", "smell", (ask.smell,)),
    ):
        known = {seen.key for seen in of_group(group)}
        known |= {""} if group == "smell" or ask.signs or ask.smell else set()
        checks.refuse_if(
            any(key not in known for key in keys),
            name,
            "Choose what you see." if group != "smell" else "Choose how it smells.",
        )
    _check_time(checks, brew, ask.at or at, at)
    checks.done()
    look = Look(
        liquid_id=brew.liquid_id,
        at=ask.at or at,
        surface=ask.surface,
        signs=list(dict.fromkeys(ask.signs)),
        smell=ask.smell,
        note=ask.note.strip()[:500],
    )
    rows = [key for key in (ask.surface, *look.signs, ask.smell) if key]
    return flushed(session, look), ", ".join(OBSERVATIONS[key].name.lower() for key in rows)


@action
def log_look(session: Session, ask: LogLook, at: datetime) -> Done:
    """Log what was seen: the dial draws it, the judgement reads it."""
    brew = living(session, ask.brew_id)
    number, says = write_look(session, ask, brew, at)
    return Done(f"{brew.vessel.name}: {says}.", {"look": number})


@dataclass(frozen=True, slots=True, kw_only=True)
class DiscardBrew:
    """A brew that ends badly."""

    brew_id: int
    reason: str
    version: int | None = None


@action
def discard_brew(session: Session, ask: DiscardBrew, at: datetime) -> Done:
    """Throw a brew out, with its disc."""
    brew, checks = living(session, ask.brew_id), Checks()
    check_version(ask.version, brew.version, brew.vessel.name)
    verdict = verdicts.verdict_of(brew, at)
    why = ask.reason.strip() or (verdict.reasons[0].sentence if verdict.word == DISCARD and verdict.reasons else "")
    checks.refuse_if(not why, "reason", "Say in a word why: it helps next time.")
    checks.done()
    throw_out(session, brew, why, at)
    return Done(
        f"{brew.vessel.name} discarded. Wash, rinse, sanitise as the label says; cloth and wood are thrown out."
    )


def throw_out(session: Session, brew: Brew, why: str, at: datetime) -> None:
    """End a brew that is thrown out, with its liquid and every disc in it, within another action."""
    brew.status, brew.ended_at, brew.end_note = BrewStatus.DISCARDED, at, why[:500]
    empty(session, brew.liquid, at, Way.DISCARDED)
    guests = [guest for guest in brew.guests if guest.until is None]
    for guest in guests:
        guest.until = at
    lost = [queries.get(session, Disc, brew.disc_id)] if brew.disc_id is not None else []
    for disc in (*lost, *(guest.disc for guest in guests)):
        disc.ended_at, disc.ended_as, disc.ended_note = at, "discarded", f"With {brew.vessel.name}."
