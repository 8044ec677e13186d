"""Experiments from the records: what each arm is, in what they differ, and what came of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from statistics import mean

from sqlalchemy.orm import Session

from ...core.base.kinds import NOT_DRUNK, BottleState
from ...core.base.saying import marked
from ...core.liquid import teas
from ...core.liquid.standing import PlaceKind
from ...core.liquid.taste import score_word
from ...core.notebook.care import CareDue, care_due
from ...core.notebook.experiments import DaysApart, Differs, Outcome, days_apart, differences, outcome
from ...core.notebook.lessons import Applies
from ...store.read import experiment_queries, queries
from ...store.read.moments import days_between
from ...store.records import Bottle, Bottling, Brew, Experiment
from ..bottles.flavours import name_in_ranking
from ..forecast import forecasting
from ..forecast.warmth import course_of

LOOK_BACK_DAYS = 90.0  #: Arms are chosen of so many days. [d]
ANYWHERE = Applies()
COURSE_DAYS = 24  #: Courses are laid over each other so far. [d]


@dataclass(frozen=True, slots=True)
class Arm:
    """One of the two."""

    number: int
    name: str
    facts: dict[str, str]  #: What is known of it, by name, with quantities marked.
    course: tuple[tuple[float, float], ...]  #: Day, likely pH. [d, -]
    readings: tuple[tuple[float, float], ...] = ()  #: Day, pH. [d, -]
    applies: Applies = ANYWHERE  #: Where a lesson of it comes back.
    comes_back_for: str = ""  #: The same in words.
    over: bool = True  #: It stands no more.
    came_out: dict[str, str] = field(default_factory=dict)  #: How, by name.


@dataclass(frozen=True, slots=True)
class TwoThings:
    """Two things beside each other."""

    arms: tuple[Arm, Arm]
    differ: tuple[Differs, ...]
    same: tuple[str, ...]
    came_out: tuple[Differs, ...]


@dataclass(frozen=True, slots=True)
class ExperimentSoFar:
    """An experiment as it stands."""

    row: Experiment
    two: TwoThings
    found: Outcome
    over: bool = True  #: Whether both stand no more.


Choice = tuple[int, str, str]  #: Number, name, line or flavour.


def choices(session: Session, now: datetime) -> dict[str, list[Choice]]:
    """List brews, fillings, and fillings with two bottles left that may be tried, the newest first, by the kind of experiment."""
    since = now - timedelta(days=LOOK_BACK_DAYS)
    brews = [(brew.id, f"{brew.vessel.name}, {brew.culture.name}, {brew.pitched_at:%-d %b}", brew.culture.name) for brew in experiment_queries.brews_since(session, since) if brew.kind not in NOT_DRUNK]
    filled = experiment_queries.fillings_since(session, since)
    fillings = [(one.id, f"{name_in_ranking(one)}, {one.at:%-d %b}", name_in_ranking(one)) for one in filled]
    left = experiment_queries.bottles_left(session, [one.id for one in filled])
    shared = [(number, f"{name}, {left[number]} bottles", line) for number, name, line in fillings if left.get(number, 0) > 1]
    return {"brew": brews, "bottling": fillings, "bottle": shared}


def pair_of(offered: Sequence[Choice]) -> tuple[int, int]:
    """Return which two are offered first, the usual one and the changed one: the newest two of one line or flavour, if there are."""
    for place, (number, _, line) in enumerate(offered):
        if (older := next((one[0] for one in offered[place + 1 :] if one[2] == line), None)) is not None:
            return older, number
    return (offered[1][0], offered[0][0]) if len(offered) > 1 else (0, 0)


def pair(session: Session, kind: str, sides: Sequence[Sequence[int]]) -> TwoThings:
    """Put two brews, two fillings, or bottles of one filling beside each other.

    Args:
        kind: brew, bottling or bottle
        sides: Numbers of each.
    """
    first, second = _named_apart(*(_of_bottles(session, side) if kind == "bottle" else ARMS[kind](session, side[0]) for side in sides))
    differ, same = differences(first.facts, second.facts)
    out = [Differs(name, first.came_out.get(name, ""), second.came_out.get(name, "")) for name in dict.fromkeys([*first.came_out, *second.came_out])]
    return TwoThings((first, second), tuple(differ), tuple(same), tuple(out))


def experiment_so_far(session: Session, row: Experiment) -> ExperimentSoFar:
    """Put an experiment together of which both stand, or stood."""
    two = pair(session, row.kind, row.sides)
    days = _days(session, [number for (number,) in row.sides]) if row.kind == "brew" else None
    found = outcome([tuple(sheet) for sheet in row.sheets], [tuple(told) for told in row.triangles], days)
    return ExperimentSoFar(row, two, found, over=all(arm.over for arm in two.arms))


def _named_apart(first: Arm, second: Arm) -> tuple[Arm, Arm]:
    """Call two arms by what tells them apart, in as few words as will do."""
    for fact in ("Tea", "Vessel", "Flavour", "Started", "Filled", "Numbers"):
        names = [arm.facts.get(fact, "") for arm in (first, second)]
        if names[0] != names[1]:
            if fact in ("Started", "Filled"):
                names = [f"{arm.facts.get('Vessel') or arm.facts['Flavour']}, {name}" for arm, name in zip((first, second), names, strict=True)]
            return replace(first, name=names[0]), replace(second, name=names[1])
    return first, second


def _of_brew(session: Session, number: int) -> Arm:
    brew = queries.get(session, Brew, number)
    warm = course_of(brew)
    facts = {
        "Line": brew.culture.name, "Vessel": brew.vessel.name, "Place": brew.vessel.place.name if brew.vessel.place is not None else "not told", "Tea": teas.name_of(teas.from_text(brew.tea)), "Leaf": marked(brew.leaf_g_per_l, "strength"),
        "Sugar": marked(brew.sugar_g_per_l, "strength"), "Honey": f"{100 * brew.honey_share:.0f} %", "Starter": f"{100 * brew.starter_fraction:.0f} %",
        "Starter's pH": f"{brew.starter_ph:.1f}", "Amount": marked(brew.started_l, "volume"), "Warmth": marked(round(mean([celsius for _, celsius in warm.points] or [warm.future_c or 0.0])), "temperature"),
        "Started": f"{brew.pitched_at:%-d %b %Y}",
    }  # fmt: skip
    out = forecasting.forecast_of(session, brew)
    last = days_between(brew.pitched_at, brew.ended_at) if brew.ended_at is not None else float(COURSE_DAYS)
    course = tuple((float(day), float(ph)) for day, ph in zip(out.day, out.ph.p50, strict=True) if day <= min(last, COURSE_DAYS))
    read = tuple((days_between(brew.pitched_at, one.at), one.ph) for one in brew.readings if one.ph is not None and not one.struck)
    tea = teas.from_text(brew.tea)
    applies, where = Applies(culture=brew.culture.name, tea=teas.parts_of(tea)[0][0]), f"{brew.culture.name} with {teas.name_of(tea).lower()}"
    return Arm(number, f"{brew.vessel.name}, {teas.name_of(tea).lower()}", facts, course, read, applies, where, brew.ended_at is not None, _came_out(brew))


def _came_out(brew: Brew) -> dict[str, str]:
    """Return how a brew came out: its days, its last pH, what each taster said last."""
    last = next((one.ph for one in reversed(brew.readings) if one.ph is not None and not one.struck), None)
    said = {one.taster.name: score_word(one.score) for one in brew.tastings if not one.struck}
    days = f"{days_between(brew.pitched_at, brew.ended_at):.0f}" if brew.ended_at is not None else "stands still"
    return {"Days": days, "Last pH": "not read" if last is None else f"{last:.1f}", **said}


def _of_filling(session: Session, number: int) -> Arm:
    filling = queries.get(session, Bottling, number)
    kinds = ", ".join(sorted({bottle.kind for bottle in filling.bottles}))
    facts = {
        "Flavour": name_in_ranking(filling), "Brew": filling.brew.vessel.name, "Priming": marked(filling.sugar_g_per_l, "strength"), "Added sugar": marked(filling.added_sugar_g_per_l, "strength"),
        "Bottles": kinds, "Filled": f"{filling.at:%-d %b %Y}",
    }  # fmt: skip
    return Arm(number, name_in_ranking(filling), facts, (), (), Applies(flavour=name_in_ranking(filling)), name_in_ranking(filling))


ARMS = {"brew": _of_brew, "bottling": _of_filling}


def _day_or_not(at: datetime | None) -> str:
    return "not yet" if at is None else f"{at:%-d %b}"


def halves(session: Session, filling: int, each: int | None) -> tuple[tuple[int, ...], tuple[int, ...]]:
    """Share the bottles that are left of a filling between the two: in turn, so that both have of the first and of the last filled.

    Args:
        filling: Its number.
        each: So many for each of the two; None: half and half.
    """
    kept = [bottle.id for bottle in queries.get(session, Bottling, filling).bottles if bottle.state != BottleState.GONE]
    most = len(kept) // 2 if each is None else min(each, len(kept) // 2)
    return tuple(kept[0 : 2 * most : 2]), tuple(kept[1 : 2 * most : 2])


def _of_bottles(session: Session, numbers: Sequence[int]) -> Arm:
    """Tell of some bottles of one filling what may be different between them: where they stood, how warm, since when cold."""
    bottles = [queries.get(session, Bottle, number) for number in numbers]
    whole = _of_filling(session, bottles[0].bottling_id)
    chilled = {_day_or_not(next((one.since for one in bottle.standings if one.place.kind == PlaceKind.FRIDGE), None)) for bottle in bottles}
    opened = {_day_or_not(bottle.gone_at) for bottle in bottles}
    stood = {bottle.place.name if bottle.place is not None else "not told" for bottle in bottles}
    facts = {
        "Numbers": "No. " + ", ".join(str(number) for number in numbers), "Flavour": whole.facts["Flavour"], "Bottles": ", ".join(sorted({bottle.kind for bottle in bottles})), "Stood": ", ".join(sorted(stood)),
        "Chilled": ", ".join(sorted(chilled)), "Opened": ", ".join(sorted(opened)),
    }  # fmt: skip
    out = {"Hiss, 0 to 4": ", ".join(str(bottle.hiss) for bottle in bottles if bottle.hiss is not None) or "not heard"}
    return replace(whole, facts=facts, over=all(bottle.gone_at is not None for bottle in bottles), came_out=out)


def _days(session: Session, arms: Sequence[int]) -> DaysApart | None:
    """Return how far the ready days of two brews lie apart, by both forecasts, for the first taster."""
    found = []
    for number in arms:
        window = next(iter(forecasting.forecast_of(session, queries.get(session, Brew, number)).ready.values()), None)
        if window is None or window.p10 is None or window.p50 is None or window.p90 is None:
            return None
        found.append((window.p10, window.p50, window.p90))
    return days_apart(found[0], found[1])


def care_now(session: Session, now: datetime) -> list[CareDue]:
    """List what of the kitchen is to be cared for, what mould touched first."""
    rhythms, done = experiment_queries.rhythms(session), experiment_queries.last_done(session)
    mould = [(name, days_between(at, now)) for name, at in experiment_queries.moulded_since(session, now - timedelta(days=LOOK_BACK_DAYS))]
    return care_due(rhythms, {what: days_between(at, now) for what, at in done.items()}, mould) if rhythms or done or mould else []


def running(session: Session) -> list[Experiment]:
    """List experiments, those that go on first."""
    return sorted(experiment_queries.experiments(session), key=lambda row: (row.ended_at is not None, -row.id))
