"""Open documents: a recipe, a flavour, a brew day's plan, a whole brew, the bottles of a household.

Each is JSON with a version and a schema, described in `docs/formats.md`. Reading trusts nothing, and writes nothing: what is read is shown
first, and an action of the household writes it.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from datetime import datetime
from types import MappingProxyType
from typing import Annotated, Any, Literal

from pydantic import Field

from ..core.base import CoreError
from ..core.base.facts import BOTTLES
from ..core.bottles.flavouring import MOMENTS
from ..core.bottles.ingredients import FORMS, INGREDIENTS
from ..core.liquid import teas
from .document_parts import Amount, BottlesRow, BrewDocument, Degrees, PhValue, Positive, RecipeTold, VesselTold
from .strict import DocumentError, DocumentPart, Key, Name, RealDay, Text, Word, checked, object_of

IN_A_CODE = 1_100  #: A longer text makes a code that a phone hardly reads from paper (assumed). [bytes]
MOST_STEPS, MOST_KINDS = 200, 200
LARGEST = 400_000  #: A form carries it along between its preview and its keeping. [bytes]



class RecipeDocument(DocumentPart):
    """A recipe kept by name."""

    format: Literal["kyklos-recipe"] = "kyklos-recipe"
    version: Literal[1] = 1
    written_on: RealDay
    name: Name = Field(min_length=1, max_length=60)
    note: Text = Field(default="", max_length=500)
    recipe: RecipeTold


class OwnIngredientTold(DocumentPart):
    """An ingredient that the writing household added by its label."""

    key: Key
    name: Name = Field(min_length=2, max_length=60)
    form: Word
    sugar_percent: float = Field(default=0.0, ge=0, le=100, allow_inf_nan=False)
    acid_g_per_l: float | None = Field(default=None, ge=0, le=100, allow_inf_nan=False)
    ph: PhValue | None = None
    abv_percent: float = Field(default=0.0, ge=0, le=60, allow_inf_nan=False)
    preserved: bool = False
    unit: Text = Field(default="", max_length=20)
    unit_g: float = Field(default=0.0, ge=0, le=2000, allow_inf_nan=False)
    months: tuple[Annotated[int, Field(ge=1, le=12)], ...] = Field(default=(), max_length=12, strict=False)
    allergens: Text = Field(default="", max_length=120)
    note: Text = Field(default="", max_length=300)


class FlavourPartTold(DocumentPart):
    """An ingredient, and its amount in a litre of the filled bottle."""

    ingredient: Key
    form: Word
    moment: Word = "bottle"
    g_per_l: float = Field(gt=0, le=600, allow_inf_nan=False)


class FlavourDocument(DocumentPart):
    """A flavour kept by name."""

    format: Literal["kyklos-flavour"] = "kyklos-flavour"
    version: Literal[1] = 1
    written_on: RealDay
    name: Name = Field(min_length=1, max_length=60)
    note: Text = Field(default="", max_length=500)
    priming_g_per_l: float = Field(default=0.0, ge=0, le=25, allow_inf_nan=False)
    hours: float | None = Field(default=None, gt=0, le=400, allow_inf_nan=False)
    parts: tuple[FlavourPartTold, ...] = Field(default=(), max_length=8, strict=False)
    ingredients: tuple[OwnIngredientTold, ...] = Field(default=(), max_length=8, strict=False)


class StarterPoured(DocumentPart):
    """Starter of a plan."""

    name: Text = Field(max_length=80)
    litres: Amount
    ph: PhValue | None = None
    acidity_g_per_l: float | None = Field(default=None, ge=0, le=100, allow_inf_nan=False)


class AmountTold(DocumentPart):
    """What goes in, with its unit."""

    what: Text = Field(max_length=120)
    amount: float = Field(ge=0, le=1_000_000, allow_inf_nan=False)
    unit: Literal["g", "mL", "degC"]


class PlanDocument(DocumentPart):
    """A brew day's plan: what was asked, and what came of it."""

    format: Literal["kyklos-brew-day"] = "kyklos-brew-day"
    version: Literal[1] = 1
    written_on: RealDay
    culture: Text = Field(default="", max_length=40)
    diet: Literal["sugar", "jun"]
    recipe: RecipeTold
    vessel: VesselTold
    litres: Positive
    room_degc: Degrees
    starters: tuple[StarterPoured, ...] = Field(default=(), max_length=20, strict=False)
    amounts: tuple[AmountTold, ...] = Field(default=(), max_length=60, strict=False)
    steps: tuple[Annotated[Text, Field(max_length=600)], ...] = Field(default=(), max_length=MOST_STEPS, strict=False)


class ParkRow(DocumentPart):
    """Bottles of one kind and size."""

    kind: Word
    volume_ml: float = Field(ge=50, le=5000, allow_inf_nan=False)
    limit_bar: float = Field(ge=0, le=15, allow_inf_nan=False)
    owned: int = Field(ge=0, le=500)
    neck_mm: float | None = Field(default=None, ge=5, le=150, allow_inf_nan=False)
    closure: Word = ""
    note: Text = Field(default="", max_length=300)


class ParkDocument(DocumentPart):
    """The bottles that a household has."""

    format: Literal["kyklos-bottles"] = "kyklos-bottles"
    version: Literal[1] = 1
    written_on: RealDay
    bottles: tuple[ParkRow, ...] = Field(min_length=1, max_length=MOST_KINDS, strict=False)


Document = RecipeDocument | FlavourDocument | PlanDocument | BrewDocument | ParkDocument
#: What each kind is called in an address, and in words.
KINDS: Mapping[str, tuple[type[Document], str]] = MappingProxyType(
    {
        "recipe": (RecipeDocument, "recipe"),
        "flavour": (FlavourDocument, "flavour"),
        "brew-day": (PlanDocument, "plan of a brew day"),
        "brew": (BrewDocument, "brew"),
        "bottles": (ParkDocument, "list of bottles"),
    }
)
_BY_FORMAT = {str(model.model_fields["format"].default): (model, called) for model, called in KINDS.values()}


def written(document: Document) -> str:
    """Write a document as JSON, the same for the same content."""
    return json.dumps(document.model_dump(mode="json"), ensure_ascii=False, indent=1) + "\n"


def for_a_code(document: Document) -> str | None:
    """Write a document as short as it can be, for a code to scan; None: it is too long for one."""
    values = {"format": document.format, "version": document.version, **document.model_dump(mode="json", exclude_defaults=True)}
    text = json.dumps(values, ensure_ascii=False, separators=(",", ":"))
    return text if len(text.encode()) <= IN_A_CODE else None


def schema(kind: str) -> str:
    """Write the JSON Schema of a kind of document, a key of KINDS."""
    return json.dumps(KINDS[kind][0].model_json_schema(), indent=1) + "\n"


def read(content: bytes) -> Document:
    """Read any of these documents, trusting nothing.

    Args:
        content: A file's bytes, or what a code says.

    Raises:
        DocumentError: If it is too large, no document, of another version, out of range, or contradicts itself.
    """
    found = object_of(content, "document of Kyklos", LARGEST)
    model, called = _BY_FORMAT.get(str(found.get("format"))[:60], (None, ""))
    if model is None:
        raise DocumentError("This is no recipe, flavour, plan, brew or list of bottles.")
    if found.get("version") != 1:
        raise DocumentError(f"This {called} is of a version that this Kyklos does not know: a newer one may read it.")
    document: Any = checked(model, found, called)
    try:
        _CHECKS[model](document)
    except CoreError as problem:
        raise DocumentError(f"This {called} cannot be right: {problem}") from problem
    return document  # type: ignore[no-any-return]


def _known_recipe(document: RecipeDocument | PlanDocument) -> None:
    _ = document.recipe.card  # the core refuses what it does not know


def _known_flavour(document: FlavourDocument) -> None:
    own = {one.key for one in document.ingredients}
    if len(own) < len(document.ingredients):
        raise CoreError("an ingredient stands in it twice.")
    for one in document.ingredients:
        if one.form not in FORMS or one.key in INGREDIENTS:
            raise CoreError(f"{one.name} is no ingredient of its own.")
    for part in document.parts:
        if part.ingredient not in INGREDIENTS and part.ingredient not in own:
            raise CoreError(f"it names {part.ingredient}, which is not in it.")
        if part.form not in FORMS or part.moment not in MOMENTS:
            raise CoreError("a way of putting something in is not known.")


def _known_brew(document: BrewDocument) -> None:
    teas.blend(tuple((part.tea, part.share) for part in document.tea))
    if document.planned is not None:
        _ = document.planned.card
    began = datetime.fromisoformat(document.began_at)
    if document.ended_at is not None and datetime.fromisoformat(document.ended_at) < began:
        raise CoreError("it ended before it began.")
    _known_bottles(document)


def _known_bottles(document: BrewDocument | ParkDocument) -> None:
    for row in document.bottles:
        if row.kind not in BOTTLES:
            raise CoreError(f"{row.kind} is no kind of bottle that Kyklos knows.")
        if isinstance(row, BottlesRow) and row.left > row.count:
            raise CoreError("more bottles are left than were filled.")


_CHECKS: Mapping[Any, Any] = MappingProxyType(
    {
        RecipeDocument: _known_recipe,
        FlavourDocument: _known_flavour,
        PlanDocument: _known_recipe,
        BrewDocument: _known_brew,
        ParkDocument: _known_bottles,
    }
)
