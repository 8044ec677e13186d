"""Judgements and cautions: each rule where it applies, and not where it does not."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.judging.cautions import CAUTIONS, CONDITIONS, MOST_OPEN, URGENT, Situation, as_heard, cautions_for
from kyklos.core.judging.safety import BrewFacts, PhReading, SeenLook, judge, settles, shows_life


def facts(day, *ph, mean_c=24.0, looks=(), instrument="meter", measured_c=None):
    """A brew's facts: day, then (day, pH) pairs."""
    readings = tuple(PhReading(d, value, instrument) for d, value in ph)
    seen = tuple(SeenLook(d, surface) for d, surface in looks)
    return BrewFacts(day=day, mean_c=mean_c, now_c=mean_c, ph=readings, looks=seen, measured_c=measured_c)


@pytest.mark.parametrize(
    "given, word",
    [
        (facts(0.1, (0, 4.7)), "hold"),
        (facts(0.1, (0, 4.3)), "carry on"),
        (facts(0.1, (0, 4.4), instrument="strip"), "watch"),
        (facts(7.5, (0, 4.4), (7.2, 4.4)), "discard"),
        (facts(7.5, (0, 4.4), (7.2, 4.0)), "carry on"),
        (facts(7.5, (0, 4.4), (7.2, 4.0), instrument="strip"), "hold"),
        (facts(8.5, (0, 4.4), (8.2, 4.4), mean_c=18), "hold"),
        (facts(10.5, (0, 4.4), (10.2, 4.4), mean_c=18), "discard"),
        (facts(8.5, (0, 4.4), (3, 4.3)), "hold"),
        (facts(20, (0, 4.0), (19, 2.4)), "watch"),
        (facts(5, (0.5, 4.0), (4.9, 4.0)), "watch"),
        (facts(5, (0.5, 4.0), (4.9, 4.0), looks=[(4, "skin")]), "carry on"),
        (facts(3, looks=[(3, "fuzzy")]), "discard"),
        (facts(3, looks=[(2, "fuzzy"), (3, "disc")]), "discard"),
        (facts(3, looks=[(3, "insects")]), "discard"),
        (facts(3, looks=[(3, "eels")]), "discard"),
        (facts(3, looks=[(3, "odd")]), "hold"),
        (facts(3, looks=[(2, "odd"), (3, "disc")]), "carry on"),
        (facts(3, looks=[(3, "bare")]), "carry on"),
        (facts(3, measured_c=38.0), "hold"),
        (facts(3, measured_c=43.0), "hold"),
        (facts(3, measured_c=30.0), "carry on"),
        (facts(9, (0, 4.0), (8, 3.2), looks=[(8, "fuzzy")]), "discard"),
    ],
    ids=lambda value: str(value)[:60],
)
def test_each_rule_gives_its_verdict(given, word):
    """Each rule of the table gives its verdict, and its neighbour on the safe side does not."""
    assert judge(given).word == word


def test_never_measured_is_never_measured():
    """A brew without a pH is not called measured, whatever else is known."""
    assert not judge(facts(9, looks=[(8, "disc")])).measured
    assert judge(facts(9, (2, 3.9))).measured


def test_a_strip_cannot_settle_what_it_straddles():
    """A strip within half a unit of a limit settles nothing; a meter does."""
    assert not settles(4.0, "strip", 4.2)
    assert settles(4.0, "meter", 4.2)


def test_signs_of_life():
    """A new skin, a fall of 0.3 or a rise of 1 g/L is a sign of life; low pH alone is not."""
    assert shows_life(facts(3, looks=[(3, "skin")]))
    assert shows_life(facts(3, (0, 4.0), (3, 3.65)))
    assert shows_life(facts(3, (0, 3.2)), ta_rise_g_per_l=1.1)
    assert not shows_life(facts(3, (0, 3.2), (3, 3.1)))


APPEARS = {
    "glass_shock": (Situation(moment="plan", shocks=True), Situation(moment="plan")),
    "scald": (Situation(moment="plan"), Situation(moment="ferment")),
    "start_ph": (Situation(moment="plan"), Situation(moment="harvest")),
    "little_starter": (Situation(moment="plan", starter_fraction=0.07), Situation(moment="plan", starter_fraction=0.1)),
    "metal": (Situation(moment="plan", material="reactive metal"), Situation(moment="plan", material="stainless")),
    "lead": (Situation(moment="plan", material="stoneware"), Situation(moment="plan", material="glass")),
    "plastic": (Situation(moment="plan", material="plastic"), Situation(moment="plan", material="glass")),
    "no_pressure": (Situation(moment="harvest", unrated_bottles=True), Situation(moment="harvest")),
    "burst": (Situation(moment="bottles", closed_bottles=True), Situation(moment="bottles")),
    "gush": (Situation(moment="open", closed_bottles=True), Situation(moment="ferment", closed_bottles=True)),
    "not_measured": (Situation(moment="ferment", measured=False), Situation(moment="ferment")),
    "mould": (Situation(moment="ferment"), Situation(moment="open")),
    "finish_ph": (Situation(moment="harvest"), Situation(moment="plan")),
    "much_juice": (Situation(moment="harvest", juice_ml_per_l=200), Situation(moment="harvest", juice_ml_per_l=100)),
    "low_acid": (Situation(moment="harvest", closes_high=True), Situation(moment="harvest", flavours=("fig",))),
    "grapefruit": (
        Situation(moment="harvest", flavours=("grapefruit",)),
        Situation(moment="harvest", flavours=("orange",)),
    ),
    "allergens": (Situation(moment="harvest", flavours=("plum",)), Situation(moment="harvest", flavours=("plain",))),
    "honey": (Situation(moment="plan", honey=True), Situation(moment="plan")),
    "alcohol": (Situation(moment="bottles", abv_high=0.8), Situation(moment="bottles", abv_high=0.4)),
    "raw": (Situation(moment="harvest"), Situation(moment="plan")),
    "acid": (Situation(moment="open"), Situation(moment="plan")),
    "caffeine": (Situation(moment="plan", caffeine_mg_per_l=90), Situation(moment="plan", caffeine_mg_per_l=3)),
    "selling": (Situation(moment="label"), Situation(moment="harvest")),
    "trial": (Situation(moment="plan", trial=True), Situation(moment="plan")),
    "vinegar": (Situation(moment="plan", vinegar=True), Situation(moment="plan")),
    "oily": (Situation(moment="plan", teas=("oily",)), Situation(moment="plan", teas=("scented",))),
    "herbal": (Situation(moment="plan", teas=("herbal",)), Situation(moment="plan")),
    "scented": (Situation(moment="plan", teas=("scented",)), Situation(moment="plan", teas=("oily",))),
    "decaf": (Situation(moment="plan", teas=("decaf",)), Situation(moment="plan")),
    "hygiene": (Situation(moment="plan"), Situation(moment="ferment")),
    "rivals": (Situation(moment="plan", rivals=True), Situation(moment="plan")),
    "estimate": (Situation(moment="ferment"), Situation(moment="plan")),
}


@pytest.mark.parametrize("key", CONDITIONS)
def test_each_caution_appears_where_it_applies_and_only_there(key):
    """Every caution of the table is shown in its situation and not in a neighbouring one."""
    shown, hidden = APPEARS[key]
    assert CAUTIONS[key] in cautions_for(shown)
    assert CAUTIONS[key] not in cautions_for(hidden)


@given(
    st.builds(
        Situation, moment=st.sampled_from(["first", "plan", "ferment", "harvest", "bottles", "open", "vessel"]),
        material=st.sampled_from(["glass", "reactive metal", "unknown glaze or crystal"]), shocks=st.booleans(),
        honey=st.booleans(), measured=st.booleans(), closed_bottles=st.booleans(), unrated_bottles=st.booleans(),
        pressing=st.booleans(), spoilt=st.booleans(), closes_high=st.booleans(), abv_high=st.floats(0, 2),
        starter_fraction=st.floats(0.05, 0.2),
    ),
    st.sets(st.sampled_from(sorted(CAUTIONS))),
)  # fmt: skip
def test_at_most_three_are_shown_in_full_and_what_matters_now_first(situation, before):
    """All that hold are there once; at most three in full; an unsafe state's own come first, heard before or not."""
    shown = as_heard(situation, before)
    assert sorted(c.key for c in (*shown.full, *shown.folded)) == sorted(c.key for c in cautions_for(situation))
    assert len(shown.full) <= MOST_OPEN
    urgent = [key for key, now in URGENT.items() if now(situation) and CAUTIONS[key] in cautions_for(situation)]
    assert [c.key for c in shown.full[: len(urgent)]] == urgent[:MOST_OPEN]
    assert all(c.key not in before for c in shown.full[len(urgent) :])


def test_every_caution_has_a_condition():
    """No caution's text stands unused."""
    assert set(CAUTIONS) == set(CONDITIONS)
