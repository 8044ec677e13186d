"""What was watched of a brew, as values: facts for a verdict and for what is due are made of these, with no record behind them.

A real brew's come from its records, a device's from what it sent, a made-up one's from anywhere.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from ..base.kinds import BrewStatus, Diet, KindOfBrew
from ..forecast import Forecast
from ..liquid import Course
from .brew_facts import BrewFacts, PhReading
from .due import DueFacts
from .observations import CARRY_ON, SeenLook, reasons_from
from .safety import Verdict

SAMPLES = 60  #: Temperatures from the start until now, of which the mean is taken. [-]
LEAST_DAYS = 0.01  #: A brew just begun has stood so long. [d]


class Measured(NamedTuple):
    """What one look at the instruments gave; None: not measured then."""

    day: float  #: Since the pitch. [d]
    ph: float | None = None  #: [pH]
    instrument: str = "meter"  #: That read the pH, a key of data/instruments.toml.
    celsius: float | None = None  #: In the liquid. [degC]
    high_c: float | None = None  #: Warmest of the day. [degC]
    ta_g_per_l: float | None = None  #: Titrated. [g/L]
    degassed: bool = True  #: Gas left in looks like acid that rose.


@dataclass(frozen=True, slots=True, kw_only=True)
class Watched:
    """All that was seen, measured and tasted of a brew, and what it was."""

    measured: Sequence[Measured] = ()
    looks: Sequence[SeenLook] = ()
    tastes: Sequence[tuple[float, float]] = ()  #: Days and scores. [d, steps]
    top_ups: Sequence[float] = ()  #: Of a tapped vessel. [d]
    kind: str = KindOfBrew.BATCH
    status: str = BrewStatus.FERMENTING
    diet: str = Diet.SUGAR
    soured: bool = False  #: Starter or vinegar went in since its pH was last read.
    runs: bool = False  #: In a tapped vessel.
    labelled: bool = True
    reach: str = "easy"  #: Of its place: easy or high.
    watch: tuple[int, ...] = ()  #: Days on which its kind is looked at. [d]
    touched_by: str = ""  #: Name of a spoiled brew that had the same liquid or disc within days; empty: none.
    near: str = ""  #: Name of a spoiled brew to which an older or longer way leads; empty: none.


def facts_from(watched: Watched, course: Course, day: float) -> BrewFacts:
    """Return what a verdict is read from.

    Args:
        watched: What was seen, measured and tasted.
        course: How warm it stood.
        day: Today, since the pitch. [d]
    """
    warmth = [(c, m.day) for m in watched.measured for c in (m.celsius, m.high_c) if c is not None]
    past = course.at(np.linspace(0, max(day, LEAST_DAYS), SAMPLES))
    warmest = max(warmth, default=None)
    return BrewFacts(
        day=day,
        mean_c=float(past.mean()),
        now_c=float(past[-1]),
        measured_c=None if warmest is None else warmest[0],
        warmest_day=0.0 if warmest is None else warmest[1],
        ph=tuple(PhReading(m.day, m.ph, m.instrument) for m in watched.measured if m.ph is not None),
        ta=tuple((m.day, m.ta_g_per_l) for m in watched.measured if m.ta_g_per_l is not None and m.degassed),
        looks=watched.looks,
        tastes=watched.tastes,
        top_ups=watched.top_ups if watched.runs else (),
        kind=watched.kind,
        touched_by=watched.touched_by,
        near=watched.near,
    )


def due_from(watched: Watched, facts: BrewFacts, verdict: Verdict, out: Forecast, points: Sequence[float]) -> DueFacts:
    """Return what decides about the things that are due.

    Args:
        watched: What was seen, measured and tasted.
        facts: Of the same brew, now.
        verdict: The one that counts.
        out: Its forecast.
        points: Where each taster likes it. [g/L]
    """
    windows = [w for w in out.ready.values() if w.p10 is not None and w.p90 is not None]
    last_ph, last_look = (facts.ph[-1] if facts.ph else None), (facts.looks[-1] if facts.looks else None)
    reasons = reasons_from(facts.looks)
    return DueFacts(
        status=watched.status,
        diet=watched.diet,
        day=facts.day,
        mean_c=facts.mean_c,
        verdict=verdict,
        measures_ph=bool(facts.ph),
        last_ph_day=None if last_ph is None else last_ph.day,
        last_ph=None if last_ph is None else last_ph.ph,
        last_taste_day=max((day for day, _ in facts.tastes), default=None),
        last_look_day=None if last_look is None else last_look.day,
        ready_from=min((w.p10 for w in windows if w.p10 is not None), default=None),
        ready_to=max((w.p90 for w in windows if w.p90 is not None), default=None),
        watch=watched.watch,
        kind=watched.kind,
        reach=watched.reach,
        labelled=watched.labelled,
        dry_disc=last_look is not None and "lifted" in last_look.signs,
        look_verdict=reasons[0].verdict if reasons else CARRY_ON,
        doubted_ph=doubted_ph(facts, out),
        soured=watched.soured,
        runs=watched.runs,
        sourness=out.at(out.ta_g_per_l, facts.day)[1] / max(points) if points else None,
    )


def doubted_ph(facts: BrewFacts, out: Forecast) -> float | None:
    """Return the newest pH, where the forecast set it aside. [pH]"""
    last = facts.ph[-1] if facts.ph else None
    doubted = {(seen.kind, round(seen.day, 3), seen.value) for seen in out.aside}
    return last.ph if last is not None and ("ph", round(last.day, 3), last.ph) in doubted else None
