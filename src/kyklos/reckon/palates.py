"""Where each taster likes a style, as their tastings have taught it."""

from __future__ import annotations

from datetime import UTC, datetime

import numpy as np
from sqlalchemy.orm import Session

from ..core.forecast import forecast
from ..core.kinds import SeenKind
from ..core.palate import Palate, Tasted, learn
from ..core.taste import JUN_HONEY_SHARE, Point
from ..store import queries
from ..store.memory import remembered
from ..store.read.moments import days_between
from ..store.session import context_of

TITRATED_NEAR, TITRATED_SD = 0.5, 0.05  #: A titration so near to a taste tells its acidity. [d, ln]
LATEST = datetime(9000, 1, 1, tzinfo=UTC)
STANDARD_TASTER = "the usual point"


def points_of(session: Session, honey_share: float) -> tuple[Point, ...]:
    """Return each taster's point for a style, as their tastings have taught it."""
    jun = honey_share >= JUN_HONEY_SHARE
    names = [taster.name for taster in queries.tasters_of(session)] or [STANDARD_TASTER]
    learned = [(name, palate_of(session, name, jun)) for name in names]
    return tuple(Point(name, round(palate.ta_g_per_l, 3), round(palate.sd, 3)) for name, palate in learned)


def palate_of(session: Session, taster: str, jun: bool) -> Palate:
    """Return where a taster likes a style, as learned until now."""
    day = (context_of(session).now or LATEST).date()
    return remembered(
        session, ("palate", taster, jun, day), lambda: learn(tasted_by(session).get((taster, jun), ()), jun)
    )


def tasted_by(session: Session) -> dict[tuple[str, bool], list[Tasted]]:
    """List all tastings by taster and style, with the acidity that the brew had then, as measured or foretold without taste."""
    context = context_of(session)
    if "tasted" not in context.answers:
        context.answers["tasted"] = _tasted_by(session, context.now)
    known: dict[tuple[str, bool], list[Tasted]] = context.answers["tasted"]
    return known


def _tasted_by(session: Session, told: datetime | None) -> dict[tuple[str, bool], list[Tasted]]:
    from .forecasting import untasted

    tastings = queries.standing_tastings(session, told or LATEST)
    now = told or max((t.at for t in tastings), default=LATEST)
    out: dict[tuple[str, bool], list[Tasted]] = {}
    for tasting in tastings:
        brew = tasting.brew
        ask = untasted(brew)
        day = max(0.0, days_between(brew.pitched_at, tasting.at))
        near = [o.value for o in ask.observations if o.kind == SeenKind.TA and abs(o.day - day) <= TITRATED_NEAR]
        if near:
            acidity, sd = near[-1], TITRATED_SD
        else:
            seen = forecast(ask)
            low, acidity, high = seen.at(seen.ta_g_per_l, day)
            sd = float(np.log(max(high, 0.03) / max(low, 0.02))) / 2.563
        age = round(max(0.0, days_between(tasting.at, now)))
        one = Tasted(tasting.score, round(max(0.02, acidity), 3), round(sd, 3), age)
        out.setdefault((tasting.taster.name, brew.honey_share >= JUN_HONEY_SHARE), []).append(one)
    return out
