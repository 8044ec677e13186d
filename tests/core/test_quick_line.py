"""The quick line: a table of phrases, and what holds for any text."""

import re
from dataclasses import replace
from datetime import date, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kyklos.core.quick.amounts import QuickAmount
from kyklos.core.quick.bought import bought_said
from kyklos.core.quick.line import LONGEST, understand
from kyklos.core.quick.parts import parts_of
from kyklos.core.quick.said import Context, DeedKind, Named, NamedShelf
from kyklos.core.quick.wishes import wish_said
from kyklos.core.quick.words import FILLERS, phrases, tokens
from kyklos.core.supply.goods import goods

NOW = datetime(2027, 2, 18, 8, 30)  # a Thursday
KITCHEN = Context(
    (
        Named(1, "Stoneware crock", ("Bora",)),
        Named(2, "Jar one", ("Bora",)),
        Named(3, "Jar two", ("Meltemi", "jun")),
        Named(4, "Tall jar", ("Levanter",)),
    ),
    (Named(1, "Odile Varga"), Named(2, "Bram Sollie")),
    NOW,
    shelves=(
        NamedShelf(1, "Raspberry", ("Raspberry",), warm=3),
        NamedShelf(2, "Ginger", ("Fresh ginger",), warm=2, cold=2),
        NamedShelf(3, "Plain", ("Plain",), cold=4),
        NamedShelf(4, "Quince and bay", ("Quince",), warm=5),
        NamedShelf(5, "Damson", ("Damson",), warm=2),
        NamedShelf(6, "Damson, October", ("Damson",), cold=3),
    ),
    hotels=(Named(9, "Hotel"),),
    places=(Named(1, "Dresser"), Named(2, "Pantry shelf"), Named(3, "Kitchen cupboard"), Named(4, "Fridge")),
)
US = replace(KITCHEN, us=True)
CROCK, ONE, TWO, TALL = ("Stoneware crock",), ("Jar one",), ("Jar two",), ("Tall jar",)
ODILE, BRAM = "Odile Varga", "Bram Sollie"


def at(text):
    """A local moment of 2027."""
    return datetime.strptime(f"2027-{text}", "%Y-%m-%d %H:%M")


#: Phrase, and all that it must be understood as.
CLEAR = [
    ("crock 3.42 24c odile bit sweet bubbles", {"vessels": CROCK, "ph": 3.42, "celsius": 24, "tastes": [(ODILE, -1)], "note": "bubbles"}),
    ("jar two 77f strip 3.5 yesterday 8pm", {"vessels": TWO, "ph": 3.5, "celsius": 25, "instrument": "strip", "at": at("02-17 20:00")}),
    ("the crock: pH 3,42", {"vessels": CROCK, "ph": 3.42}),
    ("jar 2 3.6", {"vessels": TWO, "ph": 3.6}),
    ("jar1 3.6", {"vessels": ONE, "ph": 3.6}),
    ("JAR TWO PH=3.60", {"vessels": TWO, "ph": 3.6}),
    ("tall 3.9 meter", {"vessels": TALL, "ph": 3.9, "instrument": "meter"}),
    ("meltemi 21.5", {"vessels": TWO, "celsius": 21.5}),
    ("jun 3.7", {"vessels": TWO, "ph": 3.7}),
    ("jun 24c", {"vessels": TWO, "celsius": 24}),
    ("crok 3.4 srtip this morning", {"vessels": CROCK, "ph": 3.4, "instrument": "strip", "at": at("02-18 08:00")}),
    ("stonware crock 3.41", {"vessels": CROCK, "ph": 3.41}),
    ("crock 24.5 °C", {"vessels": CROCK, "celsius": 24.5}),
    ("crock 24 degrees celsius", {"vessels": CROCK, "celsius": 24}),
    ("crock 18-24c", {"vessels": CROCK, "low_c": 18, "high_c": 24}),
    ("crock low 18 high 24", {"vessels": CROCK, "low_c": 18, "high_c": 24}),
    ("crock 18c to 24c", {"vessels": CROCK, "low_c": 18, "high_c": 24}),
    ("crock 5.2 brix refractometer", {"vessels": CROCK, "gravity": 1.0205, "gravity_by": "refractometer"}),
    ("crock sg 1.021 hydrometer", {"vessels": CROCK, "gravity": 1.021, "gravity_by": "hydrometer"}),
    ("crock 1.018", {"vessels": CROCK, "gravity": 1.018}),
    ("jar two ta 4.6", {"vessels": TWO, "ta_g_per_l": 4.6}),
    ("jar two 4.6 g/l from the tap", {"vessels": TWO, "ta_g_per_l": 4.6, "depth": "tap"}),
    ("crock drank a glass", {"vessels": CROCK, "amounts": [QuickAmount("drunk", 0.25, False)]}),
    ("drew 0.5 l from the crock yesterday", {"vessels": CROCK, "amounts": [QuickAmount("drunk", 0.5, False)], "at": at("02-17 08:30")}),
    ("crock spilt 250 ml", {"vessels": CROCK, "amounts": [QuickAmount("spilt", 0.25, False)]}),
    ("topped up crock with 1 l of sweet tea", {"vessels": CROCK, "amounts": [QuickAmount("sweet tea", 1.0, True)]}),
    ("added 2 cups water to the tall jar", {"vessels": TALL, "amounts": [QuickAmount("water", 0.473176, True)]}),
    ("crock gave away half a litre ph 3.3", {"vessels": CROCK, "ph": 3.3, "amounts": [QuickAmount("given", 0.5, False)]}),
    ("odile a bit sour, bram perfect, crock", {"vessels": CROCK, "tastes": [(ODILE, 1), (BRAM, 0)]}),
    ("jar two taste -1 odile", {"vessels": TWO, "tastes": [(ODILE, -1)]}),
    ("bram: much too sweet jar one", {"vessels": ONE, "tastes": [(BRAM, -3)]}),
    ("tall jar kahm smells off", {"vessels": TALL, "surface": "film-yeast", "smell": "bad"}),
    ("crock mould!!", {"vessels": CROCK, "surface": "fuzzy"}),
    ("crock moldy fuzzy spots", {"vessels": CROCK, "surface": "fuzzy"}),
    ("crock top dry", {"vessels": CROCK, "signs": ["lifted"]}),
    ("jar two jelly, brown strings, smells of vinegar", {"vessels": TWO, "surface": "jelly", "signs": ["strings"], "smell": "bread"}),
    ("crock pH 3.3 12 feb 18:30", {"vessels": CROCK, "ph": 3.3, "at": at("02-12 18:30")}),
    ("crock 3.4 2h ago", {"vessels": CROCK, "ph": 3.4, "at": at("02-18 06:30")}),
    ("crock 3.4 monday 7am", {"vessels": CROCK, "ph": 3.4, "at": at("02-15 07:00")}),
    ("crock 3.4 last night", {"vessels": CROCK, "ph": 3.4, "at": at("02-17 21:00")}),
    ("crock 3.4 2027-02-10 09:15", {"vessels": CROCK, "ph": 3.4, "at": at("02-10 09:15")}),
    ("crock moved nearer to the stove", {"vessels": CROCK, "note": "moved nearer to the stove"}),
    ("crock 3.41 uncalibrated meter", {"vessels": CROCK, "ph": 3.41, "instrument": "uncalibrated"}),
    ("tall jar smells cheesy", {"vessels": TALL, "smell": "rotten"}),
    ("crock vinegar eels", {"vessels": CROCK, "surface": "eels"}),
    ("crock 3.2 from the bottom", {"vessels": CROCK, "ph": 3.2, "depth": "bottom"}),
]  # fmt: skip

#: Phrase, what it is taken as, and a piece of the question that it asks.
UNSURE = [
    ("jar 3.4", {"vessels": ("Jar one", "Jar two", "Tall jar"), "ph": 3.4}, "Which one"),
    ("bora 3.3", {"vessels": ("Stoneware crock", "Jar one"), "ph": 3.3}, "Which one"),
    ("tall jar film", {"vessels": TALL, "surface": "skin"}, "wrinkled"),
    ("crock odile sweet", {"vessels": CROCK, "tastes": [(ODILE, -1)]}, "How sweet"),
    ("crock bram sour", {"vessels": CROCK, "tastes": [(BRAM, 1)]}, "How sour"),
    ("crock bit sweet", {"vessels": CROCK, "tastes": [(None, -1)]}, "Who tasted"),
    ("jar two odile sweet sour", {"vessels": TWO}, "one thing"),
    ("crock odile good", {"vessels": CROCK, "tastes": [(ODILE, 0)]}, "right for this taster"),
    ("crock odile vinegar", {"vessels": CROCK, "tastes": [(ODILE, 3)]}, "taste or its smell"),
    ("crock 3", {"vessels": CROCK, "ph": 3}, "Taken as pH 3"),
    ("crock 75", {"vessels": CROCK, "celsius": pytest.approx(23.89, abs=0.01)}, "°F"),
    ("crock 8", {"vessels": CROCK, "ph": None, "note": "8"}, "8 of what"),
    ("crock 6.5", {"vessels": CROCK, "ph": None, "note": "6.5"}, "6.5 of what"),
    ("crock 3.4 3.6", {"vessels": CROCK, "ph": 3.4, "note": "3.6"}, "Said twice"),
    ("crock 3.4 thursday", {"vessels": CROCK, "ph": 3.4, "at": at("02-11 08:30")}, "is today"),
    ("crock 3.4 3/2", {"vessels": CROCK, "ph": 3.4, "at": at("02-03 08:30")}, "Day or month"),
    ("crock 3.4 8pm", {"vessels": CROCK, "ph": 3.4, "at": at("02-17 20:00")}, "yesterday"),
    ("crock 3.4 at 8", {"vessels": CROCK, "ph": 3.4, "at": at("02-18 08:00")}, "morning or evening"),
    ("crock white spots", {"vessels": CROCK, "surface": "odd"}, "Fuzzy or flat"),
    ("crock moud", {"vessels": CROCK, "surface": "", "note": "moud"}, "only resembles"),
    ("crock ph 15", {"vessels": CROCK, "ph": None}, "0 to 14"),
]  # fmt: skip

#: Phrases of every day, and all that each must be understood as; none asks anything.
EVERYDAY = [
    ("jar two ph between 3 and 3.5 strip", {"vessels": TWO, "ph": 3.25, "instrument": "strip", "note": "between 3 and 3.5"}),
    ("strip says between 3.0 and 3.5 jar one", {"vessels": ONE, "ph": 3.25, "instrument": "strip", "note": "between 3 and 3.5"}),
    ("crock 3 to 3.5", {"vessels": CROCK, "ph": 3.25, "instrument": "strip", "note": "between 3 and 3.5"}),
    ("crock ph 3-3.5", {"vessels": CROCK, "ph": 3.25, "instrument": "strip", "note": "between 3 and 3.5"}),
    ("crock ph about 3.3", {"vessels": CROCK, "ph": 3.3}),
    ("jar one ph is around 3,4", {"vessels": ONE, "ph": 3.4}),
    ("crock ~3.4", {"vessels": CROCK, "ph": 3.4}),
    ("crock between 18 and 24", {"vessels": CROCK, "low_c": 18, "high_c": 24}),
    ("crock 18-24", {"vessels": CROCK, "low_c": 18, "high_c": 24}),
    ("jar one three weeks ago ph 3.8", {"vessels": ONE, "ph": 3.8, "at": at("01-28 08:30")}),
    ("jar one 3 weeks ago ph 3.8", {"vessels": ONE, "ph": 3.8, "at": at("01-28 08:30")}),
    ("jar two 3.4 two days ago", {"vessels": TWO, "ph": 3.4, "at": at("02-16 08:30")}),
    ("crock 3.4 half an hour ago", {"vessels": CROCK, "ph": 3.4, "at": at("02-18 08:00")}),
    ("crock 3.4 an hour ago", {"vessels": CROCK, "ph": 3.4, "at": at("02-18 07:30")}),
    ("crock 3.4 the day before yesterday", {"vessels": CROCK, "ph": 3.4, "at": at("02-16 08:30")}),
    ("crock 3.4 a week ago", {"vessels": CROCK, "ph": 3.4, "at": at("02-11 08:30")}),
    ("crock 3.4 a couple of days ago", {"vessels": CROCK, "ph": 3.4, "at": at("02-16 08:30")}),
    ("crock 3.5 sunday morning", {"vessels": CROCK, "ph": 3.5, "at": at("02-14 08:00")}),
    ("jar one scoby sank", {"vessels": ONE, "signs": ["tilted"]}),
    ("jar one scoby at the bottom", {"vessels": ONE, "signs": ["tilted"]}),
    ("jar two scoby is sideways", {"vessels": TWO, "signs": ["tilted"]}),
    ("fuzzy spot on top jar one", {"vessels": ONE, "surface": "fuzzy"}),
    ("jar one green fuzz on the scoby", {"vessels": ONE, "surface": "fuzzy"}),
    ("jar two thin skin forming", {"vessels": TWO, "surface": "skin"}),
    ("jar two new scoby forming, brown stringy bits", {"vessels": TWO, "surface": "skin", "signs": ["strings"]}),
    ("jar one no mould", {"vessels": ONE, "note": "no mould"}),
    ("jar one no mold yet, smells good", {"vessels": ONE, "smell": "bread", "note": "no mold yet"}),
    ("jar two not fuzzy", {"vessels": TWO, "note": "not fuzzy"}),
    ("jar two no sign of mould", {"vessels": TWO, "note": "no sign of mould"}),
    ("jar one looks good", {"vessels": ONE, "note": "looks good"}),
    ("crock no bubbles yet", {"vessels": CROCK, "note": "no bubbles yet"}),
    ("crock smells like vinegar", {"vessels": CROCK, "smell": "bread"}),
    ("crock smells like nail polish remover", {"vessels": CROCK, "smell": "solvent"}),
    ("crock smells a bit vinegary", {"vessels": CROCK, "smell": "bread"}),
    ("crock smells sweet", {"vessels": CROCK, "note": "smells sweet"}),
    ("crock smells of rotten eggs", {"vessels": CROCK, "smell": "rotten"}),
    ("crock smelled like acetone yesterday", {"vessels": CROCK, "smell": "solvent", "at": at("02-17 08:30")}),
    ("jar one odile too sour, bram right", {"vessels": ONE, "tastes": [(ODILE, 2), (BRAM, 0)]}),
    ("odile: too sweet bram: perfect crock", {"vessels": CROCK, "tastes": [(ODILE, -2), (BRAM, 0)]}),
    ("crock both say too sweet", {"vessels": CROCK, "tastes": [(ODILE, -2), (BRAM, -2)]}),
    ("odile and bram too sour crock", {"vessels": CROCK, "tastes": [(ODILE, 2), (BRAM, 2)]}),
    ("crock bram likes it", {"vessels": CROCK, "tastes": [(BRAM, 0)]}),
    ("crock odile doesn't like it", {"vessels": CROCK, "note": "Odile Varga doesn't like it"}),
    ("crock not sour enough yet, odile", {"vessels": CROCK, "tastes": [(ODILE, -1)]}),
    ("crock not sour yet", {"vessels": CROCK, "note": "not sour yet"}),
    ("crock not too sweet", {"vessels": CROCK, "note": "not too sweet"}),
    ("crock tastes like vinegar bram", {"vessels": CROCK, "tastes": [(BRAM, 3)]}),
    ("still too sweet for bram crock", {"vessels": CROCK, "tastes": [(BRAM, -2)]}),
    ("crock too sour for odile, too sweet for bram", {"vessels": CROCK, "tastes": [(ODILE, 2), (BRAM, -2)]}),
    ("jar two 72f and odile says it's still too sweet", {"vessels": TWO, "celsius": pytest.approx(22.22, abs=0.01), "tastes": [(ODILE, -2)]}),
    ("jar one ready to bottle", {"vessels": ONE, "note": "ready to bottle"}),
    ("jar one not ready yet", {"vessels": ONE, "note": "not ready yet"}),
    ("took a glass from the crock", {"vessels": CROCK, "amounts": [QuickAmount("drunk", 0.25, False)]}),
    ("had a glass of crock", {"vessels": CROCK, "amounts": [QuickAmount("drunk", 0.25, False)]}),
    ("drank two glasses from the crock", {"vessels": CROCK, "amounts": [QuickAmount("drunk", 0.5, False)]}),
    ("poured out half a cup of jar one", {"vessels": ONE, "amounts": [QuickAmount("spilt", 0.118294, False)]}),
    ("jar one spilled a cup", {"vessels": ONE, "amounts": [QuickAmount("spilt", 0.236588, False)]}),
    ("topped up the crock with 500 ml tea", {"vessels": CROCK, "amounts": [QuickAmount("sweet tea", 0.5, True)]}),
    ("added a cup of sweet tea to jar one", {"vessels": ONE, "amounts": [QuickAmount("sweet tea", 0.236588, True)]}),
    ("crock added a splash of starter", {"vessels": CROCK, "note": "added a splash of starter"}),
    ("gave maria a jug of crock", {"vessels": CROCK, "amounts": [QuickAmount("given", 1.0, False)], "note": "gave maria"}),
    ("drew 8 fl oz from the crock", {"vessels": CROCK, "amounts": [QuickAmount("drunk", 0.236588, False)]}),
    ("jar one moved nearer to the stove", {"vessels": ONE, "note": "moved nearer to the stove"}),
    ("new cloth on jar two", {"vessels": TWO, "note": "new cloth on"}),
    ("added ginger to jar one", {"vessels": ONE, "note": "added ginger to"}),
    ("jar one 3 weeks old", {"vessels": ONE, "note": "3 weeks old"}),
    ("crock is leaking at the tap", {"vessels": CROCK, "note": "leaking at the tap"}),
    ("jar one leaked", {"vessels": ONE, "note": "leaked"}),
    ("filled the crock", {"vessels": CROCK, "note": "filled"}),
    ("jar 1 day 8 ph 3.4", {"vessels": ONE, "ph": 3.4, "note": "day 8"}),
    ("topped crock up with a litre of sweet black tea", {"vessels": CROCK, "amounts": [QuickAmount("sweet tea", 1.0, True)]}),
    ("jar two +200 ml water", {"vessels": TWO, "amounts": [QuickAmount("water", 0.2, True)]}),
    ("tipped 200 ml of jar one down the sink", {"vessels": ONE, "amounts": [QuickAmount("spilt", 0.2, False)], "note": "down the sink"}),
    ("added 50 g sugar to jar two", {"vessels": TWO, "note": "added 50 g sugar to"}),
    ("jar two bram: not bad, odile: too tart", {"vessels": TWO, "tastes": [(ODILE, 2)], "note": "Bram Sollie not bad"}),
    ("when is jar one ready", {"vessels": ONE, "note": "when is jar one ready"}),
    ("remind me to bottle jar one on friday", {"vessels": ONE, "note": "remind me to bottle jar one on friday"}),
]  # fmt: skip

#: Phrases that tell a deed: kind, fillings or what else is meant, count, hiss, litres, flavours, and what else is read.
DEEDS = [
    ("opened one raspberry, flat", ("opened", [1], 1, 0), {}),
    ("opened a ginger, gushed", ("opened", [2], 1, 4), {}),
    ("opened the quince and bay: loud pop", ("opened", [4], 1, 3), {}),
    ("opened 2 plain, both flat", ("opened", [3], 2, 0), {}),
    ("opened a plain last night, nice fizz, too sweet", ("opened", [3], 1, 2), {"note": "too sweet", "at": at("02-17 21:00")}),
    ("popped open a ginger: a little fizz", ("opened", [2], 1, 1), {}),
    ("raspberry opened, very fizzy", ("opened", [1], 1, 3), {}),
    ("burped the ginger, loud", ("burped", [2], None, 3), {}),
    ("burped all the bottles, quiet", ("burped", [1, 2, 4, 5], None, 1), {}),
    ("burped the raspberry yesterday evening", ("burped", [1], None, None), {"at": at("02-17 19:00")}),
    ("squeezed the raspberry: hard", ("squeezed", [1], None, 3), {}),
    ("put the plain in the fridge", ("chilled", [3], None, None), {}),
    ("put the raspberry in the fridge", ("chilled", [1], None, None), {}),
    ("moved 3 raspberry to the fridge", ("chilled", [1], 3, None), {}),
    ("quince into the fridge", ("chilled", [4], None, None), {}),
    ("all bottles in the fridge", ("chilled", [1, 2, 4, 5], None, None), {}),
    ("chilled the damson", ("chilled", [5], None, None), {}),
    ("took the plain out of the fridge", ("warmed", [3], None, None), {}),
    ("plain back to room temperature", ("warmed", [3], None, None), {}),
    ("drank a ginger", ("drunk", [2], 1, None), {}),
    ("drank 2 raspberry", ("drunk", [1], 2, None), {}),
    ("finished the last plain", ("drunk", [3], 1, None), {}),
    ("gave 2 quince to anna", ("given", [4], 2, None), {"note": "anna"}),
    ("took 2 bottles of ginger to the party", ("given", [2], 2, None), {"note": "party"}),
    ("gave away a plain", ("given", [3], 1, None), {}),
    ("one ginger exploded", ("lost", [2], 1, None), {}),
    ("raspberry leaked", ("lost", [1], 1, None), {}),
    ("dropped a quince", ("lost", [4], 1, None), {}),
    ("ginger is flat", ("said", [2], None, None), {"note": "flat"}),
    ("raspberry tastes great", ("said", [1], None, None), {"note": "great"}),
    ("odile likes the raspberry", ("said", [1], None, None), {"note": "odile likes the"}),
    ("bottled 6", ("bottled", [], None, None, ((6, ""),)), {}),
    ("bottled jar one", ("bottled", [], None, None, ()), {"vessels": ONE}),
    ("harvested the tall jar", ("bottled", [], None, None, ()), {"vessels": TALL}),
    ("bottled 6 raspberry from jar one", ("bottled", [], None, None, ((6, "raspberry"),)), {"vessels": ONE}),
    ("bottled 4 ginger 2 plain from jar one", ("bottled", [], None, None, ((4, "ginger-root"), (2, "plain"))), {"vessels": ONE}),
    ("bottled six bottles of jar two", ("bottled", [], None, None, ((6, ""),)), {"vessels": TWO}),
    ("filled 7 bottles", ("bottled", [], None, None, ((7, ""),)), {}),
    ("filled 3 damson", ("bottled", [], None, None, ((3, "damson"),)), {}),
    ("saved 500 ml starter from jar one", ("reserved", [], None, None, (), 0.5), {"vessels": ONE}),
    ("kept 2 cups starter jar two", ("reserved", [], None, None, (), 0.473176), {"vessels": TWO}),
    ("set aside 1 l of starter from the crock", ("reserved", [], None, None, (), 1.0), {"vessels": CROCK}),
    ("fed the hotel 1 cup", ("fed", [9], None, None, (), 0.236588), {}),
    ("hotel fed 200ml sweet tea", ("fed", [9], None, None, (), 0.2), {}),
    ("topped up hotel with 1 cup tea", ("fed", [9], None, None, (), 0.236588), {}),
    ("hotel ph 2.8", ("fed", [9], None, None), {"ph": 2.8}),
    ("fed hotel", ("fed", [9], None, None), {}),
    ("moved jar one to the kitchen cupboard", ("moved", [3], None, None), {"vessels": ONE}),
    ("put the crock on the dresser", ("moved", [1], None, None), {"vessels": CROCK}),
    ("jar two moved to pantry shelf yesterday", ("moved", [2], None, None), {"vessels": TWO, "at": at("02-17 08:30")}),
]  # fmt: skip

#: Everyday phrases that are taken one way, and asked about.
ASKED = [
    ("jar two pH 35", {"vessels": TWO, "ph": None, "note": "pH 35"}, "mean 3.5"),
    ("jar two ph 345", {"vessels": TWO, "ph": None, "note": "ph 345"}, "mean 3.45"),
    ("is this mold? jar one", {"vessels": ONE, "surface": "fuzzy"}, "guided look"),
    ("jar one white dots on top", {"vessels": ONE, "surface": "odd", "depth": ""}, "Fuzzy or flat"),
    ("jar one smells of feet", {"vessels": ONE, "smell": "rotten"}, "graver"),
    ("crock nearly there odile", {"vessels": CROCK, "tastes": [(ODILE, -1)]}, "bit sweet"),
    ("crock 300 ml", {"vessels": CROCK, "ph": None, "amounts": [QuickAmount("drunk", 0.3, False)]}, "to drink"),
    ("jar two 3 l", {"vessels": TWO, "ph": None, "amounts": []}, "what it holds"),
    ("crock 800 ml", {"vessels": CROCK, "ph": None, "amounts": [QuickAmount("drunk", 0.8, False)]}, "to drink"),
    ("crock topped up 1 l", {"vessels": CROCK, "amounts": [QuickAmount("sweet tea", 1.0, True)]}, "sweet tea"),
    ("crock 3.4 a few days ago", {"vessels": CROCK, "ph": 3.4, "at": at("02-15 08:30")}, "three"),
    ("crock 3.4 last week", {"vessels": CROCK, "ph": 3.4, "at": at("02-11 08:30")}, "Which day"),
    ("crock 3 strip", {"vessels": CROCK, "ph": 3, "instrument": "strip"}, "pH 3"),
    ("opened a plain", {"vessels": (), "ph": None}, "How did it open"),
    ("opened damson, fizzy", {"vessels": (), "signs": []}, "Which bottles"),
    ("a bottle burst", {"vessels": (), "surface": ""}, "Which bottles"),
    ("jar two 8.30pm ph 3.6", {"vessels": TWO, "ph": 3.6, "at": at("02-17 20:30")}, "yesterday"),
    ("odile gives jar one a 2", {"vessels": ONE, "ph": None, "tastes": [(ODILE, 2)]}, "Taken as a taste"),
    ("jar one 3 flies", {"vessels": ONE, "ph": None, "surface": "insects"}, "3 of what"),
]  # fmt: skip


def told(quick, name):
    """One field, with names in place of what they name."""
    if name == "vessels":
        return tuple(v.name for v in quick.vessels)
    if name == "tastes":
        return [(taster.name if taster else None, score) for taster, score in quick.tastes]
    return getattr(quick, name)


def test_the_table_is_as_long_as_promised():
    """Two hundred phrases, of every kind that people type."""
    assert len(CLEAR) + len(EVERYDAY) + len(DEEDS) + len(UNSURE) + len(ASKED) >= 200


@pytest.mark.parametrize("line, meant", CLEAR + EVERYDAY, ids=lambda given: given if isinstance(given, str) else "")
def test_a_clear_phrase_is_understood_without_a_question(line, meant):
    """All of it is understood, nothing else is made up, and nothing is asked."""
    quick = understand(line, KITCHEN)
    assert {name: told(quick, name) for name in meant} == {
        name: pytest.approx(value) if isinstance(value, float) else value for name, value in meant.items()
    }
    untold = {
        "ph",
        "celsius",
        "low_c",
        "gravity",
        "ta_g_per_l",
        "tastes",
        "surface",
        "signs",
        "smell",
        "at",
        "note",
    } - set(meant)
    assert all(told(quick, name) in (None, "", []) for name in untold)
    assert quick.doubts == []


@pytest.mark.parametrize("line, meant, question", UNSURE + ASKED, ids=[line for line, *_ in UNSURE + ASKED])
def test_an_ambiguous_phrase_is_taken_one_way_and_asked_about(line, meant, question):
    """It is taken as told, and the question says how else it may be meant."""
    quick = understand(line, KITCHEN)
    assert {name: told(quick, name) for name in meant} == meant
    assert any(question in doubt.question for doubt in quick.doubts)


@pytest.mark.parametrize("line, deed, meant", DEEDS, ids=[line for line, *_ in DEEDS])
def test_a_deed_is_understood_without_a_question(line, deed, meant):
    """What was done, with which bottles, how many and how they hissed; nothing else is made up, nothing is asked."""
    quick = understand(line, KITCHEN)
    kind, things, count, hiss, *more = deed
    groups, litres = more[0] if more else (), more[1] if len(more) > 1 else None
    assert quick.deed.kind is DeedKind(kind)
    assert [thing.key for thing in quick.deed.things] == things
    assert (quick.deed.count, quick.deed.hiss, quick.deed.groups) == (count, hiss, groups)
    assert quick.deed.litres == (None if litres is None else pytest.approx(litres))
    assert {name: told(quick, name) for name in meant} == meant
    untold = {"vessels", "ph", "celsius", "tastes", "surface", "signs", "smell", "amounts", "at", "note"} - set(meant)
    assert all(told(quick, name) in (None, "", [], ()) for name in untold)
    assert quick.doubts == []


def test_units_and_dates_follow_the_household():
    """Without a unit 77 is 25 °C where °F is used, and 2/3 the third of February."""
    quick = understand("crock 77 2/3", US)
    assert quick.celsius == pytest.approx(25)
    assert quick.at.date() == datetime(2027, 2, 3).date()
    assert understand("crock 24", US).celsius == pytest.approx(24)


@given(st.text(max_size=120))
def test_any_text_is_understood_somehow(line):
    """No text is refused, no number leaves its range, and the time is never to come."""
    quick = understand(line, KITCHEN)
    assert quick.ph is None or 0 <= quick.ph <= 14
    assert all(c is None or 0 <= c <= 60 for c in (quick.celsius, quick.low_c, quick.high_c))
    assert quick.gravity is None or 0.98 <= quick.gravity <= 1.2
    assert quick.at is None or quick.at <= NOW
    assert all(-3 <= score <= 3 for _, score in quick.tastes)


WORDS = st.sampled_from([*sorted({w for p in phrases() for w in p}), "opened", "bottled", "burped", "fridge", "raspberry", "ginger", "6", "starter", "cup", "hotel", "saved", "no", "not", "crock", "jar", "two", "odile", "3.4", "24c", "8pm", "monday", "teapot", "7", "stove", "yesterday", "ph", "low", "-", "/", "°"])  # fmt: skip


@given(st.lists(WORDS, max_size=14))
def test_no_word_is_dropped(words):
    """Every word is part of what was understood, or stands in the note; only fillers may fall away."""
    line = " ".join(words)
    quick = understand(line, KITCHEN)
    for token in tokens(line[:LONGEST]):
        if any(start <= token.start and token.end <= end for start, end in quick.read):
            continue
        if token.word in FILLERS or re.fullmatch(r"[.,;:!?/°–-]", token.word):
            continue
        assert token.text in quick.note


@given(
    st.floats(2.0, 5.49),
    st.floats(12, 34),
    st.sampled_from(["strip", "meter", "uncalibrated"]),
    st.permutations(range(4)),
)
def test_the_order_of_words_does_not_matter(ph, celsius, tool, order):
    """A reading is the same in whichever order its pieces are typed."""
    pieces = ["crock", f"{ph:.2f}", f"{celsius:.1f}c", tool]
    quick = understand(" ".join(pieces[i] for i in order), KITCHEN)
    assert (quick.ph, quick.celsius, quick.instrument) == (round(ph, 2), pytest.approx(round(celsius, 1)), tool)
    assert told(quick, "vessels") == CROCK


@pytest.mark.parametrize(
    "line",
    [
        "gave the old scoby away", "tossed the old scoby", "jar one: threw the spare disc out", "poured out the vinegar from jar one",
        "didn't think it was too sour", "good bubbles in jar two", "crock 32", "jar one thinks too slow", "i think jar two is fine",
        "added ¼ cup sugar to jar one", "a jar between 3 and 4 gallon", "nobody finds it too sour",
    ],
)  # fmt: skip
def test_what_only_resembles_a_word_is_a_note(line):
    """A disc that left, vinegar poured out, a size, what is denied, a number of two kinds: nothing of it is saved as anything else."""
    found = understand(line, KITCHEN)
    assert not found.measured
    assert (found.surface, found.smell, found.signs, found.tastes, found.amounts) == ("", "", [], [], [])
    assert found.note


@pytest.mark.parametrize(("line", "ph"), [("jar two ph 3 point 4", 3.4), ("jar one ph about three and a half", 3.5), ("crock three point two five", 3.25)])
def test_a_ph_is_understood_as_it_is_spoken(line, ph):
    """Without a question, and no word of it stays a note."""
    found = understand(line, KITCHEN)
    assert (found.ph, found.note, found.doubts) == (ph, "", [])


@pytest.mark.parametrize(
    ("line", "opens", "vessel"),
    [
        ("brewed jar one today", "brew day", ONE), ("calibrated the meter", "calibrate", ()), ("label jar two", "label", TWO),
        ("moved the crock to the attic", "move", CROCK), ("jar one looks gross", "look", ONE), ("tall jar is dry on top", "look", TALL),
        ("going away friday to monday", "away", ()), ("we're on holiday from tomorrow", "away", ()),
    ],
)  # fmt: skip
def test_some_lines_lead_to_a_page(line, opens, vessel):
    """What needs more than a line opens the page on which it is said, and writes nothing by itself."""
    found = understand(line, KITCHEN)
    assert found.leads is not None
    assert found.leads.to == opens
    assert tuple(one.name for one in found.vessels) == vessel
    assert (found.measured, found.looked, found.amounts, found.deed) == (False, False, [], None)


@pytest.mark.parametrize(
    ("line", "days"),
    [
        ("going away friday to monday", ["02-19", "02-22"]), ("away thursday till saturday, going", ["02-25", "02-27"]),
        ("we're away from tomorrow", ["02-19"]), ("going on holiday", []),
    ],
)  # fmt: skip
def test_an_absence_is_in_the_days_to_come(line, days):
    """Weekdays are the coming ones, each after the one before; today's own name means in a week."""
    assert [f"{day:%m-%d}" for day in understand(line, KITCHEN).leads.days] == days


def test_a_bottle_that_gushed_was_opened():
    """Named by its flavour: one bottle, as loud as it gets; what did not gush is a note."""
    deed = understand("raspberry gushed", KITCHEN).deed
    assert (deed.kind, deed.count, deed.hiss, deed.things[0].name) == (DeedKind.OPENED, 1, 4, "Raspberry")
    assert understand("raspberry hasn't gushed", KITCHEN).deed.kind is DeedKind.SAID


def test_starter_that_is_taken_is_kept_as_starter():
    """Not drunk: it is set aside, as much as was said."""
    deed = understand("took 1 cup starter from jar one", US).deed
    assert (deed.kind, round(deed.litres, 3)) == (DeedKind.RESERVED, 0.237)


def test_a_name_is_no_month():
    """Given to Maria: two bottles, now, and not on the second of March."""
    found = understand("gave maria 2 ginger", KITCHEN)
    assert (found.at, found.deed.kind, found.deed.count) == (None, DeedKind.GIVEN, 2)
    assert understand("jar one 3.4 march 2", KITCHEN).at is not None


def test_what_is_measured_is_read_in_either_order():
    """Brix before its number, and a hotel's pH without its name."""
    assert understand("jar one brix 5.2", KITCHEN).gravity == understand("jar one 5.2 brix", KITCHEN).gravity
    assert understand("jar one brix 5.2", KITCHEN).ph is None
    assert understand("hotel 2.9", KITCHEN).ph == 2.9


def test_bottles_taken_along_are_given():
    """Named by their flavour and where they went."""
    deed = understand("took two plain to the party", KITCHEN).deed
    assert (deed.count, deed.things[0].name) == (2, "Plain")
    assert deed.kind in {DeedKind.GIVEN, DeedKind.DRUNK}


@pytest.mark.parametrize(
    ("line", "parts"),
    [
        ("drank 2 damson, chilled 3 ginger", ["drank 2 damson", "chilled 3 ginger"]),
        ("crock 3.42 and fed the hotel 200 ml", ["crock 3.42", "fed the hotel 200 ml"]),
        ("jar one 3.4, jar two 3.6", ["jar one 3.4", "jar two 3.6"]),
        ("burped the ginger and then put the damson in the fridge", ["burped the ginger", "put the damson in the fridge"]),
        ("crock 3.42, odile a bit sweet and bram right", None),
        ("opened one damson, flat", None),
        ("bottled 4 damson and 2 plain from jar one", None),
        ("tall jar film, smells of vinegar", None),
        ("low 18 and high 24 crock", None),
        ("gave maria 2 damson and 1 ginger", None),
        ("put the damson and the ginger in the fridge", None),
        ("", None),
        (", and then;", None),
    ],
)
def test_a_line_that_tells_several_things_is_cut_where_each_stands_by_itself(line, parts):
    """Two deeds, or two jars, are two; what only says more of the first stays with it."""
    assert list(parts_of(line, KITCHEN)) == (parts or [line])


@given(st.text(max_size=80))
def test_a_cut_line_loses_nothing(line):
    """Whatever is typed: the parts stand in the line in their order, and between them is nothing but what parts them."""
    at = 0
    for part in parts_of(line, KITCHEN):
        found = line.index(part, at)
        assert re.fullmatch(r"(?:[\s,;]|and|then)*", line[at:found], re.IGNORECASE)
        at = found + len(part)
    assert at == len(line)


@pytest.mark.parametrize(
    ("line", "told"),
    [
        ("added 1 tbsp vinegar to jar one", {"amounts": [QuickAmount("vinegar", 0.014787, put=True)], "tastes": []}),
        ("bora crock 3.4, 23 degrees", {"ph": 3.4, "celsius": 23.0, "doubts": []}),
        ("vinegar smell jar one", {"smell": "bread", "tastes": []}),
        ("jar one sat at 17 for two days", {"at": None}),
        ("jar one and jar two both smell fine", {"tastes": [], "smell": "bread"}),
    ],
)
def test_what_once_was_taken_for_something_else_is_not_any_more(line, told):
    """Vinegar put in is no taste, a jar that sat is no Saturday, a second name says which of several."""
    quick = understand(line, KITCHEN)
    assert {name: getattr(quick, name) for name in told} == {k: pytest.approx(v) if isinstance(v, float) else v for k, v in told.items()}
    assert len(quick.vessels) == 1


def test_two_jars_in_one_clause_are_asked_about():
    """What is told goes to the first alone, and that is said; never silently."""
    quick = understand("jar one and jar two both smell fine", KITCHEN)
    assert quick.vessels[0].name == "Jar one"
    assert any("for Jar one alone" in doubt.question for doubt in quick.doubts)


def test_bottles_go_back_to_the_counter_and_a_new_batch_opens_a_brew_day():
    """Out on the counter is warm again; a batch that was started is planned on its page."""
    assert understand("put damson back out on the counter", KITCHEN).deed.kind is DeedKind.WARMED
    assert understand("started a new batch in the demijohn", KITCHEN).leads.to == "brew day"


@pytest.mark.parametrize("line", ["jar one 3.4 no wait 3.3", "jar one ph 3.4, sorry, 3.3", "3.4 i mean 3.3 jar one", "jar one 3,4 make that 3,3"])
def test_a_number_taken_back_does_not_count(line):
    """Who corrects himself in the line is taken at the second number, without a doubt."""
    quick = understand(line, KITCHEN)
    assert quick.ph == pytest.approx(3.3)
    assert quick.doubts == []


@pytest.mark.parametrize("line", ["split the bora disc", "jar one disc fell to the bottom", "peeled the disc of jar one"])
def test_a_disc_that_is_worked_on_is_not_seen(line):
    """Splitting, peeling, sinking is a note: no healthy disc is written down."""
    assert understand(line, KITCHEN).surface == ""


def test_tonight_is_no_moment_gone_by():
    """In the morning it is still to come: a note keeps now; at night it is then."""
    assert understand("jar one let's drink it tonight", KITCHEN).at is None
    assert understand("jar one 3.4 last night", KITCHEN).at is not None


@pytest.mark.parametrize(
    "line, leads",
    [
        ("disc of jar one is black on top", "look"), ("scoby in jar one has gone pink", "look"), ("away from 3 to 9 march", "away"),
        ("away from the 3rd to the 10th", "away"), ("calibrated meter 7.00 4.01", "calibrate"),
    ],
)  # fmt: skip
def test_what_looks_grave_or_asks_for_a_page_is_never_saved_as_something_else(line, leads):
    """A coloured disc is no disc as it should be; days are no pH, buffers no brew."""
    quick = understand(line, KITCHEN)
    assert quick.leads.to == leads
    assert quick.surface != "disc"


@pytest.mark.parametrize("line", ["jar one disc fine, no black spots", "black tea disc in jar one", "nice disc on jar one, brown strings under it"])
def test_a_colour_that_is_the_teas_or_denied_makes_no_disc_suspicious(line):
    """It is kept as a disc."""
    quick = understand(line, KITCHEN)
    assert quick.surface == "disc"
    assert quick.leads is None


@pytest.mark.parametrize("line", ["got a disc from ben", "a splash of vinegar in jar one"])
def test_a_thing_that_came_or_went_in_is_neither_seen_nor_tasted_nor_bought(line):
    """It is a note."""
    quick = understand(line, KITCHEN)
    assert (quick.surface, list(quick.tastes)) == ("", [])
    assert bought_said(line, goods()) is None


def test_a_ph_beside_a_temperature_is_no_range_of_warmth():
    """"3.2 and 23c" is how sour and how warm; "18 to 23c" is a low and a high."""
    both, ends = understand("jar one 3.2 and 23c", KITCHEN), understand("jar one 18 to 23c", KITCHEN)
    assert (both.ph, both.celsius, both.low_c) == (3.2, 23, None)
    assert (ends.ph, ends.low_c, ends.high_c) == (None, 18, 23)


@pytest.mark.parametrize(
    "line, leads",
    [
        ("is jar one safe", "jar"), ("when is jar one ready", "jar"), ("gone friday till monday", "away"), ("cleaned the crock tap", "care"),
        ("new cloth for jar one", "care"), ("we are out of honey", "shopping"), ("buy sugar", "shopping"), ("turned the heater to 26", "heater"),
    ],
)  # fmt: skip
def test_what_measures_nothing_leads_to_the_page_that_it_is_about(line, leads):
    """A question, an errand, a heater that was set: nothing of it is written as a reading, a taste or a purchase."""
    quick = understand(line, KITCHEN)
    assert quick.leads.to == leads
    assert (quick.ph, quick.celsius, quick.surface, list(quick.tastes)) == (None, None, "", [])
    assert bought_said(line, goods()) is None


@pytest.mark.parametrize("line", ["took the disc out of jar one", "is this mold? jar one", "drank 1 l out of the crock"])
def test_what_only_sounds_like_an_errand_leads_to_none(line):
    """A disc that was taken out is none that lies there; mould asked about opens the guided look; a drink is a drink."""
    quick = understand(line, KITCHEN)
    assert quick.leads is None
    assert quick.surface != "disc"


def test_a_lovely_smell_is_no_taste():
    """It says nothing of how the brew tastes; said with a taste it does."""
    assert understand("jar one smells like apples, lovely", KITCHEN).tastes == []
    assert understand("jar one tastes lovely", KITCHEN).tastes != []


@pytest.mark.parametrize("line", ["used jar one as vinegar", "jar one bubbling nicely", "meter reads 7.1 in buffer 7", "jar one is hard as a rock"])
def test_what_says_nothing_of_the_taste_is_no_taste(line):
    """What it was used for, how it bubbles, what a meter reads in a buffer."""
    quick = understand(line, KITCHEN)
    assert (list(quick.tastes), quick.ph) == ([], None)


def test_a_volume_is_what_was_done_with_it():
    """Set aside it is starter, from a burette nothing that left the jar, drawn it is drunk."""
    aside = understand("set aside 0.5 l of jar one", KITCHEN)
    assert (aside.deed.kind, aside.deed.litres, aside.amounts) == ("reserved", 0.5, [])
    assert understand("titrated jar one 8.4 ml", KITCHEN).amounts == []
    assert understand("drew 0.5 l from jar one", KITCHEN).amounts[0].litres == 0.5


def test_bottles_to_be_filled_open_the_harvest_with_their_flavours():
    """"bottle jar one: 6 damson 2 plain" is no pH of 2."""
    quick = understand("bottle jar one: 6 damson 2 plain", KITCHEN)
    assert (quick.ph, quick.deed.kind, [count for count, _ in quick.deed.groups]) == (None, "bottled", [6, 2])


def test_a_party_is_guests_and_leaving_an_absence():
    """Twelve people are no degrees; a journey from Friday is no note of last Friday."""
    found = wish_said("party on saturday for 12", date(2027, 2, 18), 0.25)
    assert (found.people, found.litres) == (12, 6.0)
    assert understand("going to lisbon from friday for a week", KITCHEN).leads.to == "away"


@pytest.mark.parametrize("line", ["jar one dropped from 3.8 to 3.5", "jar one was 3.8 now 3.5"])
def test_of_then_and_now_the_second_counts(line):
    """What it was stays a note."""
    quick = understand(line, KITCHEN)
    assert quick.ph == 3.5
    assert "3.8" in quick.note


@pytest.mark.parametrize("line, people", [("visitors saturday 4", 4), ("8 for dinner on sunday", 8), ("party on 4 march for 12", 12)])
def test_people_are_counted_wherever_they_stand(line, people):
    """A day of the month is none of them."""
    assert wish_said(line, date(2027, 2, 18), 0.25).people == people


def test_what_goes_out_and_in_is_drunk_and_topped_up():
    """Two volumes, one each way; a volume of starter that nobody set aside is asked about and written nowhere."""
    out, put = understand("jar one out 2 litres in 1 litre", KITCHEN).amounts
    assert (out.put, out.litres, put.put, put.litres) == (False, 2, True, 1)
    assert understand("starter: 1 l of jar one", KITCHEN).amounts == []
    assert understand("hotel disc moved to jar one", KITCHEN).surface == ""


@pytest.mark.parametrize("line", ["drank 2 damson at dinner today", "party saturday 8 pm", "dinner at 7 on friday"])
def test_a_clock_or_a_drink_beside_a_party_is_nobody(line):
    """Only a number of people is one."""
    assert wish_said(line, date(2027, 2, 18), 0.25) is None


def test_an_off_smell_or_a_range_is_no_journey_and_no_fall():
    """"off smell since monday" leads to no absence; a range read after somebody went to look stays a range."""
    leads = understand("off smell in jar one since monday", KITCHEN).leads
    assert leads is None or leads.to != "away"
    assert understand("went to look at jar one, ph between 3.4 and 3.6", KITCHEN).ph == 3.5


@pytest.mark.parametrize(
    "line",
    [
        "great weather for the picnic", "jar one great with lunch", "good news, the scoby made it", "the vinegar in the cupboard is empty", "a nice jar for gifts", "jar one sweet smell",
        "right side of the disc is brown", "sour cream in the fridge", "wiped jar one with vinegar", "jar one looks like it has a new skin coming", "eight people for dinner on friday", "jar one less sweet than yesterday",
    ],
)  # fmt: skip
def test_a_taste_that_nobody_is_named_for_stands_by_itself(line):
    """Beside words that have nothing to do with tasting, and no taster, it is no taste; alone or with "now" it is one."""
    assert understand(line, KITCHEN).tastes == []
    assert understand("jar one sour now", KITCHEN).tastes == [(None, 1)]
    assert [score for _, score in understand("odile: sour with lunch", KITCHEN).tastes] == [1]


@pytest.mark.parametrize("line", ["goal 3.2 for jar one", "target ph 3.2 jar one", "jar one waiting for 3.2", "heating mat to 27"])
def test_what_is_aimed_at_was_not_measured(line):
    """A goal is a note; what was read before it is a reading."""
    quick = understand(line, KITCHEN)
    assert (quick.measured, quick.tastes) == (False, [])
    assert understand("jar one 3.6, aiming for 3.2", KITCHEN).ph == 3.6


@pytest.mark.parametrize("line", ["damson had a nice pop", "put damson in the fridge, leave one out", "found a damson behind the fridge", "drank half a damson", "left a damson out on the counter"])
def test_what_is_not_clear_of_bottles_is_said_of_them_only(line):
    """None is drunk, and none chilled."""
    assert understand(line, KITCHEN).deed.kind == "said"


@pytest.mark.parametrize("line", ["opened the window", "opened a new bag of sugar", "popped to the shop", "burp damson tomorrow", "bottled jar one tomorrow"])
def test_what_is_opened_besides_or_still_to_come_is_no_deed_on_bottles(line):
    """"opened one, flat" is one, and both are two."""
    deed = understand(line, KITCHEN).deed
    assert deed is None or deed.kind == "said"
    assert (understand("opened one, flat", KITCHEN).deed.kind, understand("opened both, gushed", KITCHEN).deed.count) == ("opened", 2)


def test_two_parts_of_a_day_are_two_times():
    """A morning's and an evening's reading in one line are a note."""
    assert understand("morning ph 3.5 evening ph 3.4 jar one", KITCHEN).ph is None
    assert understand("jar one yesterday evening at 8 3.4", KITCHEN).at == at("02-17 20:00")


def test_flies_and_sediment_are_what_they_are():
    """Vinegar flies are no taste; sediment that was taken out is not seen any more."""
    assert understand("vinegar flies on the cloth of jar one", KITCHEN).surface == "insects"
    assert [understand(line, KITCHEN).signs for line in ("jar one: took out the sediment", "skimmed the foam off jar one", "foam on jar one")] == [[], [], ["froth"]]
    assert understand("cap popped off a damson", KITCHEN).deed.kind == "lost"
