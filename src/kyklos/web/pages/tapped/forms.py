"""Forms of a tapped vessel."""

from __future__ import annotations

from wtforms import BooleanField, StringField

from ....core.tapped.care import TAPS
from ...kit.fields import ChoiceField, KitchenForm, MomentField, QuantityField, WholeField
from ...kit.numbers import number_of

TO = [("drunk", "to drink"), ("given", "given away"), ("vinegar", "kept as vinegar"), ("spilt", "spilt or thrown out")]


class DrawForm(KitchenForm):
    """A draw from the tap."""

    litres = QuantityField("How much", kind="volume", like_l=0.5)
    leaves = ChoiceField("What for", choices=TO)
    run_off = BooleanField("The first of it thrown away")
    stirred = BooleanField("Stirred before")
    reason = StringField("To whom, or why")
    at = MomentField("When, if not now")


class TopUpForm(KitchenForm):
    """Sweet tea that went in."""

    litres = QuantityField("Sweet tea poured in", kind="volume")
    sugar_g_per_l = QuantityField("Its sugar", kind="strength", required=False, hint="Empty: as at the start.")
    honey_percent = QuantityField(
        "Honey in its sugars, %", required=False, hint="To lead it to honey: a fifth more each time, as long as it sours in time."
    )
    tea_c = QuantityField("How warm it went in", kind="temperature", required=False, hint="As warm as what stands there is best.")
    ph = QuantityField("pH once topped up", required=False, hint="An hour later, if you measure.")
    instrument = ChoiceField("by")
    fresh_cover = BooleanField("It has a fresh cover")
    at = MomentField("When, if not now")


class CareForm(KitchenForm):
    """Something done to the vessel."""

    what = StringField("what")
    celsius = QuantityField("It says", kind="temperature", required=False)
    before_mm = QuantityField("Thick before", kind="thickness", required=False)
    after_mm = QuantityField("Thick now", kind="thickness", required=False)
    at = MomentField("When, if not now")


class PauseForm(KitchenForm):
    """A pause."""

    how = ChoiceField("How it waits")
    place = ChoiceField("Where it stands meanwhile", coerce=number_of)
    at = MomentField("Since when, if not now")


class ResumeForm(KitchenForm):
    """A pause that ends."""

    place = ChoiceField("Where it stands from now on", coerce=number_of)
    heater_c = QuantityField("Its heater is set to", kind="temperature", required=False, hint="Empty: no heater.")


class TappedForm(KitchenForm):
    """A vessel with a tap."""

    tap_made_of = ChoiceField("The tap is made of", choices=[("", "choose"), *((key, name) for key, (name, _, _) in TAPS.items())])
    tested = BooleanField("Filled with water for an hour: nothing drips")
    heel_l = QuantityField("Left below the tap", kind="volume", hint="Let all run out that will; pour the rest into a jug.")
    heater_c = QuantityField("Its heater is set to", kind="temperature", required=False, hint="Empty: it has none.")
    heater_w = QuantityField("Watts of its heater", required=False, hint="On its label; a belt has about 25.")
    glaze_known = BooleanField("Its maker calls the glaze food safe for acid")
    version = WholeField("version")
