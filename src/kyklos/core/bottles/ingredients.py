"""What brews are flavoured with: what it holds, its forms, kitchen measures, season, and what to mind.

Composition figures are typical (assumed: acids +-30 %, pH +-0.3), given in `data/ingredients.toml`. A household's own ones come
from a label.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from types import MappingProxyType

from ..base import require_between
from ..base.errors import UnknownNameError
from ..base.facts import entries_of, with_tuples
from ..base.kinds import AddedAs
from ..liquid import Liquid, acids
from ..liquid.ferment import ABV_G_PER_L

#: How it is put in: what it is called, how fast its sugar comes out [d] (assumed), how it drives the yeast [-] (assumed).
FORMS: Mapping[str, tuple[str, float, float]] = {
    "none": ("as it is", 0.0, 1.0),
    "juice": ("juice", 0.0, 1.1),
    "puree": ("purée", 0.1, 1.1),
    "grated": ("grated", 0.3, 1.35),
    "ginger": ("slices", 0.75, 1.35),
    "pieces": ("pieces", 0.75, 1.25),
    "dried": ("dried", 2.0, 1.25),
    "herbs": ("bruised", 0.75, 1.0),
    "syrup": ("syrup", 0.0, 1.0),
    "drink": ("poured in", 0.0, 1.0),
}
#: What a kitchen usually takes of a form (usual practice). [g/L of the filled bottle]
USUAL_G_PER_L: Mapping[str, float] = {
    "pieces": 60.0, "puree": 80.0, "juice": 80.0, "ginger": 15.0, "grated": 10.0, "dried": 10.0, "herbs": 4.0, "syrup": 10.0,
    "drink": 150.0, "none": 5.0,
}  # fmt: skip
CITRIC_G_PER_MMOL = 0.19212  #: [g/mmol]
UNKNOWN_PH, UNKNOWN_CITRIC = 3.6, 40.0  #: Of a drink or fruit whose label tells no acid (assumed). [pH, mmol/kg]
MONTHS = (
    "January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December",
)  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Ingredient:
    """Something that a brew is flavoured with."""

    key: str
    name: str
    forms: tuple[str, ...] = ("pieces",)  #: Keys of FORMS, the usual first.
    sugar: float = 0.0  #: [g per 100 g]
    sucrose: float = 0.4  #: Share of its sugar that is sucrose. [-]
    citric: float = 0.0  #: [mmol/kg]
    malic: float = 0.0  #: [mmol/kg]
    tartaric: float = 0.0  #: [mmol/kg]
    phosphate: float = 0.0  #: [mmol/kg]
    ph: float | None = None  #: Of its juice; None: it brings no liquid to speak of. [pH]
    abv: float = 0.0  #: Alcohol that it brings. [% ABV]
    units: tuple[tuple[str, float], ...] = ()  #: Kitchen measures, the usual first, and what one weighs. [g]
    piece_mm: float = 0.0  #: Width of its smallest sensible piece; 0: it pours, or is thin. [mm]
    months: tuple[int, ...] = ()  #: When it is ripe in the northern half of the world; none: all year.
    allergens: tuple[str, ...] = ()
    low_acid: bool = False  #: Of little acid: much of it may lift the pH too far.
    measured_only: bool = False  #: Its potassium holds more acid than is listed: closed for fizz only when measured.
    medicines: bool = False  #: It changes how some medicines work.
    preserved: bool = False  #: With sorbate, benzoate or sulphite: the yeast may not work.
    note: str = ""
    was: tuple[str, ...] = ()  #: Its key in older records.

    @property
    def form(self) -> str:
        """How it is usually put in, a key of FORMS."""
        return self.forms[0]

    @property
    def liquid(self) -> Liquid:
        """A litre of it, taken as 1 g/mL and fully released: its sugar, acids, alcohol, and ions that give it its own pH."""
        return _liquid(self)


@lru_cache(maxsize=512)
def _liquid(found: Ingredient) -> Liquid:
    sugar = 10 * found.sugar
    plain = Liquid(
        sucrose_g_per_l=ADDED_SUCROSE_SHARE * sugar,
        monosaccharides_g_per_l=(1 - ADDED_SUCROSE_SHARE) * sugar,
        ethanol_g_per_l=found.abv * ABV_G_PER_L,
        citric_mmol_per_l=found.citric,
        malic_mmol_per_l=found.malic,
        tartaric_mmol_per_l=found.tartaric,
        phosphate_mmol_per_l=found.phosphate,
    )
    if found.ph is None:
        return plain
    return replace(plain, strong_ions_meq_per_l=acids.charge_at(found.ph, plain.medium))


ADDED_SUCROSE_SHARE = 0.4  #: Of all sugar added to a bottle, by mass (assumed). [-]


def _read() -> dict[str, Ingredient]:
    out = {}
    for key, entry in entries_of("ingredients").items():
        values = {**with_tuples(entry), "units": tuple(entry.get("units", {}).items())}
        out[key] = Ingredient(key=key, **values)
    return out


INGREDIENTS: Mapping[str, Ingredient] = MappingProxyType(_read())
_WAS = {old: key for key, entry in INGREDIENTS.items() for old in entry.was}


def ingredient(name: str) -> Ingredient:
    """Look up an ingredient by its key, its name, or a key it had in older records.

    Raises:
        UnknownNameError: If it is not known.

    >>> ingredient("ginger").name, ingredient("Apple juice").sugar
    ('Ginger root', 10.4)
    """
    key = "-".join(name.lower().split())
    found = INGREDIENTS.get(key) or INGREDIENTS.get(_WAS.get(key, ""))
    if found is None:
        raise UnknownNameError("flavour", name, list(INGREDIENTS))
    return found


def known(name: str) -> bool:
    """Return whether a name or key is one of the ingredients that Kyklos brings.

    >>> known("ginger"), known("coffee")
    (True, False)
    """
    key = "-".join(name.lower().split())
    return key in INGREDIENTS or key in _WAS


def from_label(
    key: str,
    name: str,
    form: str = "juice",
    *,
    sugar_g_per_100: float = 0.0,
    acid_g_per_l: float | None = None,
    ph: float | None = None,
    abv_percent: float = 0.0,
    preserved: bool = False,
    unit: str = "",
    unit_g: float = 0.0,
    months: tuple[int, ...] = (),
    allergens: tuple[str, ...] = (),
    piece_mm: float = 0.0,
    note: str = "",
) -> Ingredient:
    """Make an ingredient of what stands on a label.

    Args:
        key: Its own.
        name: What the household calls it.
        form: A key of FORMS.
        sugar_g_per_100: Sugar. [g per 100 g or mL]
        acid_g_per_l: Acid, counted as citric. [g/L]
        ph: Its own, where given; else 3.6 for what tastes sour (assumed). [pH]
        abv_percent: Alcohol of a finished drink. [% ABV]
        preserved: Kept with sorbate, benzoate or sulphite.
        unit, unit_g: A kitchen measure, and what one weighs. [g]
        months, allergens, piece_mm, note: As in `Ingredient`.

    >>> from_label("own-1", "Elderflower cordial", "syrup", sugar_g_per_100=45, acid_g_per_l=10).citric
    52.1
    """
    require_between(0, 100, "g per 100 g", sugar_g_per_100=sugar_g_per_100)
    require_between(0, 100, "g/L", acid_g_per_l=acid_g_per_l or 0.0)
    require_between(1.5, 8, "pH", ph=UNKNOWN_PH if ph is None else ph)
    require_between(0, 60, "% ABV", abv_percent=abv_percent)
    wet = form != "herbs"
    citric = UNKNOWN_CITRIC if acid_g_per_l is None else acid_g_per_l / CITRIC_G_PER_MMOL
    return Ingredient(
        key=key,
        name=name,
        forms=(form,),
        sugar=sugar_g_per_100,
        citric=round(citric, 1) if wet else 0.0,
        ph=(UNKNOWN_PH if ph is None else ph) if wet else None,
        abv=abv_percent,
        preserved=preserved,
        units=((unit, unit_g),) if unit and unit_g > 0 else (),
        months=months,
        allergens=allergens,
        piece_mm=piece_mm,
        low_acid=wet and ph is not None and ph > 4.6,
        note=note,
    )


def ripe(found: Ingredient, month: int, south: bool = False) -> bool:
    """Return whether it is ripe in a month (1 to 12); what keeps all year has no season and is not.

    >>> ripe(ingredient("quince"), 10), ripe(ingredient("quince"), 4, south=True), ripe(ingredient("raisins"), 4)
    (True, True, False)
    """
    return ((month + 5) % 12 + 1 if south else month) in found.months


def in_measures(found: Ingredient, grams: float) -> str:
    """Return a weight in the kitchen's measure, to the nearest sensible part; empty where there is none. [g]

    >>> in_measures(ingredient("damson"), 60), in_measures(ingredient("ginger"), 10), in_measures(ingredient("bay"), 0.2)
    ('6 pieces', '1½ cm', '1 leaf')
    """
    if not found.units or grams <= 0:
        return ""
    unit, one = found.units[0]
    count = grams / one
    for other, weighs in found.units[1:]:
        if not 0.4 <= count <= 12 and abs(grams / weighs - 2) < abs(count - 2):
            unit, count = other, grams / weighs
    return f"{_count_word(count)} {_plural(unit, count)}" if count >= 0.2 else f"a little less than ¼ {unit}"


_SHORT = {"centimetre": "cm"}
_MANY = {"half": "halves", "leaf": "leaves", "cm": "cm"}
_PARTS = {0.25: "¼", 0.5: "½", 0.75: "¾", 0.0: ""}


def _plural(unit: str, count: float) -> str:
    unit = _SHORT.get(unit, unit)
    return unit if count <= 1.12 else _MANY.get(unit, f"{unit}s")


def _count_word(count: float) -> str:
    if count >= 9.5:
        return f"{count:.0f}"
    step = 0.25 if count < 2 else 0.5 if count < 5 else 1.0
    near = max(0.25, round(count / step) * step)
    return f"{int(near) or ''}{_PARTS[near % 1]}"


# What does not go in, or is asked about ------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class IngredientDoubt:
    """Something about what goes in: refused, or asked about, and why."""

    refused: bool
    why: str


def doubts(name: str, preserved: bool = False) -> list[IngredientDoubt]:
    """List what speaks against an ingredient by its name and label, the gravest first.

    >>> [d.refused for d in doubts("Coconut milk")], doubts("Damson"), [d.refused for d in doubts("Cordial", preserved=True)]
    ([True], [], [False])
    """
    words = name.lower()
    out = [
        IngredientDoubt(bool(entry["refused"]), entry["why"])
        for entry in entries_of("not_in_a_bottle").values()
        if entry.get("words") and re.search(rf"\b(?:{'|'.join(entry['words'])})\b", words)
        and not any(free in words for free in entry.get("but", []))
    ]  # fmt: skip
    if preserved:
        out.append(IngredientDoubt(False, entries_of("not_in_a_bottle")["preserved"]["why"]))
    return sorted(out, key=lambda doubt: not doubt.refused)


def passes_neck(found: Ingredient, form: str, neck_mm: float | None) -> bool:
    """Return whether what goes in comes out again through a neck; what pours always does. [mm]

    >>> passes_neck(ingredient("damson"), "pieces", 18), passes_neck(ingredient("damson"), "puree", 18)
    (False, True)
    """
    return neck_mm is None or form in {AddedAs.JUICE, AddedAs.PUREE, AddedAs.SYRUP, AddedAs.AS_IT_IS, AddedAs.DRINK, AddedAs.GRATED} or found.piece_mm <= neck_mm


def form_that_passes(found: Ingredient, form: str, necks_mm: Iterable[float | None]) -> str:
    """Choose how an ingredient goes in so that it comes out again through every neck: as it is meant to, else another of its forms. [mm]

    Where none does, it stays as it was meant.

    >>> form_that_passes(ingredient("damson"), "pieces", [18.0]), form_that_passes(ingredient("damson"), "pieces", [60.0])
    ('puree', 'pieces')
    """
    necks = list(necks_mm)
    ways = (form, *(way for way in found.forms if way != form))
    return next((way for way in ways if all(passes_neck(found, way, neck) for neck in necks)), form)


def usual_g_per_l(key: str) -> float:
    """Return how much of an ingredient a kitchen usually takes, in its usual form; 0 of none. [g/L of the filled bottle]

    >>> usual_g_per_l("plain"), usual_g_per_l("damson") > 0
    (0.0, True)
    """
    return 0.0 if key == "plain" or key not in INGREDIENTS else USUAL_G_PER_L.get(INGREDIENTS[key].form, 0.0)
