"""What stands on the almanac: a lane for each vessel, one for the bottles of each shelf."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

from flask import g, url_for

from ....core.base.kinds import BottleState, BrewStatus
from ....core.base.saying import day_of
from ....core.quick.wishes import WISHES
from ....drawing.almanac import Bar, LaneFacts, Mark
from ....drawing.sour_line import share_of
from ....reckon.bottles import drinking
from ....reckon.supply import drunk
from ....reckon.tapped_ahead import draws_ahead
from ....store.read import planning_queries, queries
from ....store.records import Brew, PlannedDay, Vessel
from ...kit.acting import in_units
from ...kit.bottle_groups import BottleGroup, groups_of
from ...kit.first_names import called_by
from ...kit.small_dues import HotelTold, hotels_told
from ...kit.stops import Stop, stops_of
from ...kit.words import day_word, local

COURSE_POINTS, DRAWN_POINTS = 8, 60  #: So many colours a ribbon has along its course; more where it is drawn from.
GOES_ON_DAYS = 60.0  #: A tapped vessel has no end: it is drawn so far. [d]
DRAWS_AHEAD_DAYS = 14.0  #: Draws to come are marked so far. [d]
WORDS = {"harvested": "harvested", "discarded": "discarded"}


def days_from_now(moment: datetime) -> float:
    """Count days from the start of today, in the household's zone. [d]"""
    zone = ZoneInfo(g.household.zone)
    midnight: datetime = g.now.astimezone(zone).replace(hour=0, minute=0, second=0, microsecond=0)
    return (moment - midnight.astimezone(UTC)) / timedelta(days=1)


def today_here() -> date:
    """Return today in the household's zone."""
    there: date = g.now.astimezone(ZoneInfo(g.household.zone)).date()
    return there


def _living(brew: Brew, stop: Stop) -> Bar:
    windows = []
    for name, window in () if stop.lost or stop.tapped else stop.forecast.ready.items():
        if window.p10 is not None and window.p50 is not None and window.p90 is not None:
            ends = [days_from_now(brew.pitched_at + timedelta(days=d)) for d in (window.p10, window.p50, window.p90)]
            windows.append((called_by(name), ends[0], ends[1], ends[2]))
    last = max([days_from_now(g.now), *(w[3] for w in windows), *([GOES_ON_DAYS] if stop.tapped else [])])
    return Bar(
        brew.culture.name,
        days_from_now(brew.pitched_at),
        last,
        BrewStatus.HELD if brew.status == BrewStatus.HELD else "alive",
        url_for("brews.show", number=brew.id),
        windows,
        f"{brew.culture.name} in {brew.vessel.name}, day {day_of(stop.day)}. {stop.ready_words}",
        litres=brew.left_l,
        course=_course(brew, stop, last),
        dial=stop.dial,
    )


def _course(brew: Brew, stop: Stop, last: float) -> tuple[tuple[float, float], ...]:
    """Return how sour a brew was and will be: days from today, and its share of the way from sweet tea to vinegar."""
    out, began, now = stop.forecast, days_from_now(brew.pitched_at), days_from_now(g.now)
    many = COURSE_POINTS if stop.tapped is None else DRAWN_POINTS
    days = [began + (last - began) * part / many for part in range(many + 1)]
    known = now if stop.tapped is not None else last  # what is drawn and topped up again stays about as sour as it is
    return tuple((day, share_of(out.at(out.ta_g_per_l, min(day, known) - began)[1])) for day in days)


def _ended(brew: Brew, litres: float | None = None) -> Bar:
    """Draw a brew of the past; as thick as what it was started with, or as told. [L]"""
    end = brew.ended_at or g.now
    word = WORDS.get(brew.status, brew.status)
    address = url_for("brews.show", number=brew.id)
    return Bar(
        brew.culture.name,
        days_from_now(brew.pitched_at),
        days_from_now(end),
        word,
        address,
        says=f"{brew.culture.name}, {word}",
        litres=brew.started_l if litres is None else litres,
    )


def _brews(behind: int) -> dict[int, list[Brew]]:
    out: dict[int, list[Brew]] = {}
    for brew in queries.brews_since(g.session, g.now - timedelta(days=behind)):
        out.setdefault(brew.vessel_id, []).append(brew)
    return out


def lanes_before(since: int, until: int, lanes: int) -> list[LaneFacts]:
    """List the lanes of a stretch of the past: what stood in each vessel, and room for the lanes that stand below today.

    Args:
        since, until: Days before today, the larger first. [d]
        lanes: How many there are today.
    """
    start, end = (g.now - timedelta(days=days) for days in (since, until))
    vessels = {vessel.id: vessel for vessel in queries.vessels(g.session)}
    by_vessel: dict[int, list[Bar]] = {}
    for brew in queries.brews_between(g.session, start, end):
        if brew.vessel_id in vessels:  # so long ago all are drawn as full: no liquid is added up for it
            by_vessel.setdefault(brew.vessel_id, []).append(_ended(brew, vessels[brew.vessel_id].usable_l))
    rows = [LaneFacts(vessel.name, vessel.place.name, by_vessel.get(number, [])) for number, vessel in vessels.items()]
    return rows + [LaneFacts("", "")] * (lanes - len(rows))


def lanes_of(behind: int) -> list[LaneFacts]:
    """List the lanes in the order of the round.

    Args:
        behind: Days shown before today.
    """
    standing = {brew.id: brew for brew in queries.living_brews(g.session)}
    stops = {stop.brew.id: stop for stop in stops_of(g.session, list(standing.values()), g.now, g.household)}
    past, planned = _brews(behind), planning_queries.planned_days(g.session)
    hotels = {hotel.vessel_id: hotel for hotel in hotels_told(g.session, g.now)}
    out = []
    for vessel in queries.vessels(g.session):
        bars: list[Bar] = []
        draws: list[Mark] = []
        for brew in past.get(vessel.id, []):
            alive = standing.get(brew.id)
            bars.append(_living(alive, stops[alive.id]) if alive is not None else _ended(brew))
            if alive is not None and not any(row.kind == "draw" and row.vessel_id == vessel.id for row in planned):
                draws += _draws(vessel, stops[alive.id])
        marks = [*_marks(vessel, planned), *draws]
        if vessel.id in hotels:
            fed, feed = _fed(hotels[vessel.id])
            bars, marks = [*bars, *fed], [*marks, *feed]
        out.append(LaneFacts(vessel.name, vessel.place.name, bars, marks))
    return out + _wished() + _jars() + _shelves(groups_of(queries.bottles(g.session, BottleState.WARM), g.now))


def _wished() -> list[LaneFacts]:
    """Mark guests, gifts and months with more in a lane of their own; nothing where nobody comes."""
    today, bars, marks = today_here(), [], []
    for row in drunk.wishes_ahead(g.session, g.now):
        says = f"{WISHES[row.kind]}, {in_units(row.litres, 'volume')}"
        if row.until is None:
            marks.append(Mark("guests", (row.day - today).days, WISHES[row.kind].lower()))
        else:
            bars.append(Bar("", (row.day - today).days, (row.until - today).days + 1, "hotel", url_for("supply.show"), says=says))
    return [LaneFacts("Guests and wishes", "", bars, marks)] if bars or marks else []


def _jars() -> list[LaneFacts]:
    """Draw the jars that take flavour, until they are meant to be strained."""
    out = []
    for jar in drinking.jars(g.session):
        end = days_from_now(jar.began_at) + jar.hours / 24
        says = f"{jar.name}: taste and strain it" if jar.strained_at is None else f"{jar.name}: bottle or drink it"
        address = url_for("flavours.jar", number=jar.id)
        bar = Bar("", days_from_now(jar.began_at), max(end, days_from_now(g.now)), "bottles", address, says=says)
        out.append(LaneFacts(jar.name, jar.place.name, [bar], [Mark("strain", int(max(0.0, end) // 1), "strain")]))
    return out


def _fed(hotel: HotelTold) -> tuple[list[Bar], list[Mark]]:
    """Draw a hotel from its last feed to its next."""
    if hotel.last_fed is None or hotel.next_feed is None:
        return [], []
    wants = days_from_now(hotel.next_feed)
    fed = f"{hotel.name}, fed {day_word(hotel.last_fed, g.now, g.household.zone)}"
    says = (
        f"{fed}; feed it {day_word(hotel.next_feed, g.now, g.household.zone)}" if wants >= 1 else f"{fed}; feed it now"
    )
    bar = Bar("", days_from_now(hotel.last_fed), max(wants, days_from_now(g.now)), "hotel", hotel.address, says=says)
    return [bar], [Mark("feed", int(max(0.0, wants) // 1), "feed")]


def _draws(vessel: Vessel, stop: Stop) -> list[Mark]:
    """Mark when a tapped vessel may be drawn from."""
    if stop.tapped is None:
        return []
    away = planning_queries.absence(g.session)
    ahead = [at for at in draws_ahead(stop.tapped, DRAWS_AHEAD_DAYS) if away is None or not away.leaves <= local(at, g.household.zone).date() < away.returns]
    return [Mark("draw", int(days_from_now(at) // 1), "draw") for at in ahead]


def _marks(vessel: Vessel, planned: Iterable[PlannedDay]) -> list[Mark]:
    today = today_here()
    return [Mark(p.kind, (p.day - today).days, p.kind, p.id, vessel.id) for p in planned if p.vessel_id == vessel.id]


def _shelves(groups: list[BottleGroup]) -> list[LaneFacts]:
    by_place: dict[str, list[BottleGroup]] = {}
    for group in groups:
        by_place.setdefault(group.place.name if group.place else "Somewhere", []).append(group)
    out = []
    for place, some in by_place.items():
        for group in some:
            start = days_from_now(group.bottles[0].bottling.at)
            chill = group.alike.chill_at
            end = days_from_now(chill) if chill is not None else start + 14
            bar = Bar(
                "",
                start,
                max(end, days_from_now(g.now)),
                "bottles",
                url_for("cellar.show"),
                says=f"{group.name}: {group.advice}",
            )
            marks = [Mark("chill", int(max(0.0, end) // 1), "chill by")] if chill is not None else []
            out.append(LaneFacts(f"{group.count} × {group.name}", place, [bar], marks))
    return out
