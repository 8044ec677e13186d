"""Where each taster likes a style, as their tastings have taught it."""

from __future__ import annotations

from datetime import UTC, datetime

import numpy as np
from sqlalchemy.orm import Session, object_session

from ...core.base.kinds import SeenKind
from ...core.forecast import ForecastAsk, carry_together, forecast
from ...core.forecast.palate import Palate, Tasted, learn
from ...core.liquid import Point, taste
from ...store.file.session import context_of
from ...store.read import lessons, queries
from ...store.read.memory import remembered
from ...store.read.moments import days_between
from ...store.records import Brew, Tasting

TITRATED_NEAR, TITRATED_SD = 0.5, 0.05  #: A titration so near to a taste tells its acidity. [d, ln]
LATEST = datetime(9000, 1, 1, tzinfo=UTC)
STANDARD_TASTER = "the usual point"
DAY_SECONDS = 86400.0


def points_of(session: Session, honey_share: float) -> tuple[Point, ...]:
    """Return each taster's point for a style, as their tastings have taught it."""
    jun = taste.is_jun(honey_share)
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


def _tasted_by(session: Session, before: datetime | None) -> dict[tuple[str, bool], list[Tasted]]:
    """Put together what ended brews taught, as it is kept, and what those that stand teach now."""
    names = {taster.id: taster.name for taster in queries.tasters_of(session)}
    rows = [(jun, *one) for jun in (False, True) for one in lessons.tasted(session, jun)]
    standing = _tasted_now(session)
    carry_together([_untasted(brew) for brew in standing if not brew.runs])
    for brew in standing:
        rows += [(is_jun(brew), *one) for one in tasted_of(brew)]
    now = (before or LATEST).timestamp()
    rows = [row for row in rows if row[3] <= now]
    latest = now if before else max((row[3] for row in rows), default=0.0)
    out: dict[tuple[str, bool], list[Tasted]] = {}
    for jun, taster, score, at, acidity, sd in sorted(rows, key=lambda row: (row[3], row[1])):
        if taster in names:
            age = round(max(0.0, (latest - at) / DAY_SECONDS))
            out.setdefault((names[taster], jun), []).append(Tasted(score, acidity, sd, age))
    return out


def _tasted_now(session: Session) -> list[Brew]:
    """List the brews that stand and were tasted."""
    return [brew for brew in queries.living_brews(session) if brew.runs or any(not t.struck for t in brew.tastings)]


def is_jun(brew: Brew) -> bool:
    """Return whether a brew is of the jun style."""
    return taste.is_jun(brew.honey_share)


def tasted_of(brew: Brew) -> list[tuple[int, int, float, float, float]]:
    """List a brew's tastings with the acidity that it had then: taster, score, moment [s], acidity [g/L] and its sd [ln]."""
    session = object_session(brew)
    if session is None or not brew.runs:
        known = [(tasting, *acidity_then(brew, tasting)) for tasting in brew.tastings if not tasting.struck]
    else:
        known = []
        for tasting, acidity, sd in lessons.tasted_then(session, brew.liquid_id):
            if acidity is not None and sd is not None:
                known.append((tasting, acidity, sd))
            elif brew.known_since is None or tasting.at >= brew.known_since:  # else what stood there is not read any more
                known.append((tasting, *acidity_then(brew, tasting)))
    return [(one.taster_id, one.score, one.at.timestamp(), acidity, sd) for one, acidity, sd in known]


def _untasted(brew: Brew, until: datetime | None = None) -> ForecastAsk:
    from .forecasting import untasted

    return untasted(brew, until)


def acidity_then(brew: Brew, tasting: Tasting) -> tuple[float, float]:
    """Return how sour a brew was when it was tasted, and the sd of that. [g/L, ln]

    A batch's is read from all that is measured of it; a tapped vessel's from what was known then, for what is drawn and poured in
    later must not change what a taste taught.
    """
    ask = _untasted(brew, tasting.at if brew.runs else None)
    day = max(0.0, days_between(brew.pitched_at, tasting.at))
    near = [
        o.value
        for o in ask.observations
        if o.kind == SeenKind.TA and o.degassed and abs(o.day - day) <= TITRATED_NEAR
    ]
    if near:
        return round(max(0.02, near[-1]), 3), TITRATED_SD
    seen = forecast(ask)
    low, acidity, high = seen.at(seen.ta_g_per_l, day)
    return round(max(0.02, acidity), 3), round(float(np.log(max(high, 0.03) / max(low, 0.02))) / 2.563, 3)
