"""Drink by: cold slows a bottle, it does not stop it."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from ..liquid import Course
from ..liquid.standing import FRIDGE_C, FRIDGE_SD_K, JUMP_DAYS
from .bottle import BottleAsk, bottle_forecast

KEEPS_DAYS = 90.0  #: Cold, if its pressure does not tell sooner (assumed). [d]
LOOKED_DAYS = 100  #: Further ahead nothing is asked of it. [d]
QUARTERS = 96  #: Of an hour, in a day.
LOOSE_DAYS = 3.0  #: Not closed for fizz (usual practice). [d]


def chilled(ask: BottleAsk, day: float) -> BottleAsk:
    """Return the same bottle put into a fridge on a day. [d since filling]"""
    before = [point for point in ask.course.points if point[0] < day]
    last = float(ask.course.at(np.array([day]))[0])
    doubts = tuple(one for one in ask.doubt_k if one[0] < day) or ((0.0, 0.0),)
    return replace(
        ask,
        course=Course((*before, (day, last), (day + JUMP_DAYS, FRIDGE_C)), FRIDGE_C),
        doubt_k=(*doubts, (day, FRIDGE_SD_K)),
        days=min(ask.days, LOOKED_DAYS),
        warmer_k=(*(one for one in ask.warmer_k if one[0] < day), (day, 0.0)) if ask.warmer_k else (),
    )


def drink_by_day(ask: BottleAsk, *, cold: bool, today: float = 0.0) -> float:
    """Return the day by which a bottle is drunk, chilled on its chill-by, or today where that is later, if it is not cold already. [d since filling]

    It is the day on which four in five such bottles would still hold when carried out at 25 degC, and never more than some months.
    """
    if ask.limit_bar is None:
        return LOOSE_DAYS
    future = bottle_forecast(drunk_as(ask, cold=cold, today=today))
    return KEEPS_DAYS if future.drink_by_day is None else min(KEEPS_DAYS, future.drink_by_day)


def drunk_as(ask: BottleAsk, *, cold: bool, today: float = 0.0) -> BottleAsk:
    """Return the question of a bottle as it is likely to stand until it is drunk: chilled on its chill-by. [d since filling]

    Today counts to the quarter of an hour, so that what was asked a minute ago is not computed again.
    """
    by = None if cold or ask.limit_bar is None else bottle_forecast(ask).chill_by_day
    return ask if by is None else chilled(ask, max(by, math.floor(today * QUARTERS) / QUARTERS))
