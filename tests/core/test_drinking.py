"""What is drunk, liked, owned and made next: each rule by itself, at its edge."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.base import CoreError
from kyklos.core.bottles import park, scores, suggest, tonight
from kyklos.core.supply import demand

COLD = tonight.Choice("a", "Plain", loose=False, creeps=False, days=10, cold_hours=30, nearness=0.4, abv=0.8)


def first(*choices, **asked):
    """Which is picked first, and why."""
    picked = tonight.three(choices, **asked)
    return picked[0].choice.key, picked[0].why


@pytest.mark.parametrize(
    ("better", "why"),
    [
        ({"loose": True}, "it keeps only days"),
        ({"creeps": True}, "its pressure creeps"),
        ({"liked": 4.5}, "well liked"),
        ({"nearness": 0.5}, "cold and ready"),
        ({"days": 61}, "it has waited longest"),
    ],
)
def test_what_cannot_wait_is_drunk_before_what_is_liked_near_or_old(better, why):
    """Loose before creeping, cold before warm, liked before near its limit, near before old."""
    other = replace(COLD, key="b", flavour="Damson", **better)
    assert first(COLD, other) == ("b", why)
    assert first(replace(other, cold_hours=1), COLD)[0] == ("b" if {"loose", "creeps"} & set(better) else "a")


def test_four_hours_in_the_fridge_are_enough_and_less_is_said():
    """A bottle put in just now waits behind the cold ones."""
    assert first(replace(COLD, cold_hours=3.9))[1] == "give it some hours more in the fridge"
    assert first(replace(COLD, cold_hours=4))[1] == "cold and ready"


def test_three_flavours_and_no_more_are_picked_and_strong_ones_left_out_when_mild_is_wished():
    """Each pick is another flavour; mild is 1 % and less; a mean of 3.6 is liked."""
    some = [replace(COLD, key=k, flavour=f) for k, f in zip("abcde", ("Plain", "Plain", "Fig", "Quince", "Damson"), strict=True)]
    assert [p.choice.key for p in tonight.three(some)] == ["a", "c", "d"]
    strong = [replace(COLD, abv=1.01), replace(COLD, key="m", abv=1.0, flavour="Fig", liked=3.6)]
    assert [(p.choice.key, p.why) for p in tonight.three(strong, mild=True)] == [("m", "well liked")]
    assert tonight.three([replace(COLD, liked=3.59)])[0].why == "cold and ready"


drinks = st.lists(st.tuples(st.floats(0, 200), st.floats(0.05, 2)), max_size=30)


@given(drinks, st.floats(0.05, 2))
def test_who_drinks_more_is_taken_to_drink_more_and_the_band_holds_what_is_likely(drunk, more):
    """One bottle more raises the pace; the band is in order; what stands lasts shorter at the high end."""
    now, then = demand.pace(drunk), demand.pace([*drunk, (0.0, more)])
    assert not drunk or then.litres_a_week > now.litres_a_week
    assert 0 < now.low < now.litres_a_week < now.high
    early, likely, late = now.lasts_days(3.0)
    assert early < likely < late
    assert likely == pytest.approx(7 * 3.0 / now.litres_a_week)


def test_what_was_drunk_three_weeks_ago_counts_half():
    """A drink fades by half in three weeks, so that a dry month shows."""
    base = demand.pace([], 60).litres_a_week
    today, then = (demand.pace([(days, 2.0)], 60).litres_a_week - base for days in (0, 21))
    assert then == pytest.approx(today / 2, rel=1e-6)


@given(st.lists(st.builds(scores.FlavourScore, st.sampled_from("AB"), st.sampled_from(["a", "b", "c"]), st.integers(1, 5)), max_size=12))
def test_a_chance_is_a_chance_and_a_comparison_has_one_winner(said):
    """How sure one flavour beats the next lies between a half and one; what one wins the other loses."""
    for ranked in scores.ranking(said):
        assert ranked.beats_next is None or 0.5 <= ranked.beats_next <= 1
    won = scores.wins(said)
    for (one, other), part in won.items():
        weight = part + won[other, one]
        assert 0 <= part <= weight


def test_a_flavour_scored_twice_does_not_weigh_twice():
    """All that one taster said of two flavours counts as one comparison by heart; side by side a comparison counts whole."""
    said = [scores.FlavourScore("A", "damson", 5), scores.FlavourScore("A", "damson", 4), scores.FlavourScore("A", "plain", 2)]
    assert scores.wins(said) == {("damson", "plain"): pytest.approx(0.5), ("plain", "damson"): 0.0}
    together = [replace(one, side_by_side=1) for one in said[1:]]
    assert scores.wins(together)["damson", "plain"] == 1.0


@pytest.mark.parametrize(("right", "tries", "chance"), [(0, 5, 1.0), (1, 1, 1 / 3), (2, 2, 1 / 9), (1, 2, 5 / 9), (3, 4, 1 / 9)])
def test_guessing_right_is_as_likely_as_it_is(right, tries, chance):
    """Three glasses, two alike: one in three by chance, each time anew."""
    assert scores.guessed(right, tries) == pytest.approx(chance)


@pytest.mark.parametrize(
    ("line", "count", "volume"),
    [
        ("1 swing-top 1 L", 1, 1000.0),
        ("2 swing-top 12 oz", 2, 354.9),
        ("3 beer 33 cl", 3, 330.0),
        ("4 beer 1 pint", 4, 473.2),
        ("500 pet 0,5 l", 500, 500.0),
        ("1 pet 50 ml", 1, 50.0),
        ("1 pet 5 litres", 1, 5000.0),
    ],
)
def test_a_line_of_bottles_is_read_in_every_unit(line, count, volume):
    """One bottle is a bottle, an ounce is 29.57 mL, and the ends of what is allowed are allowed."""
    (told,) = park.read_line(line)
    assert (told.count, told.volume_ml) == (count, pytest.approx(volume, abs=0.06))


@pytest.mark.parametrize("line", ["0 pet", "501 pet", "1 pet 49 ml", "1 pet 5001 ml", "pet", "3", "3 teapots"])
def test_a_line_beyond_the_ends_is_refused_with_a_sentence(line):
    """No bottles, too many, too small, too large, no number, no kind."""
    with pytest.raises(CoreError) as refused:
        park.read_line(line)
    assert line in str(refused.value)


def test_what_is_emptied_waits_for_washing_and_no_count_is_below_nothing():
    """Of those owned, what is filled or dirty is not clean; more emptied than stand here is no more than all."""
    assert park.counted(12, 5, 3, 1) == park.Counted(12, 5, 4)
    assert park.counted(4, 1, 9, 9).to_wash == 3
    assert park.counted(2, 5, 0, 0).clean == 0
    assert park.worn("swing", 2.0)
    assert not park.worn("swing", 1.9)


def candidate(**more):
    """A kept flavour that was made a month ago."""
    return suggest.Candidate("1", "Plum", ("Plum",), **{"made_days_ago": 30.0, **more})


@pytest.mark.parametrize(
    ("more", "reasons"),
    [
        ({"at_hand": (("use up", "Plum"),)}, ("plum is to be used up",)),
        ({"at_hand": (("freezer", "Plum"),)}, ("plum is in the freezer",)),
        ({"at_hand": (("garden", "Plum"),)}, ("plum is in the garden",)),
        ({"ripe": ("Plum",)}, ("ripe now",)),
        ({"ripe": ("Fig",)}, ("fig is ripe now",)),
        ({"ripe": ("Fig", "Bay", "Sloe")}, ("fig and bay are ripe now",)),
        ({"liked": (("Odile", 3.6),)}, ("Odile likes it",)),
        ({"liked": (("Odile", 3.5),)}, ()),
        ({"made_days_ago": 60.0}, ("not made for 2 months",)),
        ({"made_days_ago": 59.0}, ()),
        ({"made_days_ago": None}, ()),
    ],
)
def test_a_flavour_is_proposed_for_reasons_that_are_said(more, reasons):
    """What is at hand, ripe, liked or long not made is said; without a reason nothing is proposed."""
    out = suggest.proposals([candidate(**more)])
    assert [one.reasons for one in out] == ([reasons] if reasons else [])


def test_what_must_be_used_up_comes_before_garden_ripe_freezer_and_what_was_made_lately_comes_last():
    """Reasons weigh in that order; a flavour kept by name comes before a mere ingredient."""
    kinds = {
        "use up": {"at_hand": (("use up", "x"),)},
        "garden": {"at_hand": (("garden", "x"),)},
        "ripe": {"ripe": ("x",)},
        "freezer": {"at_hand": (("freezer", "x"),)},
        "long": {"made_days_ago": 90.0},
        "lately": {"ripe": ("x",), "made_days_ago": 13.0},
    }
    some = [replace(candidate(**more), key=name, name=name, ingredients=(name,)) for name, more in kinds.items()]
    assert [p.candidate.key for p in suggest.proposals(some[::-1], most=9)] == [*kinds]
    pair = [replace(candidate(ripe=("x",)), key=k, name=k, ingredients=(k,), kept=k == "kept") for k in ("kept", "mere")]
    assert [p.candidate.key for p in suggest.proposals(pair[::-1])] == ["kept", "mere"]
    assert len(suggest.proposals(some)) == suggest.PROPOSALS


@pytest.mark.parametrize(("said", "amount"), [(["less"], 8.0), (["more"], 12.0), (["less", "more"], 10.0), (["more", "more", "less"], 12.0), ([], 10.0)])
def test_a_fifth_more_or_less_is_taken_as_most_of_what_was_said(said, amount):
    """More and less are weighed against each other; then it is a fifth, however often it was said."""
    assert suggest.next_amount(10.0, said) == pytest.approx(amount)
