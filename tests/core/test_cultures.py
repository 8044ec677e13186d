"""Rules of the lines: the trace by strength, discs, hotel, starters that age, conversion, causes of slowing, sources, sides."""

import itertools

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.base import sources
from kyklos.core.base.errors import CoreError
from kyklos.core.cultures import conversion, discs, hotel, trace
from kyklos.core.cultures.conversion import StepTold, advise, outcome, schedule
from kyklos.core.cultures.hotel import HotelFacts, state_of
from kyklos.core.cultures.trace import STEP, WAYS, Link
from kyklos.core.forecast import side_by_side
from kyklos.core.forecast.answer import Posterior
from kyklos.core.forecast.vigour import Brewed, causes
from kyklos.core.liquid import ageing, sweet_tea
from kyklos.core.liquid.batch import ferment
from kyklos.core.liquid.ferment import ETHANOL, Recipe
from kyklos.core.liquid.liquid import blend, mature_from_ph
from kyklos.core.liquid.temperature import steady

quick = settings(max_examples=60, deadline=None)


@st.composite
def kitchens(draw):
    """Links of a kitchen, some in both directions and some at one moment; the last two things only shared a shelf."""
    count = draw(st.integers(3, 9))
    nodes = [("brew" if i % 2 else "disc", i) for i in range(count)]
    ways = sorted(WAYS)
    links = []
    for _ in range(draw(st.integers(2, 14))):
        one, two = draw(st.integers(0, count - 1)), draw(st.integers(0, count - 1))
        if one != two:
            at, how = float(draw(st.integers(0, 6))), draw(st.sampled_from(ways))
            links.append(Link(nodes[one], nodes[two], at, how))
    return nodes, [("brew", 100), ("lot", 101)], links


def plain_ways(links, node, since):
    """Every way out of a thing along which time never runs back, with its strength, by trying all."""
    best, todo = {}, [(node, since, (node,), 1.0)]
    while todo:
        here, at, path, strength = todo.pop()
        for link in links:
            if link.source == here and link.at >= at and link.target not in path:
                now = strength * WAYS[link.how][1] * (STEP if len(path) > 1 else 1.0)
                first, most = best.get(link.target, (link.at, 0.0))
                best[link.target] = (min(first, link.at), max(most, now))
                todo.append((link.target, link.at, (*path, link.target), now))
    return best


@given(kitchens(), st.integers(0, 8), st.integers(0, 6))
@quick
def test_the_trace_finds_what_trying_every_way_finds(told, pick, since):
    """The same things, from the same moment; never stronger than the strongest way, strongest first; the decoy is not touched."""
    nodes, decoys, links = told
    node = nodes[pick % len(nodes)]
    found, plain = trace.exposed(links, node, float(since)), plain_ways(links, node, float(since))
    assert {r.node for r in found} == set(plain)
    for reached in found:
        first, most = plain[reached.node]
        assert reached.at == first
        assert reached.strength <= most + 1e-9
        assert list(reached.times) == sorted(reached.times)
        assert reached.node not in decoys
        assert len(reached.ways) == len(reached.path) - 1
    assert [r.strength for r in found] == sorted((r.strength for r in found), reverse=True)


@given(kitchens(), st.integers(0, 8))
@quick
def test_a_closed_way_only_takes_things_off_the_trace(told, pick):
    """With any one link cut nothing new is exposed, and with all of them nothing is."""
    nodes, _, links = told
    node = nodes[pick % len(nodes)]
    whole = {r.node for r in trace.exposed(links, node, 0)}
    for link in links:
        rest = trace.without(links, [(link.source, link.target)])
        assert {r.node for r in trace.exposed(rest, node, 0)} <= whole
    assert trace.exposed(trace.without(links, [(li.source, li.target) for li in links]), node, 0) == []


def test_what_was_fed_directly_is_to_be_discarded_and_what_is_far_set_apart():
    """A first step by liquid is strong evidence; after some steps it is to be watched; what is gone needs nothing."""
    links = [Link(("brew", i), ("brew", i + 1), float(i), "starter") for i in range(6)]
    near, *_, far = trace.exposed(links, ("brew", 0), 0)
    assert trace.proposal(near, True) == "discard"
    assert trace.proposal(far, True) == "quarantine"
    assert trace.proposal(near, False) == ""
    assert trace.proposal(far, True, inside=True) == "discard"


def guest(number, age=30.0, clean=True, line="Bora", mm=8.0):
    """A disc in a hotel of 14 cm."""
    return discs.Guest(
        node=("disc", number), name=f"d{number}", line=line, age_days=age, thickness_mm=mm, diameter_cm=14, clean=clean
    )


GUESTS = st.lists(
    st.builds(
        guest,
        st.integers(1, 10_000),
        st.floats(0, 900),
        st.booleans(),
        st.sampled_from(["Bora", "Meltemi"]),
        st.floats(1, 30),
    ),
    max_size=9,
    unique_by=lambda g: g.node,
)


@given(GUESTS, st.floats(0.3, 5), st.integers(0, 3))
@quick
def test_who_stays_fits_is_clean_and_serves_every_line(guests, usable, wanted):
    """What stays fits the room for discs and is clean; nobody goes who fits into what is left of it."""
    advice = discs.thin(guests, usable, {"Bora": wanted, "Meltemi": wanted})
    assert {a.guest.node for a in advice} == {g.node for g in guests}
    room = discs.DISC_SHARE * usable - sum(discs.disc_l(a.guest.thickness_mm, 14) for a in advice if a.keep)
    assert room >= -1e-9
    assert all(a.guest.clean for a in advice if a.keep)
    assert all(discs.disc_l(a.guest.thickness_mm, 14) > room for a in advice if a.guest.clean and not a.keep)


def test_the_best_of_each_line_is_kept_before_a_second_of_another():
    """With room for two, one Bora and one Meltemi stay, though both Boras are younger."""
    two = [guest(1, 10), guest(2, 20), guest(3, 400, line="Meltemi")]
    advice = discs.thin(two, 2.05 * discs.disc_l(8, 14) / discs.DISC_SHARE, {"Bora": 1, "Meltemi": 1})
    assert {a.guest.node[1] for a in advice if a.keep} == {1, 3}


VESSELS = st.lists(st.floats(0.3, 30), min_size=1, max_size=5)


@given(VESSELS, st.floats(0.02, 2))
@quick
def test_a_step_up_gives_each_brew_enough_starter_from_the_one_before(sizes, have):
    """Every brew takes its share from what the last made, the last rung is the vessel wanted, no vessel is used twice."""
    vessels = [(f"v{i}", litres, 10.0 + i) for i, litres in enumerate(sizes)]
    way = discs.step_up(have, vessels, "v0", share=0.12)
    if way:
        assert way[-1].vessel == "v0"
        assert way[-1].litres == sizes[0]
        assert len({rung.vessel for rung in way}) == len(way)
        made = [have, *(rung.litres for rung in way)]
        assert all(rung.starter_l <= made[i] + 1e-6 for i, rung in enumerate(way))


def test_a_narrow_disc_is_told_and_the_way_is_short_when_starter_is_plenty():
    """A 10 cm disc in a 15 cm jar is narrow, one of 14 is not; with a litre of starter a jar is filled at once."""
    assert "narrower" in discs.narrow_words(10, 15)
    assert discs.narrow_words(14, 15) == discs.narrow_words(None, 15) == ""
    assert len(discs.step_up(1.0, [("jar", 3.4, 15.0)], "jar")) == 1
    assert discs.step_up(0.05, [("jar", 3.4, 15.0)], "jar") == []


def test_a_hotel_speaks_up_by_its_own_rhythm():
    """Every three weeks learned, it is hungry on day 21 and not on day 12; low, bare of cover or weak it says so; empty it is quiet."""
    own = HotelFacts(usable_l=1.7, diameter_cm=13, guests=2, feeds_days_ago=(21.0, 42.0, 63.0))
    assert state_of(own).own_rhythm
    assert [d.kind for d in state_of(own).dues] == ["feed"]
    fed = HotelFacts(usable_l=1.7, diameter_cm=13, guests=2, feeds_days_ago=(12.0, 33.0, 54.0))
    assert state_of(fed).dues == ()
    poor = HotelFacts(
        usable_l=1.7, diameter_cm=13, guests=1, feeds_days_ago=(2.0,), level_l=1.3, level_days_ago=60, ph=3.8, cover_days_ago=70
    )  # fmt: skip
    assert {d.kind for d in state_of(poor).dues} == {"level", "cover", "acid"}
    assert state_of(poor).top_up_l > 0.4
    assert state_of(HotelFacts(usable_l=1.7, diameter_cm=13)).dues == ()
    assert state_of(HotelFacts(usable_l=1.7, diameter_cm=13, guests=1)).dues[0].kind == "feed"


@given(st.floats(0, 40), st.floats(0, 40))
@quick
def test_what_is_drawn_from_a_hotel_never_bares_its_discs(level, taken):
    """At most half, and never below what the discs need."""
    spare = hotel.spare_l(level, taken)
    assert 0 <= spare <= level / 2 + 1e-9
    assert spare == 0 or level - spare >= taken - 1e-9


@given(st.sampled_from(["fresh", "bottle", "hotel", "dried"]), st.floats(0, 800), st.floats(0, 400), st.sampled_from(["shelf", "fridge"]))  # fmt: skip
@quick
def test_an_older_starter_has_no_more_yeast(kind, days, more, kept_in):
    """Yeast only goes; bacteria stay within what a hotel's liquid has; a fridge keeps more yeast through the first year."""
    yeast, bacteria = ageing.liveliness(kind, days, kept_in)
    later, _ = ageing.liveliness(kind, days + more, kept_in)
    assert 0 < later <= yeast <= 1
    assert 0 < bacteria <= 1.2
    assert ageing.liveliness(kind, min(days, 365), "fridge")[0] >= ageing.liveliness(kind, min(days, 365), "shelf")[0]


def test_old_liquid_slows_the_fizz_and_not_the_sour():
    """Hotel liquid of the same acid: less ethanol in the first days, sour in the same week."""
    old_yeast, old_bacteria = ageing.liveliness("fresh", 90)
    fresh, old = Recipe(), Recipe(starter_yeast=old_yeast, starter_bacteria=old_bacteria)
    assert old.liveliness == Recipe(starter_kind="hotel").liveliness == (0.5, 1.2)
    one, two = ferment(fresh, steady(24), 10), ferment(old, steady(24), 10)
    assert two.state[3, ETHANOL, 0] < one.state[3, ETHANOL, 0]
    assert abs(two.ph[10, 0] - one.ph[10, 0]) < 0.15
    assert ageing.together([(1.0, (1.0, 1.0)), (1.0, (0.5, 1.2))]) == (0.75, 1.1)
    assert ageing.condition_words(3, "shelf") == "fresh"
    assert "old" in ageing.condition_words(200, "shelf")
    assert ageing.condition_words(3, "shelf", "A film") == "A film"


@given(st.lists(st.tuples(st.floats(2.6, 3.9), st.floats(0.01, 3)), min_size=1, max_size=4))
@quick
def test_liquids_poured_together_lie_between_them(parts):
    """No more sour than the sourest and no less than the weakest."""
    found = blend([mature_from_ph(ph, litres) for ph, litres in parts]).ph
    assert min(ph for ph, _ in parts) - 0.02 <= found <= max(ph for ph, _ in parts) + 0.02


def step(share, result="in time"):
    """A step of a conversion."""
    return StepTold(share, share, result)


@pytest.mark.parametrize("target", ["jun", "sugar"])
@pytest.mark.parametrize("step", [0.1, 0.2, 0.34])
def test_each_step_of_a_conversion_has_the_same_sugars_and_leaf(target, step):
    """Honey takes over what sugar leaves, by its sugars; leaf and starter stay, and the last step has one sweetener."""
    made = [planned.amounts(3.4, 0.15) for planned in conversion.schedule([], target, step, 10, 0)]
    sugars = [sum(sweet_tea.as_sugars(key, grams) for key, grams in one.sweeteners) for one in made]
    assert sugars == pytest.approx([3.4 * 0.85 * 55] * len(made))
    assert [one.leaf_g for one in made] == pytest.approx([made[0].leaf_g] * len(made))
    assert {round(one.starter_ml) for one in made} == {510}
    honey = [one.honey_g for one in made]
    assert honey == sorted(honey, reverse=target == "sugar")
    assert (made[-1].sugar_g == 0) == (target == "jun")
    assert (made[-1].honey_g == 0) == (target == "sugar")


def test_a_conversion_goes_on_repeats_and_steps_back_by_the_rule():
    """A fifth further in time, the same again when late, one back when late twice, wait while it stands, done at the end; and back."""
    assert (advise([]).kind, advise([]).honey_share) == ("first", 0.2)
    assert (advise([step(0.4)]).kind, advise([step(0.4)]).honey_share) == ("continue", pytest.approx(0.6))
    assert (advise([step(0.4, "late")]).kind, advise([step(0.4, "late")]).honey_share) == ("repeat", 0.4)
    twice = advise([step(0.2), step(0.4, "late"), step(0.4, "late")])
    assert (twice.kind, twice.honey_share) == ("back", pytest.approx(0.2))
    assert advise([step(0.2, "running")]).kind == "wait"
    assert advise([step(1.0)]).kind == "done"
    assert advise([step(0.8)]).sweeteners == (("honey", 1.0),)
    assert advise([step(0.2, "not known")]).tea == (("black", pytest.approx(0.6)), ("green", pytest.approx(0.4)))
    assert advise([], "sugar").honey_share == pytest.approx(0.8)
    assert advise([step(0.0)], "sugar").kind == "done"
    with pytest.raises(CoreError):
        advise([], "jun", 2.0)


def test_a_step_is_late_after_one_and_a_half_times_its_forecast():
    """Reached in time, reached late, never reached, and not yet."""
    assert outcome(8.0, 12.0, 13.0, False) == "in time"
    assert outcome(8.0, 12.1, 13.0, False) == "late"
    assert outcome(8.0, None, 20.0, True) == "late"
    assert outcome(8.0, None, 6.0, True) == "running"
    assert outcome(8.0, None, 6.0, False) == "late"
    assert outcome(None, None, 30.0, True) == "running"


RESULTS = st.sampled_from(["in time", "late", "not known"])


@given(st.sampled_from(["jun", "sugar"]), st.floats(0.05, 0.5), st.data())
@quick
def test_a_conversion_that_goes_well_arrives_and_never_leaves_its_range(target, size, data):
    """Whatever happened before, shares stay between none and all, a step is no larger than told, and the plan ends at the goal."""
    goal = 1.0 if target == "jun" else 0.0
    past = []
    for _ in range(data.draw(st.integers(0, 6))):
        told = advise(past, target, size)
        if told.kind == "done":
            break
        assert 0 <= told.honey_share <= 1
        if past:
            assert abs(told.honey_share - past[-1].honey_share) <= size + 1e-6
        past.append(step(told.honey_share, data.draw(RESULTS)))
    plan = schedule(past, target, size, 9.0, 0.0)
    assert not plan or plan[-1].honey_share == goal
    assert all(a.from_day < b.from_day for a, b in itertools.pairwise(plan))
    assert 0 <= conversion.progress(past, target) <= 1


def brewed(day, mean_c=23.0, age=7.0, honey=0.0, leaf=5.5):
    """One brew of a line."""
    return Brewed(day=day, mean_c=mean_c, starter_age_days=age, honey_share=honey, leaf_g_per_l=leaf)


@pytest.mark.parametrize(
    "key, lately",
    [
        ("cold", {"mean_c": 18.0}),
        ("old starter", {"age": 60.0}),
        ("change of diet", {"honey": 0.6}),
        ("too little leaf", {"leaf": 3.0}),
        (None, {}),
    ],
)
def test_a_cause_of_slowing_is_named_only_when_its_evidence_holds(key, lately):
    """Each alone, by what changed lately; nothing changed names nothing, nor what was always so."""
    found = causes([brewed(1), brewed(2), brewed(3, **lately), brewed(4, **lately)])
    assert [cause.key for cause in found] == ([key] if key else [])
    assert causes([brewed(1, **lately)]) == []
    if key != "old starter":
        assert causes([brewed(i, **lately) for i in range(4)]) == []


@given(st.sets(st.sampled_from(sorted(sources.SIGNS))))
@quick
def test_a_bottle_never_gets_fitter_by_losing_a_sign(seen):
    """Fit only with all; without what must hold never; each missing sign has its reason."""
    rank = {"not fit": 0, "perhaps": 1, "fit": 2}
    whole = sources.bottle_fitness(seen)
    for sign in seen:
        assert rank[sources.bottle_fitness(seen - {sign}).word] <= rank[whole.word]
    assert (whole.word == "fit") == (seen == set(sources.SIGNS))
    assert len(whole.reasons) == len(sources.SIGNS) - len(seen)
    assert "raw" in seen or whole.word == "not fit"


def test_of_two_sources_the_one_with_faster_brews_is_called_the_faster():
    """Strong against weak is told with its odds; like against like, neither; unknown is said to be unknown."""
    base = side_by_side.same_recipe(Recipe(), Recipe())
    strong = side_by_side.side("strong", "sugar", [Posterior(1.6, 1.6, 0.1, 0.1)] * 4, base)
    weak = side_by_side.side("weak", "sugar", [Posterior(0.6, 0.6, 0.1, 0.1)] * 4, base)
    bare = side_by_side.side("bare", "sugar", [], base)
    assert side_by_side.pair(strong, weak).left_faster > 0.9
    assert side_by_side.pair(strong, weak).left_faster + side_by_side.pair(weak, strong).left_faster == pytest.approx(1)
    assert side_by_side.pair(weak, weak).says == "Neither is clearly the faster."
    assert "No brew of bare" in side_by_side.pair(strong, bare).says
    assert strong.forecast.ready[""].p50 < weak.forecast.ready[""].p50
