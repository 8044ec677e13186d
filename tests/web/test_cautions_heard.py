"""Cautions are heard: each in full where it first matters, then as one line, never more than three at once."""

import re
from types import SimpleNamespace

import pytest

from kyklos.actions.bottles import filling, harvest
from kyklos.actions.brewing import readings
from kyklos.core.judging.cautions import FRESH, MOST_OPEN

#: The cautions that every house must show once in full.
MUST = {
    "burst", "no_pressure", "gush", "glass_shock", "scald", "mould", "start_ph", "finish_ph", "alcohol", "raw", "honey",
    "grapefruit", "allergens", "acid", "lead", "metal", "plastic", "caffeine", "selling", "estimate",
}  # fmt: skip


@pytest.fixture
def walk(client, kitchen):
    """A device that walks through pages and notes which cautions it was shown in full."""
    seen, most = [], [0]

    def look(*paths):
        for path in paths:
            answer = client.get(path)
            assert answer.status_code == 200, path
            full = re.findall(r'data-caution="(\w+)"', answer.text)
            seen.extend(full)
            most[0] = max(most[0], len(full))
        return full

    return SimpleNamespace(look=look, seen=seen, most=most, kitchen=kitchen, clock=kitchen.clock)


def test_a_normal_month_shows_each_caution_once_in_full_and_never_more_than_three(walk):
    """First pages, brew days, brews, harvests, cellar, labels, settings: all that must be said is said, no screen shouts."""
    k = walk.kitchen
    plan = f"/brew-day/?vessel={k.vessel}&culture={k.culture}"
    fill = "kind=swing-top&count=3&volume_ml=500&headspace_cm=2.5"
    walk.look("/brew-day/first", "/vessels/new", "/vessels/new?material=plastic")
    brew = k.pitch()
    for day in range(0, 30, 2):
        walk.look(plan, f"{plan}&heat_method=full&water_c=95", f"/brews/{brew}")
        if day == 8:
            k.do(readings.log_reading, readings.LogReading(brew_id=brew, ph=3.3))
            k.do(harvest.reserve_starter, harvest.ReserveStarter(brew_id=brew, litres=0.5))
        if 8 <= day < 20:
            flavour = "grapefruit" if day < 14 else "honey"
            walk.look(
                f"/brews/{brew}/harvest", f"/brews/{brew}/harvest/preview?{fill}&flavour={flavour}&flavour_g_per_l=30"
            )
            walk.look(
                f"/brews/{brew}/harvest/preview?kind=jar&count=1&volume_ml=500&headspace_cm=2.5&flavour=plain&cold=1"
            )
        if day == 12:
            bottles = filling.FillBottles(
                brew_id=brew, kind="swing-top", count=3, volume_ml=500, headspace_fraction=0.04
            )
            k.do(filling.fill_bottles, bottles)
        walk.look("/cellar/", "/settings/", f"/brew-day/labels/{brew}")
        k.clock.turn(2)
    assert walk.most[0] <= MOST_OPEN
    assert not MUST - {"lead", "metal", "plastic"} - set(walk.seen)


@pytest.mark.parametrize(("material", "key"), [("stoneware", "lead"), ("reactive metal", "metal"), ("plastic", "plastic"), ("unknown glaze or crystal", "lead")])  # fmt: skip
def test_a_vessels_material_brings_its_caution(client, material, key):
    """Where a vessel of doubtful material is written down, its own caution stands there in full."""
    told = {"name": "Crock", "kind": "crock", "nominal_l": "x", "material": material}
    answer = client.post("/vessels/new", data=told)
    assert answer.status_code == 422
    assert f'data-caution="{key}"' in answer.text


def test_what_was_shown_becomes_one_line(walk):
    """It stays in full for an hour where it was first shown; the next day it is folded, and still there to be read."""
    path = f"/brew-day/?vessel={walk.kitchen.vessel}&culture={walk.kitchen.culture}"
    first = walk.look(path)
    assert len(first) == FRESH
    assert walk.look(path) == first
    walk.clock.turn(1)
    assert not set(first) & set(walk.look(path))


def test_an_unsafe_state_is_said_in_full_every_time(walk):
    """A jar that is not made for pressure: its caution comes first, today and tomorrow."""
    brew = walk.kitchen.ready()
    path = f"/brews/{brew}/harvest/preview?kind=jar&count=1&volume_ml=500&headspace_cm=2.5&flavour=plain"
    for _ in range(3):
        assert walk.look(path)[0] == "no_pressure"
        walk.clock.turn(1)


def test_a_broken_note_of_what_was_shown_counts_as_nothing(client, kitchen):
    """Somebody else's cookie of that name, or a damaged one, breaks no page."""
    for value in ("x", "[1]", '{"burst": 3}', '{"burst": ["harvest", "soon"]}'):
        client.set_cookie("heard", value)
        assert client.get(f"/brew-day/?vessel={kitchen.vessel}&culture={kitchen.culture}").status_code == 200


def test_the_caution_of_glass_says_its_day(demo_client, kitchen, client):
    """The day of the bottles that must be cold first, then now; one that may be past its limit is never told to be carried."""
    assert "Glass can burst: leave one past its limit standing" in demo_client.get("/cellar/").text
    assert "Glass can burst: into the cold" not in demo_client.get("/cellar/").text
    kitchen.filled()
    seen = []
    for _ in range(60):
        page = client.get("/cellar/").text
        seen.append(re.search(r"Glass can burst(?:: (cold by|into the cold now|leave one past its limit standing))?", page)[1])
        kitchen.clock.turn(1)
    order = list(dict.fromkeys(seen))
    assert order[0] == "cold by"
    assert order == [words for words in ("cold by", "into the cold now", "leave one past its limit standing") if words in order]
