"""Labels of bottles, and the card of a gift: what is in it, allergens, alcohol, keep cold, open over a sink, drink by."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from flask import Response, abort, g, request, url_for

from ....core.base.kinds import BottleState, Occasion
from ....core.bottles.advice import alcohol_range
from ....core.judging import Situation
from ....core.liquid.pouring import Added
from ....core.liquid.taste import is_jun
from ....reckon.bottles.cellar import alike_of
from ....reckon.bottles.infusions import parts_of
from ....store.read import ingredients, queries
from ....store.records import Bottling, Infusion
from ...kit import printing
from ...kit.bottle_groups import named_filling
from ...kit.cautioned import heard
from ...kit.printing import LabelText
from ...kit.render import page
from ...kit.words import alcohol_word, local
from .routes import bp

MOST_FILLINGS = 20
GIVEN_IN_DAYS = 7.0  #: A gift is opened within about so long; its alcohol is given for then. [d]


@dataclass(frozen=True, slots=True)
class GiftCard:
    """What stands on a gift."""

    name: str
    made_of: str
    allergens: str
    alcohol: str
    drink_by: datetime
    filled: datetime
    honey: bool
    medicines: bool
    loose: bool


def _day(moment: datetime) -> str:
    there = local(moment, g.household.zone)
    return f"{there.day} {there:%b %Y}"


def card_of(group: Bottling) -> GiftCard:
    """Put together what a stranger must know of a bottle."""
    known = ingredients.by_key(g.session)
    parts = [known[row.name] for row in group.liquid.additions if row.what == Added.FLAVOUR and row.name in known]
    if group.infusion_id is not None:
        parts += [p.what for p in parts_of(g.session, queries.get(g.session, Infusion, group.infusion_id))]
    honey = group.brew.honey_share > 0 or any(one.key == "honey" for one in parts)
    base = "green tea and honey" if is_jun(group.brew.honey_share) else "tea and sugar"
    allergens = sorted({allergen for one in parts for allergen in one.allergens} | ({"honey"} if honey else set()))
    standing = [b for b in group.bottles if b.state != BottleState.GONE] or list(group.bottles)
    alike = alike_of(standing[:1], g.now)
    low, high = alcohol_range(max(alike.abv_percent, alike.future.abv_at(alike.day + GIVEN_IN_DAYS)))
    loose = alike.limit_bar == 0
    names = ", ".join(dict.fromkeys(one.name.lower() for one in parts))
    return GiftCard(
        named_filling(group),
        f"fermented {base}{', ' + names if names else ''}",
        ", ".join(allergens),
        f"{alcohol_word(low, high)}, rising if warm",
        alike.drink_by,
        group.at,
        honey,
        any(one.medicines for one in parts),
        loose,
    )


def label_of(number: int) -> LabelText:
    """Write the label of a filling."""
    group = queries.get(g.session, Bottling, number)
    card = card_of(group)
    return LabelText(
        card.name,
        (
            f"{group.brew.culture.name} · filled {_day(group.at)}",
            f"Of {card.made_of}{'. Allergens: ' + card.allergens if card.allergens else ''}",
            card.alcohol[0].upper() + card.alcohol[1:],
            f"Keep cold, open over a sink. Drink by {_day(card.drink_by)}",
        ),
        url_for("cellar.labels", number=number, _external=True),
    )


@bp.get("/labels/<int:number>")
def labels(number: int) -> Response:
    """Show the label of a filling."""
    return printing.label_page(label_of(number), url_for("cellar.show"), url_for("cellar.labels", number=number))


@bp.get("/labels/<int:number>.svg")
def labels_svg(number: int) -> Response:
    """Show that label as a picture."""
    return printing.picture(label_of(number))


@bp.get("/labels/<int:number>.pdf")
def labels_pdf(number: int) -> Response:
    """Show that label on a sheet."""
    return printing.printed(label_of(number), f"bottles-{number}")


@bp.get("/labels/together.pdf")
def labels_together() -> Response:
    """Show the labels of several fillings on one sheet, one for each bottle that stands."""
    groups = [queries.get(g.session, Bottling, number) for number in request.args.getlist("filling", int)[:MOST_FILLINGS]]
    texts = [label_of(group.id) for group in groups for b in group.bottles if b.state != BottleState.GONE]
    if not texts:
        abort(404)
    return printing.pdf(printing.sheet(texts, printing.usual_sheet()), "bottles")


@bp.get("/gift/<int:number>")
def gift(number: int) -> Response:
    """Show the card that goes with a gift."""
    group = queries.get(g.session, Bottling, number)
    card = card_of(group)
    return page(
        "cellar/gift.html",
        group=group,
        card=card,
        cautions=heard(Situation(moment=Occasion.LABEL, honey=card.honey, medicines=card.medicines)),
    )
