"""A tapped vessel as it stands: its records put together and asked what it can give, what becomes of it, and what it wants."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from itertools import pairwise
from statistics import median

import numpy as np
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from ..core.cultures.discs import USUAL_MM, disc_l
from ..core.forecast import Forecast, ForecastAsk
from ..core.judging import Due
from ..core.judging.safety import HOLD
from ..core.liquid.batch import Fill, fill_at
from ..core.liquid.pouring import is_a_glass
from ..core.tapped import Tapped, today
from ..core.tapped import care as tap_care
from ..core.tapped.cycle import DrawRange, advised
from ..core.tapped.settling import dried_l, sediment_l, stack_mm
from ..core.tapped.states import TapState
from ..core.tapped.vessel import (
    LEAST_TODAY,
    THIN_TO_MM,
    USUAL_EVERY,
    Left,
    Today,
    WayBack,
    as_poured,
    can_give,
    gate_acidity,
    left_alone,
    way_back,
)
from ..store.read.memory import remembered
from ..store.read.moments import HOURS_A_DAY, days_between
from ..store.read.recorded import drawn, recipe_of, topped_up
from ..store.records import Brew, Upkeep, Vessel
from .forecast import forecasting, palates
from .forecast.palates import is_jun
from .judging.attention import Attention, attention_of

RECENT_DRAWS = 6  #: The household's habit is read from so many. [-]
LEAST_DRAW_SHARE = 0.02  #: What is less is a sip and makes no rhythm. [-]
WORKS_AFTER_DAYS = 0.5  #: What was poured in has not begun to work before (assumed). [d]
SAME_DRAW_DAYS = 0.5  #: Glasses of one day are one draw. [d]
EVERY_BOUNDS = (1.0, 14.0)  #: [d]
MOST_WEEKS = 60  #: A stack is followed in so many steps at most. [-]
OVER_SHARE = 0.05  #: A draw this much above what it can give each time is not worth a word. [-]
GAUGE_WEEKS = 14.0  #: A reading so new counts for the new season too. [d]


@dataclass(frozen=True, slots=True)
class CareDone:
    """Something that was done to a vessel."""

    at: datetime
    number: int
    celsius: float | None  #: Of a gauge. [degC]
    after_mm: float | None  #: Of a thinned stack. [mm]
    note: str


@dataclass(frozen=True, slots=True)
class TappedStanding:
    """All that is known of a running tapped vessel at a moment."""

    known: Attention
    ask: ForecastAsk
    tapped: Tapped
    now: Today
    left: Left
    back: WayBack | None
    missing_l: float  #: Drawn and not given back yet. [L]
    wants: tuple[Due, ...]
    care: tap_care.CareFacts
    last_care: dict[str, CareDone]  #: By what was done.
    stack_mm: float
    stack_l: float
    sediment_l: float
    dried_l: float  #: Since it was last topped up. [L]
    at: datetime

    @property
    def brew(self) -> Brew:
        """The brew in the vessel."""
        return self.known.brew

    @property
    def vessel(self) -> Vessel:
        """The vessel."""
        return self.known.brew.vessel

    @property
    def gives(self) -> DrawRange:
        """The most and the least to be drawn each time, for good."""
        return can_give(self.tapped)

    @property
    def just_topped(self) -> bool:
        """Whether it was topped up within half a day: what was poured in has not begun to work."""
        last = max(self.known.facts.top_ups, default=None)
        return last is not None and 0 <= self.known.day - last < WORKS_AFTER_DAYS

    @property
    def litres_today(self) -> float:
        """What may be drawn today so that as much may be drawn again and again; 0: leave it. [L]"""
        if self.just_topped:
            return 0.0
        most = advised(self.gives.most, self.tapped.measures_after)
        return as_poured(self.now.litres if most is None else min(self.now.litres, most * self.tapped.line_l))

    @property
    def state(self) -> TapState:
        """What matters first about the vessel now."""
        if self.known.lost:
            return TapState.SPOILED
        if self.known.on_hold:
            return TapState.RESTS
        if self.care.paused:
            return TapState.PAUSED
        if self.back is not None:
            return TapState.FORGOTTEN
        if self.litres_today < LEAST_TODAY * self.tapped.line_l:
            return self._waits
        return TapState.SOUR if self.care.too_sour else TapState.READY

    @property
    def _waits(self) -> TapState:
        wait = self.now.ready_in
        if wait is None:
            return TapState.NEVER
        if self.just_topped and wait <= 0.0:
            return TapState.JUST_TOPPED
        if not is_a_glass(self.above_tap_l):
            return TapState.AT_ITS_HEEL
        return TapState.TOP_UP_FIRST if wait <= 0.0 else TapState.RIPENS

    @property
    def above_tap_l(self) -> float:
        """What can run out at the tap. [L]"""
        return self.brew.left_l - self.vessel.heel_l

    def too_often(self, litres: float) -> bool:
        """Return whether a draw is more than the vessel can give every time. [L]"""
        return litres > (self.litres_for_good or litres) * (1 + OVER_SHARE)

    @property
    def litres_for_good(self) -> float | None:
        """The most to be drawn each time, for good; None: it never grows sour enough. [L]"""
        return None if self.gives.most is None else as_poured(self.gives.most * self.tapped.line_l)

    @property
    def gate_g_per_l(self) -> float:
        """The acidity at which it stands at pH 4.2. [g/L]"""
        return gate_acidity(self.tapped)

    @property
    def paused(self) -> bool:
        """Whether nothing is drawn for a while."""
        return self.care.paused


def last_care(session: Session, vessel_id: int) -> dict[str, CareDone]:
    """Return the last of each kind of care of a vessel, by what was done."""
    return dict(remembered(session, ("care", vessel_id), lambda: tuple(_last_care(session, vessel_id))))


def _last_care(session: Session, vessel_id: int) -> list[tuple[str, CareDone]]:
    newest = (
        select(Upkeep.what, func.max(Upkeep.at).label("at"))
        .where(Upkeep.vessel_id == vessel_id)
        .group_by(Upkeep.what)
        .subquery()
    )
    mine = select(Upkeep).where(Upkeep.vessel_id == vessel_id).order_by(Upkeep.id)
    rows = session.scalars(mine.join(newest, (newest.c.what == Upkeep.what) & (newest.c.at == Upkeep.at)))
    return [(row.what, CareDone(row.at, row.id, row.celsius, row.after_mm, row.note)) for row in rows]


def is_paused(care: dict[str, CareDone]) -> bool:
    """Return whether a vessel is paused: its last pause is newer than its last going on."""
    paused, resumed = care.get("paused"), care.get("resumed")
    return paused is not None and (resumed is None or (resumed.at, resumed.number) < (paused.at, paused.number))


def habit(brew: Brew) -> float:
    """Return how often a vessel is topped up, by its last times; the usual until there are some. [d]"""
    days: list[float] = []
    for row in topped_up(brew)[-RECENT_DRAWS:]:
        day = days_between(brew.pitched_at, row.at)
        if not days or day - days[-1] > SAME_DRAW_DAYS:
            days.append(day)
    gaps = [later - earlier for earlier, later in pairwise(days)]
    if not gaps:
        return USUAL_EVERY
    return float(round(min(max(median(gaps), EVERY_BOUNDS[0]), EVERY_BOUNDS[1])))


def _tapped(session: Session, known: Attention, ask: ForecastAsk, line_l: float) -> Tapped:
    brew, out = known.brew, known.forecast
    day = math.floor(known.day * HOURS_A_DAY) / HOURS_A_DAY  # an hour's answers are the same
    fill = fill_at(ask.batch, known.day)
    litres = max(brew.left_l, 0.01)
    after = [r for r in known.facts.ph if known.facts.top_ups and r.day >= known.facts.top_ups[-1]]
    return Tapped(
        recipe=recipe_of(brew),
        course=ask.course,
        now=day,
        state=tuple(round(float(v), 4) for v in out.state_at(min(day, float(out.day[-1])))),
        fill=Fill(litres, fill.surface_per_volume_per_cm, fill.inert),
        line_l=round(max(line_l, litres, 0.02), 2),
        heel_l=min(brew.vessel.heel_l, max(line_l, litres) * 0.9),
        yeast_vigour=out.posterior.yeast_vigour,
        bacteria_vigour=out.posterior.bacteria_vigour,
        points=ask.points,
        steepness=tuple(round(palates.palate_of(session, p.taster, is_jun(brew)).steepness, 3) for p in ask.points),
        every_days=habit(brew),
        measures_after=bool(after) and bool(known.facts.ph),
        stirred=bool(drawn(brew)) and drawn(brew)[-1].stirred,
    )


def _stack(brew: Brew, ask: ForecastAsk, day: float, care: dict[str, CareDone]) -> float:
    """Return how thick its stack of discs is likely to be. [mm]"""
    thinned = care.get("thinned")
    first, since = USUAL_MM if brew.disc_id is not None else 0.5, 0.0
    if brew.disc is not None and brew.disc.thickness_mm is not None:
        first = brew.disc.thickness_mm
    if thinned is not None and thinned.at > brew.pitched_at:
        first, since = thinned.after_mm or THIN_TO_MM, days_between(brew.pitched_at, thinned.at)
    weeks = min(max(1, round((day - since) / 7)), MOST_WEEKS)
    length = max(day - since, 0.0) / weeks
    middles = np.asarray(since + length * (np.arange(weeks) + 0.5), np.float64)
    warm = ask.course.at(middles)
    return stack_mm([(length, float(c)) for c in warm], first)


def _sediment(brew: Brew, out: Forecast, care: dict[str, CareDone], out_at: datetime) -> float:
    """Return how much sediment lies in it: of the sugar that went since it was last taken out. [L]"""
    cleaned = care.get("sediment")
    since = cleaned.at if cleaned is not None else brew.pitched_at
    fed = [row for row in topped_up(brew) if row.at > since]
    first = 0.0 if cleaned is not None else brew.started_l * (1 - brew.starter_fraction) * brew.sugar_g_per_l
    given = first + sum(row.grams for row in fed)
    left_g_per_l = float(out.sugar_g_per_l.p50[-1]) if len(out.day) else 0.0
    taken = sum(t.litres for t in drawn(brew) if t.at > since) * _sugar_at_draws(out)
    seen = max(since, brew.known_since) if brew.known_since is not None else since
    longer = (out_at - since) / max(out_at - seen, timedelta(days=1))  # what is not read any more went on like that
    return sediment_l(max(0.0, given - taken - brew.left_l * left_g_per_l) * max(longer, 1.0))


def _sugar_at_draws(out: Forecast) -> float:
    """Return how sweet it is when it is drawn from, about: the least of the last weeks. [g/L]"""
    return float(out.sugar_g_per_l.p50.min())


def standing(session: Session, brew: Brew, now: datetime) -> TappedStanding:
    """Put together all that is known of a running tapped vessel.

    Args:
        session: Of the household.
        brew: That runs.
        now: The moment.
    """
    return standing_of(session, attention_of(session, brew, now), now)


def standing_of(session: Session, known: Attention, now: datetime) -> TappedStanding:
    """Put together what is known of a vessel whose brew was looked at already."""
    brew, day = known.brew, known.day
    ask, care = forecasting.forecast_ask_of(session, brew), last_care(session, brew.vessel_id)
    thick = _stack(brew, ask, day, care)
    width = brew.vessel.diameter_cm
    room = disc_l(thick, width)
    line_l = max(brew.vessel.usable_l - room, 0.05)
    tapped = _tapped(session, known, ask, line_l)
    now_out, left, back = today(tapped), left_alone(tapped), way_back(tapped)
    silt = _sediment(brew, known.forecast, care, now)
    missing = max(0.0, line_l - brew.left_l)
    facts = replace(
        _care_facts(known, care, tapped, now),
        missing_share=missing / tapped.line_l,
        ripe=now_out.litres > LEAST_TODAY * tapped.line_l,
        stack_mm=thick,
        stack_share=room / brew.vessel.usable_l,
        sediment_share=silt / brew.vessel.usable_l,
    )
    topped = topped_up(brew)
    dry = dried_l(days_between(topped[-1].at if topped else brew.pitched_at, now), width)
    return TappedStanding(
        known=known, ask=ask, tapped=tapped, now=now_out, left=left, back=back, missing_l=missing,
        wants=tap_care.wants(facts), care=facts, last_care=care, stack_mm=thick, stack_l=room, sediment_l=silt, dried_l=dry, at=now,
    )  # fmt: skip


def _care_facts(known: Attention, care: dict[str, CareDone], tapped: Tapped, now: datetime) -> tap_care.CareFacts:
    """Put together what its records tell of its care; what grows in it is judged elsewhere."""
    brew, facts = known.brew, known.facts
    draws, topped = drawn(brew), topped_up(brew)
    gauge = care.get("gauge")
    since = {what: days_between(row.at, now) for what, row in care.items()}
    return tap_care.CareFacts(
        running_days=known.day,
        since=since,
        drawn_days=days_between(draws[-1].at, now) if draws else None,
        topped_days=days_between(topped[-1].at, now) if topped else None,
        topped_times=len(topped),
        ph_since=bool(facts.top_ups) and any(r.day >= facts.top_ups[-1] for r in facts.ph),
        drew_more_than_half=_before_last(brew) > tap_care.AFTER_HALF * tapped.line_l,
        measures_ph=bool(facts.ph),
        too_sour=known.acidity[1] >= tapped.sourest,
        gauge_c=gauge.celsius if gauge is not None else None,
        heater_c=brew.vessel.heater_c,
        new_season=gauge is not None and days_between(gauge.at, now) > GAUGE_WEEKS and _season(gauge.at) != _season(now),
        paused=is_paused(care),
        resting=known.on_hold or known.verdict.word == HOLD,
    )


def _season(at: datetime) -> int:
    return (at.month % 12) // 3


def _before_last(brew: Brew) -> float:
    """Return how much was drawn between the last two toppings up. [L]"""
    topped = topped_up(brew)
    if not topped:
        return 0.0
    since = topped[-2].at if len(topped) > 1 else brew.pitched_at
    return sum(t.litres for t in drawn(brew) if since < t.at <= topped[-1].at)


