"""How much is drunk, of which flavour, what stands ready, and when it runs out."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from ...core.base.kinds import BottleState
from ...core.bottles.room import filled_l
from ...core.supply import Pace, pace, shares
from ...core.supply.ahead import WishAhead
from ...store.read import queries, supply_queries
from ...store.read.memory import remembered
from ...store.read.moments import days_between
from ...store.records import Bottle, Wished
from ..bottles.flavours import name_in_ranking

LOOK_BACK_DAYS = 180.0  #: What was drunk longer ago hardly counts: a three-hundredth. [d]
LONG_DAYS = 365.0  #: What lasts a year does not run out: no day is worth telling. [d]
SOON_DAYS = 21.0  #: What runs out within three weeks is worth a word on the round (assumed). [d]
HALF_UNIT, MUCH_UNITS = 0.5, 10.0  #: So finely a week's drink is said, and from so many on in whole ones.
PLAIN = "Plain, from the vessel"


@dataclass(frozen=True, slots=True)
class Drunk:
    """What is drunk, as far as is known."""

    drinks: tuple[tuple[float, float, str], ...]  #: Days ago, litres, flavour. [d, L]
    known_days: float | None  #: Since the first drink; None: nothing was ever drunk. [d]

    @property
    def pace(self) -> Pace:
        """Litres a week, with their doubt."""
        return pace([(days, litres) for days, litres, _ in self.drinks], self.known_days)

    @property
    def litres_lately(self) -> float:
        """What was drunk in the last four weeks. [L]"""
        return sum(litres for days, litres, _ in self.drinks if days <= 28)

    def by_flavour(self, liked: Sequence[str]) -> dict[str, Pace]:
        """Return how much of each flavour is drunk, as its share of all. Only bottles have a flavour that can run out."""
        rows: dict[str, list[tuple[float, float]]] = defaultdict(list)
        for days, litres, flavour in self.drinks:
            rows[flavour].append((days, litres))
        whole = self.pace
        return {name: whole.of(share) for name, share in shares(rows, liked).items()}


def drunk(session: Session, now: datetime) -> Drunk:
    """Return what was drunk: bottles, glasses and jugs, harvests of which nothing was bottled. Not what was given, lost or kept as vinegar."""
    day = now.replace(minute=0, second=0, microsecond=0)
    return remembered(session, ("drunk", day), lambda: _drunk(session, now))


def _drunk(session: Session, now: datetime) -> Drunk:
    rows = supply_queries.drinks(session, now - timedelta(days=LOOK_BACK_DAYS), now)
    numbers = sorted({row.filling_id for row in rows if row.filling_id is not None})
    names = {filling.id: name_in_ranking(filling) for filling in supply_queries.fillings_by_number(session, numbers)}
    first = supply_queries.first_drink(session)
    drinks = tuple((max(0.0, days_between(row.at, now)), row.litres, names.get(row.filling_id or 0, PLAIN)) for row in rows)
    return Drunk(drinks, None if first is None else max(0.0, days_between(first, now)))


@dataclass(frozen=True, slots=True)
class RunsOut:
    """How long what stands of a flavour lasts."""

    name: str
    bottles: int
    litres: float  #: [L]
    early_at: datetime
    likely_at: datetime
    late_at: datetime
    soon: bool  #: Within a year: only then a day is worth telling.


def runs_out(session: Session, standing: Sequence[Bottle], now: datetime) -> list[RunsOut]:
    """List when each flavour that stands in bottles runs out, the soonest first."""
    stock: dict[str, list[float]] = defaultdict(list)
    for bottle in standing:
        stock[name_in_ranking(bottle.bottling)].append(filled_l(bottle.volume_ml, bottle.headspace_fraction))
    paces = drunk(session, now).by_flavour(list(stock))
    out = []
    for name, litres in stock.items():
        early, likely, late = paces[name].lasts_days(sum(litres))
        at = [now + timedelta(days=min(days, 3650)) for days in (early, likely, late)]
        out.append(RunsOut(name, len(litres), sum(litres), at[0], at[1], at[2], likely <= LONG_DAYS))
    return sorted(out, key=lambda one: one.likely_at)


def stock_l(session: Session) -> float:
    """Return the litres that stand cold and ready in bottles. [L]"""
    cold = queries.bottles(session, BottleState.COLD)
    return sum(filled_l(one.volume_ml, one.headspace_fraction) for one in cold)


def wishes_ahead(session: Session, now: datetime) -> list[Wished]:
    """List the wishes that are not over."""
    today = now.date()
    return [row for row in supply_queries.open_wishes(session) if (row.until or row.day) >= today]


def as_wishes(rows: Sequence[Wished], now: datetime) -> list[WishAhead]:
    """Count wishes in days from now. [d]"""
    today = now.date()
    out = []
    for row in rows:
        last = None if row.until is None else float((row.until - today).days)
        out.append(WishAhead(float((row.day - today).days), row.litres, last))
    return out


def said_a_week(litres: float, unit_l: float = 1.0) -> float:
    """Return an amount as people say it: to half a unit, a large one to a whole one. `unit_l`: a litre, or a quart. [L]"""
    step = HALF_UNIT if litres < MUCH_UNITS * unit_l else 1.0
    return max(step, round(litres / unit_l / step) * step) * unit_l
