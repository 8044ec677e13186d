"""Enough to drink: what is bought and counted, the shopping list, wishes and guests, the plan put in the almanac, prices."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..core.base import marked
from ..core.quick.wishes import LONGEST_DAYS, WISHES
from ..core.supply.goods import KIND_NAMES, Good, GoodKind
from ..reckon.supply.cupboard import good_of
from ..store.read import planning_queries, queries
from ..store.records import CupboardCount, Household, ListItem, PlannedDay, Purchase, Vessel, Wished
from .base import Checks, Done, action, check_version, flushed

MOST_AMOUNT = 1e6  #: [g or pieces]
MOST_PRICE = 1e5
LONGEST_NAME = 60
BACK_DAYS = 3650  #: Longer ago nothing was bought. [d]
MOST_WISHED_L = 200.0  #: On one day. [L]


@dataclass(frozen=True, slots=True, kw_only=True)
class Buy:
    """Something that was bought."""

    kind: str  #: A GoodKind
    key: str
    amount: float  #: [g or pieces]
    price: float | None = None  #: Of all of it; None: not said.
    day: date | None = None  #: Today, unless given.
    best_before: date | None = None


def _checked(checks: Checks, kind: str, key: str, amount: float, *, least: float) -> None:
    checks.refuse_if(kind not in set(GoodKind), "line", "Choose what it is.")
    checks.refuse_if(not key.strip() or len(key) > LONGEST_NAME, "line", f"Give it a name of up to {LONGEST_NAME} letters.")
    checks.refuse_if(not least <= amount <= MOST_AMOUNT, "line", f"How much? Like {marked(500.0, 'mass')} or 25 bags.")


def amount_word(one: Good, amount: float) -> str:
    """Put an amount of a good into words, its grams marked so that they are said in the household's units."""
    return f"{amount:g}" if one.by_piece else marked(amount, "mass")


@action
def buy(session: Session, ask: Buy, at: datetime) -> Done:
    """Write down a purchase."""
    return write_purchase(session, ask, at)


def write_purchase(session: Session, ask: Buy, at: datetime) -> Done:
    """Write a purchase within another action."""
    checks, day = Checks(), ask.day or at.date()
    _checked(checks, ask.kind, ask.key, ask.amount, least=1e-3)
    checks.between(ask.price, "price", 0.0, MOST_PRICE, "A price of")
    checks.refuse_if(day > at.date() + timedelta(days=1), "day", "That day is still to come.")
    checks.refuse_if((at.date() - day).days > BACK_DAYS, "day", "That is longer ago than ten years.")
    checks.refuse_if(ask.best_before is not None and ask.best_before < day - timedelta(days=BACK_DAYS), "best_before", "That is long past.")
    checks.done()
    row = Purchase(kind=ask.kind, key=ask.key.strip(), amount=ask.amount, price=ask.price, day=day, best_before=ask.best_before, at=at)
    one = good_of(session, ask.kind, row.key)
    return Done(f"Bought {amount_word(one, ask.amount)} {one.name}.", {"purchase": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class CorrectPurchase:
    """A purchase as it really was."""

    purchase_id: int
    amount: float  #: [g or pieces]
    price: float | None
    day: date
    best_before: date | None = None
    version: int | None = None


@action
def correct_purchase(session: Session, ask: CorrectPurchase, at: datetime) -> Done:
    """Put a purchase right."""
    row, checks = queries.get(session, Purchase, ask.purchase_id), Checks()
    check_version(ask.version, row.version, "The purchase")
    checks.refuse_if(not 1e-3 <= ask.amount <= MOST_AMOUNT, "amount", f"How much? Like {marked(500.0, 'mass')} or 25 bags.")
    checks.between(ask.price, "price", 0.0, MOST_PRICE, "A price of")
    checks.refuse_if(ask.day > at.date() + timedelta(days=1), "day", "That day is still to come.")
    checks.done()
    row.amount, row.price, row.day, row.best_before = ask.amount, ask.price, ask.day, ask.best_before
    return Done(f"{good_of(session, row.kind, row.key).name}: put right.")


@dataclass(frozen=True, slots=True, kw_only=True)
class DropPurchase:
    """A purchase that never was."""

    purchase_id: int


@action
def drop_purchase(session: Session, ask: DropPurchase, at: datetime) -> Done:
    """Take a purchase out; what was ticked off the list stands on it again."""
    row = queries.get(session, Purchase, ask.purchase_id)
    name = good_of(session, row.kind, row.key).name
    for item in session.scalars(select(ListItem).where(ListItem.purchase_id == row.id)):
        item.purchase_id, item.ended_at = None, None
    session.flush()
    session.delete(row)
    return Done(f"{name}: not bought.")


@dataclass(frozen=True, slots=True, kw_only=True)
class CountGood:
    """How much of a good is in the cupboard."""

    kind: str
    key: str
    amount: float  #: [g or pieces]
    day: date | None = None


@action
def count_good(session: Session, ask: CountGood, at: datetime) -> Done:
    """Set right what is in the cupboard; the difference is other use."""
    return write_count(session, ask, at)


def write_count(session: Session, ask: CountGood, at: datetime) -> Done:
    """Write a count within another action."""
    checks = Checks()
    _checked(checks, ask.kind, ask.key, ask.amount, least=0.0)
    checks.done()
    row = CupboardCount(kind=ask.kind, key=ask.key.strip(), amount=ask.amount, day=ask.day or at.date(), at=at)
    one = good_of(session, ask.kind, row.key)
    return Done(f"{one.name}: {amount_word(one, ask.amount)} counted.", {"count": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class PutOnList:
    """Something to be bought."""

    kind: str
    key: str
    amount: float  #: [g or pieces]


@action
def put_on_list(session: Session, ask: PutOnList, at: datetime) -> Done:
    """Write something on the shopping list."""
    checks = Checks()
    _checked(checks, ask.kind, ask.key, ask.amount, least=1e-3)
    checks.done()
    there = session.scalars(select(ListItem).where(ListItem.kind == ask.kind, ListItem.key == ask.key, ListItem.ended_at.is_(None))).first()
    one = good_of(session, ask.kind, ask.key)
    if there is not None:
        there.amount = ask.amount
        return Done(f"{one.name}: {amount_word(one, ask.amount)} on the list.", {"item": there.id})
    made = flushed(session, ListItem(kind=ask.kind, key=ask.key.strip(), amount=ask.amount, at=at))
    return Done(f"{one.name} is on the list.", {"item": made})


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeOffList:
    """Something that is not wanted any more."""

    item_id: int


@action
def take_off_list(session: Session, ask: TakeOffList, at: datetime) -> Done:
    """Take something off the shopping list without buying it."""
    row = queries.get(session, ListItem, ask.item_id)
    row.ended_at = at
    return Done(f"{good_of(session, row.kind, row.key).name} is off the list.")


@dataclass(frozen=True, slots=True, kw_only=True)
class TickOff:
    """A line of the list that is in the basket."""

    kind: str
    key: str
    amount: float  #: Bought. [g or pieces]
    price: float | None = None
    item_id: int | None = None  #: Where somebody had written it down.


@action
def tick_off(session: Session, ask: TickOff, at: datetime) -> Done:
    """Tick a line off the list: it is bought."""
    done = write_purchase(session, Buy(kind=ask.kind, key=ask.key, amount=ask.amount, price=ask.price), at)
    number = done.made["purchase"]
    row = queries.find(session, ListItem, ask.item_id)
    if row is None or row.ended_at is not None:
        row = ListItem(kind=ask.kind, key=ask.key.strip(), amount=ask.amount, at=at)
        session.add(row)
    row.ended_at, row.purchase_id = at, number
    session.flush()
    return Done(done.says, {"purchase": number, "item": row.id})


@dataclass(frozen=True, slots=True, kw_only=True)
class PriceTicked:
    """What something in the basket cost."""

    purchase_id: int
    price: float | None


@action
def price_ticked(session: Session, ask: PriceTicked, at: datetime) -> Done:
    """Write what something in the basket cost."""
    row, checks = queries.get(session, Purchase, ask.purchase_id), Checks()
    checks.between(ask.price, "price", 0.0, MOST_PRICE, "A price of")
    checks.done()
    row.price = ask.price
    return Done(f"{good_of(session, row.kind, row.key).name}: {'no price' if ask.price is None else f'{ask.price:.2f}'}.")


@dataclass(frozen=True, slots=True, kw_only=True)
class MakeWish:
    """Guests, a gift, or more than usual."""

    kind: str  #: A key of WISHES
    day: date
    litres: float  #: That day, or each day of the span. [L]
    until: date | None = None
    people: int | None = None
    glasses: float | None = None
    words: str = ""


@action
def make_wish(session: Session, ask: MakeWish, at: datetime) -> Done:
    """Write down who comes, what is given, or when more is drunk."""
    return write_wish(session, ask, at)


def write_wish(session: Session, ask: MakeWish, at: datetime) -> Done:
    """Write a wish within another action."""
    checks = Checks()
    last = ask.until or ask.day
    checks.refuse_if(ask.kind not in WISHES, "line", "Guests, a gift, or more than usual?")
    checks.refuse_if(last < at.date() - timedelta(days=1), "line", "That day is over.")
    checks.refuse_if(last < ask.day or (last - at.date()).days > LONGEST_DAYS, "line", "A year ahead at the most.")
    checks.refuse_if(not 0 < ask.litres <= MOST_WISHED_L, "line", "How much? Like 6 people, 2 glasses.")
    checks.done()
    row = Wished(kind=ask.kind, day=ask.day, until=ask.until, litres=ask.litres, people=ask.people, glasses=ask.glasses, words=ask.words.strip()[:120], at=at)
    whole = ask.litres * ((last - ask.day).days + 1)
    return Done(f"{WISHES[ask.kind]} on {ask.day:%A %-d %B}: {marked(whole, 'volume')} counted in.", {"wish": flushed(session, row)})


@dataclass(frozen=True, slots=True, kw_only=True)
class CallOff:
    """A wish that is not wished any more."""

    wish_id: int


@action
def call_off(session: Session, ask: CallOff, at: datetime) -> Done:
    """Call off guests or another wish."""
    row = queries.get(session, Wished, ask.wish_id)
    row.ended_at = at
    return Done(f"{WISHES.get(row.kind, 'That')}: called off.")


@dataclass(frozen=True, slots=True)
class DayOfPlan:
    """A day that the plan wants."""

    kind: str  #: brew or draw
    vessel_id: int
    day: date
    litres: float  #: [L]


@dataclass(frozen=True, slots=True, kw_only=True)
class AcceptPlan:
    """The plan as it was shown, to be put in the almanac."""

    days: tuple[DayOfPlan, ...]


@action
def accept_plan(session: Session, ask: AcceptPlan, at: datetime) -> Done:
    """Put the plan's days in the almanac; planned days that it does without are taken off."""
    checks = Checks()
    checks.refuse_if(not ask.days, "", "There is nothing in it to plan.")
    checks.refuse_if(any(one.day < at.date() - timedelta(days=1) for one in ask.days), "", "The plan is of another day. Look at it again, then put it in.")
    checks.done()
    wanted = {(one.kind, one.vessel_id, one.day): one for one in ask.days}
    vessels = {one.vessel_id for one in ask.days}
    for row in planning_queries.planned_days(session):
        if row.kind in {"brew", "draw"} and (row.by_plan or row.vessel_id in vessels):
            kept = wanted.pop((row.kind, row.vessel_id, row.day), None)
            if kept is None:
                row.done_at = at
            else:
                row.litres, row.by_plan = kept.litres, True
    session.add_all(_rows(session, wanted.values(), at))
    brews = sum(one.kind == "brew" for one in ask.days)
    return Done(f"In the almanac: {brews} brew day{'' if brews == 1 else 's'} and {len(ask.days) - brews} draw{'' if len(ask.days) - brews == 1 else 's'}.")


def _rows(session: Session, days: Iterable[DayOfPlan], at: datetime) -> list[PlannedDay]:
    return [
        PlannedDay(kind=one.kind, vessel_id=queries.get(session, Vessel, one.vessel_id).id, day=one.day, at=at, litres=one.litres, by_plan=True)
        for one in days
    ]


@dataclass(frozen=True, slots=True, kw_only=True)
class SetPrices:
    """What money is called, and what the shop and the power company ask."""

    currency: str
    shop_price: float | None
    shop_ml: float | None
    power_price: float | None
    version: int | None = None


@action
def set_prices(session: Session, ask: SetPrices, at: datetime) -> Done:
    """Write the shop's price and the household's money."""
    checks = Checks()
    checks.refuse_if(len(ask.currency.strip()) > 8, "currency", "Up to 8 letters, like EUR or kr.")
    checks.between(ask.shop_price, "shop_price", 0.0, MOST_PRICE, "A price of")
    checks.between(ask.shop_ml, "shop_ml", 50.0, 20_000.0, "A bottle of")
    checks.between(ask.power_price, "power_price", 0.0, 1000.0, "A price of")
    checks.done()
    house = session.scalars(select(Household)).first()
    if house is None:
        house = Household(version=1, quiet_from=21, quiet_to=7)
        session.add(house)
    else:
        check_version(ask.version, house.version, "The prices")
    house.currency, house.shop_price, house.power_price = ask.currency.strip(), ask.shop_price, ask.power_price
    house.shop_ml = ask.shop_ml
    return Done("Prices saved.")


def kind_word(kind: str) -> str:
    """Return what a kind of good is called."""
    return KIND_NAMES[GoodKind(kind)]
