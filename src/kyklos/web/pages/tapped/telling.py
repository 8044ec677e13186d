"""What the page of a tapped vessel shows: the saw, the cut, what builds up, what if."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

import numpy as np
from flask import g

from ....core.base.kinds import HeaterAdvice, SeenKind
from ....core.forecast import Forecast
from ....core.forecast.palate import INSIDE
from ....core.liquid import Draw
from ....core.liquid.events import Event
from ....core.liquid.taste import score, score_word
from ....core.tapped import heater
from ....core.tapped.heater import Holding
from ....core.tapped.vessel import Rhythm, for_a_wish, rhythm
from ....drawing.inside import Inside, InsideFacts, inside
from ....drawing.saw import Drawn, Liked, Saw, SawFacts, saw
from ....reckon.forecast import warmth
from ....reckon.tapped import TappedStanding
from ....reckon.tapped_ahead import PLANNED_DAYS, coming
from ....store.read import moments, recorded
from ...kit import units
from ...kit.acting import in_units
from ...kit.goods_words import money_word
from ...kit.words import day_word, local

SHOWN_BACK = 24.0  #: So far back the saw is drawn. [d]
DATES = 5  #: About so many dates stand below the saw. [-]


def _liked(standing: TappedStanding) -> list[Liked]:
    out = []
    tapped = standing.tapped
    for number, point in enumerate(tapped.points):
        wide = float(np.exp(INSIDE / tapped.slope_of(number)))
        out.append(Liked(point.taster, point.ta_g_per_l / wide, point.ta_g_per_l * wide, tapped.sour_for(number)))
    return out


def _draws(events: Sequence[Event]) -> list[Drawn]:
    """List draws; what was taken at one moment is one draw."""
    by_day: dict[float, float] = {}
    for event in events:
        if isinstance(event, Draw):
            by_day[round(event.day, 2)] = by_day.get(round(event.day, 2), 0.0) + event.litres
    return [Drawn(day, litres, in_units(round(litres, 1 if litres >= 1 else 2), "volume")) for day, litres in sorted(by_day.items())]


def _dates(standing: TappedStanding, first: float, last: float) -> list[tuple[float, str]]:
    """Write some dates, at midnights of the household."""
    start = standing.brew.pitched_at
    every = max(2, round((last - first) / DATES))
    there = local(start + timedelta(days=first), g.household.zone).replace(hour=0, minute=0, second=0, microsecond=0)
    out = []
    day = there + timedelta(days=1)
    while (away := moments.days_between(start, day)) < last - 1:
        if abs(away - standing.tapped.now) > 0.12 * (last - first):
            out.append((away, f"{day:%-d} {day:%b}"))
        day += timedelta(days=every)
    return out


def saw_of(standing: TappedStanding, then: Forecast, events: Sequence[Event]) -> Saw:
    """Draw its saw, with the draws to come."""
    now, brew = standing.tapped.now, standing.brew
    first = max(float(then.day[0]), now - SHOWN_BACK)
    last = min(float(then.day[-1]), now + PLANNED_DAYS)
    readings = [o.day for o in standing.ask.observations if o.kind in {SeenKind.PH, SeenKind.TA}]
    tasted = [
        (moments.days_between(brew.pitched_at, t.at), f"{t.taster.name}: {score_word(t.score)}")
        for t in recorded.standing_tastings(brew)
    ]
    return saw(
        SawFacts(
            day=then.day, low=then.ta_g_per_l.p10, likely=then.ta_g_per_l.p50, high=then.ta_g_per_l.p90, today=now,
            first=first, last=last, draws=_draws(events), read=readings, tasted=tasted, liked=_liked(standing),
            gate=standing.gate_g_per_l, dates=_dates(standing, first, last),
        )
    )  # fmt: skip


def inside_of(standing: TappedStanding) -> Inside:
    """Draw the cut through a tapped vessel."""
    vessel = standing.vessel
    thin = any(due.kind == "thin" for due in standing.wants)
    silt = any(due.kind == "sediment" for due in standing.wants)
    return inside(
        InsideFacts(
            nominal_l=vessel.nominal_l, width_cm=vessel.diameter_cm, litres=standing.brew.left_l, heel_l=vessel.heel_l,
            stack_l=standing.stack_l, stack_mm=standing.stack_mm, sediment_l=standing.sediment_l, line_l=vessel.usable_l,
            litres_words=in_units(standing.brew.left_l, "volume"),
            heel_words=f"heel, {in_units(vessel.heel_l, 'volume')}" if vessel.heel_l else "",
            stack_words=f"discs, {in_units(round(standing.stack_mm), 'thickness')}",
            sediment_words=f"sediment, {in_units(round(standing.sediment_l, 2), 'volume')}",
            stack_wants="thin them" if thin else "", sediment_wants="take it out" if silt else "",
            line_words="its line",
        )
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class HeaterTold:
    """What is said of its heater, or of having none."""

    holding: Holding | None
    advice: str
    cost: float | None  #: A month, in the household's money.
    over_k: float  #: After an unheated filling. [K]


def heater_of(standing: TappedStanding) -> HeaterTold:
    """Return what a heater takes, costs and does; where there is none, what one would."""
    vessel, price = standing.vessel, g.household.power_price
    room = warmth.place_now(g.session, vessel.place, g.now)[0]
    found = heater.look(standing.brew.left_l, standing.tapped.line_l, vessel.heater_c, room, vessel.heater_w)
    if found.holding is None:
        return HeaterTold(None, "", None, 0.0)
    here, wanted = in_units(room, "temperature"), in_units(found.set_c, "temperature")
    said: str = {
        HeaterAdvice.WOULD_HELP: f"Its place is at {here}: a heater set to {wanted} would let it give more.",
        HeaterAdvice.OFF_NOW: f"Its place is at {here} by itself: the heater can be unplugged.",
        HeaterAdvice.KEEP: f"It holds {wanted} in a place at {here}.",
    }[HeaterAdvice(found.advice)]
    if not found.holding.holds and found.advice == HeaterAdvice.KEEP:
        said += " It is too weak for that: wrap the vessel, or set it lower."
    return HeaterTold(found.holding, said, None if price is None else found.holding.cost(price), found.over_k)


@dataclass(frozen=True, slots=True)
class WhatIf:
    """What was asked, and what it comes to."""

    share: float  #: [-]
    every_days: float
    celsius: float
    found: Rhythm
    litres_a_week: float
    taste: tuple[tuple[str, str], ...]  #: By taster, in words.
    wish: float | None
    ways: tuple[Rhythm, ...]


def what_if_of(standing: TappedStanding, share: float | None, every: float | None, celsius: float | None, wish: float | None) -> WhatIf:
    """Answer: such a share, so often, in such a room; and the ways to a wish in litres a week."""
    tapped = standing.tapped
    usual = standing.gives.most or 0.3
    share = min(max(usual if share is None else share, 0.02), 0.95)
    every = min(max(tapped.every_days if every is None else every, 1.0), 21.0)
    warm = min(max(tapped.celsius if celsius is None else celsius, 14.0), 32.0)
    found = rhythm(tapped, every, round(share, 2), warm - tapped.celsius)
    taste = tuple((p.taster or "you", score_word(round(score(found.ta_g_per_l, p.ta_g_per_l)))) for p in tapped.points)
    ways = for_a_wish(tapped, wish) if wish else ()
    return WhatIf(share, every, warm, found, found.litres * 7 / every, taste, wish, ways)


@dataclass(frozen=True, slots=True)
class CareLine:
    """The last of a kind of care, in words."""

    key: str
    name: str
    when: str


def care_rows(standing: TappedStanding) -> list[CareLine]:
    """List when what was last done."""
    names = {"cover": "Fresh cover", "tap": "Tap taken apart", "sediment": "Sediment out", "thinned": "Discs thinned", "gauge": "Gauge read"}
    out = []
    for key, name in names.items():
        row = standing.last_care.get(key)
        when = "not yet" if row is None else day_word(row.at, g.now, g.household.zone)
        if row is not None and row.celsius is not None:
            when += f", {units.words(row.celsius, 'temperature', g.units)}"
        out.append(CareLine(key, name, when))
    return out


def shown(standing: TappedStanding) -> dict[str, object]:
    """Put together all that the page shows besides its sentences."""
    ask, then = coming(standing)
    return {
        "saw": saw_of(standing, then, ask.batch.events),
        "cut": inside_of(standing),
        "warmer": heater_of(standing),
        "money": money_word,
        "care": care_rows(standing),
    }
