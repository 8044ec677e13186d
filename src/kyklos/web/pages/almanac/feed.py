"""The round as a calendar: days due, windows, bottles to chill, planned days; at an address that only the household knows."""

from __future__ import annotations

import hmac
from datetime import datetime, timedelta
from typing import TYPE_CHECKING, Any
from zoneinfo import ZoneInfo

from flask import Response, abort, g, make_response, redirect, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import calendar
from ....core.base import marked
from ....core.base.kinds import BottleState, DueKind
from ....core.base.saying import spoken
from ....core.cultures.hotel import LOOK_AHEAD_DAYS
from ....core.quick.wishes import WISHES
from ....reckon.bottles import drinking
from ....reckon.supply import drunk
from ....reckon.tapped_ahead import draws_ahead
from ....store.read import planning_queries, queries
from ...kit.acting import act, in_units
from ...kit.bottle_groups import groups_of
from ...kit.small_dues import hotels_told, small_dues
from ...kit.stops import Stop, stops_of
from .lanes import DRAWS_AHEAD_DAYS, today_here
from .routes import bp

if TYPE_CHECKING:
    import icalendar

RINGS_H = 9  #: From midnight. [h]


def _page_of(endpoint: str, **values: int) -> str:
    given: Any = values
    return str(url_for(endpoint, _external=True, **given))


def _event(key: str, day: datetime | None, title: str, text: str, link: str, until: datetime | None = None) -> icalendar.Event:
    """Make an event of whole days in the household's zone, today where none is given, that rings at nine and leads to its page.

    Its key stays while it is due, so that a calendar moves it instead of keeping two, and lets it go when it is done.
    """
    zone = ZoneInfo(g.household.zone)
    first = day.astimezone(zone).date() if day is not None else today_here()
    last = until.astimezone(zone).date() if until is not None else first
    import icalendar  # read in when a calendar is first asked for

    event = icalendar.Event()
    event.add("uid", f"{key}@kyklos.invalid")
    event.add("dtstamp", g.now)
    event.add("dtstart", first)
    event.add("dtend", max(first, last) + timedelta(days=1))
    event.add("summary", spoken(title, in_units))
    event.add("description", spoken(text, in_units))
    event.add("transp", "TRANSPARENT")
    event.add("url", link)
    alarm = icalendar.Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", spoken(title, in_units))
    alarm.add("trigger", timedelta(hours=RINGS_H))
    event.add_component(alarm)
    return event


def _of_brew(stop: Stop) -> list[icalendar.Event]:
    brew, name = stop.brew, stop.brew.vessel.name
    link = _page_of("tapped.show" if stop.tapped is not None else "brews.show", number=brew.id)
    out = []
    for due in (stop.due, *stop.also):
        if due.kind != DueKind.NOTHING:
            out.append(
                _event(f"brew-{brew.id}-{due.kind}", None, f"{name}: {due.what[0].lower()}{due.what[1:]}", due.why, link)
            )
    for due, row in stop.waiting:
        out.append(
            _event(f"brew-{brew.id}-{due.kind}", row.until, f"{name}: {due.what[0].lower()}{due.what[1:]}", due.why, link)
        )
    if stop.tapped is not None:
        for at in draws_ahead(stop.tapped, DRAWS_AHEAD_DAYS):
            if at > g.now:
                text = f"About {marked(stop.tapped.litres_for_good or 0.0, 'volume')}. A forecast: taste from the tap first."
                out.append(_event(f"brew-{brew.id}-draw-{at:%Y%m%d}", at, f"{name}: draw what is ready, likely", text, link))
    for taster, start, end in () if stop.tapped is not None else stop.windows:
        ends = [brew.pitched_at + timedelta(days=day) for day in (start, end)]
        if ends[1] >= g.now:
            text = "A forecast: taste before you harvest."
            out.append(
                _event(f"brew-{brew.id}-window-{taster}", ends[0], f"{name}: right for {taster}, likely", text, link, ends[1])
            )
    return out


def calendar_of() -> bytes:
    """Write the calendar."""
    import icalendar

    out = icalendar.Calendar()
    out.add("prodid", "-//Kyklos//Round//EN")
    out.add("version", "2.0")
    out.add("x-wr-calname", f"Kyklos, {' '.join(g.household.name.split())}")
    for stop in stops_of(g.session, queries.living_brews(g.session), g.now, g.household):
        for event in _of_brew(stop):
            out.add_component(event)
    cellar, almanac = _page_of("cellar.show"), _page_of("almanac.show")
    for group in groups_of(queries.bottles(g.session, BottleState.WARM), g.now):
        if group.past or group.alike.spoiled_in:
            out.add_component(_event(f"chill-{group.key}", g.now, f"{group.name}: do not carry it", group.advice, cellar))
        elif (when := group.alike.chill_at) is not None:
            text = "Before their pressure nears what the bottles hold; only cold stops them."
            out.add_component(_event(f"chill-{group.key}", max(when, g.now), f"Chill {group.name}", text, cellar))
    for jar in drinking.jars(g.session):
        if jar.strained_at is None and (due_at := jar.began_at + timedelta(hours=jar.hours)) > g.now:
            out.add_component(_event(f"jar-{jar.id}", due_at, f"{jar.name}: taste and strain it", "It has taken flavour.", _page_of("flavours.jar", number=jar.id)))
    soon = g.now + timedelta(days=LOOK_AHEAD_DAYS)  # What is due until then stands below, with its reason.
    for hotel in hotels_told(g.session, g.now):
        if hotel.next_feed is not None and hotel.next_feed > soon:
            out.add_component(
                _event(f"feed-{hotel.vessel_id}", hotel.next_feed, f"Feed {hotel.name}", "By its own rhythm.", _page_of("cultures.show"))
            )
    for due in small_dues(g.session, g.now)[0]:
        if due.key.startswith(("plan-", "wish-")):
            continue  # these stand on their own days
        out.add_component(_event(due.key, None, due.what, due.says, _page_of("round.show")))
    for row in planning_queries.planned_days(g.session):
        day = datetime.combine(row.day, datetime.min.time(), ZoneInfo(g.household.zone))
        litres = f" {marked(row.litres, 'volume')}" if row.litres else ""
        out.add_component(_event(f"plan-{row.id}", day, f"{row.vessel.name}: {row.kind}{litres}", "Planned on the almanac.", almanac))
    for wish in drunk.wishes_ahead(g.session, g.now):
        day, until = (datetime.combine(d, datetime.min.time(), ZoneInfo(g.household.zone)) for d in (wish.day, wish.until or wish.day))
        title = f"{WISHES[wish.kind]}: {marked(wish.litres, 'volume')}"
        out.add_component(_event(f"wish-{wish.id}", day, title, "Counted in the plan of enough to drink.", almanac, until))
    return bytes(out.to_ical())


@bp.get("/feed/<key>.ics")
def feed(key: str) -> Response:
    """Show the calendar to who knows its address."""
    known = g.household.feed_key
    if not known or not hmac.compare_digest(known.encode(), key.encode()):
        abort(404)
    response = make_response(calendar_of())
    response.headers["Content-Type"] = "text/calendar; charset=utf-8"
    response.headers["X-Robots-Tag"] = "noindex"
    return response


@bp.post("/feed")
def new_address() -> Answer:
    """Make a new address; the old one is dead at once."""
    act(calendar.set_feed, calendar.Feed(wanted=True))
    return redirect(url_for("settings.show") + "#calendar", 303)


@bp.post("/feed/drop")
def no_address() -> Answer:
    """Take the address away."""
    act(calendar.set_feed, calendar.Feed(wanted=False))
    return redirect(url_for("settings.show") + "#calendar", 303)
