"""Forms of a brew: a reading, reserve, bottles, end, discard."""

from __future__ import annotations

from wtforms import BooleanField, IntegerField, StringField, TextAreaField

from ...core.facts import BOTTLES, FLAVOURINGS, INSTRUMENTS
from ..fields import ChoiceField, KitchenForm, MomentField, QuantityField

INSTRUMENT_CHOICES = [(key, entry.name) for key, entry in INSTRUMENTS.items()]


class ReadingForm(KitchenForm):
    """A reading: a pH, a temperature, or both."""

    ph = QuantityField("pH", required=False)
    instrument = ChoiceField("by", default="meter", choices=INSTRUMENT_CHOICES)
    celsius = QuantityField("Temperature", kind="temperature", required=False)
    at = MomentField("When, if not now")
    sure = BooleanField("The number is right, keep it")


class ReserveForm(KitchenForm):
    """Starter set aside."""

    litres = QuantityField("Set aside, plain", kind="volume")
    ph = QuantityField("Its pH, if measured", required=False)
    instrument = ChoiceField("by", default="meter", choices=INSTRUMENT_CHOICES)


class BottlesForm(KitchenForm):
    """Bottles filled alike."""

    kind = ChoiceField("Kind of bottle", choices=[(key, kind.name) for key, kind in BOTTLES.items()])
    count = IntegerField("How many")
    volume_ml = QuantityField("Each holds", kind="bottle", hint="Brimful.")
    headspace_cm = QuantityField("Space left on top", kind="length")
    flavour = ChoiceField("Flavour", choices=[(key, f.name) for key, f in FLAVOURINGS.items()])
    flavour_g_per_l = QuantityField("Flavouring", kind="strength", required=False)
    sugar_g_per_l = QuantityField("Priming sugar", kind="strength", required=False)
    limit_bar = QuantityField("Maker's limit, bar", required=False)
    place = ChoiceField("Stand in", coerce=int)
    note = StringField("Name on the bottle")
    cold = BooleanField("Straight into the fridge, lid loose if not made for pressure")


class EndForm(KitchenForm):
    """The vessel is empty."""

    keep_disc = BooleanField("Keep the new disc", default=True)
    version = IntegerField("version")


class DiscardForm(KitchenForm):
    """A brew thrown out."""

    reason = TextAreaField("Why")
    version = IntegerField("version")


class AddStarterForm(KitchenForm):
    """More starter for a held brew."""

    litres = QuantityField("Starter to add", kind="volume")
    lot = ChoiceField("From", coerce=int)
