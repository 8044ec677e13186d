"""The form of a bottling: what is the same for all its bottles."""

from __future__ import annotations

from wtforms import BooleanField, StringField

from ....core.bottles.bottle import TARGETS
from ....core.bottles.second_ferment import BURPS
from ...kit.fields import ChoiceField, KitchenForm, QuantityField
from ...kit.numbers import number_of

POURS = [("stirred", "Stirred"), ("top", "From the top"), ("last", "The last of it")]


class BottlingForm(KitchenForm):
    """What is the same for all bottles of a plan."""

    wish = ChoiceField("Fizz", default="lively", choices=[(key, key.capitalize()) for key in TARGETS])
    pour = ChoiceField("Poured", default="stirred", choices=POURS)
    burps = ChoiceField("Burped", default="never", choices=[(key, name) for key, (name, _) in BURPS.items()])
    place = ChoiceField("Where they stand", coerce=number_of)
    spot_c = QuantityField("Warmth there", kind="temperature", required=False)
    headspace_cm = QuantityField("Space left on top", kind="length", required=False)
    priming_g_per_l = QuantityField("Sugar for the fizz", kind="strength", required=False, hint="Empty: as each flavour has it.")
    knocked = BooleanField("Gas stirred out first")
    cold = BooleanField("Straight into the fridge")


class WritingForm(KitchenForm):
    """What is typed last: why it is closed all the same."""

    overruled = StringField("or I close it all the same, because")
