"""Forms of the first minutes."""

from __future__ import annotations

from wtforms import BooleanField, StringField
from wtforms.validators import DataRequired

from ...kit.fields import ChoiceField, KitchenForm, QuantityField
from ...kit.household_fields import NamesField, ZoneField
from ...kit.meters import READS

UNITS = [("metric", "Litres, grams, °C"), ("us", "Quarts, cups, °F")]


class WelcomeForm(KitchenForm):
    """How the household measures, asked once; each may be left."""

    units = ChoiceField("Units", choices=UNITS)
    zone = ZoneField("Time zone")
    tasters = NamesField("Who tastes?")
    reads_ph = ChoiceField("What do you read pH with?", default="", choices=[("", "skip this"), *READS])


class FirstJarForm(KitchenForm):
    """A first jar and a first culture."""

    size = ChoiceField("How big is your jar?", coerce=str)
    jar_l = QuantityField("Another size", kind="volume", required=False)
    place = StringField("Where it will stand", validators=[DataRequired("Say where it will stand.")])
    place_c = QuantityField("How warm it usually is there", kind="temperature")
    culture = StringField("What you call the culture", validators=[DataRequired("Give the culture a name.")])
    diet = ChoiceField("What it is fed with", choices=[("sugar", "Sugar and tea (kombucha)"), ("jun", "Honey and green tea (jun)")])
    liquid_l = QuantityField("Liquid that came with it", kind="volume", required=False, like_l=0.25)
    with_disc = BooleanField("A SCOBY (disc) came with it", default=True)
    dried = BooleanField("It came dried", default=False)
