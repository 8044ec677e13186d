"""The shopping list: large ticks in the shop, printed, shared as text; what is ticked is bought."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta

from flask import Response, g, make_response, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import supply
from ....actions.base import RefusedError
from ....core.base.kinds import Units
from ....core.quick.bought import bought_said
from ....core.supply.goods import KIND_NAMES, GoodKind
from ....reckon.supply import cupboard
from ....store.read import supply_queries
from ...kit import units
from ...kit.acting import act
from ...kit.goods_words import amount_word, money_word
from ...kit.numbers import decimal_of, number_of
from ...kit.render import page
from .routes import EXAMPLES, bp

TICKED_HOURS = 12.0  #: What is in the basket is shown for so long. [h]


@dataclass(frozen=True, slots=True)
class ListLine:
    """A line of the list, in words."""

    kind: str
    key: str
    name: str
    amount: float  #: [g or pieces]
    says: str
    why: str
    item: int | None
    price: str  #: As last time; empty: not known.


def _lines() -> list[tuple[str, list[ListLine]]]:
    """List what to buy, by kind."""
    groups: dict[GoodKind, list[ListLine]] = {}
    for one in cupboard.shopping_list(g.session, g.now):
        price = "" if one.price is None else money_word(one.price)
        line = ListLine(one.good.kind, one.good.key, one.good.name, one.amount, amount_word(one.good, one.amount), one.why, one.item.id if one.item else None, price)
        groups.setdefault(one.good.kind, []).append(line)
    return [(KIND_NAMES[kind], rows) for kind, rows in groups.items()]


def _basket() -> list[tuple[int, str, str, str]]:
    """List what was ticked off today: its purchase, name, amount, price as typed."""
    out = []
    for row in supply_queries.ticked_since(g.session, g.now - timedelta(hours=TICKED_HOURS)):
        if row.purchase is not None:
            one = cupboard.good_of(g.session, row.kind, row.key)
            price = "" if row.purchase.price is None else f"{row.purchase.price:.2f}"
            out.append((row.purchase.id, one.name, amount_word(one, row.purchase.amount), price))
    return out


def _page(status: int = 200, typed: str = "", problem: str = "") -> Response:
    groups = _lines()
    names = [line.name for _, lines in groups for line in lines]
    return page("supply/list.html", None, status, groups=groups, names=names, basket=_basket(), typed=typed, problem=problem)


@bp.get("/list")
def shopping() -> Response:
    """Show the list."""
    return _page()


@bp.get("/list.txt")
def as_text() -> Response:
    """Give the list as plain text, to be sent to somebody in the shop."""
    rows = [f"{name}\n" + "".join(f"- {line.name}, {line.says}\n" for line in lines) for name, lines in _lines()]
    response = make_response("\n".join(rows) or "Nothing to buy.\n")
    response.headers["Content-Type"] = "text/plain; charset=utf-8"
    return response


@bp.post("/list/add")
def add() -> Answer:
    """Write something on the list."""
    typed = request.form.get("line", "").strip()[:120]
    said = bought_said(typed, list(cupboard.known_goods(g.session).values()), always=True)
    if said is None:
        return _page(422, typed, f"What, and how much? Like {EXAMPLES[Units(g.units)]['list']}.")
    try:
        act(supply.put_on_list, supply.PutOnList(kind=said.good.kind, key=said.good.key, amount=said.amount))
    except RefusedError as refused:
        return _page(422, typed, str(refused))
    return redirect(url_for(".shopping"), 303)


@bp.post("/list/tick")
def tick() -> Answer:
    """Tick a line off: it is in the basket, and bought."""
    asked = request.form
    try:
        amount = decimal_of(asked.get("amount", ""))
        item = asked.get("item", type=number_of)
        act(supply.tick_off, supply.TickOff(kind=asked.get("kind", ""), key=asked.get("key", "")[:60], amount=amount, item_id=item), quiet=True)
    except ValueError:
        return _page(422, problem="That line could not be ticked: look at the list again.")
    except RefusedError as refused:
        return _page(422, problem=str(refused))
    return redirect(url_for(".shopping"), 303)


@bp.post("/list/<int:number>/price")
def price(number: int) -> Answer:
    """Write what something in the basket cost."""
    typed = request.form.get("price", "").strip()[:20]
    try:
        value = units.parse(typed, "number", g.units) if typed else None
        act(supply.price_ticked, supply.PriceTicked(purchase_id=number, price=value), quiet=True)
    except units.NotANumberError:
        return _page(422, problem=f"“{typed}” is no price: type it like 1.49.")
    except RefusedError as refused:
        return _page(422, problem=str(refused))
    return redirect(url_for(".shopping"), 303)


@bp.post("/list/<int:number>/untick")
def untick(number: int) -> Answer:
    """Put something back: it is not bought."""
    act(supply.drop_purchase, supply.DropPurchase(purchase_id=number), quiet=True)
    return redirect(url_for(".shopping"), 303)


@bp.post("/list/<int:number>/off")
def take_off(number: int) -> Answer:
    """Take a line off without buying it."""
    act(supply.take_off_list, supply.TakeOffList(item_id=number))
    return redirect(url_for(".shopping"), 303)
