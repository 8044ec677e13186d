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
