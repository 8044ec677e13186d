"""How a brew began: what was planned beside what was done, where both are known."""

from __future__ import annotations

from dataclasses import dataclass

from flask import g

from ...store.records import Brew
from . import units


@dataclass(frozen=True, slots=True)
class BeganRow:
    """One amount, planned and done."""

    name: str
    planned: str
    done: str
    differs: bool


def _row(name: str, kind: str, planned: float | None, done: float | None) -> BeganRow | None:
    if planned is None and done is None:
        return None
    words = ["" if value is None else units.words(value, kind, g.units) for value in (planned, done)]
    differs = planned is not None and done is not None and abs(done - planned) > 0.02 * max(abs(planned), 0.1)
    return BeganRow(name, words[0], words[1], differs)


def began_rows(brew: Brew) -> list[BeganRow]:
    """List amounts, temperatures and pH as planned and as done; what nobody logged stays open."""
    plan, done = brew.plan, brew.facts.get("done", {})
    first = next((r for r in brew.readings if not r.struck and r.at <= brew.pitched_at), None)
    sweet = plan.get("sugar_g", 0.0) + plan.get("honey_g", 0.0) if "sugar_g" in plan else None
    sugar, honey = done.get("sugar_g"), done.get("honey_g")
    taken = None if sugar is None and honey is None else (sugar or 0.0) + (honey or 0.0)
    starter = brew.facts.get("starter", {})
    poured = [float(v) for k, v in starter.items() if k.startswith("starter_l-") and isinstance(v, int | float)]
    planned_l = plan.get("starter_ml")
    rows = (
        _row("Volume", "volume", plan.get("final_l"), brew.started_l),
        _row("Leaf", "mass", plan.get("leaf_g"), done.get("leaf_g")),
        _row("Steep, min", "number", plan.get("steep_minutes"), done.get("steep_minutes")),
        _row("Sweetener", "mass", sweet, taken),
        _row("Starter", "volume", None if planned_l is None else planned_l / 1000, sum(poured) if poured else None),
        _row("Mix", "temperature", plan.get("mix_c"), first.celsius if first and first.celsius else done.get("mix_c")),
        _row("Starting pH", "ph", plan.get("start_ph"), first.ph if first else None),
    )
    return [row for row in rows if row is not None]
