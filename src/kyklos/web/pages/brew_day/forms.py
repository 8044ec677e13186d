"""The forms of a brew day."""

from __future__ import annotations

from wtforms import BooleanField, StringField

from ....core.base.facts import INSTRUMENTS, SWEETENERS, TEAS
from ....core.base.kinds import KindOfBrew
from ....core.base.water import SOURCES, TREATMENTS
from ....core.brewing import KINDS, SCHOOLS
from ....core.brewing.tools import TOOLS
from ...kit import meters
from ...kit.fields import AmountField, ChoiceField, KitchenForm, MomentField, QuantityField, TicksField, WholeField
from ...kit.numbers import number_of

MEASURED_BY = [(key, entry.name) for key, entry in INSTRUMENTS.items()]
KINDS_OF_STARTER = [("fresh", "From a jar"), ("bottle", "A bought raw bottle"), ("hotel", "From a hotel")]


def _ways(school: str) -> ChoiceField:
    entry = SCHOOLS[school]
    return ChoiceField(
        entry.question, default=entry.default, choices=[(k, name) for k, (name, _) in entry.ways.items()]
    )


class PlanForm(KitchenForm):
    """What to brew, in what, with what; and what was measured at the pitch."""

    kind = ChoiceField("What to make", default="batch", choices=[(key, kind.name) for key, kind in KINDS.items() if key != KindOfBrew.TOP_UP])
    recipe = ChoiceField("Recipe", coerce=number_of, default=0)
    vessel = ChoiceField("Vessel", coerce=number_of)
    culture = ChoiceField("Culture", coerce=number_of)
    liquid_l = QuantityField("Brew, if not to the line", kind="volume", required=False)
    disc_l = QuantityField("Room the discs take", kind="volume", required=False)
    heel_l = QuantityField("Heel left in it", kind="volume", required=False)
    base = StringField("Base of the trial")
    tea = ChoiceField("Tea", choices=[(key, tea.name) for key, tea in TEAS.items()])
    tea2 = ChoiceField(
        "Blended with", default="", choices=[("", "nothing"), *((key, tea.name) for key, tea in TEAS.items())]
    )
    tea2_percent = QuantityField("Its share, %", required=False)
    leaf = AmountField("Leaf")
    sweetener = ChoiceField("Sweetener", choices=[(key, entry.name) for key, entry in SWEETENERS.items()])
    sweetener2 = ChoiceField(
        "Mixed with", default="", choices=[("", "nothing"), *((key, e.name) for key, e in SWEETENERS.items())]
    )
    sweetener2_percent = QuantityField("Its share of the sugars, %", required=False)
    sugar = AmountField("How much")
    heat_method = _ways("heat_method")
    cold_c = QuantityField("Cold water", kind="temperature")
    steep = _ways("steep")
    steep_minutes = QuantityField("Your own steep, minutes", required=False)
    water_c = QuantityField("Your own water on the leaf", kind="temperature", required=False)
    honey = _ways("honey")
    source = ChoiceField("Water", default="tap", choices=[(key, name) for key, (name, _) in SOURCES.items()])
    alkalinity = QuantityField("Its alkalinity", kind="alkalinity", required=False)
    treatment = ChoiceField("Chlorine", default="none", choices=list(TREATMENTS.items()))
    g_per_spoon = QuantityField("Your tablespoon of leaf", kind="mass", required=False)
    g_per_bag = QuantityField("Your tea bag", kind="mass", required=False)
    lots = TicksField("Starter set aside", coerce=number_of)
    other_l = QuantityField("Other starter", kind="volume", like_l=0.25, required=False)
    other_kind = ChoiceField("What it is", default="fresh", choices=KINDS_OF_STARTER)
    starter_ph = QuantityField("Its pH, if measured", required=False)
    starter_instrument = ChoiceField("by", default=meters.usual, choices=MEASURED_BY)
    base_ml = QuantityField("Titrated: base used, mL", required=False)
    base_normality = QuantityField("Strength of the base, mol/L", required=False)
    sample_ml = QuantityField("Sample, mL", required=False)
    share = QuantityField("Share of starter, %", required=False)
    floor = _ways("floor")
    vinegar_l = QuantityField("Distilled vinegar of 5 %", kind="volume", like_l=0.03, required=False)
    seed = _ways("seed")
    disc = ChoiceField("Disc", coerce=number_of)
    reserve = _ways("reserve")
    measured_ph = QuantityField("pH of the brew", required=False)
    instrument = ChoiceField("by", default=meters.usual, choices=MEASURED_BY)
    celsius = QuantityField("Its temperature", kind="temperature", required=False)
    other_line = BooleanField("A starter of another line is meant")
    experiment = WholeField("Experiment")
    question = StringField("What do you want to know?")
    changed = StringField("The one thing that will differ")


class KeepForm(KitchenForm):
    """A name for a recipe."""

    name = StringField("Name")
    note = StringField("Note")
    version = WholeField("version")


class ToolForm(KitchenForm):
    """Something the kitchen has."""

    kind = ChoiceField("What", choices=[(key, name) for key, (name, _) in TOOLS.items()])
    litres = QuantityField("Holds", kind="volume", required=False)
    number = QuantityField("How many")


class ClockForm(KitchenForm):
    """Which vessels, when, and with how many hands."""

    vessels = TicksField("Vessels", coerce=number_of)
    hands = ChoiceField("Hands", default="1", choices=[("1", "One of us"), ("2", "Two of us")])
    by = ChoiceField("Time", default="start", choices=[("start", "Begin at"), ("finish", "Be done by")])
    at = MomentField("When")


class WantedForm(KitchenForm):
    """A day on which it should be ready."""

    ready = MomentField("Ready on")
