"""What the pages of the lines tell: how strong a line is and why it slows, its backups, a bead's card, children outside."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from flask import g
from sqlalchemy import func, select
from sqlalchemy.orm import joinedload, selectinload

from ...core.kinds import BrewStatus, NodeKind
from ...core.lineage import Backups, graph_of
from ...core.lineage import ancestors as ancestors_of
from ...core.lineage import descendants as descendants_of
from ...core.lineage import generations as generations_of
from ...core.trace import Node
from ...core.vigour import Brewed, Cause, Point, Trend, causes, together, trend
from ...reckon import forecasting, links, warmth
from ...store import queries
from ...store.memory import remembered
from ...store.models import Brew, Culture, Disc, Gift
from ...store.read import moments
from ..names import local_today
from ..words import day_word
from .naming import named
from .strands import state_words

MOST_BREWS = 24  #: How strong a line is, is told by so many of its last brews.

if TYPE_CHECKING:
    from networkx import DiGraph


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
    alive_after: int  #: Of its descendants, how many live.
    outside: tuple[str, ...]  #: Who has children of it.


def graph() -> DiGraph:
    """Give the household's lineage as a graph, made once until something changes."""
    return remembered(g.session, "descent", lambda: graph_of(links.descent_of(g.session)))


def generations() -> Mapping[Node, int]:
    """Count for each thing the longest number of brews from its origin."""
    return remembered(g.session, "generations", lambda: generations_of(graph()))


def card_of(node: Node) -> Card:
    """Put a bead's card together."""
    known = graph()
    before, after = ancestors_of(known, node), descendants_of(known, node)
    lit = " ".join(f"{kind}-{number}" for kind, number in sorted(before | after | {node}) if kind in {"brew", "disc"})
    brews = (sum(kind == NodeKind.BREW for kind, _ in before), sum(kind == NodeKind.BREW for kind, _ in after))
    it = named(node)
    when = day_word(it.at, g.now, g.household.zone) if it.at else ""
    state = _state(node)
    outside = tuple(words for _, words in outside_of(after | {node}))
    living = (
        sum(links.living(g.session, other) for other in sorted(after) if other[0] != "brew") if len(after) < 400 else 0
    )
    name = f"{it.name}, {it.line}" if node[0] == "brew" else it.name
    says = state if node[0] == "brew" else f"{it.line}, {when}, {state}"
    return Card(name, says, it.address, generations().get(node, 0), lit, *brews, living, outside)


def _state(node: Node) -> str:
    if node[0] == "brew":
        brew = queries.get(g.session, Brew, node[1])
        return state_words("alive" if brew.status == BrewStatus.FERMENTING else brew.status)
    disc = queries.get(g.session, Disc, node[1])
    return state_words(disc.ended_as or ("kept" if disc.ended_at is None else "discarded"))


def outside_of(nodes: set[Node]) -> list[tuple[Gift, str]]:
    """List gifts of these things that left the house, newest first, with words; who it is stays in this file."""
    query = select(Gift).where(Gift.outward).options(joinedload(Gift.disc), joinedload(Gift.culture))
    out = []
    for gift in g.session.scalars(query.order_by(Gift.at.desc())):
        if ("disc", gift.disc_id) in nodes or ("lot", gift.lot_id) in nodes:
            what = gift.disc.name if gift.disc is not None else "liquid"
            holds = "" if gift.still_holds else ", not any more"
            out.append((gift, f"{what}, {gift.who or 'someone'}, {day_word(gift.at, g.now, g.household.zone)}{holds}"))
    return out


def gifts_of(culture: Culture) -> list[Gift]:
    """List what of a line left the house or came to it, newest first."""
    query = select(Gift).where(Gift.culture_id == culture.id).options(joinedload(Gift.disc))
    return list(g.session.scalars(query.order_by(Gift.at.desc(), Gift.id.desc())))


def measured(culture: Culture) -> list[Brew]:
    """List the last brews of a line that were measured, oldest first."""
    return queries.measured(g.session, culture, MOST_BREWS)


def vigour_of(culture: Culture) -> Trend:
    """Say how strong a line is, from its brews that were measured."""

    def make() -> Trend:
        points = []
        for brew in measured(culture):
            vigour, sd = together(forecasting.posterior_of(brew))
            points.append(Point(links.day_of(brew.pitched_at), vigour, sd))
        return trend(points)

    return remembered(g.session, ("vigour", culture.id), make)


def slowing_of(culture: Culture) -> list[Cause]:
    """Name what may slow a line: those causes whose evidence holds; none while it does not slow."""
    if vigour_of(culture).word != "slowing":
        return []
    return remembered(g.session, ("slowing", culture.id), lambda: causes(_brewed(culture)))


def _brewed(culture: Culture) -> list[Brewed]:
    out = []
    for brew in measured(culture):
        days = max(0.5, moments.days_between(brew.pitched_at, brew.ended_at or g.now))
        lot = next((t.source.lot for t in brew.liquid.starters if t.source is not None), None)
        out.append(
            Brewed(
                day=links.day_of(brew.pitched_at),
                mean_c=float(warmth.course_of(brew).at(np.linspace(0, days, 40)).mean()),
                starter_age_days=moments.days_between(lot.made_at, brew.pitched_at) if lot is not None else None,
                honey_share=brew.honey_share,
                leaf_g_per_l=brew.leaf_g_per_l,
            )
        )
    return out


def backups_of(culture: Culture) -> Backups:
    """Count a line's backups."""
    key = ("backups", culture.id, local_today())
    return remembered(g.session, key, lambda: links.backups_of(g.session, culture, g.now))


@dataclass(frozen=True, slots=True)
class Summary:
    """A line in the list."""

    culture: Culture
    alive: list[Brew]
    litres: float  #: That live. [L]
    brews: int
    kept: Backups

    @property
    def over(self) -> bool:
        """Whether nothing of it lives here any more."""
        return not self.alive and not self.kept.living


def summaries() -> list[Summary]:
    """List the lines in few questions, those that live first."""
    standing, lots = queries.standing_brews(g.session), queries.starter_lots(g.session)
    counted = dict(g.session.execute(select(Brew.culture_id, func.count()).group_by(Brew.culture_id)).all())
    query = select(Culture).options(selectinload(Culture.conversions))
    out = []
    for culture in g.session.scalars(query.order_by(Culture.started_at, Culture.id)):
        alive = [b for b in standing if b.culture_id == culture.id]
        litres = sum(b.left_l for b in alive) + sum(lot.left_l for lot in lots if lot.culture_id == culture.id)
        out.append(Summary(culture, alive, litres, counted.get(culture.id, 0), backups_of(culture)))
    return sorted(out, key=lambda row: row.over)
