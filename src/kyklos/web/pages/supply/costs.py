"""What it comes to: a year by the month, by brew and flavour, against the shop; the prices that are reckoned with."""

from __future__ import annotations

from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer
from wtforms import StringField

from ....actions import supply
from ....core.base.kinds import Units
from ....core.supply.goods import KIND_NAMES, GoodKind
from ....reckon.supply import costing
from ....store.read import queries
from ...kit import units
from ...kit.acting import tried
from ...kit.fields import KitchenForm, QuantityField, WholeField
from ...kit.render import page
from .routes import bp

FIELD_HEIGHT = 150.0
WIDE, NARROW = (720.0, 38.0), (362.0, 20.0)  #: Width of the drawing, and of a bar: on a table, in the hand.
USUAL_BOTTLE_L = {Units.METRIC: 0.5, Units.US: 0.4731765}  #: A bottle's content, in words beside the price of one. [L]


LARGE = {Units.METRIC: "litre", Units.US: "quart"}  #: What a large volume is counted in.


class PricesForm(KitchenForm):
    """What the shop asks, and how money is written."""

    currency = StringField("Currency, as you write it")
    shop_price = QuantityField("A bottle in the shop costs", required=False)
    shop_l = QuantityField("and holds", kind="volume", like_l=0.33, required=False)
    power_price = QuantityField("A kilowatt-hour costs", required=False)
    version = WholeField("version")


def _bars(months: list[costing.MonthCost], size: tuple[float, float]) -> list[dict[str, Any]]:
    """Give each month a bar, as high as it came to, and a mark for its litres."""
    most = max((one.period.total for one in months), default=0.0) or 1.0
    step, width = size[0] / max(1, len(months)), size[1]
    rows = []
    for number, one in enumerate(months):
        height = FIELD_HEIGHT * one.period.total / most
        rows.append({"x": number * step + (step - width) / 2, "width": width, "y": FIELD_HEIGHT - height, "height": height, "middle": number * step + step / 2, "month": one})
    return rows


def _page(form: PricesForm, status: int = 200) -> Response:
    months = costing.by_month(g.session, g.now)
    year, shop = costing.together(months), costing.shop_per_litre(g.session)
    bottle = USUAL_BOTTLE_L[Units(g.units)]
    kinds: dict[str, float] = {}
    for one in months:
        for kind, money in one.by_kind.items():
            kinds[kind] = kinds.get(kind, 0.0) + money
    return page(
        "supply/costs.html", None, status, form=form, months=months, drawings=[("wide", WIDE[0], "%b", _bars(months, WIDE)), ("narrow", NARROW[0], "%b", _bars(months, NARROW))], year=year,
        by_kind=[(KIND_NAMES[GoodKind(kind)], money) for kind, money in sorted(kinds.items(), key=lambda row: -row[1]) if money > 0],
        bottle_l=bottle, per_bottle=None if year.per_litre is None else year.per_litre * bottle,
        shop_bottle=None if shop is None else shop * bottle, saved=year.saved(shop), brews=costing.brews(g.session, g.now),
        large=LARGE[g.units], large_l=units.large_l(g.units), flavours=costing.flavours(g.session, g.now), other=costing.other_use(g.session, g.now),
    )  # fmt: skip


@bp.get("/costs")
def costs() -> Response:
    """Show what it comes to."""
    house = queries.household_of(g.session)
    form = PricesForm(data={"currency": house.currency, "shop_price": house.shop_price, "shop_l": house.shop_ml / 1000 if house.shop_ml else None,
                            "power_price": house.power_price, "version": house.version})  # fmt: skip
    return _page(form)


@bp.post("/costs")
def prices() -> Answer:
    """Write the prices."""
    form = PricesForm(request.form)
    done = tried(form, supply.set_prices, lambda: supply.SetPrices(
        currency=form.currency.data or "", shop_price=form.shop_price.data, shop_ml=form.shop_l.data * 1000 if form.shop_l.data else None,
        power_price=form.power_price.data, version=form.version.data,
    ), {"shop_ml": "shop_l"})  # fmt: skip
    return _page(form, 422) if done is None else redirect(url_for(".costs"), 303)
