"""What it came to, from the records: by month and year, brew, litre and flavour, at the household's own prices."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta

from sqlalchemy.orm import Session

from ...core.base.kinds import BrewStatus
from ...core.liquid import Way
from ...core.supply.goods import of_own_name
from ...core.supply.money import HEATED_K, HEATED_SHARE, Period, heating_kwh, spread
from ...core.supply.stock import OTHER_USE, Spent
from ...core.tapped import heater
from ...store.read import queries, supply_queries, used_up
from ...store.read.moments import days_between
from ...store.read.used_up import Days
from ...store.records import Brew, Standing
from ..bottles.flavours import name_in_ranking
from ..forecast.warmth import usual_celsius
from .cupboard import GoodKey, accounts, known_goods, of_flavour, of_tea

BREWS_SHOWN = 12
FLAVOURS_SHOWN = 12
LEAST_UNPRICED = 1e-6  #: [g or pieces]
TO_DRINK = (Way.BOTTLED, Way.INFUSED, Way.DRUNK, Way.GIVEN)
LOST_WAYS = (Way.LOST, Way.DISCARDED, Way.GONE, Way.LEFT_OVER)


def month_of(day: date) -> str:
    """Return a day's month as it is written in accounts."""
    return f"{day:%Y-%m}"


def months_back(last: date, count: int) -> list[str]:
    """List months up to a day's, the oldest first."""
    out, year, month = [], last.year, last.month
    for _ in range(count):
        out.append(f"{year:04d}-{month:02d}")
        year, month = (year - 1, 12) if month == 1 else (year, month - 1)
    return out[::-1]


def span_of(month: str) -> tuple[datetime, datetime]:
    """Return when a month begins and ends."""
    year, number = map(int, month.split("-"))
    begins = datetime(year, number, 1, tzinfo=UTC)
    return begins, datetime(year + number // 12, number % 12 + 1, 1, tzinfo=UTC)


@dataclass(frozen=True, slots=True)
class MonthCost:
    """What one month came to."""

    month: str
    period: Period
    by_kind: Mapping[str, float] = field(default_factory=dict)  #: Money by kind of good.

    @property
    def first(self) -> date:
        """Its first day."""
        return span_of(self.month)[0].date()


def by_month(session: Session, now: datetime, count: int = 12) -> list[MonthCost]:
    """Return what each of the last months came to, the oldest first."""
    months, price = months_back(now.date(), count), queries.household_of(session).power_price
    begins = span_of(months[0])[0]
    energy, lasting, passed = _energy(session, now, begins), supply_queries.lasting_bought(session), supply_queries.passed_by(session, begins)
    drunk: dict[str, float] = defaultdict(float)
    for row in supply_queries.drinks(session, begins, now):
        drunk[month_of(row.at.date())] += row.litres
    out = []
    for month in months:
        ways = {how: litres for (at, how), litres in passed.items() if at == month}
        lost = sum(ways.get(way, 0.0) for way in LOST_WAYS) - max(0.0, drunk[month] - ways.get(Way.DRUNK, 0.0))
        kinds, unpriced = _goods_of(session, month, now)
        first = span_of(month)[0]
        bears = sum(spread(money, (first.year - day.year) * 12 + first.month - day.month) for day, money in lasting)
        period = Period(
            goods=sum(kinds.values()), energy=None if price is None else price * energy.get(month, 0.0), lasting=bears, unpriced=unpriced,
            drunk_l=drunk[month], given_l=ways.get(Way.GIVEN, 0.0), lost_l=max(0.0, lost),
        )  # fmt: skip
        out.append(MonthCost(month, period, kinds))
    return out


def _goods_of(session: Session, month: str, now: datetime) -> tuple[dict[str, float], tuple[str, ...]]:
    """Return what the goods used in a month cost, by kind, and the names of what had no price."""
    found, known = accounts(session, now), known_goods(session)
    kinds: dict[str, float] = defaultdict(float)
    unpriced = set()
    for key, one in found.items():
        for spent in (spent for by, spent in one.spent.items() if by.startswith(month)):
            kinds[key[0]] += spent.money
            if spent.unpriced > LEAST_UNPRICED:
                unpriced.add((known.get(key) or of_own_name(key[1])).name)
    return dict(kinds), tuple(sorted(unpriced))


def together(months: Iterable[MonthCost]) -> Period:
    """Add months up."""
    some = [one.period for one in months]
    energy = [one.energy for one in some if one.energy is not None]
    return Period(
        goods=sum(one.goods for one in some), energy=sum(energy) if energy else None, lasting=sum(one.lasting for one in some),
        unpriced=tuple(sorted({name for one in some for name in one.unpriced})),
        drunk_l=sum(one.drunk_l for one in some), given_l=sum(one.given_l for one in some), lost_l=sum(one.lost_l for one in some),
    )  # fmt: skip


def _energy(session: Session, now: datetime, first: datetime) -> dict[str, float]:
    """Return what heating water and holding vessels warm took since a moment, by month. [kWh]"""
    out: dict[str, float] = defaultdict(float)
    for use in used_up.tea_uses(session, Days(first.date())):
        out[month_of(use.day)] += heating_kwh(use.litres * HEATED_SHARE, HEATED_K)
    for standing in supply_queries.heated(session, first):
        _hold(out, standing, max(standing.since, first), min(standing.until or now, now))
    return out


def _hold(out: dict[str, float], standing: Standing, begins: datetime, ends: datetime) -> None:
    """Add what a heater took between two moments, month by month."""
    vessel, at = standing.vessel, begins
    while at < ends and vessel is not None and standing.heater_c is not None:
        last = min(ends, span_of(month_of(at.date()))[1])
        room = usual_celsius(standing.place, at + (last - at) / 2)
        out[month_of(at.date())] += heater.holding(vessel.usable_l, standing.heater_c, room, vessel.heater_w or heater.USUAL_W).kwh_a_day * days_between(at, last)
        at = last


@dataclass(frozen=True, slots=True)
class BrewCost:
    """What one brew came to."""

    brew: Brew
    money: float  #: Of what had a price. [the household's money]
    unpriced: tuple[str, ...]
    drinkable_l: float  #: Bottled, drunk or given; starter and what was lost bear nothing. [L]

    @property
    def has_price(self) -> bool:
        """Whether anything in it had a price."""
        return self.money > 0

    @property
    def per_litre(self) -> float | None:
        """By litre to drink; None: there was none, or it is not harvested yet."""
        over = self.brew.runs or self.brew.status == BrewStatus.HARVESTED
        return self.money / self.drinkable_l if over and self.drinkable_l > 0 else None


def brews(session: Session, now: datetime, most: int = BREWS_SHOWN) -> list[BrewCost]:
    """Return what the last brews came to: tea and sweetener at their month's price. The newest first."""
    return [one for one in _costs_of(session, supply_queries.harvested_brews(session, most), now) if one.money > 0 or one.unpriced]


def _costs_of(session: Session, rows: Sequence[Brew], now: datetime) -> list[BrewCost]:
    used = used_up.tea_uses(session, Days(), [brew.id for brew in rows])
    went = supply_queries.went_of(session, [brew.liquid_id for brew in rows])
    out = []
    for brew in rows:
        money, unpriced = priced(session, [(use.day, of_tea(use)) for use in used if use.brew_id == brew.id], "brews", now)
        drinkable = sum(went.get((brew.liquid_id, way), 0.0) for way in TO_DRINK)
        if drinkable <= 0 and brew.status == BrewStatus.HARVESTED:
            drinkable = went.get((brew.liquid_id, Way.LEFT_OVER), 0.0)
        out.append(BrewCost(brew, money, unpriced, drinkable))
    return out


def priced(session: Session, rows: Iterable[tuple[date, Mapping[GoodKey, float]]], what: str, now: datetime) -> tuple[float, tuple[str, ...]]:
    """Return what some uses cost at their month's own price, and the names of what has none."""
    found, known = accounts(session, now), known_goods(session)
    money, unpriced = 0.0, set()
    for day, amounts in rows:
        for key, amount in amounts.items():
            spent = found[key].spent.get(f"{month_of(day)} {what}", Spent()) if key in found else Spent()
            if spent.price is None:
                unpriced.add((known.get(key) or of_own_name(key[1])).name)
            else:
                money += amount * (spent.money / spent.amount)
    return money, tuple(sorted(unpriced))


@dataclass(frozen=True, slots=True)
class FlavourCost:
    """What a litre of a flavour came to."""

    name: str
    litres: float  #: Filled. [L]
    per_litre: float  #: Flavour, priming and its brew together. [the household's money]
    unpriced: tuple[str, ...]

    @property
    def has_price(self) -> bool:
        """Whether a price is known of anything that went into it."""
        return self.per_litre > 0


def flavours(session: Session, now: datetime) -> list[FlavourCost]:
    """Return what each flavour filled over the last year came to by the litre, the dearest first."""
    fillings = supply_queries.fillings_since(session, now - timedelta(days=365))
    used = used_up.flavour_uses(session, Days(), [filling.liquid_id for filling in fillings])
    base = {one.brew.id: one for one in _costs_of(session, list({one.brew_id: one.brew for one in fillings}.values()), now)}
    filled = supply_queries.put_into(session, [filling.liquid_id for filling in fillings])
    sums: dict[str, list[float]] = defaultdict(lambda: [0.0, 0.0])
    missing: dict[str, set[str]] = defaultdict(set)
    for filling in fillings:
        name, litres = name_in_ranking(filling), filled[filling.liquid_id]
        money, unpriced = priced(session, [(use.day, of_flavour(use)) for use in used if use.liquid_id == filling.liquid_id], "flavours", now)
        brewed = base.get(filling.brew_id)
        sums[name][0] += litres
        sums[name][1] += money + litres * ((brewed.per_litre or 0.0) if brewed is not None else 0.0)
        missing[name] |= {*unpriced, *(brewed.unpriced if brewed is not None else ())}
    rows = [FlavourCost(name, litres, money / litres, tuple(sorted(missing[name]))) for name, (litres, money) in sums.items() if litres > 0]
    return sorted(rows, key=lambda one: -one.per_litre)[:FLAVOURS_SHOWN]


def other_use(session: Session, now: datetime) -> float:
    """Return what counts of the last year found missing. [the household's money]"""
    return sum(one.spent[OTHER_USE].money for one in accounts(session, now).values() if OTHER_USE in one.spent)


def shop_per_litre(session: Session) -> float | None:
    """Return the shop's price of a litre; None: nobody said. [the household's money]"""
    house = queries.household_of(session)
    return None if house.shop_price is None or not house.shop_ml else house.shop_price / house.shop_ml * 1000
