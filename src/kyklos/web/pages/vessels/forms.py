"""The form of a vessel."""

from __future__ import annotations

from wtforms import BooleanField, StringField
from wtforms.validators import DataRequired

from ....actions.household import KINDS, MATERIALS
from ....core.brewing.places import LIGHTS, REACHES
from ...kit.fields import ChoiceField, KitchenForm, MomentField, QuantityField, WholeField
from ...kit.numbers import number_of


class VesselForm(KitchenForm):
    """A jar, crock or hotel, and where it stands."""

    name = StringField("Name", validators=[DataRequired("Give the vessel a name.")])
    kind = ChoiceField("Kind", choices=list(KINDS.items()))
    nominal_l = QuantityField("Size it is sold as", kind="volume")
    usable_l = QuantityField("Up to your fill line", kind="volume")
    diameter_cm = QuantityField("Inner width", kind="length")
    material = ChoiceField("Material", choices=list(MATERIALS.items()))
    tapped = BooleanField("It has a tap")
    heel_l = QuantityField("Left below the tap", kind="volume", required=False)
    tare_g = QuantityField("Empty and dry", kind="mass", required=False)
    heater_c = QuantityField("Its heater is set to", kind="temperature", required=False)
    place = ChoiceField("Where it stands", coerce=number_of)
    new_place = StringField("or a new place")
    new_place_c = QuantityField("How warm it usually is there", kind="temperature", required=False)
    version = WholeField("version")


class MovedForm(KitchenForm):
    """Since when a vessel stands in a place."""

    since = MomentField("Since")


class PlaceForm(KitchenForm):
    """A place's name and temperature."""

    place_name = StringField("Name")
    kind = ChoiceField("Kind", default="room", choices=[("room", "A shelf or cupboard"), ("fridge", "A fridge"), ("outdoors", "Outdoors, for a thermometer")])
    celsius = QuantityField("Usual temperature", kind="temperature")
    winter_c = QuantityField("In the coldest month", kind="temperature", required=False)
    summer_c = QuantityField("In the warmest month", kind="temperature", required=False)
    light = ChoiceField("Light", default="shade", choices=list(LIGHTS.items()))
    reach = ChoiceField("Reach", default="easy", choices=list(REACHES.items()))
    rivals = BooleanField("Other ferments stand there")
    version = WholeField("version")
