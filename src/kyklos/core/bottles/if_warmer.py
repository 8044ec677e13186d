"""The same bottle where it is warmer or colder from a day on: what a shelf higher up, or a cooler cupboard, would do."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..liquid import Course
from ..liquid.standing import JUMP_DAYS
from .bottle import BottleAsk

MOST_K = 8  #: The most that may be asked for, warmer or colder. [K]
COLDEST_C, WARMEST_C = 0.5, 45.0  #: [degC]


def if_warmer(ask: BottleAsk, day: float, kelvin: float) -> BottleAsk:
    """Return the same bottle, so much warmer from a day on than it would stand. [d since filling, K]

    >>> ask = BottleAsk(start=(0, 0, 0, 0, 0, 0, 1, 1), added_sugar_g_per_l=5, course=Course((), 21.0))
    >>> if_warmer(ask, 3.0, 2.0).course.at(np.array([1.0, 9.0])).tolist()
    [21.0, 23.0]
    """

    def other(celsius: float) -> float:
        return min(WARMEST_C, max(COLDEST_C, celsius + kelvin))

    here = float(ask.course.at(np.array([day]))[0])
    before = [point for point in ask.course.points if point[0] < day]
    after = [(at, other(celsius)) for at, celsius in ask.course.points if at > day + JUMP_DAYS]
    future = None if ask.course.future_c is None else other(ask.course.future_c)
    return replace(ask, course=Course((*before, (day, here), (day + JUMP_DAYS, other(here)), *after), future))
