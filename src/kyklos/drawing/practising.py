"""Pictures of practice: a strip beside its chart, a flask under a burette, a band with what is known, bars of what a choice costs."""

from __future__ import annotations

import colorsys
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np

from .dial import FRESH, SOURED
from .shapes import Label, closed, mixed, path_through

#: The chart's colours by pH, invented: red for sour to green. [pH]
CHART: tuple[tuple[float, str], ...] = (
    (2.5, "#b8273d"), (3.0, "#d4472f"), (3.5, "#e2762c"), (4.0, "#e5a52f"), (4.5, "#c4b440"), (5.0, "#8aa548"), (5.5, "#4f8f58"),
)  # fmt: skip
LIGHTS = {"daylight": ("#ffffff", 0.0), "lamp": ("#c98a2a", 0.36), "window": ("#8fa3b5", 0.34)}  #: What a light does to colours.
LATE_DARK = 0.12  #: How far a strip that lay about is browner (assumed). [-]
WIDTH, HEIGHT = 560.0, 300.0
LEFT, RIGHT, TOP, BOTTOM = 16.0, 16.0, 20.0, 34.0
LETTER = 9.5  #: Width of a letter of a word in the picture, at most.


def strip_colour(ph: float) -> str:
    """Return the colour of a strip at a pH, between the chart's fields. [pH]

    >>> strip_colour(3.0), strip_colour(9)
    ('#d4472f', '#4f8f58')
    """
    if ph <= CHART[0][0]:
        return CHART[0][1]
    for (low, under), (high, over) in pairwise(CHART):
        if ph <= high:
            return mixed(under, over, (ph - low) / (high - low))
    return CHART[-1][1]


def lit(colour: str, light: str) -> str:
    """Return a colour as a light shows it."""
    other, share = LIGHTS.get(light, LIGHTS["daylight"])
    return mixed(colour, other, share)


def hue(colour: str) -> int:
    """Return a colour as a number, for who does not tell colours: red about 0, yellow 60, green 120. [degrees]

    >>> hue("#d4472f"), hue("#4f8f58")
    (9, 128)
    """
    red, green, blue = (int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5))
    turn = colorsys.rgb_to_hls(red, green, blue)[0] * 360
    return round(turn - 360 if turn > 300 else turn)


@dataclass(frozen=True, slots=True)
class StripView:
    """A strip beside its chart."""

    fields: tuple[tuple[float, str, int], ...]  #: pH, colour as the light shows it, and as a number.
    strip: str
    number: int


def strip_view(ph: float, light: str, tea: str, tint: float, late: float = 0.0) -> StripView:
    """Draw a strip: its colour takes on some of the brew's, and the light falls on both it and its chart.

    Args:
        ph: Of the brew. [pH]
        light: daylight, lamp or window.
        tea: Of the brew.
        tint: How far it colours the strip. [-]
        late: How long the strip lay about. [min]
    """
    own = mixed(strip_colour(ph), mixed(FRESH.get(tea, FRESH["black"]), SOURED.get(tea, SOURED["black"]), 0.5), tint)
    own = lit(mixed(own, "#6b4a2a", LATE_DARK if late else 0.0), light)
    fields = tuple((value, shown := lit(colour, light), hue(shown)) for value, colour in CHART)
    return StripView(fields, own, hue(own))


@dataclass(frozen=True, slots=True)
class BandView:
    """A band over days, with today and what is wanted."""

    band: str
    middle: str
    today_x: float
    wanted: tuple[float, float]  #: Top and bottom of what is wanted.
    limit_y: float | None
    days: tuple[tuple[float, int], ...]  #: Where a day is written, and which.
    dots: tuple[tuple[float, float, Label], ...]  #: What was tasted: where, and in words beside it.
    past: str  #: The band until today.

    @property
    def today_word(self) -> tuple[float, str]:
        """Where the word for today stands, and how: to the right of its line, at the right edge to its left."""
        return (self.today_x - 6, "end") if self.today_x > WIDTH - 80 else (self.today_x + 6, "start")


def _asked(x: float, y: float, word: str) -> tuple[float, float, Label]:
    """Write what came of asking beside its dot: to the left of it where there is room."""
    left = x > LEFT + LETTER * len(word)
    return x, y, Label(x - 8 if left else x - 6, y - 12, word, "end" if left else "start")


def band_view(
    days: Any,
    low: Any,
    likely: Any,
    high: Any,
    today: float,
    wanted: tuple[float, float],
    most: float,
    limit: float | None = None,
    dots: Sequence[tuple[float, str]] = (),
) -> BandView:
    """Draw a forecast's band.

    Args:
        days: Shape (t,), rising.
        low, likely, high: Alike.
        today: [d]
        wanted: From, to; in the band's unit.
        most: The top of the picture.
        limit: Drawn as a line; None: there is none.
        dots: Days on which something was asked, with what came of it.
    """
    end = float(days[-1])

    def x(day: float) -> float:
        return LEFT + (WIDTH - LEFT - RIGHT) * day / end

    def y(value: float) -> float:
        return HEIGHT - BOTTOM - (HEIGHT - BOTTOM - TOP) * min(max(value / most, 0.0), 3.0)  # above the top it is cut off

    def points(values: Any) -> list[tuple[float, float]]:
        return [(round(x(float(day)), 1), round(y(float(value)), 1)) for day, value in zip(days, values, strict=True)]

    upper, lower = points(high), points(low)
    step = 2 if end <= 16 else 5
    asked = tuple(_asked(x(day), y(float(np.interp(day, days, likely))), word) for day, word in dots)
    cut = x(today)
    past = [p for p in upper if p[0] <= cut], [p for p in lower if p[0] <= cut]
    return BandView(
        closed(upper + lower[::-1]), path_through(points(likely)), round(cut, 1), (y(wanted[1]), y(wanted[0])),
        None if limit is None else y(limit), tuple((x(day), day) for day in range(0, int(end) + 1, step)), asked,
        closed(past[0] + past[1][::-1]) if len(past[0]) > 1 else "",
    )  # fmt: skip


FLASHES = {"quick": (26.0, 12.0), "some": (34.0, 15.0), "slow": (48.0, 20.0)}  #: Half width and height of pink that fades.
FULL_ML = 22.0  #: Of the burette. [mL]


@dataclass(frozen=True, slots=True)
class FlaskView:
    """A flask under a burette, in a box of 300 by 360."""

    level_y: float  #: Of the base in the burette.
    level_height: float
    dark: float  #: Opacity of the sample's own colour. [-]
    pink: float  #: Opacity of what stays. [-]
    flash: tuple[float, float] | None  #: Half width and height of what fades.
    fades: str


def flask_view(used_ml: float, dark: float, pink: float, fades: str) -> FlaskView:
    """Draw a flask.

    Args:
        used_ml: Base that ran out of the burette. [mL]
        dark: How far the sample's own colour hides the pink. [-]
        pink: That stays. [-]
        fades: empty, quick, some or slow: what the last drop made.
    """
    y = 6 + 112 * min(1.0, used_ml / FULL_ML)
    return FlaskView(round(y, 1), round(126 - y, 1), round(0.22 + dark, 2), round(pink, 2), FLASHES.get(fades), fades)
