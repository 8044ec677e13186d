"""The quick line: whatever is told in whatever order is read as just that, and everyday words are what they say."""

import time
from dataclasses import replace
from datetime import date

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.core.quick.amounts import QuickAmount
from kyklos.core.quick.bought import bought_said
from kyklos.core.quick.line import understand
from kyklos.core.quick.openings import Opening
from kyklos.core.quick.parts import parts_of
from kyklos.core.quick.said import DeedKind, Named
from kyklos.core.quick.words import spelt
from kyklos.core.supply.goods import goods
from tests.pace import slower

from .test_quick_line import BRAM, CROCK, KITCHEN, ODILE, ONE, TALL, TWO, at, told

VESSELS = {
    "crock": CROCK, "the crock": CROCK, "Stoneware crock -": CROCK, "from the crock": CROCK, "jar 1": ONE, "in jar one": ONE, "Jar one:": ONE,
    "jar two": TWO, "meltemi": TWO, "the jun": TWO, "jar 2,": TWO, "tall jar": TALL, "levanter": TALL,
}  # fmt: skip
#: What is told, by the field it is kept in: ways to write it, and what it is.
WAYS = {
    "ph": (
        [("ph 3.4", 3.4), ("pH is 3.25", 3.25), ("ph of 3,35", 3.35), ("4.1 ph", 4.1), ("3.4 on the meter", 3.4), ("meter says 3.25", 3.25),
         ("reads 3.35", 3.35), ("strip says 3.5", 3.5), ("3 on the strip", 3), ("ph three point four", 3.4), ("ph 3 1/2", 3.5), ("3½ on the strip", 3.5),
         ("strip between 3 and 3.5", 3.25), ("ph 3.2 to 3.4", 3.3), ("ph ~3.4", 3.4), ("it's 3.25", 3.25)]
    ),
    "celsius": (
        [("24c", 24), ("22.5 C", 22.5), ("19°C", 19), ("24 degrees", 24), ("temp 22.5", 22.5), ("temp is 19 c", 19), ("room 24c", 24), ("it was 19c", 19),
         ("thermometer says 22.5", 22.5), ("about 24 degrees", 24), ("77 degrees fahrenheit", 25)]
    ),
    "gravity": (
        [("sg 1.018", 1.018), ("sg is 1.018", 1.018), ("1.018 sg", 1.018), ("hydrometer reads 1.018", 1.018), ("5.2 brix", 1.0205), ("brix is 5.2", 1.0205),
         ("5.2° brix", 1.0205)]
    ),
    "ta_g_per_l": ([("ta 4.6", 4.6), ("ta is 4.6", 4.6), ("4.6 g/l", 4.6), ("titrated 4.6 g/l", 4.6), ("total acidity 4.6", 4.6)]),
    "tastes": (
        [("odile a bit sweet", [(ODILE, -1)]), ("odile thinks it's a bit sweet", [(ODILE, -1)]), ("too sour for bram", [(BRAM, 2)]),
         ("bram finds it too sour", [(BRAM, 2)]), ("perfect for bram", [(BRAM, 0)]), ("both say perfect", [(ODILE, 0), (BRAM, 0)]),
         ("odile too sweet, bram right", [(ODILE, -2), (BRAM, 0)])]
    ),
    "at": (
        [("yesterday evening", at("02-17 19:00")), ("this morning", at("02-18 08:00")), ("on monday", at("02-15 08:30")), ("2 days ago", at("02-16 08:30")),
         ("yesterday at 19:30", at("02-17 19:30")), ("8am", at("02-18 08:00")), ("at 7:30", at("02-18 07:30")), ("on the 12th of february", at("02-12 08:30"))]
    ),
    "amounts": (
        [("drank a glass", [QuickAmount("drunk", 0.25, False)]), ("drew off 500 ml", [QuickAmount("drunk", 0.5, False)]),
         ("poured myself a glass", [QuickAmount("drunk", 0.25, False)]), ("poured out 2 glasses", [QuickAmount("drunk", 0.5, False)]),
         ("topped up with 2 l", [QuickAmount("sweet tea", 2.0, True)]), ("put in 1 l of tea", [QuickAmount("sweet tea", 1.0, True)])]
    ),
    "surface": ([("thin film", "skin"), ("a healthy disc", "disc"), ("nice new disc", "disc"), ("green mould", "fuzzy")]),
    "": ([(note, None) for note in ("no mould", "not ready yet", "bubbles nicely", "looks good", "cloth changed", "all well", "hard to say", "lovely colour")]),
}  # fmt: skip
NOTHING = {"ph": None, "celsius": None, "gravity": None, "ta_g_per_l": None, "tastes": [], "at": None, "amounts": [], "surface": ""}


@given(st.data())
@settings(max_examples=150, deadline=None)
def test_what_is_told_in_any_order_is_read_as_just_that(data):
    """A vessel and up to three things about it, joined as people join them: each is read, and nothing besides."""
    vessel, name = data.draw(st.sampled_from(list(VESSELS.items())))
    fields = data.draw(st.lists(st.sampled_from(list(WAYS)), min_size=1, max_size=3, unique=True))
    pieces = {field: data.draw(st.sampled_from(WAYS[field])) for field in fields}
    line = f"{vessel} {data.draw(st.sampled_from([', ', ' ', ' and ', '; ', ' with ']), label='joined').join(text for text, _ in pieces.values())}"
    quick = understand(line, KITCHEN)
    meant = NOTHING | {field: value for field, (_, value) in pieces.items() if field}
    read = {field: told(quick, field) for field in meant}
    assert told(quick, "vessels") == name, line
    assert {f: v for f, v in read.items() if f not in {"tastes", "amounts", "surface", "at"}} == {
        f: None if v is None else pytest.approx(v, abs=2e-4) for f, v in meant.items() if f not in {"tastes", "amounts", "surface", "at"}
    }, line
    assert {f: read[f] for f in ("tastes", "amounts", "surface", "at")} == {f: meant[f] for f in ("tastes", "amounts", "surface", "at")}, line


@pytest.mark.parametrize(
    "word", ["could", "would", "night", "light", "start", "sheet", "plain", "feels", "thinks", "lively", "supper", "angry", "sell", "sunny", "watch"]
)
def test_an_everyday_word_is_no_other_misspelt(word):
    """It stays what it is, however near it lies to a word of the kitchen."""
    assert spelt(word) == word


#: Lines of which a piece meant something else before: what they are read as now.
ELSEWHERE = [
    ("tall jar 3 1/2 on the strip", {"ph": 3.5, "at": None}),
    ("topped up jar 2 1/2 cup of tea", {"vessels": TWO, "amounts": [QuickAmount("sweet tea", pytest.approx(0.118, abs=1e-3), True)]}),
    ("levanter at 22.5 C and 3.6", {"celsius": 22.5, "ph": 3.6, "low_c": None}),
    ("jar one high 24 low 18", {"low_c": 18.0, "high_c": 24.0, "celsius": None}),
    ("jar one 22 c and 8am", {"celsius": 22.0, "low_c": None}),
    ("crock smells like fresh cider, lively bubbles", {"tastes": []}),
    ("jar one no longer sweet", {"tastes": []}),
    ("odile wants more tang in jar two", {"tastes": []}),
    ("jar one sg 1.014 at 22", {"gravity": 1.014, "at": None}),
    ("meter reads 4.05 in the 4.01 buffer", {"ph": None}),
    ("3.4 with the calibrated meter in the crock", {"ph": 3.4}),
    ("500ml starter from jar two to the hotel", {"amounts": []}),
    ("crock: 1.5 l out for bottling", {"amounts": []}),
    ("poured 3 glasses out of the crock", {"amounts": [QuickAmount("drunk", 0.75, False)]}),
    ("poured out 1 l of the crock", {"amounts": [QuickAmount("spilt", 1.0, False)]}),
    ("going to marta's from 5 to 9 february", {"ph": None, "at": None}),
    ("jar one ready tomorrow", {"tastes": []}),
    ("moved scoby from jar one to hotel", {"surface": ""}),
    ("tall jar 3.5, bit of a skin on top", {"surface": "skin", "depth": ""}),
    ("tall jar has a dry patch on the disc", {"surface": ""}),
    ("no smell of mould in jar one", {"smell": ""}),
    ("threw away 300 ml of jar one", {"amounts": [QuickAmount("spilt", 0.3, False)]}),
    ("new disc on tall jar, nice and even", {"tastes": [], "surface": "disc"}),
    ("crock 3.35 brix 5.2", {"ph": 3.35, "gravity": pytest.approx(1.0205, abs=1e-4)}),
    ("meter says 3 jun", {"ph": 3.0, "at": None}),
    ("new disc in jar one from the hotel", {"surface": ""}),
    ("levanter step failed, disc didn't grow", {"surface": ""}),
    ("jar two film broke when i moved it", {"surface": ""}),
    ("scoby in jar one smells fine", {"surface": "", "smell": "bread"}),
    ("kahm gone on jar one", {"surface": ""}),
    ("dead fly in jar two", {"surface": "insects"}),
    ("ants on the cloth of jar one", {"surface": ""}),
    ("fluffy green patch on jar 7", {"ph": None, "surface": "fuzzy"}),
    ("jar one and two both 3.4", {"vessels": ONE, "ph": 3.4, "note": "two both"}),
    ("jar one 4.1 on day 2, on day 5 3.6", {"ph": None}),
    ("crock dropped 2 degrees since yesterday", {"celsius": None}),
    ("7/10 for the crock", {"ph": None, "at": None}),
    ("jar one 3.8 → 3.5", {"ph": 3.5}),
    ("jar two from 4 to 3.6", {"ph": 3.6, "instrument": ""}),
    ("jar one under 3.5", {"ph": None}),
    ("crock 3·4", {"ph": 3.4}),
    ("fridge at 5", {"ph": None, "at": None}),
    ("poured a litre of the crock down the drain", {"amounts": [QuickAmount("spilt", 1.0, False)]}),
    ("3 l of bora in jar one", {"amounts": []}),
    ("jar one 3l", {"amounts": []}),
    ("jar two .4 lower", {"ph": None}),
    ("good morning, crock 3.2", {"ph": 3.2, "tastes": []}),
    ("mould on the disc of jar one grew overnight", {"surface": "fuzzy"}),
    ("green fuzz on the disc in jar one spreading", {"surface": "fuzzy"}),
    ("disc in jar one hasn't formed", {"surface": ""}),
    ("heater of jar one went off", {"smell": ""}),
    ("jar one < 3.5", {"ph": None}),
    ("jar one below 20c", {"celsius": None}),
    ("jar one less than 4 brix", {"gravity": None}),
    ("jar one day 2 ph 4.1, day 5 ph 3.6", {"ph": None}),
    ("yesterday evening at 7 jar one 3.5", {"ph": 3.5, "at": at("02-17 19:00")}),
    ("tall jar: sweet 2, sour 8", {"ph": None}),
    ("tall jar could be sourer", {"tastes": []}),
    ("all jars look good", {"tastes": []}),
    ("bram liked it, tall jar", {"tastes": [(BRAM, 0)]}),
    ("tall jar disc has holes", {"surface": "jelly"}),
    ("checked for mould in jar one, none", {"surface": ""}),
    ("stole a sip of the crock", {"vessels": CROCK}),
    ("starting jar one again tomorrow", {"signs": []}),
    ("jar one is stinking", {"smell": "bad", "signs": []}),
    ("jar one 3.,4", {"ph": 3.4}),
    ("heater on 25", {"celsius": None}),
    ("jar one smells kinda off", {"smell": "bad"}),
    ("jar two too tangy for bram", {"tastes": [(BRAM, 2)]}),
    ("crock 2 l out", {"amounts": [QuickAmount("drunk", 2.0, False)]}),
    ("jar one 3.5 at 7 this morning", {"ph": 3.5, "at": at("02-18 07:00")}),
    ("jar one 3.5 yesterday at 7 in the evening", {"ph": 3.5, "at": at("02-17 19:00")}),
    ("jar one sun on it all afternoon", {"at": None}),
    ("jar one covered with paper towel", {"note": "covered with paper towel"}),
    ("odile: jar two sweet as sugar", {"tastes": [(ODILE, -3)]}),
    ("drew 1.5 l off the crock into a jug", {"amounts": [QuickAmount("drunk", 1.5, False)]}),
    ("crock level 6 l", {"amounts": []}),
    ("two glasses on sunday and one today from the crock", {"amounts": []}),
    ("put 1 l of the crock in the fridge", {"deed": None, "amounts": []}),
    ("odile says jar one's perfect", {"vessels": ONE, "tastes": [(ODILE, 0)]}),
    ("crock a touch too sharp for bram", {"tastes": [(BRAM, 1)]}),
    ("odile: jar two almost right but a bit sour", {"tastes": [(ODILE, 1)]}),
    ("jar two smells more and more like vinegar", {"tastes": [], "smell": "bread"}),
]


@pytest.mark.parametrize(("line", "meant"), ELSEWHERE)
def test_a_piece_is_read_by_what_stands_beside_it(line, meant):
    """Fractions, units, labels and little words around a number or a taste say what it is."""
    quick = understand(line, KITCHEN)
    assert {field: told(quick, field) for field in meant} == meant


@pytest.mark.parametrize(
    ("line", "opening"),
    [
        ("mould gone on jar one", Opening.LOOK), ("jar one has gone off", Opening.LOOK), ("recalibrated, 7 and 4", Opening.CALIBRATE), ("we are away 24 to 28 february", Opening.AWAY), ("jar one ready to bottle?", Opening.JAR),
        ("blue green patch jar two!!", Opening.LOOK), ("could be kahm on jar two", Opening.LOOK), ("out of town next week", Opening.AWAY),
        ("we need honey", Opening.SHOPPING), ("need black tea", Opening.SHOPPING), ("we need more bottles", Opening.SHOPPING), ("washed the bottles", Opening.CARE), ("brewing jar one", Opening.BREW_DAY), ("sugar is running low", Opening.SHOPPING), ("meter reads 4.05 in the 4.01 buffer", Opening.CALIBRATE),
    ],
)  # fmt: skip
def test_a_line_opens_what_it_is_about(line, opening):
    """What a line cannot settle has its page: a coloured patch, perhaps film yeast, an absence, what is to be bought."""
    leads = understand(line, KITCHEN).leads
    assert leads is not None
    assert leads.to is opening


def test_of_seven_bottles_three_with_a_flavour_four_are_plain():
    """A count of all is no filling of its own."""
    assert understand("filled seven bottles from jar one, three with damson", KITCHEN).deed.groups == ((3, "damson"), (4, ""))
    assert understand("filled 8 bottles from jar three with damson", KITCHEN).deed.groups == ((8, ""),)
    assert understand("bottled jar one: 4 damson, 2 plain", KITCHEN).deed.groups == ((4, "damson"), (2, "plain"))


@pytest.mark.parametrize(("said", "hiss"), [("soft hiss", 1), ("hardly a hiss", 1), ("hissed loudly", 3), ("soft", 0), ("loud hiss", 3)])
def test_a_hiss_is_as_loud_as_it_is_said(said, hiss):
    """A soft hiss is no silence, and hardly a hiss no hiss."""
    assert understand(f"opened a raspberry, {said}", KITCHEN).deed.hiss == hiss


def test_a_bottle_that_sprayed_was_opened_and_gushed():
    """In whatever words, unless it is denied."""
    for line in ("raspberry sprayed all over the kitchen", "raspberry gushed", "one raspberry foamed over"):
        deed = understand(line, KITCHEN).deed
        assert (deed.kind, deed.hiss) == (DeedKind.OPENED, 4), line
    assert understand("raspberry never gushed", KITCHEN).deed.kind is DeedKind.SAID


def test_a_second_kind_of_bottles_is_asked_about():
    """It is written for the first alone, and says so; a second word for the same kind asks nothing."""
    both = understand("drank a raspberry and a ginger", KITCHEN)
    assert any("Two kinds at once" in doubt.question for doubt in both.doubts)
    assert not any("Two kinds" in doubt.question for doubt in understand("drank a raspberry with anna, ripe raspberry", KITCHEN).doubts)


def test_of_two_bottles_opened_one_flat_tells_nothing_of_the_other():
    """How they opened is asked."""
    assert understand("opened 2 raspberry, one flat", KITCHEN).deed.hiss is None
    assert understand("opened 2 raspberry, both flat", KITCHEN).deed.hiss == 0


def test_an_absence_by_its_dates_is_the_coming_one():
    """From 5 to 9 March, and over a year's end."""
    assert understand("holiday from 5 to 9 march", KITCHEN).leads.days == (date(2027, 3, 5), date(2027, 3, 9))
    assert understand("away 28 december to 3 january", KITCHEN).leads.days == (date(2027, 12, 28), date(2028, 1, 3))


def test_what_is_saved_from_a_jar_is_starter_and_numbers_of_a_jar_buy_nothing():
    """"Saved half a litre from jar one" was drunk before, and "Jar 2 - 23.5 - 3.42" two bottles for so much."""
    assert understand("saved half a litre from jar one", KITCHEN).deed.kind is DeedKind.RESERVED
    assert bought_said("Jar 2 - 23.5 - 3.42", goods()) is None


@pytest.mark.parametrize(
    ("line", "meant"),
    [
        ("d5 jar one 3.6", {"ph": 3.6}), ("crock +2 l", {"amounts": [QuickAmount("sweet tea", 2.0, True)]}), ("a litre of the crock to anna", {"amounts": []}),
        ("fed jar two 1 l", {"amounts": [QuickAmount("sweet tea", 1.0, True)]}), ("wasps around the crock", {"surface": ""}),
        ("at the cottage till monday", {"at": None}), ("jar one finished, bottle it tomorrow", {"deed": None}), ("crock lovely colour", {"tastes": []}),
    ],
)  # fmt: skip
def test_what_is_to_come_is_counted_or_goes_in_is_no_reading_and_no_drink(line, meant):
    """A day of a brew, a plus before litres, a day still to come, an errand."""
    quick = understand(line, KITCHEN)
    assert {field: told(quick, field) for field in meant} == meant


def test_one_jar_after_another_needs_no_comma():
    """Each jar before its number is a part of its own."""
    assert [part.strip() for part in parts_of("crock 3.1 jar 2 3.4 24c", KITCHEN)] == ["crock 3.1", "jar 2 3.4 24c"]
    assert [part.strip(" /") for part in parts_of("jar one 3.3 / jar two 3.5", KITCHEN)] == ["jar one 3.3", "jar two 3.5"]
    assert len(parts_of("moved jar one beside jar two", KITCHEN)) == 1


#: Lines in which a vessel's name stands in the middle: what each is read as.
AMONG = [
    ("ph of {} 3.4", {"ph": 3.4}), ("ta {} 5.4", {"ta_g_per_l": 5.4}), ("brix {} 5.2", {"gravity": pytest.approx(1.0205, abs=1e-4)}),
    ("gravity of {} 1.018", {"gravity": 1.018}), ("temperature in {} is 22.5", {"celsius": 22.5}), ("strip for {}: 3.5", {"ph": 3.5, "instrument": "strip"}),
    ("yesterday {} was at 3.4", {"ph": 3.4, "at": at("02-17 08:30")}), ("odile tasted {}: a bit sweet", {"tastes": [(ODILE, -1)]}),
    ("odile thinks {} is too sour", {"tastes": [(ODILE, 2)]}), ("{} perfect for odile and bram", {"tastes": [(ODILE, 0), (BRAM, 0)]}),
    ("drank a glass of {}", {"amounts": [QuickAmount("drunk", 0.25, False)]}), ("poured 1 l of {} away", {"amounts": [QuickAmount("spilt", 1.0, False)]}),
    ("{} has 5 l in it", {}), ("{} 2/3 full", {}), ("{} label says batch 12", {}), ("photo 4 of {}", {}), ("day 5 of {}", {}), ("put 60 g sugar in {}", {}),
    ("no mould on {}", {}), ("{} for 3 people", {}), ("{} 3.5 yesterday 3.4 today", {}),
]  # fmt: skip


@pytest.mark.parametrize(("line", "meant"), AMONG)
@pytest.mark.parametrize(("vessel", "name"), [("the crock", CROCK), ("jar 1", ONE), ("meltemi", TWO), ("tall jar", TALL)])
def test_a_vessel_may_be_named_anywhere_in_a_line(line, meant, vessel, name):
    """What stands around its name is read as it would be beside it; counts of other things, and two days at once, are a note."""
    quick = understand(line.format(vessel), KITCHEN)
    assert told(quick, "vessels") == name
    whole = NOTHING | meant
    assert {field: told(quick, field) for field in whole} == whole


@pytest.mark.parametrize(
    ("line", "kind", "count"),
    [
        ("ginger bottle broke in the fridge", DeedKind.LOST, 1), ("uncapped 2 quince, flat", DeedKind.OPENED, 2), ("{} into the fridge", DeedKind.CHILLED, 2),
    ],
)  # fmt: skip
def test_what_happened_to_bottles_counts_more_than_where(line, kind, count):
    """A bottle that broke in the fridge was not put there."""
    deed = understand(line.format("2 raspberry"), KITCHEN).deed
    assert (deed.kind, deed.count) == (kind, count)


@pytest.mark.parametrize(
    "line", ["jar one 3.5 yesterday 3.4 today green mould", "no smell white mould on jar one", "jar one smells of wet dog green mould", "jar one needs care green mould"]
)  # fmt: skip
def test_mould_is_seen_whatever_else_a_line_tells(line):
    """No unknown smell, no two days and no wish before it takes it for a note."""
    assert understand(line, KITCHEN).surface == "fuzzy"


@pytest.mark.alone
def test_a_long_line_is_read_while_it_is_typed():
    """Three hundred letters beside fifteen jars, read again: under 60 ms on a common machine."""
    jars = tuple(Named(number, f"{word} jar", ("Meltemi",)) for number, word in enumerate(["north", "south", "east", "west", "upper", "lower", "first", "second", "third", "fourth", "fifth", "sixth", "green", "brown", "grey"]))
    line = "north jar cloudy with little strange bubbles around everything, smells pleasantly of orchard blossom and south jar 3.4 " * 3
    here = replace(KITCHEN, vessels=jars)
    parts_of(line, here)
    started = time.process_time()
    parts_of(line, here)
    assert time.process_time() - started < 0.06 * slower()
