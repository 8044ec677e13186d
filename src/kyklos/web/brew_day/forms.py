"""The form of a brew day."""

from __future__ import annotations

from ...core.facts import INSTRUMENTS, TEAS
from ..fields import ChoiceField, KitchenForm, QuantityField

SWEETENERS = {"sugar": ("White or cane sugar", 0.0), "half": ("Half sugar, half honey", 0.5), "honey": ("Honey", 1.0)}


class PlanForm(KitchenForm):
    """What to brew, in what, with what; and what was measured at the pitch."""

    vessel = ChoiceField("Vessel", coerce=int)
    culture = ChoiceField("Culture", coerce=int)
    tea = ChoiceField("Tea", choices=[(key, tea.name) for key, tea in TEAS.items()])
    sweetener = ChoiceField("Sweetener", choices=[(key, name) for key, (name, _) in SWEETENERS.items()])
    fill = QuantityField("Fill to", kind="volume")
    leaf_g_per_l = QuantityField("Leaf", kind="strength")
    sugar_g_per_l = QuantityField("Sugars", kind="strength")
    starter = ChoiceField("Starter", coerce=int)
    starter_ph = QuantityField("Its pH, if measured", required=False)
    starter_instrument = ChoiceField(
        "by", default="meter", choices=[(key, entry.name) for key, entry in INSTRUMENTS.items()]
    )
    starter_percent = QuantityField("Share of starter, %", required=False)
    cold_c = QuantityField("Cold water", kind="temperature")
    disc = ChoiceField("Disc", coerce=int)
    measured_ph = QuantityField("pH of the brew", required=False)
    instrument = ChoiceField("by", default="meter", choices=[(key, entry.name) for key, entry in INSTRUMENTS.items()])
    celsius = QuantityField("Its temperature", kind="temperature", required=False)
