"""What the records of one brew say together: its days in order, its discs, what reads its pH, how much more starter it needs."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from ...core.base import limit
from ...core.base.facts import INSTRUMENTS
from ...core.base.kinds import MeasuredBy, ReadsPh
from ...core.brewing.starters import share_for_ph
from ...core.judging.instruments import standing
from ...store.read import culture_queries, planning_queries, queries, recorded
from ...store.read.memory import once
from ...store.read.meters import calibrated
from ...store.records import Brew, Culture, Disc

UNCALIBRATED, STRIP = "uncalibrated", "strip"  #: Keys of data/instruments.toml.
DRIED, WAKE_BREWS = "dried", 2  #: An origin; so many harvested brews until it is relied on.
LEAST_MORE = 1.25  #: More starter is at least so many times what is there (assumed). [-]


def discs_in(brew: Brew) -> list[tuple[Disc, bool]]:
    """List the discs that lie in a living brew from the top, and which is the newest; its own lies where others leave room."""
    if not brew.alive:
        return []
    lying = [(guest.position, 0, guest.disc) for guest in brew.guests if guest.until is None]
    if brew.disc is not None:
        lying.append((1, 1, brew.disc))
    order = [disc for *_, disc in sorted(lying, key=lambda row: row[:2])]
    newest = max((disc.id for disc in order), default=0)
    return [(disc, disc.id == newest) for disc in order]


def timeline(brew: Brew) -> list[tuple[str, datetime, Any]]:
    """List readings, tastings and looks, newest first."""
    rows: list[tuple[str, datetime, Any]] = [("reading", r.at, r) for r in brew.readings]
    rows += [("tasting", t.at, t) for t in brew.tastings] + [("look", seen.at, seen) for seen in brew.looks]
    rows += [("note", n.at, n) for n in brew.notes] + [("overrule", o.at, o) for o in brew.overrules]
    return sorted(rows, key=lambda row: row[1], reverse=True)


def extra_starter(brew: Brew) -> float:
    """Return how much more starter brings a brew to pH 4.2, likely. [L]"""
    recipe = recorded.recipe_of(brew)
    own = recipe.starter_in or recipe.brewed_with
    share = share_for_ph(recipe.starter, limit("plan_start_ph"), recipe.medium, own) or limit("starter_most")
    there = recorded.starter_share(brew)
    wanted = max(share, there * LEAST_MORE)
    return brew.left_l * (wanted - there) / (1 - wanted)


def room_above(brew: Brew) -> float:
    """Return how much more a brew's vessel holds, to its brim. [L]"""
    return max(0.0, brew.vessel.nominal_l - brew.left_l)


def wakes(session: Session, culture: Culture) -> bool:
    """Return whether a culture that came dry is not to be relied on yet: until two of its brews were harvested."""
    return culture.origin == DRIED and culture_queries.harvested(session, culture) < WAKE_BREWS


@once
def instrument_choices(session: Session) -> list[tuple[str, str]]:
    """List what may have read a pH: the household's own meters and strips, then the kinds it has none of."""
    rows = [row for row in planning_queries.instruments(session) if row.kind in {MeasuredBy.METER, MeasuredBy.STRIP}]
    kinds = {row.kind for row in rows}
    plain = [(key, entry.name) for key, entry in INSTRUMENTS.items() if key not in kinds]
    return [(f"{row.kind}:{row.id}", row.name) for row in rows] + plain


def usual_ph_reader(session: Session, now: datetime) -> str:
    """Return what a pH is read with, unless given: a key of data/instruments.toml.

    Nobody is taken to own a calibrated meter: one counts as calibrated while its own calibrations say so. Who told nothing reads
    strips, which settle least.
    """
    rows = [row for row in planning_queries.instruments(session) if row.kind in {MeasuredBy.METER, MeasuredBy.STRIP}]
    meters = [row for row in rows if row.kind == MeasuredBy.METER]
    if meters:
        return standing(calibrated(meters[0], now), meters[0].interval_days).key
    reads = queries.household_of(session).reads_ph
    return UNCALIBRATED if reads == ReadsPh.METER and not rows else STRIP


def usual_tool(session: Session, brew: Brew, now: datetime) -> str:
    """Choose what last read a pH here, if it still can, else what the household reads it with."""
    known = [key for key, _ in instrument_choices(session)]
    last = [
        f"{r.instrument}:{r.instrument_id}" if r.instrument_id else r.instrument
        for r in brew.readings
        if r.ph is not None
    ]
    if last and last[-1] in known:
        return last[-1]
    usual = usual_ph_reader(session, now)
    own = MeasuredBy.METER if usual == UNCALIBRATED else usual
    return next((key for key in known if key.startswith(f"{own}:")), usual if usual in known else known[0])
