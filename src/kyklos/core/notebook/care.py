"""Care of what a kitchen works with: how often it is washed or changed, and what is asked for first after mould."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType

AFTER_MOULD = "mould"
WITH = ("hot water", "hot water and vinegar", "dish soap, rinsed well", "boiled", "new")  #: What it is done with.


@dataclass(frozen=True, slots=True)
class CareKind:
    """Something that is cared for."""

    name: str
    verb: str
    usual_days: float  #: Usual practice (assumed). [d]


CARE: Mapping[str, CareKind] = MappingProxyType(
    {
        "covers": CareKind("Cloth covers", "Wash", 14.0),
        "strainer": CareKind("Strainer and funnel", "Boil", 30.0),
        "rings": CareKind("Rings of swing-tops", "Check", 90.0),
        "taps": CareKind("Taps", "Take apart", 30.0),
        "kettle": CareKind("Kettle", "Descale", 60.0),
        "filter": CareKind("Water filter", "Change", 30.0),
        "fly-trap": CareKind("Fly trap", "Fill anew", 7.0),
        "fridge": CareKind("Fridge shelf", "Wipe", 60.0),
    }
)


@dataclass(frozen=True, slots=True)
class CareDue:
    """Something to be cared for."""

    key: str
    says: str
    why: str
    late_days: float  #: [d]


def care_due(rhythms: Mapping[str, float], done_days_ago: Mapping[str, float], mould: Sequence[tuple[str, float]] = ()) -> list[CareDue]:
    """List what is to be cared for now, what mould touched first.

    Args:
        rhythms: Every so many days; what has none is not asked for. [d]
        done_days_ago: When each was last done; never, unless given. [d]
        mould: Vessels in which mould was seen, and how long ago. [d]

    >>> care_due({"covers": 14}, {"covers": 20})[0].says
    'Wash cloth covers'
    """
    touched = [(name, ago) for name, ago in mould if done_days_ago.get(AFTER_MOULD, float("inf")) > ago]
    out = []
    if touched:
        names = ", ".join(dict.fromkeys(name for name, _ in touched))
        out.append(CareDue(AFTER_MOULD, "Boil what mould touched", f"{names}: jar, cover, strainer and spoon, before anything new.", max(ago for _, ago in touched)))
    late = []
    for key, every in rhythms.items():
        ago = done_days_ago.get(key)
        if key in CARE and (ago is None or ago >= every):
            kind = CARE[key]
            why = "Not done yet." if ago is None else f"Last done {ago:.0f} days ago."
            late.append(CareDue(key, f"{kind.verb} {kind.name[0].lower()}{kind.name[1:]}", why, (ago or every) - every))
    return out + sorted(late, key=lambda one: -one.late_days)
