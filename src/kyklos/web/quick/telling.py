"""What a quick line was understood as, in words of the household's units, and what must still be chosen."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from flask import g

from ...actions.brewing import LogLook, LogReading, LogTasting
from ...actions.happenings import LEAVES
from ...actions.quick import SaveQuick
from ...core.facts import INSTRUMENTS
from ...core.kinds import MeasuredBy
from ...core.observations import OBSERVATIONS
from ...core.quick_amounts import Amount
from ...core.quick_line import understand
from ...core.quick_said import Context, Named, Quick
from ...core.taste import score_word
from ...store import queries
from ...store.models import Brew
from .. import units
from ..acting import in_units
from ..words import clock_word


@dataclass(frozen=True, slots=True)
class Told:
    """A line as it was understood."""

    line: str
    quick: Quick
    brew: Brew | None
    choices: tuple[Brew, ...]  #: Brews that may be meant; empty when it is clear.
    tasters: tuple[Named, ...]  #: Who may have tasted; empty when it is clear.
    says: tuple[str, ...]

    @property
    def ready(self) -> bool:
        """Whether Enter saves it."""
        return self.brew is not None and not self.tasters and not self.quick.empty


def context_of(brews: list[Brew]) -> Context:
    """Return what a line is read against: living brews by vessel and line, tasters, the local time."""
    vessels = tuple(
        Named(b.id, b.vessel.name, (b.culture.name, "jun") if b.honey_share >= 0.5 else (b.culture.name,))
        for b in brews
    )
    tasters = tuple(Named(t.id, t.name) for t in queries.tasters_of(g.session))
    local = g.now.astimezone(ZoneInfo(g.household.zone)).replace(tzinfo=None)
    return Context(vessels, tasters, local, g.units == "us")


def _numbers(q: Quick) -> list[str]:
    out = []
    if q.ph is not None:
        by = INSTRUMENTS[q.instrument or usual_instrument()].name.lower()
        out.append(f"pH {q.ph:g}, {by}")
    if q.celsius is not None:
        out.append(units.words(q.celsius, "temperature", g.units))
    if q.low_c is not None and q.high_c is not None:
        ends = [units.words(c, "temperature", g.units) for c in (q.low_c, q.high_c)]
        out.append(f"lowest {ends[0]}, highest {ends[1]}")
    if q.gravity is not None:
        out.append(f"gravity {q.gravity:.3f}{', ' + q.gravity_by if q.gravity_by else ''}")
    if q.ta_g_per_l is not None:
        out.append(f"acidity {in_units(q.ta_g_per_l, 'acidity')}")
    return out


def _words(q: Quick) -> tuple[str, ...]:
    out = _numbers(q)
    out += [f"{taster.name + ': ' if taster else ''}{score_word(score)}" for taster, score in q.tastes]
    out += [OBSERVATIONS[key].name for key in (q.surface, *q.signs) if key]
    out += [f"smells of {OBSERVATIONS[q.smell].name.lower()}"] if q.smell else []
    out += [f"sample from the {q.depth}"] if q.depth else []
    out += [_amount_words(one) for one in q.amounts]
    if q.at is not None:
        out.append(clock_word(_utc(q.at), g.now, g.household.zone))
    out += [f"note: {q.note}"] if q.note else []
    return tuple(out)


def _amount_words(one: Amount) -> str:
    litres = units.words(one.litres, "volume", g.units)
    return f"{litres} of {one.what} put in" if one.put else f"{litres} {LEAVES[one.what][1]}"


def _utc(local: datetime) -> datetime:
    from datetime import UTC

    return local.replace(tzinfo=ZoneInfo(g.household.zone)).astimezone(UTC)


def usual_instrument() -> str:
    """Return what this household reads pH with when a line does not."""
    kinds = [row.kind for row in queries.instruments(g.session) if row.kind in {MeasuredBy.METER, MeasuredBy.STRIP}]
    return "meter" if "meter" in kinds or not kinds else "strip"


def tell(line: str, chosen: int | None, here: int | None, taster: int | None) -> Told:
    """Understand a line.

    Args:
        line: As typed.
        chosen: The brew chosen where more than one was meant.
        here: The brew of the page that one is on; meant when the line names none.
        taster: Who tasted, where the line does not say.
    """
    brews = queries.standing_brews(g.session)
    by_number = {b.id: b for b in brews}
    quick = understand(line, context_of(brews))
    meant = [by_number[n.key] for n in quick.vessels]
    brew = meant[0] if len(meant) == 1 else by_number.get(chosen or 0)
    if brew is None and not meant:
        brew = by_number.get(here or 0) or (brews[0] if len(brews) == 1 else None)
    choices = () if brew is not None and len(meant) <= 1 else tuple(meant or brews)
    known = tuple(Named(t.id, t.name) for t in queries.tasters_of(g.session))
    if taster is not None and (who := next((t for t in known if t.key == taster), None)) is not None:
        quick.tastes = [(t or who, score) for t, score in quick.tastes]
    nameless = any(t is None for t, _ in quick.tastes)
    return Told(line, quick, brew, choices, known if nameless else (), _words(quick))


def saved_as(told: Told) -> SaveQuick:
    """Turn a line that is clear into what is written."""
    q, brew = told.quick, told.brew
    assert brew is not None
    at = _utc(q.at) if q.at is not None else None
    key = q.instrument or usual_instrument()
    reading = LogReading(
        brew_id=brew.id,
        ph=q.ph,
        instrument=key,
        instrument_id=_tool(key, q),
        celsius=q.celsius,
        low_c=q.low_c,
        high_c=q.high_c,
        gravity=q.gravity,
        gravity_by=q.gravity_by,
        ta_g_per_l=q.ta_g_per_l,
        depth=q.depth,
        at=at,
        sure=True,
    )
    return SaveQuick(
        brew_id=brew.id,
        reading=reading if q.measured else None,
        tastings=tuple(
            LogTasting(brew_id=brew.id, taster_id=t.key, score=s, at=at) for t, s in q.tastes if t is not None
        ),
        look=LogLook(brew_id=brew.id, surface=q.surface, signs=tuple(q.signs), smell=q.smell, at=at)
        if q.looked
        else None,
        amounts=tuple(q.amounts),
        note=q.note,
        at=at,
    )


def _tool(key: str, q: Quick) -> int | None:
    """Find the household's own instrument of that kind, if there is but one."""
    if q.ph is None:
        return None
    rows = [
        row.id
        for row in queries.instruments(g.session)
        if row.kind == (MeasuredBy.METER if key != MeasuredBy.STRIP else MeasuredBy.STRIP)
    ]
    return rows[0] if len(rows) == 1 and key in {"meter", "strip"} else None
