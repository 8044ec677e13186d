"""What cautions read of bottles: of those about to be filled, and of those that stand."""

from __future__ import annotations

from collections.abc import Sequence

from ...core.base.facts import BOTTLES
from ...core.base.kinds import AddedAs, Occasion
from ...core.bottles import BottleForecast
from ...core.bottles.advice import alcohol_range
from ...core.judging.cautions import Situation
from ...store.records import Brew
from .cellar import Alike
from .filling_plan import OPENED_AFTER_DAYS, PlannedFilling
from .harvests import Filling

JUICY = {AddedAs.JUICE, AddedAs.PUREE, AddedAs.DRINK}  #: What is put in so counts as juice, for pH and for sugar.


def of_plan(planned: PlannedFilling, brew: Brew) -> Situation:
    """Return what cautions read of a filling that is planned."""
    groups = planned.groups
    parts = [p for group in groups for p in (*group.filling.parts, *group.card.in_it)]
    return Situation(
        moment=Occasion.HARVEST,
        closed_bottles=any(group.filling.closes for group in groups),
        unrated_bottles=any(box.kind.limit_bar == 0 for box in planned.in_order),
        abv_high=max((group.alcohol[2] for group in groups), default=0.0),
        honey=brew.honey_share > 0 or any(p.what.key == "honey" for p in parts),
        flavours=tuple(p.what.key for p in parts),
        medicines=any(p.what.medicines for p in parts),
        juice_ml_per_l=max((p.g_per_l for p in parts if p.way in JUICY), default=0.0),
        closes_high=any(group.closes_high is not None for group in groups),
        heated=False,
    )


def of_filling(filling: Filling, flavour: str, g_per_l: float, future: BottleForecast, closes_high: float | None) -> dict[str, object]:
    """Return what a filling by hand adds to what cautions read of its brew. [g/L]"""
    rated = BOTTLES[filling.kind].limit_bar > 0
    return {
        "flavours": (flavour,),
        "closed_bottles": rated,
        "unrated_bottles": not rated,
        "juice_ml_per_l": g_per_l,
        "closes_high": closes_high is not None,
        "abv_high": alcohol_range(future.abv_at(OPENED_AFTER_DAYS))[1],
    }


def of_rack(alikes: Sequence[Alike]) -> Situation:
    """Return what cautions read of bottles as they stand."""
    bottles = [bottle for one in alikes for bottle in one.bottles]
    return Situation(
        moment=Occasion.BOTTLES,
        closed_bottles=any(one.limit_bar > 0 for one in alikes),
        abv_high=max((alcohol_range(one.abv_percent)[1] for one in alikes), default=0.0),
        pressing=any(one.pressing for one in alikes),
        honey=any(bottle.bottling.brew.honey_share > 0 for bottle in bottles),
        flavours=tuple({bottle.bottling.flavour for bottle in bottles}),
    )
