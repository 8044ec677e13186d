"""Forms of a brew: a reading, reserve, bottles, end, discard."""

from __future__ import annotations

from wtforms import BooleanField, StringField, TextAreaField

from ....actions.brewing.readings import DEPTHS
from ....core.base.facts import BOTTLES, INSTRUMENTS
from ....core.bottles.ingredients import INGREDIENTS
from ...kit import meters
from ...kit.fields import ChoiceField, KitchenForm, MomentField, QuantityField, WholeField
from ...kit.numbers import number_of

INSTRUMENT_CHOICES = [(key, entry.name) for key, entry in INSTRUMENTS.items()]


class ReadingForm(KitchenForm):
    """A measurement: at least one number of it."""

    ph = QuantityField("pH", required=False)
    instrument = ChoiceField("by", default=meters.usual, choices=INSTRUMENT_CHOICES)
    millivolts = QuantityField("Millivolts", required=False)
    celsius = QuantityField("Temperature", kind="temperature", required=False)
    low_c = QuantityField("Lowest of the day", kind="temperature", required=False)
    high_c = QuantityField("Highest of the day", kind="temperature", required=False)
    gravity = QuantityField("Gravity or °Brix", required=False, hint="1.021, or 5.4 for Brix.")
    gravity_by = ChoiceField(
        "read by",
        default="hydrometer",
        choices=[("hydrometer", "Hydrometer"), ("refractometer", "Refractometer, misreads once it works")],
    )
    ta_g_per_l = QuantityField("Acidity", kind="acidity", required=False)
    base_ml = QuantityField("or titrated: base, mL", required=False)
    base_normality = QuantityField("of mol/L", required=False)
    sample_ml = QuantityField("to a sample of mL", required=False)
    degassed = BooleanField("I stirred or warmed the gas out of it first")
    depth = ChoiceField("Sample from", default="", choices=list(DEPTHS.items()))
    note = StringField("Note")
    at = MomentField("When, if not now")
    sure = BooleanField("The number is right, keep it")


class StrikeForm(KitchenForm):
    """Why a look that was grave was a mistake."""

    why = StringField("What was it really?")


class ReserveForm(KitchenForm):
    """Starter set aside."""

    litres = QuantityField("Starter to keep, plain", kind="volume")
    ph = QuantityField("Its pH, if measured", required=False)
    instrument = ChoiceField("by", default=meters.usual, choices=INSTRUMENT_CHOICES)


class BottlesForm(KitchenForm):
    """Bottles filled alike."""

    kind = ChoiceField("Kind of bottle", choices=[(key, kind.name) for key, kind in BOTTLES.items()])
    count = WholeField("How many")
    volume_ml = QuantityField("Size", kind="bottle", hint="Brimful.")
    headspace_cm = QuantityField("Space left on top", kind="length")
    flavour = ChoiceField("Flavour", choices=[(key, f.name) for key, f in INGREDIENTS.items()])
    flavour_g_per_l = QuantityField("Flavouring", kind="strength", required=False)
    sugar_g_per_l = QuantityField("Priming sugar", kind="strength", required=False)
    limit_bar = QuantityField("Maker's limit", kind="pressure", required=False)
    ph_after = QuantityField("pH with the flavour in, measured", required=False)
    overruled = StringField("or I close it all the same, because")
    place = ChoiceField("Where they stand", coerce=number_of)
    spot_c = QuantityField("Warmth there", kind="temperature", required=False)
    note = StringField("Name on the bottle")
    cold = BooleanField("Straight into the fridge, lid loose if not made for pressure")


class EndBrewForm(KitchenForm):
    """The vessel is empty."""

    keep_disc = BooleanField("Keep the new disc", default=True)
    version = WholeField("version")


class DiscardForm(KitchenForm):
    """A brew thrown out."""

    reason = TextAreaField("Why")
    version = WholeField("version")


class AddStarterForm(KitchenForm):
    """More starter for a held brew."""

    litres = QuantityField("Starter to add", kind="volume", like_l=0.25)
    lot = ChoiceField("From", coerce=number_of)
