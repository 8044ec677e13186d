"""The form of a culture."""

from __future__ import annotations

from wtforms import BooleanField, StringField, TextAreaField
from wtforms.validators import DataRequired

from ...actions.household import ORIGINS
from ...core.facts import INSTRUMENTS
from ..fields import ChoiceField, KitchenForm, QuantityField


class CultureForm(KitchenForm):
    """A line, with the liquid and disc it came with."""

    name = StringField("Name", validators=[DataRequired("Give the culture a name.")])
    diet = ChoiceField(
        "Lives on", choices=[("sugar", "Sugar and tea (kombucha)"), ("jun", "Honey and green tea (jun)")]
    )
    origin = ChoiceField("Came", choices=list(ORIGINS.items()))
    starter_l = QuantityField("Liquid that came with it", kind="volume", required=False)
    starter_ph = QuantityField("Its pH, if measured", required=False)
    instrument = ChoiceField("by", default="meter", choices=[(key, entry.name) for key, entry in INSTRUMENTS.items()])
    with_disc = BooleanField("A disc (mother, SCOBY) came with it", default=True)
    story = TextAreaField("Its story")


class DiscForm(KitchenForm):
    """A disc's size and name."""

    name = StringField("Name")
    thickness_mm = QuantityField("Thickness, mm", required=False)
    diameter_cm = QuantityField("Width", kind="length", required=False)
    note = StringField("Why")


class GiftForm(KitchenForm):
    """Something living for someone."""

    disc = ChoiceField("Disc", coerce=int, default=0)
    lot = ChoiceField("Liquid", coerce=int, default=0)
    litres = QuantityField("So much of it", kind="volume", required=False)
    who = StringField("For whom")


class FeedForm(KitchenForm):
    """What the hotel was given."""

    litres = QuantityField("So much", kind="volume")
    of = ChoiceField("of", default="sweet tea", choices=[("sweet tea", "Sweet tea"), ("brew", "Brew")])
    ph = QuantityField("pH of its liquid, if measured", required=False)
