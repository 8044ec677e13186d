"""How the lines stand: their lineage, how strong they are and what slows them, backups, what lives of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload, object_session, selectinload

from ...core.base.kinds import BrewStatus
from ...core.cultures import Link, Node
from ...core.cultures.lineage import Backups, Descent
from ...core.cultures.lineage import descent as put_together
from ...core.cultures.lineage import generations as generations_of
from ...core.forecast import Posterior, side_by_side
from ...core.forecast.side_by_side import Side
from ...core.forecast.vigour import Brewed, SlowingCause, Trend, VigourPoint, causes, together, trend
from ...core.liquid import Recipe
from ...store.read import culture_queries, lessons, queries
from ...store.read.memory import remembered
from ...store.read.moments import days_between
from ...store.read.recorded import standing_readings
from ...store.records import Brew, Culture, Gift
from ..forecast import forecasting, warmth
from . import links, quarantine

MOST_BREWS = 24  #: How strong a line is, is judged by so many of its last brews.


def made_of(session: Session) -> tuple[Link, ...]:
    """List what made what in the household, read once until something changes."""
    return remembered(session, "made of", lambda: tuple(links.descent_of(session)), links.DESCENDS_BY)


def descent(session: Session) -> Descent:
    """Return who came from whom in the household, put together once until something changes."""
    return remembered(session, "descent", lambda: put_together(made_of(session)), links.DESCENDS_BY)


def generations(session: Session) -> Mapping[Node, int]:
    """Count for each thing the longest number of brews from its origin."""
    return remembered(session, "generations", lambda: generations_of(descent(session)), links.DESCENDS_BY)


def gifts_of(session: Session, culture: Culture) -> list[Gift]:
    """List what of a line left the house or came to it, newest first."""
    query = select(Gift).where(Gift.culture_id == culture.id).options(joinedload(Gift.disc))
    return list(session.scalars(query.order_by(Gift.at.desc(), Gift.id.desc())))


def measured(session: Session, culture: Culture) -> list[Brew]:
    """List the last brews of a line that were measured, oldest first."""
    return culture_queries.measured(session, culture, MOST_BREWS)


def vigour_of(session: Session, culture: Culture) -> Trend:
    """Return how strong a line is, from its brews that were measured."""

    def make() -> Trend:
        rows = [
            (lesson.brew.pitched_at, forecasting.taught_by(lesson))
            for lesson in lessons.measured(session, culture, MOST_BREWS)
        ]
        for brew in queries.living_brews(session):
            if (
                brew.culture_id == culture.id
                and brew.status != BrewStatus.HELD
                and any(r.ph for r in standing_readings(brew))
            ):
                rows.append((brew.pitched_at, forecasting.posterior_of(brew)))
        last = sorted(rows, key=lambda one: one[0])[-MOST_BREWS:]
        return trend([VigourPoint(links.day_of(at), *together(taught)) for at, taught in last if taught is not None])

    return remembered(session, ("vigour", culture.id), make)


def slowing_of(session: Session, culture: Culture, now: datetime) -> list[SlowingCause]:
    """Name what may slow a line: those causes whose evidence holds; none while it does not slow."""
    if vigour_of(session, culture).word != "slowing":
        return []
    return remembered(session, ("slowing", culture.id), lambda: causes(_brewed(session, culture, now)))


def _brewed(session: Session, culture: Culture, now: datetime) -> list[Brewed]:
    out = []
    for brew in measured(session, culture):
        days = max(0.5, days_between(brew.pitched_at, brew.ended_at or now))
        lot = next((t.source.lot for t in brew.liquid.starters if t.source is not None), None)
        out.append(
            Brewed(
                day=links.day_of(brew.pitched_at),
                mean_c=float(warmth.course_of(brew).at(np.linspace(0, days, 40)).mean()),
                starter_age_days=days_between(lot.made_at, brew.pitched_at) if lot is not None else None,
                honey_share=brew.honey_share,
                leaf_g_per_l=brew.leaf_g_per_l,
            )
        )
    return out


def backups_of(session: Session, culture: Culture, now: datetime) -> Backups:
    """Count a line's backups."""
    key = ("backups", culture.id, now.date())
    return remembered(session, key, lambda: quarantine.backups_of(session, culture, now))


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


def summaries(session: Session, now: datetime) -> list[Summary]:
    """List the lines in few questions, those that live first."""
    standing, lots = queries.standing_brews(session), culture_queries.starter_lots(session)
    counted = dict(session.execute(select(Brew.culture_id, func.count()).group_by(Brew.culture_id)).all())
    query = select(Culture).options(selectinload(Culture.conversions))
    out = []
    for culture in session.scalars(query.order_by(Culture.started_at, Culture.id)):
        alive = [b for b in standing if b.culture_id == culture.id]
        litres = sum(b.left_l for b in alive) + sum(lot.left_l for lot in lots if lot.culture_id == culture.id)
        out.append(Summary(culture, alive, litres, counted.get(culture.id, 0), backups_of(session, culture, now)))
    return sorted(out, key=lambda row: row.over)


@dataclass(frozen=True, slots=True)
class ComparedSide:
    """A line, or one disc of it, as it may be compared."""

    name: str
    diet: str
    measured: int  #: So many of its brews were measured.
    culture_id: int
    disc_id: int | None = None  #: None: the whole line.


def side_of(session: Session, compared: ComparedSide, recipe: Recipe) -> Side:
    """Put what is compared under the conditions of both."""
    brews = measured(session, queries.get(session, Culture, compared.culture_id))[::-1]
    own = [brew for brew in brews if compared.disc_id in {None, brew.disc_id}]
    return side_by_side.side(compared.name, compared.diet, _taught(own[: forecasting.PAST_BREWS]), recipe)


def _taught(brews: Sequence[Brew]) -> list[Posterior]:
    """List what brews taught: those that ended as it is kept, those that stand as now."""
    session = object_session(brews[0]) if brews else None
    kept = lessons.by_brew(session, [brew.id for brew in brews]) if session is not None else {}
    rows = [
        forecasting.posterior_of(brew) if brew.alive else forecasting.taught_by(kept[brew.id])
        for brew in brews
        if brew.alive or brew.id in kept
    ]
    return [one for one in rows if one is not None]


def sources(session: Session) -> dict[str, ComparedSide]:
    """List what can be compared, by key: every line, and every disc with measured brews of its own."""
    counts = culture_queries.measured_counts(session)
    out: dict[str, ComparedSide] = {}
    for culture in culture_queries.cultures(session):
        own = {disc: count for (line, disc), count in counts.items() if line == culture.id}
        out[f"line-{culture.id}"] = ComparedSide(culture.name, culture.diet, sum(own.values()), culture.id)
        for disc, name in culture_queries.names_of_discs(session, [disc for disc in own if disc is not None]):
            out[f"disc-{disc}"] = ComparedSide(f"{name} ({culture.name})", culture.diet, own[disc], culture.id, disc)
    return out


def most_brewed(found: Mapping[str, ComparedSide]) -> list[str]:
    """List the keys of lines, that of which most was measured first."""
    return sorted((key for key in found if key.startswith("line-")), key=lambda key: -found[key].measured)


def outside_of(session: Session, nodes: set[Node]) -> list[Gift]:
    """List gifts of these things that left the house, newest first."""
    query = select(Gift).where(Gift.outward).options(joinedload(Gift.disc), joinedload(Gift.culture))
    gifts = session.scalars(query.order_by(Gift.at.desc()))
    return [gift for gift in gifts if ("disc", gift.disc_id) in nodes or ("lot", gift.lot_id) in nodes]
