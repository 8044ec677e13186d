"""What is seen and smelled: every row of the table gives its verdict, and an unsafe sign wins over any safe one."""

import itertools

import pytest

from kyklos.core.judging.observations import OBSERVATIONS, ORDER, SeenLook, of_group, reasons_from
from kyklos.core.judging.safety import BrewFacts, PhReading, judge, shows_life

ROWS = {
    "fuzzy": "discard",
    "coloured": "hold",
    "odd": "hold",
    "eels": "discard",
    "film-yeast": "watch",
    "jelly": "carry on",
    "strings": "carry on",
    "lifted": "watch",
    "tilted": "carry on",
    "bread": "carry on",
    "rotten": "discard",
    "solvent": "hold",
    "insects": "discard",
    "bare": "carry on",
    "skin": "carry on",
    "disc": "carry on",
    "froth": "carry on",
    "bad": "hold",
}


def look_with(*keys, day=5.0):
    """A look that saw and smelled these things."""
    by = {group: [k for k in keys if OBSERVATIONS[k].group == group] for group in ("surface", "sign", "smell")}
    return SeenLook(day, (by["surface"] or ["disc"])[0], tuple(by["sign"]), (by["smell"] or [""])[0])


def verdict(*looks, ph=()):
    """The verdict of a brew in its first week."""
    return judge(BrewFacts(day=6, mean_c=24, now_c=24, looks=looks, ph=ph))


def test_the_table_has_every_row():
    """Nothing that can be seen is without a row here, and every row says how to tell it and why."""
    assert set(ROWS) == set(OBSERVATIONS)
    for seen in OBSERVATIONS.values():
        assert seen.tell.endswith(".")
        assert seen.why.endswith(".")
        assert bool(seen.do and seen.changes) == (seen.verdict != "carry on"), seen.key


@pytest.mark.parametrize("key, word", ROWS.items())
def test_each_row_gives_its_verdict(key, word):
    """Seen or smelled alone, with nothing else against the brew, each gives its own verdict and its reason."""
    told = verdict(look_with(key), ph=(PhReading(0, 4.1), PhReading(5, 3.5)))
    assert told.word == word
    assert (OBSERVATIONS[key].why in [reason.sentence for reason in told.reasons]) == (word != "carry on")


@pytest.mark.parametrize(
    "one, other",
    [
        pair
        for pair in itertools.combinations(ROWS, 2)
        if len({OBSERVATIONS[k].group for k in pair} - {"sign"})
        == len([k for k in pair if OBSERVATIONS[k].group != "sign"])
    ],
)
def test_of_two_signs_the_graver_wins(one, other):
    """Every pair that can be seen together gives at least the graver verdict of the two."""
    graver = max(ROWS[one], ROWS[other], key=ORDER.index)
    assert ORDER.index(verdict(look_with(one, other)).word) >= ORDER.index(graver)


@pytest.mark.parametrize("key", [k for k, word in ROWS.items() if word == "discard"])
def test_what_discards_does_so_for_good(key):
    """A later look at a clean disc, a low pH and a fresh smell do not take a discard back."""
    told = verdict(look_with(key, day=2), look_with("disc", "bread", day=5), ph=(PhReading(5, 3.2),))
    assert told.word == "discard"


@pytest.mark.parametrize("key", [k for k, word in ROWS.items() if word in {"hold", "watch"}])
def test_what_holds_ends_with_a_clean_look(key):
    """A hold or a watch lasts until a look that no longer sees it."""
    assert verdict(look_with(key, day=2), look_with("disc", "bread", day=5)).word == "carry on"


def test_film_yeast_that_returns_with_an_off_smell_is_discarded():
    """Once it is watched; again without a smell it is watched; again with one it goes."""
    assert verdict(look_with("film-yeast", "bad")).word == "hold"
    assert verdict(look_with("film-yeast", day=2), look_with("film-yeast", "bread", day=4)).word == "watch"
    assert (
        verdict(look_with("film-yeast", day=2), look_with("disc", day=3), look_with("film-yeast", "bad", day=4)).word
        == "discard"
    )


def test_froth_is_held_only_with_a_bad_smell():
    """A lively head is normal; with any smell that is off it is held, and says so."""
    assert verdict(look_with("froth", "bread")).word == "carry on"
    told = reasons_from([look_with("froth", "solvent")])
    assert any("froth" in reason.sentence for reason in told)


def test_new_growth_is_a_sign_of_life():
    """A film, a disc or jelly shows that a brew lives; film yeast does not."""
    for key, lives in (("skin", True), ("disc", True), ("jelly", True), ("film-yeast", False), ("bare", False)):
        assert shows_life(BrewFacts(day=5, mean_c=24, now_c=24, looks=(look_with(key),))) == lives


def test_groups_are_shown_in_their_order():
    """Surfaces begin with the harmless, and each group has at least one sign that is all right."""
    assert of_group("surface")[0].key == "bare"
    for group in ("surface", "sign", "smell"):
        assert {seen.verdict for seen in of_group(group)} >= {"carry on"}
