"""The hands of the sample household: each action at its own moment before the day on which it stands."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any

from ..actions.base import Done
from ..actions.bottles import cellar, filling, harvest
from ..actions.bottles.cellar import MoveBottles, OpenBottle
from ..actions.bottles.filling import Box, FillBottles, FillPlan, Group, type_of
from ..actions.bottles.harvest import EndBrew, ReserveStarter
from ..actions.brewing import pitching, readings
from ..actions.brewing.pitching import PitchBrew, planned_amounts
from ..actions.brewing.readings import LogLook, LogReading, LogTasting
from ..actions.learning import catch_up
from ..core.base.facts import BOTTLES
from ..core.base.kinds import BottleState
from ..core.brewing import RecipeCard
from ..core.liquid import Recipe
from ..core.liquid.acids import Tea
from ..reckon.bottles.flavours import card_of
from ..reckon.bottles.harvests import Filling
from ..store.file.database import Database
from ..store.read import queries, recorded
from ..store.read.documents import pack
from ..store.records import Flavour, StarterLot, Vessel
from .day import DEMO_NOW

ODILE, BRAM = 1, 2


def days_ago(days: float) -> datetime:
    """Return the moment so many days before the demo's day. [d]"""
    return DEMO_NOW - timedelta(days=days)


class Kitchen:
    """Runs actions one after the other, each at its own moment."""

    def __init__(self, database: Database) -> None:
        self.database = database
        self.kept: dict[str, int] = {}  #: Flavours kept, by name.

    def do(self, run: Callable[..., Done], ask: Any, ago: float) -> dict[str, int]:
        """Run an action so many days before the demo's day; gives what it made."""
        with self.database.writer() as session:
            made = run(session, ask, days_ago(ago)).made
        catch_up(self.database)
        return made

    def pitch(
        self,
        vessel: int,
        culture: int,
        lot: int | None,
        disc: int | None,
        ago: float,
        *,
        tea: Tea = "black",
        honey: float = 0.0,
        leaf: float = 5.0,
        sugar: float = 58.0,
        share: float = 0.12,
        starter_ph: float = 3.05,
        measured: float | None = None,
        celsius: float | None = None,
        fill: float | None = None,
        kind: str = "",
        card: RecipeCard | None = None,
    ) -> int:
        """Pitch a brew."""
        with self.database.reader() as session:
            jar = queries.get(session, Vessel, vessel)
            litres = fill or jar.usable_l
            known = queries.get(session, StarterLot, lot) if lot else None
            instrument = known.instrument if known and known.ph else "estimate" if known else "meter"
            ph = (known.ph or known.estimated_ph or starter_ph) if known else starter_ph
            recipe = Recipe(
                tea=tea,
                leaf_g_per_l=leaf,
                sugar_g_per_l=sugar,
                honey_share=honey,
                starter_fraction=share,
                starter_ph=ph,
                surface_per_volume_per_cm=recorded.surface_per_volume(jar, litres),
            )
        ask = PitchBrew(
            vessel_id=vessel,
            culture_id=culture,
            starter_lot_id=lot,
            disc_id=disc,
            recipe=recipe,
            starter_instrument=instrument,
            final_l=litres,
            plan={**planned_amounts(recipe, litres), "final_l": litres} | ({"card": pack(card)} if card else {}),
            kind=kind or ("jun" if honey >= 0.5 else "batch"),
            measured_ph=measured,
            celsius=celsius,
        )
        return self.do(pitching.pitch_brew, ask, ago)["brew"]

    def log(
        self, brew: int, ago: float, *, ph: float | None = None, instrument: str = "meter", celsius: float | None = None
    ) -> None:
        """Log a reading."""
        self.do(readings.log_reading, LogReading(brew_id=brew, ph=ph, instrument=instrument, celsius=celsius), ago)

    def taste(self, brew: int, ago: float, **scores: int) -> None:
        """Log tastings by name."""
        for name, score in scores.items():
            self.do(
                readings.log_tasting,
                LogTasting(brew_id=brew, taster_id={"odile": ODILE, "bram": BRAM}[name], score=score),
                ago,
            )

    def look(self, brew: int, ago: float, surface: str) -> None:
        """Log a look."""
        self.do(readings.log_look, LogLook(brew_id=brew, surface=surface), ago)

    def reserve(self, brew: int, ago: float, litres: float, ph: float | None = None) -> int:
        """Set starter aside."""
        return self.do(harvest.reserve_starter, ReserveStarter(brew_id=brew, litres=litres, ph=ph), ago)["lot"]

    def bottles(
        self,
        brew: int,
        ago: float,
        count: int,
        flavour: str,
        *,
        kind: str = "swing-top",
        volume: float | None = None,
        grams: float = 0.0,
        sugar: float = 0.0,
        note: str = "",
        cold: bool = False,
        place: int | None = None,
    ) -> list[int]:
        """Fill bottles; gives their numbers."""
        size = volume or BOTTLES[kind].volume_ml
        if note in self.kept:
            return self._by_name(brew, ago, count, note, kind, size, sugar, cold, place)
        ask = FillBottles(
            brew_id=brew,
            kind=kind,
            count=count,
            volume_ml=size,
            flavour=flavour,
            flavour_g_per_l=grams,
            sugar_g_per_l=sugar,
            headspace_fraction=BOTTLES[kind].headspace_fraction(2.5, size),
            note=note,
            cold=cold,
            place_id=place,
        )
        return self._filled(self.do(filling.fill_bottles, ask, ago)["bottling"])

    def _by_name(
        self, brew: int, ago: float, count: int, name: str, kind: str, size: float, sugar: float, cold: bool, place: int | None
    ) -> list[int]:
        """Fill bottles with a flavour kept by name."""
        with self.database.writer() as session, session.begin():
            number = type_of(session, kind, size).id
            card = card_of(session, queries.get(session, Flavour, self.kept[name]))
        head = BOTTLES[kind].headspace_fraction(2.5, size)
        found = Filling(
            kind=kind, headspace_fraction=head, flavour=card.colour, made_of=card.poured, sugar_g_per_l=sugar, cold=cold, place_id=place
        )
        boxes = tuple(Box(number, head, tester=count > 2 and i == 0) for i in range(count))
        group = Group(filling=found, boxes=boxes, name=name, flavour_id=self.kept[name], wish="lively")
        return self._filled(self.do(filling.fill_plan, FillPlan(brew_id=brew, groups=(group,)), ago)["bottling"])

    def _filled(self, group: int) -> list[int]:
        """Return the numbers of the bottles of a filling."""
        with self.database.reader() as session:
            return [
                b.id for b in queries.bottles(session, BottleState.WARM, BottleState.COLD) if b.bottling_id == group
            ]

    def end(self, brew: int, ago: float) -> int | None:
        """End a harvest; gives the new disc."""
        return self.do(harvest.end_brew, EndBrew(brew_id=brew), ago).get("disc")

    def chill(self, bottles: list[int], ago: float) -> None:
        """Put bottles into the cold."""
        self.do(cellar.chill_bottles, MoveBottles(bottle_ids=tuple(bottles)), ago)

    def open(self, bottle: int, ago: float, hiss: int, taste: str) -> None:
        """Open a bottle."""
        self.do(cellar.open_bottle, OpenBottle(bottle_id=bottle, hiss=hiss, taste=taste), ago)
