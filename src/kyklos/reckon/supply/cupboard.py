"""What is in the cupboard, what the days to come take of it, what goes on the list, and what each use cost."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta

from sqlalchemy.orm import Session

from ...core.base.facts import SWEETENERS
from ...core.bottles.park import USUAL_CLOSURE
from ...core.brewing import BrewPlan
from ...core.liquid import teas
from ...core.liquid.pouring import Added
from ...core.supply.goods import LASTING, Good, GoodKind, good, goods, of_ingredient, of_own_name
from ...core.supply.shopping import GoodNeed, needs_of, pack_of
from ...core.supply.stock import Account, Happened, StockEntry, account
from ...store.read import culture_queries, ingredients, planning_queries, queries, supply_queries, used_up
from ...store.read.memory import remembered
from ...store.read.used_up import Days, FlavourUse, TeaUse
from ...store.records import Addition, Bottling, Brew, Calibration, CupboardCount, ListItem, Purchase, Reading
from ..brewing import brew_days

GoodKey = tuple[GoodKind, str]
MADE_OF = (Addition, Bottling, Brew, Calibration, CupboardCount, Purchase, Reading)
MONTHS_FOLLOWED = 13  #: [months]
LEAST_LEFT = 1e-9  #: An account that begins with nothing. [g or pieces]
EARLIER = "0000-00 earlier"
HOTEL_TEA = ("black", 5.0, 60.0)  #: A hotel's sweet tea where nobody said: tea, leaf and sugar (assumed). [-, g/L, g/L]
DAYS_A_MONTH, LATELY_MONTHS = 30, 3  #: Where nothing is planned, so many months tell what a month takes.
AHEAD_DAYS = 28  #: The list looks so far ahead. [d]
STALE_DAYS = 30  #: Best before within a month is said. [d]


def known_goods(session: Session) -> dict[GoodKey, Good]:
    """Return all goods by kind and key, the household's own ingredients too."""
    own = {(GoodKind.INGREDIENT, row.key): of_ingredient(row.as_ingredient) for row in ingredients.own(session, retired=True)}
    return {**{(one.kind, one.key): one for one in goods()}, **own}


def good_of(session: Session, kind: str, key: str) -> Good:
    """Return a good by its kind and key; one that is not known any more by its name alone."""
    found = known_goods(session).get((GoodKind(kind), key))
    return found if found is not None else good(GoodKind.OTHER, key)


def of_tea(use: TeaUse) -> dict[GoodKey, float]:
    """Return what sweet tea took of leaf and sweetener. [g]"""
    out: dict[GoodKey, float] = defaultdict(float)
    for key, share in teas.parts_of(teas.from_text(use.tea)):
        out[GoodKind.TEA, key] += use.leaf_g * share
    shares = use.sweeteners or (("sugar", 1 - use.honey_share), ("honey", use.honey_share))
    for key, share in shares:
        if share > 0 and key in SWEETENERS:
            out[GoodKind.SWEETENER, key] += use.sugars_g * share / SWEETENERS[key].sugars
    return out


def of_flavour(use: FlavourUse) -> dict[GoodKey, float]:
    """Return what a filling or jar took of an ingredient, or of sugar. [g]"""
    key = (GoodKind.SWEETENER, "sugar") if use.what == Added.SUGAR else (GoodKind.INGREDIENT, use.name)
    return {key: use.grams}


def of_plan(plan: BrewPlan) -> dict[GoodKey, float]:
    """Return what a planned brew takes. [g]"""
    out: dict[GoodKey, float] = {(GoodKind.SWEETENER, key): grams for key, grams in plan.made.sweeteners if grams > 0}
    for key, share in teas.parts_of(plan.ask.card.tea):
        out[GoodKind.TEA, key] = out.get((GoodKind.TEA, key), 0.0) + plan.made.leaf_g * share
    return out


def uses(session: Session, days: Days) -> dict[GoodKey, list[tuple[date, float, str]]]:
    """List what was used of each good: day, amount, what for."""
    out: dict[GoodKey, list[tuple[date, float, str]]] = defaultdict(list)
    for tea_use in used_up.tea_uses(session, days):
        _add(out, of_tea(tea_use), tea_use.day, "brews")
    tea, leaf, sugar = HOTEL_TEA
    for day, litres in used_up.hotel_uses(session, days):
        _add(out, {(GoodKind.TEA, tea): litres * leaf, (GoodKind.SWEETENER, "sugar"): litres * sugar}, day, "hotel")
    for flavour_use in used_up.flavour_uses(session, days):
        _add(out, of_flavour(flavour_use), flavour_use.day, "flavours")
    for day, count in used_up.capped(session, days, USUAL_CLOSURE, "crown"):
        _add(out, {(GoodKind.SUPPLY, "crown-cap"): float(count)}, day, "bottles")
    for day, count in used_up.strips_read(session, days):
        _add(out, {(GoodKind.SUPPLY, "ph-strip"): float(count)}, day, "readings")
    for day, seven, four in used_up.buffers_used(session, days):
        _add(out, {(GoodKind.SUPPLY, "buffer-7"): float(seven), (GoodKind.SUPPLY, "buffer-4"): float(four)}, day, "readings")
    return out


def _add(out: dict[GoodKey, list[tuple[date, float, str]]], amounts: Mapping[GoodKey, float], day: date, what: str) -> None:
    for key, amount in amounts.items():
        if amount > 0:
            out[key].append((day, amount, what))


def horizon_of(now: datetime) -> date:
    """Return from when on accounts are followed day by day: the first of a month, thirteen months ago. What was before is one sum."""
    months = now.year * 12 + now.month - 1 - MONTHS_FOLLOWED
    return date(months // 12, months % 12 + 1, 1)


def accounts(session: Session, now: datetime) -> Mapping[GoodKey, Account]:
    """Return each good over the last year: what is left, and what each use cost, by month and what for."""
    begins = horizon_of(now)
    return remembered(session, ("accounts", begins), lambda: _accounts(session, begins), MADE_OF)


def _accounts(session: Session, begins: date) -> dict[GoodKey, Account]:
    if not supply_queries.keeps_account(session):
        return {}
    entries: dict[GoodKey, list[StockEntry]] = defaultdict(list)
    for row in _openings(session, begins):
        entries[row[0]] += row[1]
    for kind, key, day, amount, price in supply_queries.purchases_since(session, begins):
        if kind not in LASTING:
            entries[GoodKind(kind), key].append(StockEntry(day=day, what=Happened.BOUGHT, amount=amount, price=price))
    for kind, key, day, amount in supply_queries.counts_since(session, begins):
        entries[GoodKind(kind), key].append(StockEntry(day=day, what=Happened.COUNTED, amount=amount))
    for good_key, rows in uses(session, Days(begins)).items():
        entries[good_key] += [StockEntry(day=day, what=Happened.USED, amount=amount, by=f"{day:%Y-%m} {what}") for day, amount, what in rows]
    return {key: account(some) for key, some in entries.items()}


def _openings(session: Session, begins: date) -> list[tuple[GoodKey, list[StockEntry]]]:
    """Return what was there of each good when the followed months began, at the price it was last bought for then."""
    before = [row for row in supply_queries.goods_before(session, begins) if row.kind not in LASTING]
    used = {day: uses(session, Days(day, begins, whole=True)) for day in {row.begins for row in before}}
    out = []
    for row in before:
        key = (GoodKind(row.kind), row.key)
        left = row.counted + row.bought - sum(amount for _, amount, _ in used[row.begins].get(key, ()))
        made = [StockEntry(day=begins, what=Happened.BOUGHT, amount=max(left, LEAST_LEFT), price=None if row.price is None else row.price * max(left, 0.0))]
        if left < 0:
            made.append(StockEntry(day=begins, what=Happened.USED, amount=-left, by=EARLIER))
        out.append((key, made))
    return out


@dataclass(frozen=True, slots=True)
class InCupboard:
    """A good in the cupboard."""

    good: Good
    account: Account
    best_before: date | None = None  #: Of its newest purchase, where that is near.

    @property
    def left(self) -> float:
        """What is there. [g or pieces]"""
        return self.account.in_the_cupboard


def cupboard(session: Session, now: datetime) -> list[InCupboard]:
    """List what the household ever bought or counted, by kind and name."""
    known, found = known_goods(session), accounts(session, now)
    near = {(GoodKind(row.kind), row.key): row.best_before for row in supply_queries.best_befores(session, now.date() + timedelta(days=STALE_DAYS))}
    order = list(GoodKind)
    rows = [InCupboard(known.get(key) or of_own_name(key[1]), one, near.get(key)) for key, one in found.items() if one.tracked]
    return sorted(rows, key=lambda one: (order.index(one.good.kind), one.good.name))


@dataclass(frozen=True, slots=True)
class ToBuy:
    """A line of the shopping list."""

    good: Good
    amount: float  #: [g or pieces]
    why: str  #: In words; empty: somebody wrote it down.
    item: ListItem | None = None
    price: float | None = None  #: What it cost last time, for so much. [the household's money]


def days_ahead(session: Session, now: datetime) -> list[dict[GoodKey, float]]:
    """List what the brews to come take, in order of time: as planned, or else the next one, and as much a month as lately."""
    if not culture_queries.cultures(session):
        return []
    until = now.date() + timedelta(days=AHEAD_DAYS)
    planned = [row for row in planning_queries.planned_days(session) if row.kind != "harvest" and row.day <= until]
    plans = {row.vessel_id: brew_days.usual_plan(session, row.vessel, now) for row in {one.vessel_id: one for one in planned}.values()}
    if planned:
        return [_scaled(plans[row.vessel_id], row.litres) for row in planned]
    first = [of_plan(brew_days.usual_plan(session, vessel, now)) for vessel in brew_days.brewing_vessels(session)[:1]]
    return [*first, *({key: max(0.0, amount - one.get(key, 0.0)) for key, amount in _lately(session, now).items()} for one in first)]


def _lately(session: Session, now: datetime) -> dict[GoodKey, float]:
    """Return what brews took a month, on the mean of this one and the two before. [g]"""
    months = {f"{now - timedelta(days=DAYS_A_MONTH * back):%Y-%m} brews" for back in range(LATELY_MONTHS)}
    sums = {key: sum(spent.amount for by, spent in one.spent.items() if by in months) for key, one in accounts(session, now).items()}
    return {key: amount / LATELY_MONTHS for key, amount in sums.items() if amount > 0}


def _scaled(plan: BrewPlan, litres: float | None) -> dict[GoodKey, float]:
    """Return what a brew of so much takes. [L]"""
    share = 1.0 if litres is None else litres / max(plan.final_l, 1e-6)
    return {key: grams * share for key, grams in of_plan(plan).items()}


def needs(session: Session, now: datetime) -> list[GoodNeed]:
    """List what the brews to come take of each good, against what is there."""
    found = accounts(session, now)
    there = {key: one.in_the_cupboard for key, one in found.items()}
    return needs_of(days_ahead(session, now), there, known_goods(session))


def low(session: Session, now: datetime) -> list[GoodNeed]:
    """List goods of which there is less than the next brew takes; only those that the household keeps account of."""
    found = accounts(session, now)
    return [one for one in needs(session, now) if one.low and found.get((one.good.kind, one.good.key), Account()).tracked]


def shopping_list(session: Session, now: datetime) -> list[ToBuy]:
    """List what to buy: what somebody wrote down, what the brews to come lack, what is used up."""
    known, found = known_goods(session), accounts(session, now)
    out = {(GoodKind(row.kind), row.key): ToBuy(known.get((GoodKind(row.kind), row.key)) or of_own_name(row.key), row.amount, "", row) for row in supply_queries.open_items(session)}
    lacking = [(need.good, need.missing, "for the brews to come") for need in needs(session, now) if need.missing > 0 and _bought_before(found, need.good)]
    ended = [(known[key], 1.0, "used up") for key, one in found.items() if key[0] is GoodKind.SUPPLY and one.tracked and one.in_the_cupboard <= 0]
    us, packs = queries.household_of(session).units == "us", supply_queries.last_packs(session)
    for one, missing, why in (*lacking, *ended):
        usual = packs.get((str(one.kind), one.key))
        amount = pack_of(one, missing, us=us, usual=None if usual is None else usual[0])
        out.setdefault((one.kind, one.key), ToBuy(one, amount, why))
    order = list(GoodKind)
    priced = (replace(one, price=_price(packs, one)) for one in out.values())
    return sorted(priced, key=lambda one: (order.index(one.good.kind), one.good.name))


def _bought_before(found: Mapping[GoodKey, Account], one: Good) -> bool:
    """Return whether a good belongs on the list: it was bought or counted once, or nothing at all was bought yet."""
    account = found.get((one.kind, one.key))
    return (account is not None and account.tracked) or not any(row.tracked for row in found.values())


def _price(packs: Mapping[tuple[str, str], tuple[float, float | None]], line: ToBuy) -> float | None:
    usual = packs.get((str(line.good.kind), line.good.key))
    return None if usual is None or usual[1] is None else usual[1] * line.amount / usual[0]


def totals(rows: Iterable[Mapping[GoodKey, float]]) -> dict[GoodKey, float]:
    """Add up what some brews take."""
    out: dict[GoodKey, float] = defaultdict(float)
    for row in rows:
        for key, amount in row.items():
            out[key] += amount
    return dict(out)


def money_of(session: Session, amounts: Mapping[GoodKey, float], now: datetime) -> float | None:
    """Return what some goods would cost as bought last; None: no price is known. [the household's money]"""
    found = accounts(session, now)
    prices = {key: found[key].last_price for key in amounts if key in found}
    known = [amounts[key] * price for key, price in prices.items() if price is not None]
    return sum(known) if known else None
