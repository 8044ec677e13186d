"""Forms of what happens to a brew while it stands, and of how it began."""

from __future__ import annotations

from wtforms import BooleanField, StringField

from ....core.base.facts import INSTRUMENTS, TEAS
from ...kit.fields import ChoiceField, KitchenForm, MomentField, QuantityField, WholeField
from ...kit.numbers import number_of

WENT = [
    ("drunk", "drunk"),
    ("given", "given away"),
    ("vinegar", "kept as vinegar"),
    ("spilt", "spilt or thrown out"),
]
CAME = [
    ("water", "water"),
    ("sweet tea", "sweet tea"),
    ("starter", "starter"),
    ("vinegar", "distilled vinegar of 5 %"),
]
DOUBTS = [
    ("0", "to the day"),
    ("1", "within a day"),
    ("3", "within 3 days"),
    ("7", "within a week"),
]
HOW = [("all", "all of it"), ("part", "a part of it")]


class TakeOutForm(KitchenForm):
    """Something taken out."""

    litres = QuantityField("How much", kind="volume", like_l=0.25, required=False, hint="Empty: all that is left.")
    leaves = ChoiceField("What happened to it", choices=WENT)
    at = MomentField("When, if not now")
    reason = StringField("To whom, or why")
    keep_disc = BooleanField("If that was all: keep the new disc", default=True)
    version = WholeField("version")


class PutInForm(KitchenForm):
    """Something put in."""

    enters = ChoiceField("What", choices=CAME)
    litres = QuantityField("How much", kind="volume", like_l=0.25)
    sugar_g_per_l = QuantityField(
        "Sugar in the sweet tea", kind="strength", required=False, hint="Empty: as in the brew."
    )
    lot = ChoiceField("Which starter", coerce=number_of)
    ph = QuantityField("pH of other starter", required=False)
    at = MomentField("When, if not now")


class OtherJarForm(KitchenForm):
    """All or a part of a brew into another jar."""

    vessel = ChoiceField("Into", coerce=number_of)
    how = ChoiceField("How much of it", choices=HOW)
    litres = QuantityField("If a part", kind="volume", required=False)
    at = MomentField("When, if not now")
    version = WholeField("version")


class JoinBrewsForm(KitchenForm):
    """A brew to be poured into another one."""

    into = ChoiceField("Into", coerce=number_of)
    other_diet = BooleanField("Honey and sugar together: that is meant")
    at = MomentField("When, if not now")
    version = WholeField("version")


class MoveForm(KitchenForm):
    """A jar put somewhere else."""

    place = ChoiceField("To", coerce=number_of)
    heater_c = QuantityField("Its heater is set to", kind="temperature", required=False)
    at = MomentField("When, if not now")


class BeganForm(KitchenForm):
    """How a brew began."""

    pitched_at = MomentField("When it started")
    start_doubt_days = ChoiceField("How sure", choices=DOUBTS)
    litres = QuantityField("Started with", kind="volume")
    tea = ChoiceField("Tea", choices=[(key, tea.name) for key, tea in TEAS.items()])
    leaf_g_per_l = QuantityField("Leaf", kind="strength")
    sugar_g_per_l = QuantityField("Sugar", kind="strength")
    starter_ph = QuantityField("pH of its starter")
    vessel = ChoiceField("In", coerce=number_of)
    version = WholeField("version")


class GoingForm(KitchenForm):
    """A brew already going."""

    ago = QuantityField("Started how many days ago", hint="About: 14 for two weeks.")
    doubt = ChoiceField("How sure", choices=DOUBTS, default="1")
    litres = QuantityField("In the jar now, about", kind="volume")
    vessel = ChoiceField("Jar", coerce=number_of)
    new_vessel = StringField("Its name", default="Jar")
    nominal_l = QuantityField("The jar holds", kind="volume", required=False)
    culture = ChoiceField("Culture", coerce=number_of)
    new_culture = StringField("Name of its culture", default="My culture")
    honey = ChoiceField("Made with", choices=[("", "sugar and tea"), ("1", "honey and green tea (jun)")])
    sugar_g_per_l = QuantityField("Sugar, if you know", kind="strength", required=False)
    celsius = QuantityField("How warm it stands", kind="temperature", required=False)
    ph = QuantityField("pH now", required=False)
    instrument = ChoiceField("by", choices=[(key, entry.name) for key, entry in INSTRUMENTS.items()], default="strip")
    taster = ChoiceField("Who tasted", coerce=number_of)
    score = ChoiceField("How it tastes now", default="")
