"""An absence: which brews will pass their window meanwhile, what to do before leaving, and where to begin on return."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..base import limit
from ..forecast import Forecast, ForecastAsk, Window
from ..forecast.answer import reaches
from ..forecast.palate import Palate
from ..forecast.what_if import Alternative, what_if
from ..liquid import Pour
from ..liquid.batch import fill_at
from ..liquid.liquid import sweet_tea_of
from .places import LEAST_C

FINE, BEFORE, PASSES, ON_RETURN, LATE, HELD = "fine", "before", "passes", "on return", "late", "held"
GRACE_DAYS = 1.0  #: Right so shortly before the return is right on return. [d]
COOL_STEP_K = 1.0  #: A place must be so much cooler to be worth the move. [K]
LOOK_AHEAD_DAYS = 60.0  #: [d]


TOO_SOUR = 1.5  #: From here on "too sour" is said. [steps]
GATE_FROM_DAY = 6.0  #: A reading from then on answers the gate of day 7. [d]


def gate_is_open(readings: Sequence[tuple[float, float]]) -> bool:
    """Return whether the pH of day 7 is still to be measured.

    Args:
        readings: Day and pH. [d since pitch, pH]

    >>> gate_is_open([(4.0, 3.9)]), gate_is_open([(6.5, 3.9)])
    (True, False)
    """
    return not any(day >= GATE_FROM_DAY and ph <= limit("safe_ph") for day, ph in readings)


@dataclass(frozen=True, slots=True)
class Shelf:
    """A place that a vessel could be moved to."""

    name: str
    celsius: float  #: [degC]


@dataclass(frozen=True, slots=True)
class Option:
    """Something to do before leaving."""

    kind: str  #: cooler, volume or early
    says: str
    window: Window | None  #: Of the first taster then. [d since pitch]
    helps: bool
    score: float | None = None  #: What it would taste like then. [step]


@dataclass(frozen=True, slots=True)
class Absent:
    """What an absence means for one brew."""

    word: str  #: fine, before, passes, on return, late or held
    says: str
    score_on_return: float  #: Of the first taster. [step]
    options: tuple[Option, ...]
    measure_before: bool  #: The day of the pH gate falls into the absence.


def _acidity_at(out: Forecast, day: float) -> float:
    return out.at(out.ta_g_per_l, day)[1]


def topped_up(ask: ForecastAsk, out: Forecast, day: float, share: float, point_g_per_l: float) -> float | None:
    """Return when a brew topped up with sweet tea reaches a point. [d since pitch]

    Args:
        ask, out: The brew as it goes.
        day: Of the topping up. [d since pitch]
        share: Sweet tea as a share of what stands there. [-]
        point_g_per_l: Acidity that is liked. [g/L]

    Returns: None when not within 60 days.
    """
    tea = sweet_tea_of(ask.recipe, share * fill_at(ask.batch, day).litres)
    return reaches(ask, out, day, point_g_per_l, LOOK_AHEAD_DAYS, Pour(day, tea))


def _cooler(
    ask: ForecastAsk, today: float, leave: float, back: float, now_c: float, shelves: Sequence[Shelf], name: str
) -> Option | None:
    """Find the warmest shelf that holds it until the return, or the coolest that may be used at all."""
    cooler = sorted((s for s in shelves if LEAST_C <= s.celsius <= now_c - COOL_STEP_K), key=lambda s: -s.celsius)
    last = None
    for shelf in cooler:
        window = what_if(ask, today, Alternative("room", shelf.celsius, max(leave, today + 0.01))).ready[name]
        helps = window.p50 is None or window.p50 >= back - GRACE_DAYS
        last = Option("cooler", f"Move it to the {shelf.name.lower()}", window, helps)
        if helps:
            break
    return last


def _options(
    ask: ForecastAsk,
    out: Forecast,
    today: float,
    leave: float,
    back: float,
    room_l: float,
    litres: float,
    shelves: Sequence[Shelf],
    palate: Palate,
) -> list[Option]:
    name = ask.points[0].taster
    now_c = ask.course.future_c if ask.course.future_c is not None else ask.course.points[-1][1]
    found = [_cooler(ask, today, leave, back, now_c, shelves, name)]
    if litres > 0 and room_l >= 0.1 * litres:
        share = room_l / litres
        when = topped_up(ask, out, max(leave, today), share, ask.points[0].ta_g_per_l)
        window = Window(None, when, None)
        found.append(
            Option(
                "volume",
                f"Top it up with {room_l:.1f} L of cool sweet tea",
                window,
                when is None or when >= back - GRACE_DAYS,
            )
        )
    middle = out.ready[name].p50
    day = min(leave, max(today, middle)) if middle is not None else leave
    score = palate.score(_acidity_at(out, day))
    found.append(Option("early", "Harvest it before you leave", Window(day, day, day), abs(score) <= 1.5, score))
    return [option for option in found if option is not None]


def absent(
    ask: ForecastAsk,
    out: Forecast,
    palate: Palate,
    today: float,
    leave: float,
    back: float,
    *,
    room_l: float,
    litres: float,
    shelves: Sequence[Shelf],
    gate_open: bool,
) -> Absent:
    """Return what an absence means for a brew.

    Args:
        ask, out: The brew as it goes.
        palate: The first taster's.
        today, leave, back: Days since the pitch. [d]
        room_l: Free above the liquid. [L]
        litres: What stands there. [L]
        shelves: Places it could be moved to, as warm as they are then.
        gate_open: Whether the pH of day 7 is still to be measured.
    """  # fmt: skip
    window = out.ready[ask.points[0].taster]
    score = palate.score(_acidity_at(out, back))
    gate = gate_open and leave <= 7.5 and back >= 6.5
    middle = window.p50
    if middle is None or middle > back + GRACE_DAYS:
        return Absent(FINE, "It is not ready before you are back.", score, (), gate)
    if middle >= back - GRACE_DAYS:
        return Absent(ON_RETURN, "It is right about when you come back: taste it first.", score, (), gate)
    options = tuple(_options(ask, out, today, leave, back, room_l, litres, shelves, palate))
    if middle < today - GRACE_DAYS and palate.score(_acidity_at(out, today)) >= TOO_SOUR:
        says = "It is past its point: too sour to drink as it is. Keep it as strong starter or vinegar, or thin it, before you leave."
        return Absent(LATE, says, score, (), gate)
    if middle <= leave:
        return Absent(BEFORE, "It is right before you leave: harvest it.", score, options, gate)
    return Absent(PASSES, "It will be past its window when you are back.", score, options, gate)


TAPPED_SAYS = {
    FINE: "It is not ready before you are back.",
    ON_RETURN: "It is right about when you come back: taste it first.",
    BEFORE: "Draw what is ready before you leave, top it up to its line, and pause it.",
    LATE: "It is too sour by now: draw most of it as strong starter or vinegar, top it up to its line, and pause it.",
    PASSES: "It will be too sour when you are back. Topped up to its line and in a cool place it waits.",
}


def of_a_held(means: Absent) -> Absent:
    """Return what an absence means for a brew on hold: nothing is harvested until that is settled."""
    return replace(means, word=HELD, says="It is on hold: settle that before you leave.", options=())


def of_a_tapped(means: Absent, paused: bool = False) -> Absent:
    """Return what an absence means for a vessel that is drawn from and topped up, never harvested; a paused one waits."""
    if paused:
        return replace(means, word=FINE, says="It is paused, and waits.", options=())
    early = tuple(
        replace(option, says="Draw it down and top it up before you leave") if option.kind == "early" else option
        for option in means.options
    )
    return replace(means, says=TAPPED_SAYS[means.word], options=early)
