"""What is due besides brews and bottles: meters, a hotel to feed, planned days, guests, what is low. For the round and the calendar."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from flask import g, url_for
from sqlalchemy.orm import Session

from ...core.base.kinds import BottleState, MeasuredBy
from ...core.quick.wishes import WISHES
from ...reckon import devices
from ...reckon.bottles import drinking
from ...reckon.cultures import hotels
from ...reckon.judging.attention import put_off_now
from ...reckon.notebook import experimenting
from ...reckon.supply import dues
from ...store.read import planning_queries, queries
from ...store.read.memory import remembered
from ...store.records import PlannedDay, PutOff
from . import units
from .goods_words import amount_word
from .meters import says_of, standing_of
from .words import day_said, local_today, small_first

NEW_MONTH_DAYS = 3  #: The last month is offered so long. [d]
MOST_NAMED = 4  #: So many names stand in one line.


@dataclass(frozen=True, slots=True)
class SmallDue:
    """Something small to do."""

    key: str  #: As which it is put off.
    what: str
    says: str
    address: str


def _meters(session: Session, now: datetime) -> tuple[SmallDue, ...]:
    """List the meters to calibrate; asked anew when something changed, and every hour."""
    key = ("meters due", now.replace(minute=0, second=0, microsecond=0))
    return remembered(session, key, lambda: tuple(_meters_due(session, now)))


def _meters_due(session: Session, now: datetime) -> list[SmallDue]:
    return [
        SmallDue(
            f"meter-{row.id}",
            f"Calibrate {row.name}",
            says_of(found),
            url_for("instruments.show") + f"#instrument-{row.id}",
        )
        for row in planning_queries.instruments(session)
        if row.kind == MeasuredBy.METER and (found := standing_of(row, now)).due_soon
    ]


@dataclass(frozen=True, slots=True)
class HotelTold:
    """What a hotel wants, and when."""

    vessel_id: int
    name: str
    address: str
    last_fed: datetime | None
    next_feed: datetime | None  #: By its rhythm; None: nobody lives there, or it was never fed.
    what: str  #: It wants now; empty: nothing.
    why: str


def hotels_told(session: Session, now: datetime) -> tuple[HotelTold, ...]:
    """List the hotels; asked anew when something changed, and every hour."""
    key = ("hotels due", now.replace(minute=0, second=0, microsecond=0))
    return remembered(session, key, lambda: tuple(_told(home) for home in hotels.hotels_of(session, now)))


def _told(home: hotels.Hotel) -> HotelTold:
    dues = home.state.dues
    last = next((feed.at for feed in home.feeds if feed.fed), None)
    return HotelTold(
        home.vessel.id,
        home.vessel.name,
        url_for("cultures.hotel", number=home.vessel.id),
        last,
        last + timedelta(days=home.state.rhythm_days) if last is not None and home.stays else None,
        ", ".join(due.what[0].lower() + due.what[1:] for due in dues),
        dues[0].why if dues else "",
    )


def _hotels(session: Session, now: datetime) -> list[SmallDue]:
    return [
        SmallDue(f"hotel-{hotel.vessel_id}", f"{hotel.name}: {hotel.what}", hotel.why, hotel.address)
        for hotel in hotels_told(session, now)
        if hotel.what
    ]


def _bottles(session: Session, now: datetime) -> list[SmallDue]:
    """List what jars and warm bottles want besides the cold; asked anew when something changed, and every hour."""
    key = ("bottles want", now.replace(minute=0, second=0, microsecond=0))
    return list(remembered(session, key, lambda: tuple(_bottles_want(session, now))))


def _bottles_want(session: Session, now: datetime) -> list[SmallDue]:
    out = []
    for one in drinking.wants(session, queries.bottles(session, BottleState.WARM), now):
        address = (
            url_for("flavours.jar", number=one.jar)
            if one.jar is not None
            else url_for("cellar.show_bottle", number=one.bottle or 0)
        )
        out.append(SmallDue(one.key, one.what, one.why, address))
    return out


def _supply(session: Session, now: datetime) -> list[SmallDue]:
    """List what enough to drink asks for; asked anew when something changed, and every hour."""
    key = ("supply due", now.replace(minute=0, second=0, microsecond=0), g.units)
    return list(remembered(session, key, lambda: tuple(_supply_due(session, now))))


def _supply_due(session: Session, now: datetime) -> list[SmallDue]:
    found = dues.wanted(session, local_today(), now)
    out = [_planned(row) for row in found.planned]
    today = local_today()
    if today.day <= NEW_MONTH_DAYS and queries.last_brew(session) is not None:
        last = today.replace(day=1) - timedelta(days=1)
        out.append(SmallDue(f"month-{last.month}", f"Look back on {last:%B}", "What was made, drunk and learned.", url_for("notebook.season", of="month")))
    for wish in found.guests:
        text = f"{WISHES[wish.kind]} {day_said(wish.day)}: {units.words(wish.litres, 'volume', g.units)}"
        out.append(SmallDue(f"wish-{wish.id}", text, "Counted in the plan.", url_for("supply.show")))
    if found.running_out:
        first = found.running_out[0]
        names = ", ".join(small_first(one.name) for one in found.running_out[:MOST_NAMED])
        span = f"The first likely {day_said(first.likely_at.date())}, {day_said(first.early_at.date())} to {day_said(first.late_at.date())}."
        out.append(SmallDue("runs-1", f"Runs out: {names}", span, url_for("supply.show")))
    if found.low:
        names = ", ".join(f"{small_first(need.good.name)} ({amount_word(need.good, need.there)})" for need in found.low[:MOST_NAMED])
        out.append(SmallDue("shopping-1", f"Low: {names}", "Less than the next brew takes.", url_for("supply.shopping")))
    if found.best_before:
        names = ", ".join(f"{small_first(one.good.name)} ({day_said(one.best_before)})" for one in found.best_before[:MOST_NAMED] if one.best_before)
        out.append(SmallDue("best-1", f"Best before: {names}", "Use it first.", url_for("supply.stock")))
    return out


def _care(session: Session, now: datetime) -> list[SmallDue]:
    """List in one line what is to be washed or changed, what mould touched first; asked anew when something changed, and every hour."""
    key = ("care due", now.replace(minute=0, second=0, microsecond=0))
    found = remembered(session, key, lambda: tuple(experimenting.care_now(session, now)))
    if not found:
        return []
    names = ", ".join(one.says if number == 0 else small_first(one.says) for number, one in enumerate(found[:MOST_NAMED]))
    return [SmallDue(f"care-{found[0].key}", names, found[0].why, url_for("notebook.care"))]


def _devices(session: Session, now: datetime) -> list[SmallDue]:
    """List what is wrong with devices, a quiet line each."""
    address = url_for("instruments.show")
    return [SmallDue(f"device-{one.device_id}", f"{one.name}: {one.says}", one.do, f"{address}#device-{one.device_id}") for one in devices.troubles(session, now)]


def _planned(row: PlannedDay) -> SmallDue:
    litres = f" {units.words(row.litres, 'volume', g.units)}" if row.litres else ""
    when = "Planned for today." if row.day == local_today() else f"Was planned for {row.day:%A}."
    if row.kind == "draw":
        return SmallDue(f"plan-{row.id}", f"Draw{litres} from {row.vessel.name}", when, url_for("vessels.show"))
    return SmallDue(f"plan-{row.id}", f"Brew{litres} in {row.vessel.name}", when, url_for("brew_day.show", vessel=row.vessel_id))


def small_dues(session: Session, now: datetime) -> tuple[list[SmallDue], list[tuple[SmallDue, PutOff]]]:
    """List small things that are due, and those of them that are put off."""
    due, off = [], []
    for one in (*_hotels(session, now), *_bottles(session, now), *_supply(session, now), *_care(session, now), *_devices(session, now), *_meters(session, now)):
        if (waiting := put_off_now(session, now).get(one.key)) is not None:
            off.append((one, waiting))
        else:
            due.append(one)
    return due, off
