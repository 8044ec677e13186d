"""Records of flavour: own ingredients, flavours kept by name, the larder, infusions, trials on the bench, scores."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import ForeignKey
from sqlalchemy.orm import Mapped, mapped_column, relationship

from ...core.bottles import Ingredient
from ...core.bottles.ingredients import from_label
from .base import Base

if TYPE_CHECKING:
    from .bottles import Bottle, Bottling
    from .brews import Brew
    from .household import Place, Taster
    from .liquids import KeptLiquid

OWN = "own-"  #: How the key of an own ingredient begins; its number follows.


class OwnIngredient(Base):
    """An ingredient of the household's own, as given by its label."""

    __tablename__ = "own_ingredient"
    name: Mapped[str]
    form: Mapped[str]  #: A key of core/bottles/ingredients.py: FORMS
    sugar: Mapped[float] = mapped_column(default=0.0)  #: [g per 100 g]
    acid_g_per_l: Mapped[float | None]  #: Counted as citric. [g/L]
    ph: Mapped[float | None]  #: [pH]
    abv: Mapped[float] = mapped_column(default=0.0)  #: [% ABV]
    preserved: Mapped[bool] = mapped_column(default=False)  #: With sorbate, benzoate or sulphite.
    unit: Mapped[str] = mapped_column(default="")
    unit_g: Mapped[float] = mapped_column(default=0.0)  #: [g]
    piece_mm: Mapped[float] = mapped_column(default=0.0)  #: [mm]
    months: Mapped[list[Any]] = mapped_column(default=list)  #: 1 to 12, when there is some.
    allergens: Mapped[str] = mapped_column(default="")  #: With commas between.
    note: Mapped[str] = mapped_column(default="")
    retired: Mapped[bool] = mapped_column(default=False)

    @property
    def key(self) -> str:
        """Its key beside those of the ingredients that Kyklos brings."""
        return f"{OWN}{self.id}"

    @property
    def as_ingredient(self) -> Ingredient:
        """Return it as an ingredient of the core."""
        return from_label(
            self.key,
            self.name,
            self.form,
            sugar_g_per_100=self.sugar,
            acid_g_per_l=self.acid_g_per_l,
            ph=self.ph,
            abv_percent=self.abv,
            preserved=self.preserved,
            unit=self.unit,
            unit_g=self.unit_g,
            piece_mm=self.piece_mm,
            months=tuple(int(m) for m in self.months),
            allergens=tuple(a.strip() for a in self.allergens.split(",") if a.strip()),
            note=self.note,
        )


class Flavour(Base):
    """A flavour kept by name: a recipe per litre."""

    __tablename__ = "flavour"
    name: Mapped[str]
    note: Mapped[str] = mapped_column(default="")
    priming_g_per_l: Mapped[float] = mapped_column(default=0.0)  #: [g/L]
    hours: Mapped[float | None]  #: In an infusion, as meant. [h]
    retired: Mapped[bool] = mapped_column(default=False)
    kept_at: Mapped[datetime]
    version: Mapped[int] = mapped_column(default=1)
    parts: Mapped[list[FlavourPart]] = relationship(
        back_populates="flavour", order_by="FlavourPart.id", cascade="all, delete-orphan"
    )
    __mapper_args__ = {"version_id_col": version}


class FlavourPart(Base):
    """An amount of an ingredient in a flavour, and when it goes in."""

    __tablename__ = "flavour_part"
    flavour_id: Mapped[int] = mapped_column(ForeignKey("flavour.id"), index=True)
    ingredient: Mapped[str]  #: A key, as in core/base/data/ingredients.toml or of an own one.
    form: Mapped[str]  #: A key of core/bottles/ingredients.py: FORMS
    moment: Mapped[str] = mapped_column(default="bottle")  #: A key of core/bottles/flavouring.py: MOMENTS
    g_per_l: Mapped[float]  #: Of the filled bottle. [g/L]
    flavour: Mapped[Flavour] = relationship(back_populates="parts")


class LarderItem(Base):
    """Something at hand: in the freezer, in the garden, or to be used up."""

    __tablename__ = "larder_item"
    ingredient: Mapped[str]
    where: Mapped[str]  #: A key of core/bottles/suggest.py: AT_HAND
    grams: Mapped[float | None]  #: [g]
    since: Mapped[datetime]
    gone_at: Mapped[datetime | None] = mapped_column(index=True)


class Infusion(Base):
    """A jar of finished brew that takes flavour before it is strained."""

    __tablename__ = "infusion"
    liquid_id: Mapped[int] = mapped_column(ForeignKey("liquid.id"), unique=True)
    brew_id: Mapped[int] = mapped_column(ForeignKey("brew.id"), index=True)
    flavour_id: Mapped[int | None] = mapped_column(ForeignKey("flavour.id"), index=True)
    name: Mapped[str]
    place_id: Mapped[int] = mapped_column(ForeignKey("place.id"), index=True)
    cover: Mapped[str]  #: cloth or loose lid
    began_at: Mapped[datetime]
    hours: Mapped[float]  #: As meant. [h]
    strained_at: Mapped[datetime | None]
    ended_at: Mapped[datetime | None] = mapped_column(index=True)
    start: Mapped[list[Any]]  #: State of the brew at the start, as the core's ferment keeps it.
    vigour: Mapped[float]
    ph_after: Mapped[float | None]  #: Measured in the jar. [pH]
    note: Mapped[str] = mapped_column(default="")
    liquid: Mapped[KeptLiquid] = relationship()
    brew: Mapped[Brew] = relationship()
    place: Mapped[Place] = relationship()
    kept: Mapped[Flavour | None] = relationship()
    bottlings: Mapped[list[Bottling]] = relationship(foreign_keys="Bottling.infusion_id", viewonly=True)


class Trial(Base):
    """A glass on the bench, into which a drink or juice is weighed step by step."""

    __tablename__ = "trial"
    brew_id: Mapped[int] = mapped_column(ForeignKey("brew.id"), index=True)
    ingredient: Mapped[str]
    at: Mapped[datetime]
    glass_g: Mapped[float] = mapped_column(default=100.0)  #: Of brew in the glass. [g]
    best_g: Mapped[float | None]  #: What was chosen of it. [g]
    flavour_id: Mapped[int | None] = mapped_column(ForeignKey("flavour.id"), index=True)  #: Kept from it.
    ended_at: Mapped[datetime | None]
    brew: Mapped[Brew] = relationship()
    steps: Mapped[list[TrialStep]] = relationship(
        back_populates="trial", order_by="TrialStep.grams, TrialStep.id", cascade="all, delete-orphan"
    )


class TrialStep(Base):
    """One amount on the bench, and what was said of it."""

    __tablename__ = "trial_step"
    trial_id: Mapped[int] = mapped_column(ForeignKey("trial.id"), index=True)
    taster_id: Mapped[int | None] = mapped_column(ForeignKey("taster.id"), index=True)
    grams: Mapped[float]  #: In the glass by then. [g]
    score: Mapped[int]  #: -2 too little to +2 too much; 0: right.
    word: Mapped[str] = mapped_column(default="")
    trial: Mapped[Trial] = relationship(back_populates="steps")


class Comparison(Base):
    """Glasses beside one another, tasted blind."""

    __tablename__ = "comparison"
    at: Mapped[datetime]
    glasses: Mapped[list[Any]]  #: Numbers of fillings, in the order of their letters.
    question: Mapped[str] = mapped_column(default="")
    revealed_at: Mapped[datetime | None]
    scores: Mapped[list[Score]] = relationship(back_populates="comparison", order_by="Score.id")


class Score(Base):
    """What one taster said of a bottle."""

    __tablename__ = "score"
    at: Mapped[datetime] = mapped_column(index=True)
    bottling_id: Mapped[int] = mapped_column(ForeignKey("bottling.id"), index=True)
    bottle_id: Mapped[int | None] = mapped_column(ForeignKey("bottle.id"), index=True)
    taster_id: Mapped[int] = mapped_column(ForeignKey("taster.id"), index=True)
    comparison_id: Mapped[int | None] = mapped_column(ForeignKey("comparison.id"), index=True)
    liked: Mapped[int]  #: 1 to 5.
    again: Mapped[bool | None]
    sheet: Mapped[dict[str, Any]] = mapped_column(default=dict)  #: Keys of core/bottles/scores.py: SHEET, 1 to 5.
    word: Mapped[str] = mapped_column(default="")
    next_time: Mapped[str] = mapped_column(default="")  #: more, less or same: of its flavour, next time.
    bottling: Mapped[Bottling] = relationship(back_populates="scores")
    bottle: Mapped[Bottle | None] = relationship()
    taster: Mapped[Taster] = relationship()
    comparison: Mapped[Comparison | None] = relationship(back_populates="scores")
