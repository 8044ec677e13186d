"""What the pages of the lines tell: the braid, how strong a line is, its backups, who lives in the hotel."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from datetime import datetime

from flask import g, url_for
from sqlalchemy import select
from sqlalchemy.orm import joinedload, selectinload

from ...core.lineage import ENDS, Backups, graph_of
from ...core.lineage import ancestors as ancestors_of
from ...core.lineage import descendants as descendants_of
from ...core.lineage import generations as generations_of
from ...core.trace import Node
from ...core.vigour import Point, Trend, together, trend
from ...drawing.braid import Bead, Braid, LineFacts, braid
from ...store import links, queries, values
from ...store.memory import remembered
from ...store.models import Brew, Culture, Disc, Gift, HotelFeed, HotelStay, StarterLot, Vessel
from ..names import local_today

SPANS = {"season": 120.0, "year": 365.0, "all": 0.0}
FEED_WEEKS = 4.0  #: Between feeds, until the hotel has a rhythm of its own. [weeks]


def _days(moment: datetime) -> float:
    return -values.days_between(moment, g.now)


def _bead_of(brew: Brew) -> Bead:
    end = _days(brew.ended_at) if brew.ended_at is not None else None
    state = "alive" if brew.status == "fermenting" else brew.status
    says = f"{brew.vessel.name}, pitched {brew.pitched_at:%-d %b %Y}, {'in it now' if brew.alive else brew.status}"
    return Bead(f"brew-{brew.id}", _days(brew.pitched_at), end, "brew", state, says, brew.honey_share)


def born_at(disc: Disc) -> datetime:
    """Say when a disc began: parted, out of its brew, or with its line."""
    if disc.made_at is not None:
        return disc.made_at
    if disc.born_brew is not None:
        return disc.born_brew.ended_at or disc.born_brew.pitched_at
    return disc.culture.started_at


def _disc_bead(disc: Disc) -> Bead:
    end = _days(disc.ended_at) if disc.ended_at is not None else None
    state = disc.ended_as or "kept"
    return Bead(
        f"disc-{disc.id}",
        _days(born_at(disc)),
        end,
        "disc",
        state,
        f"{disc.name}{', ' + ENDS[state].lower() if state in ENDS else ''}",
    )


def _volumes(culture: Culture) -> list[tuple[float, float]]:
    """Sum what lives of a line over time: brews in their vessels, liquid set aside. [d from today, L]"""
    steps: list[tuple[float, float]] = []
    for brew in culture.brews:
        steps.append((_days(brew.pitched_at), brew.final_l))
        if brew.ended_at is not None:
            steps.append((_days(brew.ended_at), -brew.final_l))
    for lot in culture.lots:
        steps.append((_days(lot.made_at), lot.volume_l))
        steps += [(_days(p.brew.pitched_at), -p.litres) for p in lot.portions]
    out, now = [(_days(culture.started_at), 0.0)], 0.0
    for day, change in sorted(steps):
        now += change
        out.append((day, max(0.0, now)))
    return out


def braid_of(cultures: list[Culture], span: str) -> Braid:
    """Draw the household's lines along time; drawn anew when something changed, and every hour."""
    hour = g.now.replace(minute=0, second=0, microsecond=0)
    return remembered(g.session, ("braid", span, hour, g.household.zone), lambda: _braid(cultures, span))


def _braid(cultures: list[Culture], span: str) -> Braid:
    gifts: dict[int, list[tuple[float, str]]] = {}
    for gift in g.session.scalars(select(Gift)):
        gifts.setdefault(gift.culture_id, []).append((_days(gift.at), "given" if gift.outward else "received"))
    lines = [
        LineFacts(
            c.id,
            c.name,
            _days(c.started_at),
            [_bead_of(b) for b in c.brews] + [_disc_bead(d) for d in c.discs],
            _volumes(c),
            c.parent_id,
            gifts.get(c.id, ()),
        )
        for c in cultures
    ]
    longest = max((-line.started for line in lines), default=120.0)
    days = SPANS.get(span) or max(60.0, longest * 1.03)
    return braid(lines, local_today(), min(days, max(60.0, longest * 1.03)))


def cultures_whole() -> list[Culture]:
    """List the lines with all that the braid reads, in few questions."""
    query = select(Culture).options(
        selectinload(Culture.discs).joinedload(Disc.born_brew),
        selectinload(Culture.discs).selectinload(Disc.stays),
        selectinload(Culture.lots).selectinload(StarterLot.portions),
        selectinload(Culture.brews).joinedload(Brew.vessel),
    )
    return list(g.session.scalars(query.order_by(Culture.started_at, Culture.id)))


@dataclass(frozen=True, slots=True)
class Card:
    """What a bead tells."""

    name: str
    says: str
    address: str
    generation: int
    lit: str  #: Keys of its ancestors and descendants.
    before: int
    after: int


def card_of(node: Node) -> Card:
    """Put a bead's card together."""
    graph = remembered(g.session, "descent", lambda: graph_of(links.descent_of(g.session)))
    before, after = ancestors_of(graph, node), descendants_of(graph, node)
    generation = generations_of(graph).get(node, 0)
    lit = " ".join(f"{kind}-{number}" for kind, number in sorted(before | after | {node}))
    brews = (sum(kind == "brew" for kind, _ in before), sum(kind == "brew" for kind, _ in after))
    if node[0] == "brew":
        brew = queries.get(g.session, Brew, node[1])
        return Card(
            f"{brew.vessel.name}, {brew.culture.name}",
            _bead_of(brew).says,
            url_for("brews.show", number=brew.id),
            generation,
            lit,
            *brews,
        )
    disc = queries.get(g.session, Disc, node[1])
    return Card(
        disc.name, _disc_bead(disc).says, url_for("cultures.line", number=disc.culture_id), generation, lit, *brews
    )


def vigour_of(culture: Culture) -> Trend:
    """Say how strong a line is, from its brews that were measured or tasted."""

    def make() -> Trend:
        points = []
        for brew in queries.with_past(g.session, culture):
            if any(r.ph is not None for r in values.standing_readings(brew)) and brew.status != "held":
                vigour, sd = together(values.posterior_of(brew))
                points.append(Point(links.day_of(brew.pitched_at), vigour, sd))
        return trend(points)

    return remembered(g.session, ("vigour", culture.id), make)


def backups_of(culture: Culture) -> Backups:
    """Count a line's backups."""
    key = ("backups", culture.id, local_today())
    return remembered(g.session, key, lambda: links.backups_of(g.session, culture, g.now))


@dataclass(frozen=True, slots=True)
class Hotel:
    """Who lives in a hotel, and when it was fed."""

    vessel: Vessel
    guests: list[HotelStay]
    feeds: list[HotelFeed]
    due: bool
    says: str


def hotels() -> list[Hotel]:
    """List the hotels with their own rhythm."""
    out = []
    for vessel in queries.vessels(g.session):
        if vessel.kind != "hotel":
            continue
        stays = select(HotelStay).where(HotelStay.vessel_id == vessel.id, HotelStay.until.is_(None))
        guests = list(g.session.scalars(stays.options(joinedload(HotelStay.disc).joinedload(Disc.culture))))
        feeds = list(
            g.session.scalars(select(HotelFeed).where(HotelFeed.vessel_id == vessel.id).order_by(HotelFeed.at))
        )
        out.append(_hotel(vessel, guests, feeds))
    return out


def _hotel(vessel: Vessel, guests: list[HotelStay], feeds: list[HotelFeed]) -> Hotel:
    gaps = [values.days_between(a.at, b.at) for a, b in itertools.pairwise(feeds)]
    rhythm = sorted(gaps)[len(gaps) // 2] if len(gaps) >= 2 else FEED_WEEKS * 7
    if not feeds:
        return Hotel(vessel, guests, feeds, bool(guests), "Never fed yet." if guests else "Nobody lives in it.")
    since = values.days_between(feeds[-1].at, g.now)
    due = bool(guests) and since >= rhythm
    return Hotel(vessel, guests, feeds, due, f"Fed {since:.0f} days ago, usually every {rhythm / 7:.0f} weeks.")
