"""The practice kitchen: a season follows from its seed and what was done; what the house forbids cannot be done there."""

import random
import time

import pytest

from kyklos.core.base.facts import BOTTLES
from kyklos.core.bottles.gas import Gas, burp
from kyklos.core.judging.safety import may_bottle
from kyklos.core.practice import counsel as wise
from kyklos.core.practice.moves import MOVES, WAIT, RefusedMoveError, after, offered, play, until
from kyklos.core.practice.season import BOTTLE, BOTTLE_L, HEADSPACE, JAR_L, begin, facts_of, verdict_of
from kyklos.core.practice.world import DAYS, world
from tests.pace import slower


def checked(season, letter):
    """Make a move as play does, and look that nothing the core forbids came of it."""
    before = season
    season = play(season, letter)
    if letter in "hH" and letter != WAIT:
        looked = before if before.jar.looks and before.jar.looks[-1].day == before.jar.day(before.day) else play(before, "l")
        assert may_bottle(facts_of(looked), verdict_of(looked))
    if letter == "g":
        assert verdict_of(before).word in {"carry on", "watch"}
    assert all(rack.count > 0 for rack in season.racks)
    assert season.counted.drunk >= 0 <= season.counted.wasted
    return season


def made(season):
    """All litres that were ever brewed, and where they are."""
    counted = season.counted
    stands = sum(rack.litres for rack in season.racks) + (JAR_L if season.jar else 0.0)
    return season.brews * JAR_L, counted.drunk + counted.wasted + stands


def random_season(seed):
    """Somebody who does anything that is offered."""
    chance, season = random.Random(seed), begin(seed)
    while not season.over:
        letter = chance.choice([move.letter for move in offered(season)] + [WAIT] * 3)
        try:
            season = checked(season, letter)
        except RefusedMoveError:
            season = checked(season, WAIT)
    return season


def followed_season(seed):
    """Somebody who does what Kyklos says."""
    season = begin(seed)
    while not season.over:
        season = checked(season, wise.counsel(season).letter)
    return season


SEEDS = (4, 7, 11)


@pytest.mark.parametrize("seed", SEEDS)
def test_who_follows_kyklos_drinks_more_and_wastes_less_than_chance(seed):
    """Over a whole season, and nothing unsafe is drunk. A hundred seasons are played by `make bench`."""
    follower, chance = followed_season(seed), random_season(seed)
    assert follower.counted.drunk > chance.counted.drunk + 5
    assert follower.counted.wasted < chance.counted.wasted
    assert follower.counted.unsafe == 0
    for season in (follower, chance):
        brewed, found = made(season)
        assert found <= brewed + 1e-9  # nothing comes from nowhere
    assert len(wise.things_to_learn(chance)) == 3


def test_thirty_days_a_second_at_the_least():
    """Days run without waiting, however slow the machine within reason."""
    season, started = begin(12), time.process_time()
    while not season.over:
        season = play(season, WAIT)
    assert DAYS / (time.process_time() - started) > 30 / slower()


def test_a_season_is_its_seed_and_its_moves():
    """The same moves lead to the same day; going back to a day leads to what was there; another seed is another world."""
    moves = "..l.m..lt.th..q.c" + "." * 8
    there = after(9, moves)
    assert there == after(9, moves)
    season = begin(9)
    for letter in moves:
        season = play(season, letter)
    assert season == there
    back = until(moves, 7)
    assert back.count(WAIT) == 7
    assert after(9, back).day == 7
    assert moves.startswith(back)
    assert world(9) != world(10)


def test_what_the_house_forbids_is_refused_with_its_reason():
    """Mould is not bottled, whatever else is known; what makes no sense, or is no move, is refused."""
    early = after(3, "..m")
    with pytest.raises(RefusedMoveError, match="not to be done now"):
        play(early, "b")
    with pytest.raises(RefusedMoveError, match="not to be done now"):
        play(early, "?")
    seed = next(seed for seed in range(200) if world(seed).mould is not None)
    season = begin(seed)
    while not (season.jar and season.jar.mould_from is not None and season.jar.day(season.day) >= season.jar.mould_from):
        season = play(season, wise.counsel(season).letter)
        assert not season.over
    seen = play(season, "l") if not season.jar.looks or season.jar.looks[-1].day != season.jar.day(season.day) else season
    assert verdict_of(seen).word == "discard"
    with pytest.raises(RefusedMoveError, match="mould"):
        play(seen, "h")
    assert wise.counsel(seen).letter == "x"


def test_bottles_left_in_the_warm_burst_and_what_may_be_past_its_limit_is_not_carried():
    """Left for weeks some give way, away from people; what may be past its limit is set aside and never carried, nor burped."""
    season = after(5, "." * 11 + "h" + "." * 7)
    assert season.counted.unsafe > 0
    assert dict(season.counted.lost)["burst"] >= BOTTLE_L
    warm = [rack for rack in season.racks if rack.cold_since is None]
    assert warm
    assert warm[0].gas > 2.8
    assert BOTTLES[BOTTLE].limit_bar > 0
    with pytest.raises(RefusedMoveError, match="past its limit"):
        play(season, "u")
    told = play(season, "c")
    assert all(rack.cold_since is None or rack.filled != warm[0].filled for rack in told.racks)
    assert "not carried" in told.happened[-1][1]


def test_every_move_has_a_letter_of_its_own_and_the_end_is_the_end():
    """Nothing is offered after the last day, and nothing more can be done."""
    assert len(MOVES) == 13
    assert WAIT not in MOVES
    done = after(2, WAIT * DAYS)
    assert done.over
    assert offered(done) == []
    with pytest.raises(RefusedMoveError, match="over"):
        play(done, WAIT)
    assert wise.things_to_learn(done)


def test_film_yeast_that_nobody_skims_smells_and_rots_and_never_turns_to_mould():
    """From bread to bad to rot; the rules watch it, hold it, discard it. Skimmed on its first day it is gone for now."""
    seed = next(seed for seed in range(99) if world(seed).mould is None and world(seed).film == (2, 5))
    season = begin(seed)
    while not (season.brews == 2 and season.jar.day(season.day) == 5):
        season = play(season, WAIT if season.brews == 2 else wise.counsel(season).letter)
    skimmed = play(play(season, "l"), "k")
    assert play(play(skimmed, WAIT), "l").jar.looks[-1].surface == "disc"
    words = []
    for _ in range(7):
        looked = play(season, "l")
        assert looked.jar.looks[-1].surface == "film-yeast"
        words.append(str(verdict_of(looked).word))
        season = play(season, WAIT)
    assert words == ["watch"] * 3 + ["hold"] * 3 + ["discard"]


def test_a_burp_lets_gas_and_air_out_as_the_core_has_it():
    """What a burp leaves in the bottles is what the house's own burp leaves."""
    season = after(5, "." * 11 + "h" + "." * 2)
    rack = season.racks[0]
    left = burp(Gas(rack.gas), season.room_c, season.room_c, HEADSPACE)
    burped = play(season, "u").racks[0]
    assert burped.gas == pytest.approx(left.co2_volumes)
    assert burped.air_atm == left.air_atm < 1
    assert burped.bar(season.room_c) < rack.bar(season.room_c)
