"""Calculations of tapped vessels: where one settles, how much it can give, and its way there."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..liquid.batch import BACTERIA_STAYING, YEAST_STAYING
from ..liquid.ferment import BACTERIA, YEAST
from ..tapped import cycle as continuous
from . import keys
from .ferments import recipe_of
from .keys import CalcError, Key

CONTINUOUS = (
    Key("temperature_c", "degC", -10, 60),
    Key("share", "-", 0, continuous.MOST_SHARE),
    Key("every_days", "d", 0.2, 120),
    *keys.RECIPE,
    Key("first_days", "d", 0, 200, 10.0),
    Key("bacteria_staying", "-", 0, 1, BACTERIA_STAYING),
    Key("yeast_staying", "-", 0, 1, YEAST_STAYING),
    Key("volume_l", "L", 0.05, 1000, 8.0),
    Key("point_g_per_l", "g/L", 0, 60, 4.0),
    Key("sour_g_per_l", "g/L", 0, 60, None),
    Key("weeks", "weeks", 1, 104, 8, "whole"),
)


def tapped(ask: dict[str, Any]) -> dict[str, Any]:
    """Answer where a tapped vessel settles, how much can be drawn for good, and how it gets there day by day."""
    if ask["sour_g_per_l"] is not None and ask["sour_g_per_l"] <= ask["point_g_per_l"]:
        raise CalcError("sour_g_per_l must lie above point_g_per_l.")
    asked = continuous.CycleAsk(
        recipe=recipe_of(ask),
        celsius=ask["temperature_c"],
        every_days=ask["every_days"],
        first_days=ask["first_days"],
        bacteria_staying=ask["bacteria_staying"],
        yeast_staying=ask["yeast_staying"],
    )
    cycle = continuous.settle(asked, np.array([ask["share"]]))
    found = continuous.reach(asked, ask["point_g_per_l"], ask["sour_g_per_l"])
    days = int(ask["weeks"] * continuous.DAYS_A_WEEK)
    out = continuous.course(asked, ask["share"], ask["volume_l"], days).at(np.arange(days + 1, dtype=float))
    return {
        "steady": {
            "ph_before": float(cycle.ph_before[0]),
            "ta_before_g_per_l": float(cycle.ta_before[0]),
            "ph_after": float(cycle.ph_after[0]),
            "ta_after_g_per_l": float(cycle.ta_after[0]),
            "sugar_before_g_per_l": float(cycle.sugar_before[0]),
            "abv_before": float(cycle.abv_before[0]),
            "bacteria_before": float(cycle.before[BACTERIA, 0]),
            "yeast_before": float(cycle.before[YEAST, 0]),
        },
        "sustainable_share": found.most,
        "least_share": found.least,
        "litres_per_week": continuous.litres_per_week(ask["share"], ask["volume_l"], ask["every_days"]),
        "days": [
            {"day": int(day), "ph": float(out.ph[i, 0]), "ta_g_per_l": float(out.ta_g_per_l[i, 0])}
            for i, day in enumerate(out.day)
        ],
    }
