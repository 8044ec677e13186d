"""Water: how hard its alkalinity makes the start, and how chlorine leaves it."""

from __future__ import annotations

from dataclasses import dataclass

from .errors import UnknownNameError, require_between

SOURCES = {
    "tap": ("From the tap", 0.5),
    "filtered": ("Filtered", 0.5),
    "well": ("Well or spring", 4.0),
    "bottled": ("Bottled", 2.0),
    "soft": ("Distilled or by reverse osmosis", 0.0),
}  #: Name, alkalinity until given (typical; the supplier's report or a strip beats it). [meq/L]
TREATMENTS = {
    "none": "None",
    "chlorine": "Chlorine",
    "chloramine": "Chloramine",
    "unknown": "Not known",
}
#: What is made sure of before tap water goes in, by what it is treated with.
CHLORINE_CHECKS = {
    "chlorine": "Is the cold water free of chlorine: stood uncovered for a day, boiled and cooled, or filtered?",
    "unknown": "Is the cold water free of chlorine: filtered through carbon, or boiled and cooled? Standing helps only against chlorine.",
    "chloramine": "Is the cold water free of chloramine: through a carbon filter made for it, or from a bottle? Standing does not help.",
}
MEQ_PER_DEGREE = 0.357  #: One German degree of carbonate hardness. [meq/L]
MG_PER_MEQ = 50.0  #: As CaCO3. [mg/meq]
STAND_HOURS = (24.0, 48.0)  #: For chlorine, uncovered. [h]
HARD_MEQ = 3.0  #: From here the page speaks of it (assumed). [meq/L]


@dataclass(frozen=True, slots=True)
class Water:
    """What the tea is made with."""

    source: str = "tap"
    alkalinity_meq_per_l: float = 0.5  #: [meq/L]
    treatment: str = "none"  #: none, chlorine, chloramine or unknown

    def __post_init__(self) -> None:
        require_between(0, 20, "meq/L", alkalinity_meq_per_l=self.alkalinity_meq_per_l)
        for kind, value, known in (("water", self.source, SOURCES), ("treatment", self.treatment, TREATMENTS)):
            if value not in known:
                raise UnknownNameError(kind, value, list(known))


def stand_hours(water: Water) -> float:
    """Return how long water stands uncovered before it is used; 0 when standing is no help or not needed. [h]

    >>> stand_hours(Water(treatment="chloramine"))
    0.0
    """
    return STAND_HOURS[0] if water.treatment in {"chlorine", "unknown"} and water.source == "tap" else 0.0


def water_advice(water: Water) -> list[str]:
    """Return what to do about chlorine, chloramine and alkalinity."""
    out = []
    if water.treatment == "chlorine":
        out.append(
            "Chlorine: let the cold water stand uncovered 24 to 48 hours, or boil it and let it cool, or filter it."
        )
    if water.treatment == "chloramine":
        out.append("Chloramine does not leave by standing: use a carbon filter made for it, or other water.")
    if water.treatment == "unknown":
        out.append(
            "Ask the supplier whether it is chlorine or chloramine: standing helps only against chlorine. Until then filter it through carbon."
        )
    if water.alkalinity_meq_per_l >= HARD_MEQ:
        out.append(
            f"Hard to sour: alkalinity {water.alkalinity_meq_per_l:g} meq/L ({water.alkalinity_meq_per_l * MG_PER_MEQ:.0f} mg/L as "
            "CaCO3) takes up acid. The plan asks more starter for it; half distilled water would need less."
        )
    return out
