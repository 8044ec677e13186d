"""Watching a brew: instruments and their calibrations, loggers' files, photos, notes, labels, the brewer's own verdict."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, tzinfo

from sqlalchemy.orm import Session

from ...core.base import CoreError, marked
from ...core.base.errors import Problem
from ...core.judging import overrule
from ...core.judging.instruments import KINDS
from ...core.judging.observations import ORDER
from ...core.sheets import logger_file
from ...reckon.judging import verdicts
from ...store.file.pictures import Picture
from ...store.read import queries
from ...store.records import (
    Brew,
    Instrument,
    Look,
    Overrule,
    Photo,
    Place,
    TemperatureLog,
)
from ..base import FUTURE_GRACE, Checks, Done, RefusedError, action, check_version, flushed
from ..photos import keep_content, picture_of
from .readings import living


@dataclass(frozen=True, slots=True, kw_only=True)
class AddInstrument:
    """Something that measures."""

    kind: str
    name: str = ""
    error: float | None = None  #: [pH, degC or SG]
    interval_days: float | None = None  #: Between calibrations. [d]


@action
def add_instrument(session: Session, ask: AddInstrument, at: datetime) -> Done:
    """Keep an instrument."""
    checks = Checks()
    checks.refuse_if(ask.kind not in KINDS, "kind", "Choose what it is.")
    _how_well(checks, ask.error, ask.interval_days)
    checks.done()
    name = ask.name.strip()[:60] or KINDS[ask.kind].name
    row = Instrument(kind=ask.kind, name=name, error=ask.error, interval_days=ask.interval_days)
    return Done(f"{name} added.", {"instrument": flushed(session, row)})


def _how_well(checks: Checks, error: float | None, interval_days: float | None) -> None:
    checks.between(error, "error", 0.0001, 5, "An error of")
    checks.between(interval_days, "interval_days", 1, 730, "An interval of (days)")


@dataclass(frozen=True, slots=True, kw_only=True)
class ChangeInstrument:
    """An instrument's name, error and interval, as they are from now on."""

    instrument_id: int
    name: str = ""
    error: float | None = None  #: [pH, degC or SG]
    interval_days: float | None = None  #: Between calibrations. [d]
    version: int | None = None  #: That the form showed.


@action
def change_instrument(session: Session, ask: ChangeInstrument, at: datetime) -> Done:
    """Correct what is known of an instrument."""
    row, checks = queries.get(session, Instrument, ask.instrument_id), Checks()
    check_version(ask.version, row.version, row.name)
    _how_well(checks, ask.error, ask.interval_days)
    checks.done()
    row.name, row.error, row.interval_days = ask.name.strip()[:60] or KINDS[row.kind].name, ask.error, ask.interval_days
    return Done(f"{row.name} saved.")


@dataclass(frozen=True, slots=True, kw_only=True)
class RetireInstrument:
    """An instrument that is no longer used."""

    instrument_id: int
    version: int | None = None  #: That the form showed.


@action
def retire_instrument(session: Session, ask: RetireInstrument, at: datetime) -> Done:
    """Take an instrument off the list; its readings keep its name."""
    row = queries.get(session, Instrument, ask.instrument_id)
    check_version(ask.version, row.version, row.name)
    row.retired_at = at
    return Done(f"{row.name} is no longer used.")


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadLog:
    """A temperature logger's file, for a brew's liquid or a place's air."""

    text: str
    name: str
    zone: tzinfo
    brew_id: int | None = None
    place_id: int | None = None
    month_first: bool = False


@action
def read_log(session: Session, ask: ReadLog, at: datetime) -> Done:
    """Read in a logger's file: the forecast takes its temperatures in place of the typical one."""
    checks = Checks()
    checks.refuse_if((ask.brew_id is None) == (ask.place_id is None), "file", "Say which brew or place it belongs to.")
    checks.done()
    try:
        logged = logger_file.read(ask.text, ask.zone, ask.month_first)
    except CoreError as problem:
        raise RefusedError([Problem("file", str(problem))]) from problem
    brew = queries.get(session, Brew, ask.brew_id) if ask.brew_id is not None else None
    place = queries.get(session, Place, ask.place_id) if ask.place_id is not None else None
    points = [p for p in logged.points if p[0] <= at.timestamp() + FUTURE_GRACE.total_seconds()]
    checks.refuse_if(not points, "file", "All of its times lie in the future: is the logger's clock right?")
    if brew is not None and points:
        checks.refuse_if(points[-1][0] < brew.pitched_at.timestamp(), "file", "It ends before this brew was started.")
    checks.done()
    row = TemperatureLog(
        brew_id=ask.brew_id,
        place_id=ask.place_id,
        name=ask.name[:80] or "logger",
        at=at,
        points=[list(p) for p in points],
        first_s=points[0][0],
        last_s=points[-1][0],
    )
    made = {"log": flushed(session, row)}
    whose = brew.vessel.name if brew is not None else place.name if place is not None else ""
    skipped = f" {logged.skipped} lines were not understood." if logged.skipped else ""
    doubt = f" {logged.doubt}" if logged.doubt else ""
    return Done(
        f"{logged.rows} temperatures for {whose}, {marked(logged.lowest_c, 'temperature')} to {marked(logged.highest_c, 'temperature')}.{skipped}{doubt}",
        made,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class AddPhoto:
    """A picture of a brew."""

    brew_id: int
    content: bytes = b""
    picture: Picture | None = None  #: As prepared before; else it is made of the content.
    note: str = ""
    look_id: int | None = None
    at: datetime | None = None  #: Now, unless given.


@action
def add_photo(session: Session, ask: AddPhoto, at: datetime) -> Done:
    """Keep a photo: upright, smaller, with nothing in it but its pixels."""
    brew, checks, when = queries.get(session, Brew, ask.brew_id), Checks(), ask.at or at
    checks.refuse_if(not ask.content and ask.picture is None, "photo", "Choose a photo, or take one.")
    checks.refuse_if(when > at + FUTURE_GRACE, "photo", "That lies in the future.")
    checks.done()
    picture = ask.picture or picture_of(ask.content)
    look = queries.find(session, Look, ask.look_id)
    row = Photo(
        liquid_id=brew.liquid_id,
        look_id=look.id if look is not None and look.liquid_id == brew.liquid_id else None,
        at=when,
        sha=keep_content(session, picture),
        width=picture.width,
        height=picture.height,
        note=ask.note.strip()[:200],
    )
    return Done(f"Photo of {brew.vessel.name} kept.", {"photo": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class DatePhoto:
    """A photo that was taken on another day than it came in."""

    photo_id: int
    taken_at: datetime


@action
def date_photo(session: Session, ask: DatePhoto, at: datetime) -> Done:
    """Put a photo on the day on which it was taken, as its camera says."""
    photo, checks = queries.get(session, Photo, ask.photo_id), Checks()
    checks.refuse_if(ask.taken_at > at + FUTURE_GRACE, "photo", "That lies in the future.")
    checks.refuse_if(ask.taken_at < photo.brew.pitched_at, "photo", "The brew began later than that.")
    checks.done()
    photo.at = ask.taken_at
    return Done(f"Photo of {photo.brew.vessel.name} put on its day.", {"photo": photo.id})


@dataclass(frozen=True, slots=True, kw_only=True)
class LabelBrew:
    """A brew that now has its label."""

    brew_id: int


@action
def label_brew(session: Session, ask: LabelBrew, at: datetime) -> Done:
    """Note that the label is on."""
    brew = living(session, ask.brew_id)
    brew.labelled_at = at
    return Done(f"{brew.vessel.name} has its label.")


@dataclass(frozen=True, slots=True, kw_only=True)
class OverruleVerdict:
    """A brewer's own verdict."""

    brew_id: int
    word: str
    reason: str = ""


@action
def overrule_verdict(session: Session, ask: OverruleVerdict, at: datetime) -> Done:
    """Put one's own verdict in place of the computed one: towards risk only with a written reason, which stays visible."""
    brew = living(session, ask.brew_id)
    computed = verdicts.computed_of(brew, verdicts.facts_of(brew, at))
    try:
        overrule.check(ask.word, ask.reason, computed)
    except CoreError as problem:
        raise RefusedError([Problem("reason" if ask.word in ORDER else "word", str(problem))]) from problem
    for row in brew.overrules:
        if not row.struck:
            row.struck, row.struck_at = True, at
    session.add(
        Overrule(
            brew_id=brew.id,
            at=at,
            was=computed.word,
            word=ask.word,
            reason=ask.reason.strip()[:500],
            against=[reason.sentence for reason in computed.reasons],
        )
    )
    return Done(f"{brew.vessel.name}: {ask.word}, as you decided. The rules said {computed.word}.")


@dataclass(frozen=True, slots=True, kw_only=True)
class LiftOverrule:
    """One's own verdict taken back."""

    brew_id: int


@action
def lift_overrule(session: Session, ask: LiftOverrule, at: datetime) -> Done:
    """Lift the brewer's decision; what was decided stays in the record."""
    brew = living(session, ask.brew_id)
    for row in brew.overrules:
        if not row.struck:
            row.struck, row.struck_at = True, at
    return Done(f"{brew.vessel.name}: your decision is lifted.")
