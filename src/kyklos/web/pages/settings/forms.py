"""The form of the settings."""

from __future__ import annotations

from wtforms import BooleanField, StringField

from ...kit.fields import ChoiceField, KitchenForm, QuantityField, WholeField
from ...kit.household_fields import HourField, NamesField, ZoneField
from ...kit.meters import READS


class SettingsForm(KitchenForm):
    """How the household likes things."""

    name = StringField("Household")
    units = ChoiceField("Units", choices=[("metric", "Litres, grams, °C"), ("us", "Quarts, cups, ounces, °F")])
    zone = ZoneField("Time zone")
    theme = ChoiceField("Light or dark", choices=[("auto", "As the device"), ("light", "Light"), ("dark", "Dark")])
    tasters = NamesField("Tasters")
    reads_ph = ChoiceField("pH is read with", default="", choices=[("", "not said yet"), *READS])
    glass_l = QuantityField("Your glass holds", kind="volume", like_l=0.25, required=False)
    power_price = QuantityField("A kilowatt-hour costs", required=False)
    southern = BooleanField("South of the equator: summer at the turn of the year")
    quiet_from = HourField("Quiet from")
    quiet_to = HourField("until")
    version = WholeField("version")
