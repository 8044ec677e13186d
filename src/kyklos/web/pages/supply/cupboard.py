"""The cupboard: what was bought in one line, what is left of it, counted again; purchases put right."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import supply
from ....actions.base import ConflictError, RefusedError
from ....core.base import CoreError
from ....core.base.kinds import Units
from ....core.quick.bought import Bought, bought_said
from ....core.supply.goods import KIND_NAMES, Good
from ....reckon.supply import cupboard
from ....store.read import queries, supply_queries
from ....store.records import Purchase
from ...kit import units
from ...kit.acting import act
from ...kit.goods_words import amount_word, money_word
from ...kit.numbers import whole
from ...kit.render import page
from ...kit.words import local_today, small_first
from .routes import EXAMPLES, bp

PURCHASES_SHOWN, BOUGHT_AGAIN = 20, 4


@dataclass(frozen=True, slots=True)
class Stored:
    """A good in the cupboard, in words."""

    good: Good
    left: str
    asks: bool  #: More was used than bought.
    low: str  #: What the next brew takes, where there is less.
    best_before: str


def _stored() -> list[tuple[str, list[Stored]]]:
    low = {(one.good.kind, one.good.key): one for one in cupboard.low(g.session, g.now)}
    groups: dict[str, list[Stored]] = {}
    for row in cupboard.cupboard(g.session, g.now):
        need = low.get((row.good.kind, row.good.key))
        lacks = "" if need is None else f"the next brew takes {amount_word(row.good, need.first)}"
        until = row.best_before
        best = "" if until is None else f"{'was ' if until < local_today() else ''}best before {until.day} {until:%b}"
        groups.setdefault(KIND_NAMES[row.good.kind], []).append(Stored(row.good, amount_word(row.good, row.left), row.account.asks, lacks, best))
    return list(groups.items())


def _purchases() -> list[tuple[Purchase, str, str]]:
    rows = []
    for row in supply_queries.purchases(g.session, PURCHASES_SHOWN):
        one = cupboard.good_of(g.session, row.kind, row.key)
        rows.append((row, f"{amount_word(one, row.amount)} {one.name}", "" if row.price is None else money_word(row.price)))
    return rows


def _page(status: int = 200, typed: str = "", problem: str = "", wrong: tuple[str, str, str] | None = None) -> Response:
    again = [(f"{amount_word(one, amount)} {small_first(one.name)}{f' {price:.2f}' if price is not None else ''}") for one, amount, price in _usual()]
    return page(
        "supply/cupboard.html", None, status, stored=_stored(), purchases=_purchases(), typed=typed, problem=problem, wrong=wrong, again=again,
        today=local_today().isoformat(), best_before=request.form.get("best_before", ""), day=request.form.get("day", ""),
    )  # fmt: skip


def _usual() -> list[tuple[Good, float, float | None]]:
    """List what was bought last of each good, to be bought again in a tap."""
    rows = list(supply_queries.last_packs(g.session).items())[-BOUGHT_AGAIN:]
    return [(cupboard.good_of(g.session, kind, key), amount, price) for (kind, key), (amount, price) in rows]


@bp.get("/cupboard")
def stock() -> Response:
    """Show the cupboard."""
    return _page()


def said_of(typed: str) -> Bought | None:
    """Read a purchase from a field of its own."""
    return bought_said(typed, list(cupboard.known_goods(g.session).values()), always=True)


@bp.post("/cupboard/buy")
def buy() -> Answer:
    """Write a purchase down."""
    typed = request.form.get("line", "").strip()[:120]
    said = said_of(typed)
    if said is None:
        return _page(422, typed, f"What, how much, what price? Like {EXAMPLES[Units(g.units)]['bought']}.")
    try:
        days = {name: date.fromisoformat(text) if (text := request.form.get(name, "")) else None for name in ("day", "best_before")}
    except ValueError:
        return _page(422, typed, "Choose a day, like 2027-03-01.")
    try:
        if said.counted:
            act(supply.count_good, supply.CountGood(kind=said.good.kind, key=said.good.key, amount=said.amount))
        else:
            act(supply.buy, supply.Buy(kind=said.good.kind, key=said.good.key, amount=said.amount, price=said.price, **days))
    except RefusedError as refused:
        return _page(422, typed, str(refused))
    return redirect(url_for(".stock"), 303)


@bp.post("/cupboard/count")
def count() -> Answer:
    """Set right what is there."""
    kind, key, typed = request.form.get("kind", ""), request.form.get("key", "")[:60], request.form.get("amount", "").strip()[:40]
    if kind not in KIND_NAMES:
        return _page(422, problem="Choose what was counted.")
    one = cupboard.good_of(g.session, kind, key)
    try:
        amount = amount_typed(typed, one)
        act(supply.count_good, supply.CountGood(kind=kind, key=key, amount=amount))
    except (units.NotANumberError, CoreError) as problem:
        return _page(422, wrong=(kind, key, str(problem)))
    except RefusedError as refused:
        return _page(422, wrong=(kind, key, str(refused)))
    return redirect(url_for(".stock"), 303)


def amount_typed(typed: str, one: Good) -> float:
    """Read an amount of a good: a number alone is pieces, or by weight in the household's unit.

    Raises:
        NotANumberError: With a sentence.
    """
    return units.parse(typed, "number" if one.by_piece else "mass", g.units)


@bp.get("/purchases/<int:number>")
def purchase(number: int) -> Response:
    """Show a purchase, to be put right."""
    return _purchase_page(queries.get(g.session, Purchase, number))


def _purchase_page(row: Purchase, status: int = 200, problems: dict[str, str] | None = None) -> Response:
    one = cupboard.good_of(g.session, row.kind, row.key)
    typed = {
        "amount": f"{row.amount:g}" if one.by_piece else units.typed(row.amount, "mass", g.units),
        "price": "" if row.price is None else f"{row.price:.2f}",
        "day": row.day.isoformat(),
        "best_before": "" if row.best_before is None else row.best_before.isoformat(),
    }
    typed |= {name: request.form[name][:40] for name in typed if name in request.form}
    unit = "" if one.by_piece else units.SHOWN[units.TYPED[g.units]["mass"]]
    return page("supply/purchase.html", None, status, row=row, good=one, typed=typed, unit=unit, problems=problems or {})


@bp.post("/purchases/<int:number>")
def correct(number: int) -> Answer:
    """Put a purchase right."""
    row, asked, problems = queries.get(g.session, Purchase, number), request.form, dict[str, str]()
    one = cupboard.good_of(g.session, row.kind, row.key)
    amount, price, days = 0.0, None, dict[str, date | None]()
    try:
        amount = amount_typed(asked.get("amount", "")[:40], one)
    except units.NotANumberError as problem:
        problems["amount"] = str(problem)
    try:
        price = units.parse(text, "number", g.units) if (text := asked.get("price", "").strip()[:20]) else None
    except units.NotANumberError as problem:
        problems["price"] = str(problem)
    for name in ("day", "best_before"):
        try:
            days[name] = date.fromisoformat(text) if (text := asked.get(name, "")) else None
        except ValueError:
            problems[name] = "Choose a day, like 2027-03-01."
    if problems:
        return _purchase_page(row, 422, problems)
    try:
        ask = supply.CorrectPurchase(purchase_id=number, amount=amount, price=price, day=days["day"] or row.day, best_before=days["best_before"], version=whole(asked.get("version")))
        act(supply.correct_purchase, ask)
    except RefusedError as refused:
        return _purchase_page(row, 422, {problem.field: problem.message for problem in refused.problems})
    except ConflictError as problem:
        return _purchase_page(row, 409, {"amount": str(problem)})
    return redirect(url_for(".stock"), 303)


@bp.post("/purchases/<int:number>/drop")
def drop(number: int) -> Answer:
    """Take a purchase out."""
    act(supply.drop_purchase, supply.DropPurchase(purchase_id=number))
    return redirect(url_for(".stock"), 303)
