"""Enough to drink: the acceptance tables, and what must hold of demand, plan, staggering, cupboard and packs."""

import csv
import json
from datetime import date, timedelta
from itertools import product
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.calc import answer
from kyklos.core.supply import GoodKind, good
from kyklos.core.supply.ahead import Coming, WishAhead, ahead
from kyklos.core.supply.demand import gamma_below, gamma_quantile, pace, shares
from kyklos.core.supply.plan import BatchVessel, TappedVessel, choose
from kyklos.core.supply.shopping import needs_of, pack_of
from kyklos.core.supply.stagger import Ripening, Turns, stagger, ways
from kyklos.core.supply.stock import OTHER_USE, Happened, StockEntry, account, balance

REFERENCE = Path(__file__).parent / "reference"


def rows(name):
    """Questions and answers of a table."""
    with (REFERENCE / f"{name}.csv").open() as file:
        return [(row["calc"], json.loads(row["ask"]), json.loads(row["answer"])) for row in csv.DictReader(file)]


def alike(found, wanted):
    """Compare two answers: numbers within a thousandth, all else as it is."""
    if isinstance(wanted, dict):
        return found.keys() == wanted.keys() and all(alike(found[key], wanted[key]) for key in wanted)
    if isinstance(wanted, list):
        return len(found) == len(wanted) and all(map(alike, found, wanted))
    if isinstance(wanted, float | int) and not isinstance(wanted, bool):
        return found == pytest.approx(wanted, rel=1e-3, abs=1e-3)
    return found == wanted


@pytest.mark.parametrize(("calc", "ask", "wanted"), [*rows("demand"), *rows("supply")], ids=str)
def test_the_tables(calc, ask, wanted):
    """Every row of demand and supply is answered as an independent program did."""
    assert alike(answer(calc, ask), wanted), answer(calc, ask)


DRINKS = st.lists(st.tuples(st.floats(0, 200), st.floats(0.05, 3)), max_size=30)


@given(DRINKS, st.floats(0, 30), st.floats(0.01, 5), st.floats(0, 100))
def test_who_drinks_more_never_runs_out_later(drunk, stock, more, days_ago):
    """One drink more, within the time that is known, never makes the shelf last longer."""
    known = max([*(days for days, _ in drunk), days_ago])
    before, after = pace(drunk, known), pace([*drunk, (days_ago, more)], known)
    for one, other in zip(before.lasts_days(stock), after.lasts_days(stock), strict=True):
        assert other <= one * (1 + 1e-9) + 1e-9


@given(DRINKS)
def test_the_band_holds_the_likely(drunk):
    """What is likely lies within its band but for a gamma's long tail, and the band is never upside down."""
    found = pace(drunk)
    assert 0 < found.low < found.litres_a_week < found.high


@given(st.floats(0.2, 300), st.floats(0.01, 0.99))
def test_a_quantile_is_the_inverse_of_the_chance_below_it(shape, share):
    """Asked back, a quantile's chance is the share it was asked for."""
    assert gamma_below(shape, gamma_quantile(shape, share)) == pytest.approx(share, abs=1e-6)


def test_a_young_household_is_no_small_drinker():
    """A litre a day for five days is about that pace, though nothing was drunk in the weeks before anything was written down."""
    found = pace([(days + 0.5, 1.0) for days in range(5)])
    assert 5.0 < found.litres_a_week < 7.5
    assert pace([(days + 0.5, 1.0) for days in range(5)], known_days=60).litres_a_week < 3


@given(st.dictionaries(st.sampled_from("abcd"), DRINKS, max_size=4), st.lists(st.sampled_from("cdef"), max_size=4))
def test_flavours_share_one_total(drunk, liked):
    """The shares of all flavours are one whole, and what stands but was never opened has some."""
    found = shares(drunk, liked)
    assert not found or sum(found.values()) == pytest.approx(1)
    assert all(found[name] > 0 for name in liked)


BATCHES = st.builds(
    lambda name, litres, ready, wide, turn: BatchVessel(name, litres, ready, ready + wide, turn, 0.12, 0.05),
    st.sampled_from(["jar", "demijohn"]), st.floats(0.5, 9), st.floats(4, 14), st.floats(0, 5), st.sampled_from([0.0, 1.0]),
)  # fmt: skip
TAPS = st.builds(
    lambda litres, draws: TappedVessel("crock", litres, tuple(draws), 0.03),
    st.floats(2, 12), st.lists(st.tuples(st.sampled_from([2.0, 3.0, 5.0, 7.0]), st.sampled_from([0.1, 0.2, 0.3, 0.5])), max_size=5),
)  # fmt: skip


@settings(max_examples=150)
@given(st.lists(BATCHES | TAPS, max_size=3), st.just(0.0) | st.floats(0.01, 12))  # between, what is short is no more than what is rounded
def test_the_choice_is_the_best_of_all(vessels, demand):
    """No combination of all there are is better: by shortage, effort, surplus, vessels, order."""

    def worth(picked):
        gives, effort = sum(one.litres_a_week for one in picked), sum(one.effort for one in picked)
        short = max(0.0, demand - gives)
        return (0.0 if short <= 1e-6 else short, effort, max(0.0, gives - demand), sum(one.every_days is not None for one in picked))

    found = worth(choose(vessels, demand).choices)
    for picked in product(*(vessel.choices() for vessel in vessels)):
        other = worth(picked)
        first = next((number for number in range(4) if abs(found[number] - other[number]) > 1e-5), None)
        assert first is None or found[first] < other[first], (found, other)


def steady(name, free_on, every, gives, planned=()):
    """A vessel whose batches take as long in every month."""
    return Turns(
        name=name, free_on=free_on, every=lambda _: every, ripening=lambda _: Ripening(every - 1.5, every - 1, every, every + 3),
        gives_l=gives, planned=planned,
    )  # fmt: skip


TURNS = st.builds(steady, st.just("jar"), st.integers(0, 9), st.integers(6, 14), st.floats(1, 6))


def least_of(laid, level):
    """The least there is to drink on any day, each batch taken late."""
    for one in laid:
        for batch in one.coming:
            level = level + np.where(np.arange(len(level)) >= np.ceil(batch.late - 1e-9), batch.litres, 0.0)
    return level.min()


@settings(max_examples=40)
@given(st.lists(TURNS, min_size=1, max_size=2), st.floats(0, 9), st.floats(1, 6))
def test_no_other_first_days_leave_more(all_turns, stock, drunk):
    """Of all first days, those chosen leave the most on the day with the least."""
    level = stock - drunk / 7 * np.arange(1, 85)
    found = least_of(stagger(all_turns, level, buffer_l=100.0), level)
    for picked in product(*(ways(turns) for turns in all_turns)):
        assert least_of(picked, level) <= found + 1e-5


@settings(max_examples=40)
@given(st.lists(TURNS, min_size=1, max_size=2), st.floats(0, 9), st.floats(1, 6), st.floats(0, 2), st.sets(st.integers(0, 60), max_size=8))
def test_planning_twice_gives_the_same_plan(all_turns, stock, drunk, buffer, shut):
    """What was planned and put in the almanac is planned again, day for day, and never on a day when nobody is there."""
    level, away = stock - drunk / 7 * np.arange(1, 85), frozenset(shut)
    first = stagger(all_turns, level, buffer, away)
    again = [steady(t.name, t.free_on, t.every(0), t.gives_l, one.days) for t, one in zip(all_turns, first, strict=True)]
    second = stagger(again, level, buffer, away)
    assert [one.days for one in second] == [one.days for one in first]
    assert all(one.moved == 0 for one in second)
    assert not away & {day for one in first for day in one.days}


def test_a_planned_day_stays_though_another_would_do_as_well():
    """A day moved by hand is kept while the shelf stays above its buffer."""
    level = np.full(84, 30.0)
    assert stagger([steady("jar", 0, 10, 3.0, planned=(4,))], level, 1.0)[0].days[:2] == (4, 14)
    dry = 3.0 - 0.4 * np.arange(1, 85)
    assert stagger([steady("jar", 0, 8, 3.0, planned=(9,))], dry, 1.0)[0].days[0] == 0


def test_guests_run_a_shelf_dry_on_their_day():
    """Twelve glasses on Saturday empty four litres a week earlier than usual, and the band is in order."""
    drunk = pace([(day, 0.5) for day in range(28)])
    usual = ahead(8.0, [], drunk)
    guests = ahead(8.0, [Coming(1.0, 1.0, 2.0, 3.0)], drunk, [WishAhead(5, 6.0)])
    assert guests.runs_out[1] < usual.runs_out[1]
    early, likely, late = guests.runs_out
    assert early <= likely <= late
    assert (guests.low <= guests.likely + 1e-9).all()
    assert (guests.likely <= guests.high + 1e-9).all()


def test_a_span_of_wishes_counts_on_each_of_its_days():
    """More in July is more on every day of July, and nothing after."""
    wish = WishAhead(3, 0.5, until=5)
    assert [wish.on(day) for day in range(2, 7)] == [0, 0.5, 0.5, 0.5, 0]


DAY = date(2027, 1, 1)
ENTRIES = st.lists(
    st.builds(
        lambda days, what, amount, price, by: StockEntry(day=DAY + timedelta(days=days), what=what, amount=amount, price=price if what is Happened.BOUGHT else None, by=by),
        st.integers(0, 300), st.sampled_from(Happened), st.floats(0.1, 3000), st.none() | st.floats(0, 40), st.sampled_from(["brew", "hotel"]),
    ),
    max_size=25,
)  # fmt: skip


@given(ENTRIES)
def test_the_money_adds_up(entries):
    """What was paid is what the uses cost and what stands in the cupboard, to the cent."""
    found = account(entries)
    assert balance({"sugar": found}) == pytest.approx(0, abs=1e-6)
    assert found.in_the_cupboard >= 0
    if found.left < -1e-6:
        assert found.asks


@given(ENTRIES, st.floats(0, 5000))
def test_a_count_sets_it_right(entries, amount):
    """Whatever was written before, what is counted is what is there."""
    found = account([*entries, StockEntry(day=DAY + timedelta(days=400), what=Happened.COUNTED, amount=amount)])
    assert found.left == pytest.approx(amount, abs=1e-6)
    assert not found.asks


def test_what_was_bought_first_is_used_first():
    """Cheap sugar is used before the dear, what a count misses is other use, a purchase told late pays for the past."""
    at = [DAY + timedelta(days=number) for number in range(5)]
    found = account([
        StockEntry(day=at[0], what=Happened.BOUGHT, amount=1000, price=1.0), StockEntry(day=at[1], what=Happened.BOUGHT, amount=1000, price=3.0),
        StockEntry(day=at[2], what=Happened.USED, amount=1500, by="brew"), StockEntry(day=at[3], what=Happened.COUNTED, amount=400),
    ])  # fmt: skip
    assert found.spent["brew"].money == pytest.approx(1.0 + 1.5)
    assert found.spent[OTHER_USE].amount == pytest.approx(100)
    assert found.left_money == pytest.approx(1.2)
    late = [StockEntry(day=at[0], what=Happened.BOUGHT, amount=100, price=1.0), StockEntry(day=at[1], what=Happened.USED, amount=300, by="brew")]
    assert account(late).asks
    paid = account([*late, StockEntry(day=at[2], what=Happened.BOUGHT, amount=1000, price=5.0)])
    assert (paid.left, paid.asks) == (800, False)
    assert paid.spent["brew"].money == pytest.approx(1.0 + 1.0)


def test_a_list_asks_for_the_next_sensible_pack():
    """Needs of several days are added, what is there is taken off, and the next day's need tells what is low."""
    sugar, tea = (GoodKind.SWEETENER, "sugar"), (GoodKind.TEA, "black")
    known = {sugar: good(*sugar), tea: good(*tea)}
    needs = {one.good.key: one for one in needs_of([{sugar: 400, tea: 30}, {sugar: 500}], {sugar: 450, tea: 20}, known)}
    assert needs["sugar"].missing == 450
    assert (needs["sugar"].low, needs["black"].low) == (False, True)
    assert pack_of(known[sugar], 450) == 500
    assert pack_of(known[sugar], 450, us=True) == pytest.approx(453.6)
    assert pack_of(known[sugar], 450, usual=1000) == 1000
    assert pack_of(good(GoodKind.SUPPLY, "crown-cap"), 130) == 200
