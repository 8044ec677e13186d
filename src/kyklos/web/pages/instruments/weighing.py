"""What scales that send show now, to be put into a field with a press; a vessel's own weight taken off where it is known."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Response, g, request

from ....core.measuring.weighing import litres_by_weight
from ....reckon import measuring
from ....store.read import queries
from ....store.records import Vessel
from ...kit import units
from ...kit.numbers import number_of
from ...kit.render import page
from .place import bp

FIELDS = frozenset({"", "tare_g"})


@dataclass(frozen=True, slots=True)
class WeightShown:
    """What a scale shows."""

    name: str
    shown: str
    typed: str
    litres: str  #: Empty: the vessel's own weight is not known.
    litres_typed: str


@bp.get("/weights")
def scales_now() -> Response:
    """Show what the scales read right now."""
    vessel = queries.find(g.session, Vessel, request.args.get("vessel", type=number_of))
    wants = request.args.get("wants", "")
    rows = []
    for name, grams in measuring.weights_live(g.session, g.now):
        litres = None if vessel is None or vessel.tare_g is None else litres_by_weight(grams, vessel.tare_g)
        full = ("", "") if litres is None else (units.words(litres, "volume", g.units), units.typed(litres, "volume", g.units))
        rows.append(WeightShown(name, units.words(grams, "mass", g.units), units.typed(grams, "mass", g.units), *full))
    return page("instruments/_weigh.html", "instruments/_weigh.html", scales=rows, vessel=vessel, wants=wants if wants in FIELDS else "")
