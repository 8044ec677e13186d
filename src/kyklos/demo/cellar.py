"""Flavours, bottles and scores of Quince Yard: what is kept by name, owned, tried on the bench, infused and liked."""

from __future__ import annotations

from sqlalchemy import select

from ..actions.bottles import cellar, flavour_book, infusing, owning, scoring
from ..actions.bottles.flavour_book import PartTold
from ..store.records import Bottle, BottleType, Bottling
from .kitchen import BRAM, ODILE, Kitchen

PARK = "14 swing-top 500 mL, 8 crown-cap 330 mL, 2 pet 500 mL, 2 reused 330 mL, 3 mason 500 mL"
#: Name, what goes in [g/L], sugar [g/L], hours in a jar, a note.
KEPT: tuple[tuple[str, tuple[PartTold, ...], float, float | None, str], ...] = (
    ("Quince and bay", (PartTold("quince", 60.0), PartTold("bay", 0.4)), 3.0, None, "Bay from the tub by the gate."),
    ("Fig and thyme", (PartTold("fig", 60.0), PartTold("thyme", 2.0)), 6.0, None, "Gushed once: chill it sooner."),
    ("Damson", (PartTold("damson", 60.0),), 0.0, None, ""),
    ("Rhubarb and cardamom", (PartTold("rhubarb", 60.0), PartTold("cardamom", 0.8)), 5.0, None, ""),
    (
        "Blackcurrant leaf",
        (PartTold("blackcurrant-leaf", 6.0, moment="infusion"), PartTold("honey", 4.0)),
        0.0,
        24.0,
        "Young leaves, a day under cloth.",
    ),
)
#: Name of a filling, taster, 1 to 5, again, a word, next time.
SAID: tuple[tuple[str, int, int, bool, str, str], ...] = (
    ("Quince and bay", ODILE, 5, True, "", "same"),
    ("Quince and bay", BRAM, 4, True, "less bay", "less"),
    ("Fig and thyme", ODILE, 3, True, "", ""),
    ("Fig and thyme", BRAM, 4, True, "half of it on the wall", ""),
    ("Plain jun", ODILE, 3, True, "", ""),
    ("Plain jun", BRAM, 5, True, "round", "same"),
    ("Rhubarb and cardamom", ODILE, 5, True, "", "more"),
    ("Rhubarb and cardamom", BRAM, 3, False, "sharp", ""),
)


def shelves(k: Kitchen) -> None:
    """Count the bottles, and keep the flavours by name, before anything is filled."""
    k.do(owning.own_bottles, owning.OwnBottles(line=PARK), 110)
    for name, parts, sugar, hours, note in KEPT:
        ask = flavour_book.KeepFlavour(name=name, parts=parts, priming_g_per_l=sugar, hours=hours, note=note)
        k.kept[name] = k.do(flavour_book.keep_flavour, ask, 109)["flavour"]
    cordial = flavour_book.AddIngredient(
        name="Elderflower cordial", form="syrup", sugar=45.0, acid_g_per_l=12.0, unit="tablespoon", unit_g=18.0
    )
    k.do(flavour_book.add_ingredient, cordial, 108)
    for what, where, grams, ago in (("rhubarb", "freezer", 900.0, 30.0), ("quince", "use up", 400.0, 3.0), ("damson", "freezer", 600.0, 90.0)):
        k.do(flavour_book.put_in_larder, flavour_book.PutInLarder(ingredient=what, where=where, grams=grams), ago)


def washed(k: Kitchen) -> None:
    """The empty ones washed, but for two."""
    with k.database.reader() as session:
        number = session.scalars(select(BottleType.id).where(BottleType.kind == "swing-top", BottleType.owned > 0)).first()
    k.do(owning.wash_bottles, owning.WashBottles(type_id=number or 0, left=2), 8)


def on_the_bench(k: Kitchen, brew: int) -> None:
    """Sea buckthorn weighed into a glass, and a jar of blackcurrant leaf begun, from a brew before it ends."""
    trial = k.do(infusing.start_trial, infusing.StartTrial(brew_id=brew, ingredient="sea-buckthorn-juice"), 2.2)["trial"]
    for grams, score, who, word in ((4.0, -1, ODILE, "hardly there"), (4.0, -1, BRAM, ""), (8.0, 0, ODILE, "bright"), (8.0, 1, BRAM, "sour"), (12.0, 2, BRAM, "")):
        ask = infusing.TasteStep(trial_id=trial, grams=grams, score=score, taster_id=who, word=word)
        k.do(infusing.taste_step, ask, 2.19)
    k.kept["Sea buckthorn"] = k.do(infusing.end_trial, infusing.EndTrial(trial_id=trial, name="Sea buckthorn", grams=6.0), 2.18)["flavour"]
    jar = infusing.StartInfusion(
        brew_id=brew,
        litres=0.45,
        parts=(PartTold("blackcurrant-leaf", 6.0),),
        name="Blackcurrant leaf",
        hours=24.0,
        flavour_id=k.kept["Blackcurrant leaf"],
    )
    k.do(infusing.start_infusion, jar, 1.1)


def _of(k: Kitchen, name: str) -> list[int]:
    """Return the numbers of the bottles filled under a name, in order."""
    with k.database.reader() as session:
        rows = session.scalars(select(Bottle.id).join(Bottling).where(Bottling.note == name).order_by(Bottle.id))
        return list(rows)


def liked(k: Kitchen) -> None:
    """What the two said of what they opened, one given away, one flat and closed again, and glasses still blind."""
    for ago, (name, who, stars, again, word, more) in zip(range(60, 20, -5), SAID, strict=True):
        bottle = _of(k, name)[0]
        ask = scoring.ScoreBottle(taster_id=who, bottle_id=bottle, liked=stars, again=again, word=word, next_time=more)
        k.do(scoring.score_bottle, ask, float(ago))
    jun = _of(k, "Plain jun")
    k.do(cellar.finish_bottles, cellar.FinishBottles(bottle_ids=(jun[3],), left_as="given", to_whom="the joiners next door"), 72)
    k.do(cellar.close_again, cellar.CloseAgain(bottle_id=jun[2]), 1.2)
    with k.database.reader() as session:
        groups = {note: number for note, number in session.execute(select(Bottling.note, Bottling.id).order_by(Bottling.id))}  # noqa: C416
    two = (groups["Damson"], groups["Plain, to compare"])
    glasses = scoring.StartComparison(bottling_ids=two, question="Does the damson come through?", seed=3)
    number = k.do(scoring.start_comparison, glasses, 0.3)["comparison"]
    k.do(scoring.score_bottle, scoring.ScoreBottle(taster_id=ODILE, bottling_id=two[0], liked=4, comparison_id=number), 0.29)
