"""What is in the cupboard: bought, less what was used, set right when somebody counts; and what each use cost.

What was bought first is used first. A purchase that is written down late pays for what was used before. Nothing is kept
as a number that could be wrong: it is worked out from what happened.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date
from enum import IntEnum

LEAST = 1e-9
OTHER_USE = "other use"  #: What a count found missing.


class Happened(IntEnum):
    """What happened to a good, in the order of one day."""

    BOUGHT = 0
    USED = 1
    COUNTED = 2


@dataclass(frozen=True, slots=True, kw_only=True)
class StockEntry:
    """Something that happened to a good."""

    day: date
    what: Happened
    amount: float  #: [g or pieces]
    price: float | None = None  #: Of what was bought; None: nobody said. [the household's money]
    by: str = ""  #: What used it.


@dataclass(slots=True)
class Spent:
    """What a use took."""

    amount: float = 0.0  #: [g or pieces]
    money: float = 0.0  #: Of what had a price. [the household's money]
    unpriced: float = 0.0  #: Of the amount, what nobody knows a price of. [g or pieces]

    @property
    def price(self) -> float | None:
        """What one gram or piece of it cost; None: not known. [the household's money]"""
        priced = self.amount - self.unpriced
        return self.money / priced if priced > LEAST else None


@dataclass(slots=True)
class Account:
    """A good over time."""

    tracked: bool = False  #: Whether it was ever bought or counted: only then is something known of it.
    left: float = 0.0  #: Below zero: more was used than bought. [g or pieces]
    left_money: float = 0.0  #: What is left cost. [the household's money]
    left_unpriced: float = 0.0  #: Of what is left, what has no price. [g or pieces]
    spent: dict[str, Spent] = field(default_factory=dict)  #: By what used it; `OTHER_USE` is what a count found missing.
    bought_money: float = 0.0  #: [the household's money]

    @property
    def asks(self) -> bool:
        """Whether it must be counted: more was used than bought."""
        return self.left < -LEAST

    @property
    def in_the_cupboard(self) -> float:
        """What is there, never below nothing. [g or pieces]"""
        return max(0.0, self.left)

    @property
    def last_price(self) -> float | None:
        """What a gram or piece cost as it was bought last, as far as is known: of what is left, else of what was used last."""
        priced = self.left - self.left_unpriced
        if priced > LEAST:
            return self.left_money / priced
        prices = {by: one.price for by, one in self.spent.items() if one.price is not None}
        return prices[max(prices)] if prices else None

    @property
    def money(self) -> float:
        """What all uses cost together. [the household's money]"""
        return sum(one.money for one in self.spent.values())


class _Shelf:
    """Lots in the order in which they were bought, and what was used before it was bought."""

    def __init__(self) -> None:
        self.lots: deque[tuple[float, float | None]] = deque()  # amount, price of one
        self.owed: deque[tuple[str, float]] = deque()
        self.account = Account()

    def bring(self, amount: float, money: float | None) -> None:
        each = None if money is None else money / amount if amount > LEAST else 0.0
        while self.owed and amount > LEAST:
            by, missing = self.owed.popleft()
            paid = min(missing, amount)
            self.spend(by, paid, each)
            amount -= paid
            if missing > paid + LEAST:
                self.owed.appendleft((by, missing - paid))
        if amount > LEAST:
            self.lots.append((amount, each))

    def take(self, amount: float, by: str) -> None:
        while amount > LEAST and self.lots:
            there, each = self.lots.popleft()
            taken = min(there, amount)
            self.spend(by, taken, each)
            amount -= taken
            if there - taken > LEAST:
                self.lots.appendleft((there - taken, each))
        if amount > LEAST:
            self.owed.append((by, amount))

    def count(self, amount: float) -> None:
        there = self.left()
        if there < 0:
            self._forgive()
            there = 0.0
        if amount > there:
            self.lots.append((amount - there, None))
        else:
            self.take(there - amount, OTHER_USE)

    def left(self) -> float:
        return sum(there for there, _ in self.lots) - sum(amount for _, amount in self.owed)

    def close(self) -> Account:
        out = self.account
        out.left = self.left()
        out.left_money = sum(there * each for there, each in self.lots if each is not None)
        out.left_unpriced = sum(there for there, each in self.lots if each is None)
        self._forgive()
        return out

    def _forgive(self) -> None:
        for by, amount in self.owed:
            self.spend(by, amount, None)
        self.owed.clear()

    def spend(self, by: str, amount: float, each: float | None) -> None:
        one = self.account.spent.setdefault(by, Spent())
        one.amount += amount
        if each is None:
            one.unpriced += amount
        else:
            one.money += amount * each


def account(entries: Iterable[StockEntry]) -> Account:
    """Follow one good from its first purchase or count on.

    Uses before then have no price, and take nothing from the cupboard.

    Args:
        entries: In any order.

    >>> day = date(2027, 2, 1)
    >>> sugar = [StockEntry(day=day, what=Happened.BOUGHT, amount=1000.0, price=1.5), StockEntry(day=day, what=Happened.USED, amount=400.0, by="brew")]
    >>> account(sugar).left, round(account(sugar).spent["brew"].money, 2)
    (600.0, 0.6)
    """
    in_order = sorted(entries, key=lambda one: (one.day, one.what))
    begins = next((number for number, one in enumerate(in_order) if one.what is not Happened.USED), None)
    shelf = _Shelf()
    for one in in_order if begins is None else in_order[:begins]:
        shelf.spend(one.by, one.amount, None)
    if begins is None:
        return shelf.account
    for one in in_order[begins:]:
        if one.what is Happened.BOUGHT:
            shelf.account.bought_money += one.price or 0.0
            shelf.bring(one.amount, one.price)
        elif one.what is Happened.USED:
            shelf.take(one.amount, one.by)
        else:
            shelf.count(one.amount)
    out = shelf.close()
    out.tracked = True
    return out


def balance(accounts: Mapping[str, Account]) -> float:
    """Return what was bought less what was used and what is left: nothing, but for rounding. [the household's money]"""
    return sum(one.bought_money - one.money - one.left_money for one in accounts.values())
