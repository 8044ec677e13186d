"""Setting up: a jar in its place and the culture that goes into it, in one step."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy.orm import Session

from ..core.base.errors import Problem
from ..core.brewing.vessel_parts import usual_jar
from .base import Checks, Done, RefusedError, action
from .household import AddCulture, AddVessel, new_culture, new_vessel


@dataclass(frozen=True, slots=True, kw_only=True)
class SetUpHousehold:
    """A first jar and a first culture."""

    jar: str  #: Its name.
    jar_l: float  #: What it is sold as. [L]
    place: str
    place_c: float  #: How warm it usually is there. [degC]
    culture: str
    diet: str
    origin: str
    with_disc: bool = True
    liquid_l: float | None = None  #: That came with it. [L]


@action
def set_up(session: Session, ask: SetUpHousehold, at: datetime) -> Done:
    """Add a jar, the place it stands in, and a culture; width and fill line are taken as usual for such a jar."""
    checks = Checks()
    checks.between(ask.jar_l, "jar_l", 0.4, 60, "A jar of", "volume")
    checks.done()
    fill_l, width_cm = usual_jar(ask.jar_l)
    vessel = AddVessel(
        name=ask.jar,
        kind="jar",
        nominal_l=ask.jar_l,
        usable_l=fill_l,
        diameter_cm=width_cm,
        material="glass",
        tapped=False,
        new_place=ask.place,
        new_place_c=ask.place_c,
    )
    culture = AddCulture(
        name=ask.culture, diet=ask.diet, origin=ask.origin, with_disc=ask.with_disc, starter_l=ask.liquid_l
    )
    asks: dict[str, Any] = {"vessel": vessel, "culture": culture}
    problems: list[Problem] = []
    made: dict[str, int] = {}
    for add, says, names in ADDED:
        try:
            made |= add(session, asks[says], at).made
        except RefusedError as refused:
            problems += refused.renamed(names).problems
    if problems:
        raise RefusedError(problems)
    return Done(f"{ask.jar.strip()} and {ask.culture.strip()} added.", made)


JAR_FIELDS = {"name": "jar", "nominal_l": "jar_l", "usable_l": "jar_l", "new_place_c": "place_c"}
CULTURE_FIELDS = {"name": "culture", "starter_l": "liquid_l"}
ADDED: tuple[tuple[Callable[..., Done], str, dict[str, str]], ...] = (
    (new_vessel, "vessel", JAR_FIELDS),
    (new_culture, "culture", CULTURE_FIELDS),
)
