"""The form of the settings."""

from __future__ import annotations

from wtforms import IntegerField, StringField

from ..fields import ChoiceField, KitchenForm


class SettingsForm(KitchenForm):
    """How the household likes things."""

    name = StringField("Household")
    units = ChoiceField("Units", choices=[("metric", "Litres, grams, °C"), ("us", "Quarts, cups, ounces, °F")])
    zone = StringField("Time zone")
    theme = ChoiceField("Light or dark", choices=[("auto", "As the device"), ("light", "Light"), ("dark", "Dark")])
    tasters = StringField("Tasters")
    version = IntegerField("version")
