"""Tomorrow's weather: three made-up seasons, rooms that follow the outdoors and rooms that do not."""

import random

import numpy as np
import pytest

from kyklos.core.liquid import Course
from kyklos.core.measuring.outdoors import ahead, learned, outdoors_of
from kyklos.instruments.physics import Weather

DAYS, SEASONS = 60, ("autumn", "winter", "spring")
#: A room's share of the outdoors, its lag [d], how it wavers by itself [K].
ROOMS = {"pantry": (0.55, 1.0, 0.3), "porch": (0.85, 0.3, 0.4), "loft": (0.35, 2.0, 0.3), "heated": (0.0, 1.0, 0.5), "cellar": (0.03, 3.0, 0.15)}
FOLLOW = ("pantry", "porch", "loft")


def season(name):
    """The weather by the hour over a made-up season: (day, degC)."""
    weather = Weather(seed=SEASONS.index(name) + 40, mean_c={"autumn": 11.0, "winter": 2.0, "spring": 12.0}[name])
    return [(hour / 24, weather.celsius(hour * 3600.0)) for hour in range(24 * (DAYS + 6))]


def room_of(name, hours, lot):
    """What is read in a room twice a day, and what it really is by the hour."""
    share, lag, wavers = ROOMS[name]
    level, own, real = hours[0][1], 0.0, []
    for day, celsius in hours:
        level += (celsius - level) / (24 * lag)
        own += (lot.gauss(0.0, wavers) - own) / 24
        real.append((day, 21.0 + share * (level - 8.0) + own * 3))
    return [(day, round(c + lot.gauss(0.0, 0.1), 1)) for day, c in real[::12]], real


def errors(season_name, room_name):
    """Errors two days ahead, with the weather and by the room's last reading alone, over the second half of a season."""
    lot = random.Random(f"{season_name} {room_name}")
    hours = season(season_name)
    read, real = room_of(room_name, hours, lot)
    truth = dict(real)
    with_it, without = [], []
    for now in range(20, DAYS - 3, 2):
        known = [one for one in read if one[0] <= now]
        told = [(day, c + (lot.gauss(0.0, 0.5 * (day - now)) if day > now else 0.0)) for day, c in hours if day <= now + 5]  # an outlook errs
        outdoors = outdoors_of(told)
        past = outdoors_of([one for one in hours if one[0] <= now])
        follows = learned(known, past)
        then, last = float(now + 2), known[-1]
        foretold = last[1]
        if follows is not None:
            points = ahead(follows, outdoors, last, float(now), min(c for _, c in known) - 1, max(c for _, c in known) + 1)
            foretold = float(np.interp(then, *zip(*points, strict=True)))
        with_it.append(foretold - truth[then])
        without.append(last[1] - truth[then])
    return np.sqrt(np.mean(np.square(with_it))), np.sqrt(np.mean(np.square(without)))


@pytest.mark.parametrize("name", FOLLOW)
def test_where_a_room_follows_two_days_ahead_are_known_a_third_better(name):
    """Over three seasons the error falls by at least a third."""
    found = [errors(one, name) for one in SEASONS]
    assert sum(a for a, _ in found) <= sum(b for _, b in found) * 2 / 3


@pytest.mark.parametrize("name", [name for name in ROOMS if name not in FOLLOW])
@pytest.mark.parametrize("season_name", SEASONS)
def test_where_it_does_not_nothing_gets_worse(name, season_name):
    """In no season does the error rise by more than a twentieth."""
    a, b = errors(season_name, name)
    assert a <= 1.05 * b


def test_a_room_stays_within_what_it_ever_did():
    """However hot the outlook, no more is foretold than was ever read there."""
    outdoors = outdoors_of([(day / 4, 10.0 if day < 80 else 45.0) for day in range(120)])
    points = ahead(learned_well(), outdoors, (20.0, 21.0), 20.0, 18.0, 24.0)
    assert max(c for _, c in points) == 24.0
    assert points[0][0] == 20.0
    assert points[-1][0] <= 25.0


def learned_well():
    """A room that follows plainly."""
    hours = season("autumn")
    read, _ = room_of("porch", hours, random.Random(3))
    return learned(read, outdoors_of(hours))


def test_too_little_is_learned_from_nothing():
    """A few readings, or a week of none, teach nothing; too few hours outdoors are no outdoors."""
    hours = season("winter")
    outdoors = outdoors_of(hours)
    assert learned([], outdoors) is None
    assert learned([(day, 20.0) for day in range(5)], outdoors) is None
    assert outdoors_of(hours[:3]) is None


def test_a_course_takes_the_weather_until_it_ends():
    """What is measured stands, what is foretold follows, then what is usual; a kelvin more moves all that is to come."""
    course = Course(((0.0, 22.0), (3.0, 21.0)), 20.0, ((4.0, 24.0), (6.0, 25.0)))
    assert course.at(np.array([0.0, 3.0, 5.0, 6.5])).tolist() == [22.0, 21.0, 24.5, 20.0]
    assert course.warmer(1.0, 3.0).at(np.array([3.0, 5.0, 6.5])).tolist() == [21.0, 25.5, 21.0]
    assert Course(((0.0, 22.0),), 20.0) == Course(((0.0, 22.0),), 20.0, ())
