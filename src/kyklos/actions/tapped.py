"""A tapped vessel: set up, run on, drawn from, topped up, cared for, paused, and started again."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from sqlalchemy.orm import Session

from ..core.base import marked
from ..core.base.kinds import NOT_DRUNK, KindOfBrew, VesselKind
from ..core.liquid import Way
from ..core.liquid.pouring import LEAST_L
from ..core.tapped.care import CARE, TAPS
from ..store.read import queries
from ..store.records import Brew, Upkeep, Vessel
from .base import FUTURE_GRACE, Checks, Done, action, check_version, flushed
from .brewing.happenings import PutIn, TakeOut, put_in_brew, take_out_of
from .brewing.put_right import MoveVessel, move
from .brewing.readings import LogReading, living, write_reading
from .planned import served
from .pouring import pour
from .standing import put

RUN_OFF_L = 0.03  #: The first of a draw, thrown away: it stood in the tap (usual practice). [L]
WARMEST_TEA_C = 32.0  #: Nothing warmer goes into a vessel that lives. [degC]
PAUSES = {"cool": "full, in a cool place", "here": "left as it stands", "fridge": "in the fridge"}


@dataclass(frozen=True, slots=True, kw_only=True)
class SetUpTapped:
    """A vessel that is to be drawn from at a tap."""

    vessel_id: int
    tap_made_of: str  #: A key of TAPS.
    tested: bool  #: Filled with water, the tap did not drip.
    heel_l: float  #: Measured with a jug: what the tap leaves. [L]
    heater_c: float | None = None  #: Set point; None: no heater. [degC]
    heater_w: float | None = None  #: [W]
    glaze_known: bool = False  #: Of stoneware: its maker calls it safe for acid.
    version: int | None = None


@action
def set_up_tap(session: Session, ask: SetUpTapped, at: datetime) -> Done:
    """Make a vessel a tapped one; what is not safe in acid is refused, and so is one that nobody tried with water."""
    vessel, checks = queries.get(session, Vessel, ask.vessel_id), Checks()
    check_version(ask.version, vessel.version, vessel.name)
    checks.refuse_if(vessel.kind == VesselKind.HOTEL, "", "A hotel keeps spare discs: choose a jar or crock.")
    name, fine, why = TAPS.get(ask.tap_made_of, ("", False, "Choose what the tap is made of."))
    checks.refuse_if(not fine, "tap_made_of", f"{name}: {why}" if name else why)
    checks.refuse_if(
        not ask.tested, "tested", "First fill it with water, let it stand for an hour, and look that nothing drips."
    )
    checks.between(ask.heel_l, "heel_l", 0, vessel.usable_l * 0.6, "A heel of", "volume")
    checks.between(ask.heater_c, "heater_c", 15, 32, "A heater set to", "temperature")
    checks.between(ask.heater_w, "heater_w", 1, 500, "A heater's watts of")
    glazed = vessel.material in {"stoneware", "unknown glaze or crystal"}
    checks.refuse_if(
        glazed and not ask.glaze_known,
        "glaze_known",
        "Acid that stands for months leaches lead from a glaze nobody knows. Tick this only if its maker says that it is food safe for acid.",
    )
    checks.done()
    vessel.tapped, vessel.heel_l, vessel.tap_made_of, vessel.heater_w = True, ask.heel_l, ask.tap_made_of, ask.heater_w
    if ask.heater_c != vessel.heater_c:
        put(session, vessel, vessel.place.id, at, ask.heater_c)
    _note(session, vessel, at, "tested")
    return Done(f"{vessel.name} has its tap: {marked(ask.heel_l, 'volume')} stay below it.", {"vessel": vessel.id})


@dataclass(frozen=True, slots=True, kw_only=True)
class RunOn:
    """A batch in a tapped vessel that is to be drawn from and topped up from now on."""

    brew_id: int


@action
def run_on(session: Session, ask: RunOn, at: datetime) -> Done:
    """Let a batch run on as a tapped vessel's brew."""
    brew, checks = living(session, ask.brew_id), Checks()
    checks.refuse_if(not brew.vessel.tapped, "", f"{brew.vessel.name} has no tap yet: set it up first.")
    checks.refuse_if(brew.kind in NOT_DRUNK, "", "What grows in it is not for drinking.")
    checks.done()
    brew.kind = KindOfBrew.FIRST
    session.flush()
    return Done(f"{brew.vessel.name} runs on: drawn from and topped up.", {"brew": brew.id})


def running(session: Session, brew_id: int) -> Brew:
    """Find a brew that runs in a tapped vessel."""
    brew, checks = living(session, brew_id), Checks()
    checks.refuse_if(not brew.runs, "", f"{brew.vessel.name} is not run as a tapped vessel.")
    checks.done()
    return brew


@dataclass(frozen=True, slots=True, kw_only=True)
class DrawOff:
    """A glass, or a jug, from the tap."""

    brew_id: int
    litres: float  #: [L]
    at: datetime | None = None  #: Now, unless given.
    stirred: bool = False  #: Before drawing.
    run_off: bool = False  #: The first of it thrown away.
    leaves: str = "drunk"  #: A key of `happenings.LEAVES`.
    reason: str = ""  #: Why in spite of a hold.


@action
def draw_off(session: Session, ask: DrawOff, at: datetime) -> Done:
    """Draw from the tap. More than it can give is not forbidden; more than can run out at the tap is."""
    brew, when, checks = running(session, ask.brew_id), ask.at or at, Checks()
    out_l = ask.litres + (RUN_OFF_L if ask.run_off else 0.0)
    checks.between(ask.litres, "litres", LEAST_L, 250, "A draw of", "volume")
    above = brew.left_l - brew.vessel.heel_l
    checks.refuse_if(
        ask.at is None and out_l > above + LEAST_L,
        "litres",
        f"Only {marked(max(above, 0.0), 'volume')} can run out: {marked(brew.vessel.heel_l, 'volume')} stay below the tap.",
    )
    checks.done()
    if ask.run_off:
        pour(session, when, RUN_OFF_L, Way.LOST, brew.liquid, None, name="first run-off")
    out = TakeOut(
        brew_id=brew.id, leaves=ask.leaves, litres=ask.litres, at=ask.at, reason=ask.reason, stirred=ask.stirred
    )
    done = take_out_of(session, out, at)
    served(session, brew.vessel_id, "draw", when)
    return replace(done, says=f"{marked(ask.litres, 'volume')} drawn from {brew.vessel.name}; {marked(brew.left_l, 'volume')} stand in it.")


@dataclass(frozen=True, slots=True, kw_only=True)
class TopUp:
    """Sweet tea for what was drawn."""

    brew_id: int
    litres: float  #: [L]
    sugar_g_per_l: float | None = None  #: As the brew's own, unless given. [g/L]
    honey_share: float | None = None  #: Of its sugars: a step towards honey, or back; as the brew's unless given. [-]
    tea_c: float | None = None  #: How warm it went in. [degC]
    ph: float | None = None  #: Once topped up. [pH]
    instrument: str = "strip"
    at: datetime | None = None  #: Now, unless given.
    fresh_cover: bool = False


@action
def top_up(session: Session, ask: TopUp, at: datetime) -> Done:
    """Top a tapped vessel up; nothing hot goes in, and not above its line."""
    return top_up_of(session, ask, at)


def top_up_of(session: Session, ask: TopUp, at: datetime) -> Done:
    """Check and write a topping up, within another action."""
    brew, checks, when = running(session, ask.brew_id), Checks(), ask.at or at
    checks.refuse_if(
        ask.tea_c is not None and ask.tea_c > WARMEST_TEA_C,
        "tea_c",
        f"Let it cool first: above {marked(WARMEST_TEA_C, 'temperature')} it hurts what lives in there.",
    )
    checks.between(ask.tea_c, "tea_c", 0, 100, "Sweet tea at", "temperature")
    checks.refuse_if(
        ask.honey_share is not None and not 0 <= ask.honey_share <= 1, "honey_share", "A share from 0 to 100 per cent."
    )
    checks.done()
    done = put_in_brew(
        session, PutIn(
            brew_id=brew.id, enters="sweet tea", litres=ask.litres, sugar_g_per_l=ask.sugar_g_per_l,
            honey_share=ask.honey_share, at=ask.at,
        ), at,
    )  # fmt: skip
    if ask.ph is not None:
        seen = LogReading(brew_id=brew.id, ph=ask.ph, instrument=ask.instrument, at=when)
        write_reading(session, seen, brew, at)
    if ask.fresh_cover:
        _note(session, brew.vessel, when, "cover")
    return replace(done, says=f"{brew.vessel.name} topped up with {marked(ask.litres, 'volume')}.", made={"brew": brew.id})


@dataclass(frozen=True, slots=True, kw_only=True)
class CareFor:
    """Something done to a tapped vessel."""

    vessel_id: int
    what: str  #: A key of CARE.
    at: datetime | None = None  #: Now, unless given.
    celsius: float | None = None  #: Of the gauge. [degC]
    before_mm: float | None = None  #: The stack before it was thinned. [mm]
    after_mm: float | None = None  #: And after. [mm]
    note: str = ""


@action
def care_for(session: Session, ask: CareFor, at: datetime) -> Done:
    """Record what was done: a cover, the tap, sediment, thinned discs, the gauge."""
    vessel, checks, when = queries.get(session, Vessel, ask.vessel_id), Checks(), ask.at or at
    checks.refuse_if(ask.what not in CARE, "what", "Choose what was done.")
    checks.refuse_if(when > at + FUTURE_GRACE, "at", "That lies in the future.")
    checks.refuse_if(ask.what == "gauge" and ask.celsius is None, "celsius", "How warm does it say it is?")
    checks.between(ask.celsius, "celsius", 0, 50, "A gauge at", "temperature")
    checks.refuse_if(
        ask.what == "thinned" and ask.after_mm is None, "after_mm", "How thick is what you kept, about?"
    )
    checks.between(ask.before_mm, "before_mm", 1, 300, "A stack of", "thickness")
    checks.between(ask.after_mm, "after_mm", 0.5, 300, "A stack of", "thickness")
    thicker = ask.before_mm is not None and ask.after_mm is not None and ask.after_mm > ask.before_mm
    checks.refuse_if(thicker, "after_mm", "It is thicker now than it was before.")
    checks.done()
    row = _note(session, vessel, when, ask.what, ask.note)
    row.celsius, row.before_mm, row.after_mm = ask.celsius, ask.before_mm, ask.after_mm
    brew = queries.brew_in(session, vessel.id)
    if ask.what == "gauge" and brew is not None:
        write_reading(session, LogReading(brew_id=brew.id, celsius=ask.celsius, at=when), brew, at)
    return Done(f"{vessel.name}: {CARE[ask.what]}.", {"upkeep": flushed(session, row)})


def _note(session: Session, vessel: Vessel, at: datetime, what: str, note: str = "") -> Upkeep:
    row = Upkeep(vessel_id=vessel.id, at=at, what=what, note=note.strip()[:120])
    session.add(row)
    return row


@dataclass(frozen=True, slots=True, kw_only=True)
class Pause:
    """A holiday, or the winter: nothing is drawn for a while."""

    brew_id: int
    how: str  #: A key of PAUSES.
    place_id: int | None = None  #: Where it stands meanwhile; where it stands now unless given.
    at: datetime | None = None  #: Now, unless given.
    note: str = ""


@action
def pause(session: Session, ask: Pause, at: datetime) -> Done:
    """Pause a tapped vessel, perhaps in a cooler place; it asks for nothing meanwhile but a look."""
    brew, when, checks = running(session, ask.brew_id), ask.at or at, Checks()
    checks.refuse_if(ask.how not in PAUSES, "how", "Choose how it waits.")
    checks.refuse_if(when > at + FUTURE_GRACE, "at", "That lies in the future.")
    checks.done()
    off = ""
    if ask.place_id is not None and ask.place_id != brew.vessel.place.id:
        warmed = brew.vessel.heater_c is not None
        move(session, MoveVessel(vessel_id=brew.vessel_id, place_id=ask.place_id, at=when, heater_off=True), at)
        off = " Its heater is off until it goes on." if warmed else ""
    _note(session, brew.vessel, when, "paused", ask.note or PAUSES[ask.how])
    return Done(f"{brew.vessel.name} is paused: {PAUSES[ask.how]}.{off}", {"brew": brew.id})


@dataclass(frozen=True, slots=True, kw_only=True)
class Resume:
    """A paused vessel goes on."""

    brew_id: int
    place_id: int | None = None  #: Where it stands from now on; where it stands unless given.
    heater_c: float | None = None  #: As before the pause, unless given. [degC]
    heater_off: bool = False  #: It goes on without one.
    at: datetime | None = None  #: Now, unless given.


@action
def resume(session: Session, ask: Resume, at: datetime) -> Done:
    """Start a paused vessel again."""
    brew, when = running(session, ask.brew_id), ask.at or at
    place, heater_c = ask.place_id or brew.vessel.place.id, ask.heater_c
    if heater_c is None and not ask.heater_off:
        heater_c = heater_before(brew.vessel)
    says = f"{brew.vessel.name} goes on."
    if (place, heater_c) != (brew.vessel.place.id, brew.vessel.heater_c):
        asked = MoveVessel(
            vessel_id=brew.vessel_id, place_id=place, at=when, heater_c=heater_c, heater_off=ask.heater_off
        )
        says += f" {move(session, asked, at).says}"
    _note(session, brew.vessel, when, "resumed")
    return Done(says, {"brew": brew.id})


def heater_before(vessel: Vessel) -> float | None:
    """Return what a paused vessel's heater was set to before it was put away; None: it had none. [degC]"""
    if vessel.heater_c is not None:
        return vessel.heater_c
    before = [row for row in vessel.standings if row.until is not None and row.until == vessel.stands.since]
    return before[-1].heater_c if before else None
