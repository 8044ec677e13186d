"""A quick line that is clear, turned into what is written."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from flask import g

from ....actions.bottles.harvest import ReserveStarter
from ....actions.brewing.put_right import MoveVessel
from ....actions.brewing.readings import LogLook, LogReading, LogTasting
from ....actions.cultures.keeping import FeedHotel
from ....actions.quick import OnBottles, SaveQuick
from ....actions.supply import Buy, CountGood, MakeWish
from ....core.base.kinds import MeasuredBy
from ....core.quick.said import ON_BOTTLES, Deed, DeedKind, Quick
from ....store.read import planning_queries
from ....store.records import Brew
from ...kit import meters
from .telling import Understood, grave, utc


def all_saved(understood: Understood) -> tuple[SaveQuick, ...]:
    """Turn all that a line tells, and is clear, into what is written; nothing where it only opens a page."""
    asks = (saved_as(part) for part in understood.parts or (understood,))
    return tuple(ask for ask in asks if ask is not None)


def saved_as(understood: Understood) -> SaveQuick | None:
    """Turn a line that is clear into what is written; None where it only opens a page."""
    if (bought := understood.bought) is not None:
        good = bought.good
        if bought.counted:
            return SaveQuick(count=CountGood(kind=good.kind, key=good.key, amount=bought.amount))
        return SaveQuick(buy=Buy(kind=good.kind, key=good.key, amount=bought.amount, price=bought.price))
    if (wish := understood.wish) is not None:
        made = MakeWish(kind=wish.kind, day=wish.day, litres=wish.litres, until=wish.until, people=wish.people, glasses=wish.glasses, words=understood.line)
        return SaveQuick(wish=made)
    q = understood.quick
    at = utc(q.at) if q.at is not None else None
    if q.deed is not None and q.deed.kind in ON_BOTTLES:
        return SaveQuick(bottles=_on_bottles(q.deed), note=q.note, at=at)
    if q.deed is not None and q.deed.kind is DeedKind.FED:
        return None if understood.leads else SaveQuick(feed=_feed(q.deed, q), at=at)
    if understood.brew is None:
        return None
    if q.leads is not None:
        q = replace(q, note="")  # it is said on the page that opens
    ask = _of_brew(understood.brew, q, at)
    nothing = not (ask.reading or ask.tastings or ask.look or ask.amounts or ask.starter or ask.move or ask.note)
    return None if understood.leads and nothing else ask


def _on_bottles(deed: Deed) -> OnBottles:
    numbers = tuple(thing.key for thing in deed.things)
    return OnBottles(kind=deed.kind, bottling_ids=numbers, count=deed.count, hiss=deed.hiss)


def _feed(deed: Deed, q: Quick) -> FeedHotel:
    return FeedHotel(
        vessel_id=deed.things[0].key,
        litres=deed.litres or 0.0,
        of="nothing" if deed.litres is None else "sweet tea",
        ph=q.ph,
        note=q.note,
    )


def _of_brew(brew: Brew, q: Quick, at: datetime | None) -> SaveQuick:
    deed = q.deed
    reserved = deed is not None and deed.kind is DeedKind.RESERVED and deed.litres is not None
    starter = ReserveStarter(brew_id=brew.id, litres=deed.litres or 0.0, ph=q.ph) if reserved and deed else None
    moved = MoveVessel(vessel_id=brew.vessel_id, place_id=deed.things[0].key, at=at) if deed and deed.kind is DeedKind.MOVED else None
    look = LogLook(brew_id=brew.id, surface=q.surface, signs=tuple(q.signs), smell=q.smell, at=at)
    return SaveQuick(
        brew_id=brew.id,
        reading=_reading(brew, q, at) if q.measured and starter is None else None,
        tastings=tuple(
            LogTasting(brew_id=brew.id, taster_id=t.key, score=s, at=at) for t, s in q.tastes if t is not None
        ),
        look=look if q.looked and not grave(q) else None,
        amounts=tuple(q.amounts),
        starter=starter,
        move=moved,
        note=q.note,
        at=at,
    )


def _reading(brew: Brew, q: Quick, at: datetime | None) -> LogReading:
    key = q.instrument or meters.usual()
    return LogReading(
        brew_id=brew.id,
        ph=q.ph,
        instrument=key,
        instrument_id=_tool(key, q),
        celsius=q.celsius,
        low_c=q.low_c,
        high_c=q.high_c,
        gravity=q.gravity,
        gravity_by=q.gravity_by,
        ta_g_per_l=q.ta_g_per_l,
        depth=q.depth,
        at=at,
        sure=True,
    )


def _tool(key: str, q: Quick) -> int | None:
    """Find the household's own instrument of that kind, if there is but one."""
    if q.ph is None:
        return None
    rows = [
        row.id
        for row in planning_queries.instruments(g.session)
        if row.kind == (MeasuredBy.METER if key != MeasuredBy.STRIP else MeasuredBy.STRIP)
    ]
    return rows[0] if len(rows) == 1 and key in {"meter", "strip"} else None
