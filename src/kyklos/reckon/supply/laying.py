"""Laying the plan out: what each vessel does in each month, and on which days; planned days stay where they serve, guests are met."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

import numpy as np
import numpy.typing as npt
from sqlalchemy.orm import Session

from ...core.supply import Pace
from ...core.supply.ahead import DAYS_AHEAD, Coming, arrivals, spans
from ...core.supply.demand import DAYS
from ...core.supply.plan import REST, BatchVessel, SupplyPlan, TappedVessel, VesselChoice, choose
from ...core.supply.stagger import Laid, Ripening, Turns, stagger
from ...store.read import planning_queries
from ...store.records import PlannedDay
from .producers import BLOCK_DAYS, DRAW_LOSS, Producer, block_of, starter_in_days

Floats = npt.NDArray[np.float64]
BLOCKS = 3
LEAST_BUFFER_L = 0.5  #: A bottle stays on the shelf all the same. [L]
LEAST_MISSED_L = 0.1  #: Less is not missed (assumed). [L]
NO_BATCHES = Laid((), (), 0)


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanLane:
    """One vessel in the plan."""

    producer: Producer
    choice: VesselChoice = REST
    batches: Laid = NO_BATCHES  #: Days on which it is filled. [d from now]
    draws: tuple[int, ...] = ()  #: Days on which it is drawn from. [d from now]
    draw_l: float = 0.0  #: Each time. [L]

    @property
    def rests(self) -> bool:
        """Whether it does nothing over these days."""
        return self.choice.every_days is None

    @property
    def coming(self) -> tuple[Coming, ...]:
        """What it gives."""
        return self.batches.coming + tuple(Coming(self.draw_l * (1 - DRAW_LOSS), day, day, day) for day in self.draws)

    @property
    def batch_l(self) -> float:
        """How much a batch in it is. [L]"""
        return next((batch.litres for batch in self.producer.batches if batch is not None), 0.0)

    @property
    def most_l(self) -> float | None:
        """The most it can give, as warm as it stands now; None: nothing. [L/week]"""
        vessel = self.producer.tapped[0] if self.producer.tapped else self.producer.batches[0] if self.producer.batches else None
        return None if vessel is None else max(choice.litres_a_week for choice in vessel.choices())

    @property
    def works(self) -> bool:
        """Whether the plan asks anything of it."""
        return bool(self.batches.days or self.draws)


def choices_of(made: Sequence[Producer], demand: float) -> list[tuple[SupplyPlan, list[Producer]]]:
    """Choose for each block of days; what works already goes on working where it gives enough."""
    out = [_choose(made, 0, demand)]
    for block in range(1, BLOCKS):
        plan, who = out[-1]
        working = [one for one, choice in zip(who, plan.choices, strict=True) if choice.every_days is not None]
        same = _choose(working, block, demand)
        out.append(same if same[0].enough else _choose(made, block, demand))
    return out


def _choose(made: Sequence[Producer], block: int, demand: float) -> tuple[SupplyPlan, list[Producer]]:
    """Choose for the vessels of the plan, as warm as they stand in a block of days; tapped ones first: they are less work."""
    offered: list[BatchVessel | TappedVessel] = []
    who: list[Producer] = []
    for one in sorted((one for one in made if one.in_plan), key=lambda one: one.standing is None):
        vessel = one.tapped[block] if one.tapped else one.batches[block] if one.batches else None
        if vessel is not None:
            offered.append(vessel)
            who.append(one)
    return choose(offered, demand), who


def _choice_for(plans: Sequence[tuple[SupplyPlan, list[Producer]]], one: Producer, block: int) -> VesselChoice:
    plan, who = plans[block]
    return plan.choices[who.index(one)] if one in who else REST


def laid(
    session: Session, made: Sequence[Producer], plans: Sequence[tuple[SupplyPlan, list[Producer]]], level: Floats, now: datetime, bottle_days: float, pace: Pace
) -> tuple[tuple[PlanLane, ...], float]:
    """Lay draws and batches over the days; what is planned already stays where it serves."""
    shut, planned = away_days(session, now), planning_queries.planned_days(session)
    lanes: dict[int, PlanLane] = {}
    turning: list[tuple[int, Turns]] = []
    for number, one in enumerate(made):
        choices = [_choice_for(plans, one, block) for block in range(BLOCKS)]
        lanes[number] = PlanLane(producer=one, choice=choices[0])
        if not one.in_plan:
            continue
        if one.standing is not None:
            lanes[number] = _drawn(one, choices, planned, shut, now)
            level = level + np.cumsum(arrivals(lanes[number].coming, "late"))
        elif any(choice.every_days is not None for choice in choices):
            free = starter_in_days(session, made, one, now)
            if free is None:
                lanes[number] = PlanLane(producer=replace(one, why_not="no starter for it"))
            else:
                turning.append((number, _turns(one, choices, free, planned, bottle_days, now)))
    late = [ripe.late - ripe.likely for _, turns in turning for ripe in (turns.ripening(0),)]
    buffer = max(LEAST_BUFFER_L, pace.litres_a_week / DAYS * max(late, default=0.0))
    laid = stagger([turns for _, turns in turning], level, buffer, shut)
    for (number, _), batches in zip(turning, laid, strict=True):
        lanes[number] = replace(lanes[number], batches=batches)
    return tuple(lanes[number] for number in range(len(made))), buffer


def for_peaks(session: Session, lanes: tuple[PlanLane, ...], made: Sequence[Producer], level: Floats, now: datetime, bottle_days: float) -> tuple[PlanLane, ...]:
    """Let a vessel that rests brew once more where guests would drink the shelf dry, as late as serves."""
    shut, out = away_days(session, now), list(lanes)
    tried = -1
    for _ in range(2 * len(lanes)):
        late = level + sum(np.cumsum(arrivals(lane.coming, "late")) for lane in out)
        day = next((first for first, _ in spans(late < -LEAST_MISSED_L) if first > tried), None)
        if day is None:
            break
        tried = day
        found = [(number, once) for number, lane in enumerate(out) if (once := _once(session, lane, made, day, now, bottle_days, shut)) is not None]
        if found:
            number, once = max(found, key=lambda row: (row[1].coming[0].litres >= -late[day:].min(), -row[1].coming[0].litres))
            out[number], tried = replace(out[number], batches=once), day - 1
    return tuple(out)


def _once(session: Session, lane: PlanLane, made: Sequence[Producer], by_day: int, now: datetime, bottle_days: float, shut: frozenset[int]) -> Laid | None:
    """Return one batch of a resting vessel that is ready before a day, even if it is slow; None: it cannot be."""
    one = lane.producer
    ripe = one.ripe[0] if one.ripe else None
    vessel = one.batches[0] if one.batches else None
    if not one.in_plan or not lane.rests or lane.batches.days or ripe is None or vessel is None:
        return None
    free = starter_in_days(session, made, one, now)
    last = int(np.floor(by_day - ripe.late - bottle_days))
    if free is None or last < int(np.ceil(free)):
        return None
    day = next((day for day in range(last, int(np.ceil(free)) - 1, -1) if day not in shut), None)
    if day is None:
        return None
    ready = day + bottle_days
    return Laid((day,), (Coming(vessel.gives_l, ready + ripe.early, ready + ripe.likely, ready + ripe.late),), 0)


def _turns(one: Producer, choices: Sequence[VesselChoice], free_in: float, planned: Sequence[PlannedDay], bottle_days: float, now: datetime) -> Turns:
    """Put together how a vessel's batches may lie. Where it rests for some weeks, the next one is started when it works again."""
    works = [block for block, choice in enumerate(choices) if choice.every_days is not None]
    ripe = [one.ripe[min(block, len(one.ripe) - 1)] or next(known for known in one.ripe[:BLOCKS] if known is not None) for block in range(BLOCKS)]
    vessel = next(batch for batch in one.batches[:BLOCKS] if batch is not None)

    def step(day: int) -> int:
        here = block_of(day, BLOCKS)
        next_day = day + int(choices[here].every_days or 0)
        then = block_of(next_day, BLOCKS)
        if then in works and next_day > day:
            return next_day - day
        again = next((block for block in works if block > here), None)
        return DAYS_AHEAD if again is None else max(again * BLOCK_DAYS, next_day) - day

    def ripens(day: int) -> Ripening:
        found = ripe[block_of(day, BLOCKS)]
        return Ripening(found.early, found.likely, found.late, found.last_day)

    return Turns(
        name=one.name,
        free_on=max(int(np.ceil(free_in - 1e-9)), works[0] * BLOCK_DAYS),
        every=step,
        ripening=ripens,
        gives_l=vessel.gives_l,
        bottle_days=bottle_days,
        planned=_days_of(one, planned, ("brew",), now),
    )


def _days_of(one: Producer, planned: Sequence[PlannedDay], kinds: tuple[str, ...], now: datetime) -> tuple[int, ...]:
    """List days planned for a vessel, from today on. [d from now]"""
    today = now.date()
    days = sorted((row.day - today).days for row in planned if row.kind in kinds and row.vessel_id == one.vessel.id)
    return tuple(day for day in days if day >= 0) if one.name == one.vessel.name else ()


def _drawn(one: Producer, choices: Sequence[VesselChoice], planned: Sequence[PlannedDay], shut: frozenset[int], now: datetime) -> PlanLane:
    """Lay a tapped vessel's draws: from when it is ready, so often, on no day when nobody is there; planned ones stay."""
    standing = one.standing
    assert standing is not None
    choice = next((choice for choice in choices if choice.every_days is not None), REST)
    if choice.every_days is None or choice.share is None:
        return PlanLane(producer=one, choice=choices[0])
    line = standing.tapped.line_l
    wait = 0.0 if standing.litres_today > 0 else standing.now.ready_in or choice.every_days
    if standing.just_topped:
        wait = max(wait, choice.every_days)
    kept = _days_of(one, planned, ("draw",), now)
    days: list[int] = []
    day = kept[0] if kept and kept[0] - choice.every_days <= wait <= kept[0] + choice.every_days else int(np.ceil(wait))
    usual = choice.every_days
    while day < DAYS_AHEAD:
        while day in shut:
            day += 1
        days.append(day)
        day += int(choices[block_of(day, BLOCKS)].every_days or usual)
    return PlanLane(producer=one, choice=choice, draws=tuple(one for one in days if one < DAYS_AHEAD), draw_l=round(choice.share * line, 2))


def away_days(session: Session, now: datetime) -> frozenset[int]:
    """Return the days on which nobody is there. [d from now]"""
    gone = planning_queries.absence(session)
    if gone is None:
        return frozenset()
    first, last = (gone.leaves - now.date()).days, (gone.returns - now.date()).days
    return frozenset(range(max(first, 0), max(last, 0)))
