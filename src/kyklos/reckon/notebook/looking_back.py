"""A season or a year looked back on: what was made and where it went, how long brews took, the favourite, what was learned."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from statistics import mean

from sqlalchemy.orm import Session

from ...core.brewing.planner import forecast_ask
from ...core.forecast.hindsight import Tested
from ...core.forecast.ripe import likely_days
from ...core.liquid import Way
from ...core.liquid.taste import is_jun, point_told
from ...core.liquid.teas import text_of
from ...store.read import culture_queries, looking_queries, notebook_queries, queries
from ...store.read.memory import remembered
from ...store.records import KeptLesson
from ..bottles.flavours import name_in_ranking
from ..brewing import brew_days
from ..forecast import forecasting
from ..supply import costing
from ..supply.producers import house_point
from .teaching import HAPPENED, SAID

YEAR = timedelta(days=365)
WARM = tuple(float(c) for c in range(16, 30))  #: Where the expected days are drawn. [degC]
LEAST_SAID = 2  #: Scores that make a favourite.
CAUSES = {
    Way.DISCARDED: "spoiled", Way.LOST: "spilt or thrown out", Way.GONE: "poured away or burst", Way.LEFT_OVER: "left in the vessel", Way.VINEGAR: "kept as vinegar",
    Way.EVAPORATED: "evaporated", Way.COUNTED: "counted less", Way.GIVEN: "given away", Way.DRUNK: "drunk",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class BrewBack:
    """One brew that ended."""

    number: int
    name: str
    celsius: float  #: On the mean. [degC]
    days: float  #: From start to harvest. [d]
    jun: bool


@dataclass(frozen=True, slots=True)
class ForetoldBack:
    """How well one brew was foretold."""

    number: int
    name: str
    off_ph: float  #: Between what was foretold and what was measured, on the mean. [pH]


@dataclass(frozen=True, slots=True)
class PointsBack:
    """Where a taster's point lay, tasting by tasting."""

    name: str
    told: tuple[tuple[datetime, float], ...]  #: Moment, the acidity at which it would have been right. [-, g/L]


@dataclass(frozen=True, slots=True)
class Flow:
    """What came, where it went, and what stood before and after. [L]"""

    begun: int  #: Brews started.
    made_l: float
    went: dict[str, float]  #: By what became of it.
    before_l: float
    after_l: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Back:
    """A span looked back on."""

    first: date
    last: date
    flow: Flow
    year_before: Flow | None  #: The same days of the year before; None: nothing is known of them.
    brews: tuple[BrewBack, ...]
    expected: tuple[tuple[float, float], ...]  #: How warm, how long, as the forecast expects of the usual brew. [degC, d]
    weeks: tuple[tuple[date, float, float], ...]  #: First day, drunk, lost. [L]
    favourite: str  #: Empty: nobody said.
    scores: tuple[tuple[str, float, int], ...]  #: Flavour, mean of 1 to 5, how many.
    inside: tuple[int, int]  #: Readings within what was foretold, of how many.
    foretold: tuple[ForetoldBack, ...]  #: The brew that was foretold best, and worst; fewer than two: nothing.
    points: tuple[PointsBack, ...]  #: Of each taster, of the style that was tasted most.
    lessons: tuple[KeptLesson, ...]
    per_litre: float | None  #: [the household's money]

    @property
    def drunk_l(self) -> float:
        """What was drunk, harvests of which nothing was bottled too. [L]"""
        return sum(drunk for _, drunk, _ in self.weeks)

    @property
    def balance_l(self) -> float:
        """What was made, less where it went and what stands more: nothing, but for rounding. [L]"""
        return self.flow.made_l - sum(self.flow.went.values()) - (self.flow.after_l - self.flow.before_l)


def looked_back(session: Session, first: date, last: date, now: datetime) -> Back:
    """Look back on some days; lessons are kept, nothing of the past is reckoned anew.

    Args:
        session: Of the household.
        first, last: Both within.
        now: The moment.
    """
    begins, ends = datetime.combine(first, time(), UTC), min(datetime.combine(last + timedelta(days=1), time(), UTC), now)
    ended = looking_queries.ended_between(session, begins, ends)
    tests = [Tested(*test) for row in ended for test in row.tests]
    scored = looking_queries.scores_between(session, begins, ends)
    names = {filling.id: name_in_ranking(filling) for filling in notebook_queries.fillings(session, sorted({number for number, _ in scored}))}
    by_flavour: dict[str, list[int]] = defaultdict(list)
    for number, liked in scored:
        by_flavour[names[number]].append(liked)
    scores = sorted(((name, mean(said), len(said)) for name, said in by_flavour.items()), key=lambda row: (-row[1], -row[2]))
    return Back(
        first=first, last=last,
        flow=_flow(session, begins, ends),
        year_before=_year_before(session, begins, ends),
        brews=tuple(BrewBack(row.number, f"{row.vessel}, {row.culture}", row.mean_c, row.days, is_jun(row.honey_share)) for row in ended if row.mean_c is not None and row.harvested),
        expected=_expected(session, now),
        weeks=_weeks(session, begins, ends),
        favourite=next((name for name, _, count in scores if count >= LEAST_SAID), ""),
        scores=tuple(scores),
        inside=(sum(test.inside for test in tests), len(tests)),
        foretold=_foretold(ended),
        points=_points(session, ended),
        lessons=tuple(row for row in notebook_queries.standing_lessons(session) if begins <= row.at < ends + timedelta(days=1)),
        per_litre=costing.together(costing.by_month(session, now, _months(first, now))).per_litre,
    )  # fmt: skip


def _foretold(ended: Sequence[looking_queries.EndedRow]) -> tuple[ForetoldBack, ...]:
    """Return the best and the worst foretold of some brews, of those whose pH was measured again."""
    rows = [ForetoldBack(row.number, f"{row.vessel}, {row.culture}", mean(abs(test[HAPPENED] - test[SAID]) for test in row.tests)) for row in ended if row.tests]
    rows.sort(key=lambda one: one.off_ph)
    return (rows[0], rows[-1]) if len(rows) > 1 else ()


def _flow(session: Session, begins: datetime, ends: datetime) -> Flow:
    return Flow(
        looking_queries.begun_between(session, begins, ends), looking_queries.came_between(session, begins, ends), looking_queries.went_between(session, begins, ends),
        looking_queries.standing_at(session, begins), looking_queries.standing_at(session, ends),
    )  # fmt: skip


def _year_before(session: Session, begins: datetime, ends: datetime) -> Flow | None:
    found = _flow(session, begins - YEAR, ends - YEAR)
    return found if found.made_l > 0 or found.went else None


def _points(session: Session, ended: Sequence[looking_queries.EndedRow]) -> tuple[PointsBack, ...]:
    """Read where each taster's point lay, of kombucha or of jun, whichever was tasted more often."""
    tasted = [(is_jun(row.honey_share), *told) for row in ended for told in row.tasted]
    jun = 2 * sum(one[0] for one in tasted) > len(tasted)
    by_taster: dict[int, list[tuple[datetime, float]]] = defaultdict(list)
    for of_jun, taster, score, moment, ta, *_ in tasted:
        if of_jun == jun:
            by_taster[int(taster)].append((datetime.fromtimestamp(moment, UTC), point_told(ta, score)))
    return tuple(PointsBack(one.name, tuple(sorted(by_taster[one.id]))) for one in queries.tasters_of(session) if one.id in by_taster)


def _months(first: date, now: datetime) -> int:
    return min(12, max(1, (now.year - first.year) * 12 + now.month - first.month + 1))


def _expected(session: Session, now: datetime) -> tuple[tuple[float, float], ...]:
    """Return how long the usual brew is expected to take, by how warm it stands. [degC, d]"""
    vessels = brew_days.brewing_vessels(session)
    if not vessels or not culture_queries.cultures(session):
        return ()
    return remembered(session, ("expected by warmth", now.date()), lambda: _expected_of(session, now))


def _expected_of(session: Session, now: datetime) -> tuple[tuple[float, float], ...]:
    vessel = next((one for one in brew_days.brewing_vessels(session) if not one.tapped), brew_days.brewing_vessels(session)[0])
    plan = brew_days.usual_plan(session, vessel, now)
    prior = forecasting.prior_of(brew_days.last_culture(session, vessel), tea=text_of(plan.recipe.tea))
    ask = forecast_ask(plan, prior, (house_point(session, plan.recipe.honey_share),))
    return tuple((celsius, days) for celsius, days in zip(WARM, likely_days(ask, WARM), strict=True) if days is not None)


def _weeks(session: Session, begins: datetime, ends: datetime) -> tuple[tuple[date, float, float], ...]:
    drunk, lost = Counter[date](), Counter[date]()
    for at, litres in looking_queries.drunk_between(session, begins, ends):
        drunk[_monday(at.date())] += litres  # type: ignore[assignment]
    for at, litres in looking_queries.lost_between(session, begins, ends):
        lost[_monday(at.date())] += litres  # type: ignore[assignment]
    first, out = _monday(begins.date()), []
    while first <= ends.date():
        out.append((first, float(drunk[first]), float(lost[first])))
        first += timedelta(days=7)
    return tuple(out)


def _monday(day: date) -> date:
    return day - timedelta(days=day.weekday())
