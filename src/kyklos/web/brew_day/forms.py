"""The form of a brew day."""

from __future__ import annotations

from wtforms import SelectField

from ...core.facts import INSTRUMENTS, TEAS
from ..fields import KitchenForm, QuantityField

SWEETENERS = {"sugar": ("White or cane sugar", 0.0), "half": ("Half sugar, half honey", 0.5), "honey": ("Honey", 1.0)}


class PlanForm(KitchenForm):
    """What to brew, in what, with what; and what was measured at the pitch."""

    vessel = SelectField("Vessel", coerce=int)
    culture = SelectField("Culture", coerce=int)
    tea = SelectField("Tea", choices=[(key, tea.name) for key, tea in TEAS.items()])
    sweetener = SelectField("Sweetener", choices=[(key, name) for key, (name, _) in SWEETENERS.items()])
    fill = QuantityField("Fill to", kind="volume")
    leaf_g_per_l = QuantityField("Leaf, g a litre")
    sugar_g_per_l = QuantityField("Sugars, g a litre")
    starter = SelectField("Starter", coerce=int)
    starter_ph = QuantityField("Its pH, if measured", required=False)
    starter_instrument = SelectField(
        "by", default="meter", choices=[(key, entry.name) for key, entry in INSTRUMENTS.items()]
    )
    starter_percent = QuantityField("Share of starter, %", required=False)
    cold_c = QuantityField("Cold water", kind="temperature")
    disc = SelectField("Disc", coerce=int)
    measured_ph = QuantityField("pH of the brew", required=False)
    instrument = SelectField("by", default="meter", choices=[(key, entry.name) for key, entry in INSTRUMENTS.items()])
    celsius = QuantityField("Its temperature", kind="temperature", required=False)
