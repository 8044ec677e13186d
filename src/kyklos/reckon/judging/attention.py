"""What a living brew needs now: its verdict, forecast and due things, and what of them is put off."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from ...core.base.kinds import NOT_DRUNK, BrewStatus
from ...core.brewing import KINDS, salvage
from ...core.brewing.salvage import Use
from ...core.forecast import Forecast, ForecastAsk, compromise
from ...core.forecast.compromise import Compromise
from ...core.judging import BrewFacts, Due, Verdict, dues
from ...core.judging.due import PEACE
from ...core.judging.observations import DISCARD, HOLD
from ...core.judging.watched import due_from
from ...store.file.session import context_of
from ...store.read import planning_queries
from ...store.read.lately import read_lately
from ...store.read.memory import remembered
from ...store.read.moments import HOURS_A_DAY, days_between
from ...store.read.recorded import standing_tastings
from ...store.records import Brew, PutOff
from ..forecast import forecasting, palates
from . import verdicts

Span = tuple[str, float, float]  #: Taster, from, to. [d since pitch]


@dataclass(frozen=True, slots=True)
class Attention:
    """All that is known of a living brew at a moment, and what it needs."""

    brew: Brew
    day: float  #: [d since pitch]
    facts: BrewFacts
    verdict: Verdict
    forecast: Forecast
    points: tuple[tuple[str, float], ...]  #: Where each taster likes it. [g/L]
    windows: tuple[Span, ...]
    due: Due  #: First of what it needs.
    also: tuple[Due, ...]
    waiting: tuple[tuple[Due, PutOff], ...]

    def tasted_within(self, hours: float, now: datetime) -> dict[int, int]:
        """Return what each taster last said within some hours: score by the taster's number."""
        since = now - timedelta(hours=hours)
        return {t.taster_id: t.score for t in standing_tastings(self.brew) if since <= t.at <= now}

    @property
    def lost(self) -> bool:
        """Whether it is to be discarded: then it has no window, no harvest day, and nobody bottles it."""
        return self.verdict.word == DISCARD

    @property
    def not_drunk(self) -> bool:
        """Whether nobody waits for its taste: a disc grows in it, or it is a trial."""
        return self.brew.kind in NOT_DRUNK

    @property
    def on_hold(self) -> bool:
        """Whether something must be settled first."""
        return self.verdict.word == HOLD or self.brew.status == BrewStatus.HELD

    @property
    def acidity(self) -> tuple[float, float, float]:
        """Now: low, likely, high. [g/L]"""
        return self.forecast.at(self.forecast.ta_g_per_l, self.day)


def windows_of(out: Forecast) -> tuple[Span, ...]:
    """List windows that lie within the forecast."""
    return tuple((name, w.p10, w.p90) for name, w in out.ready.items() if w.p10 is not None and w.p90 is not None)


def tasted_days(brew: Brew) -> list[float]:
    """List when a brew was tasted. [d since pitch]"""
    return [days_between(brew.pitched_at, t.at) for t in standing_tastings(brew)]


def put_off_now(session: Session, now: datetime) -> dict[str, PutOff]:
    """Return what is put off, by what it is; asked once a page."""
    answers = context_of(session).answers
    if "put_off" not in answers:
        answers["put_off"] = {row.what: row for row in planning_queries.waiting(session, now)}
    found: dict[str, PutOff] = answers["put_off"]
    return found


def sorted_out(
    key: str, wants: tuple[Due, ...], off: dict[str, PutOff]
) -> tuple[list[Due], tuple[tuple[Due, PutOff], ...]]:
    """Part what a thing needs now from what is put off; what cannot wait is never put off.

    Args:
        key: Of the thing, like brew-7.
        wants: All that is due.
        off: What is put off.
    """
    now_list, waiting = [], []
    for due in wants:
        row = off.get(f"{key}-{due.kind}")
        if row is not None and due.can_wait and not due.urgent:
            waiting.append((due, row))
        else:
            now_list.append(due)
    return now_list, tuple(waiting)


def attention_of(session: Session, brew: Brew, now: datetime) -> Attention:
    """Put together all that is known of a living brew, and what it needs."""
    read_lately(session, (brew,))
    seen = verdicts.watched_of(brew, now)
    facts = verdicts.facts_of(brew, now, seen)
    out = forecasting.forecast_of(session, brew)
    verdict = verdicts.verdict_of(brew, now, facts)
    points = tuple((p.taster, p.ta_g_per_l) for p in palates.points_of(session, brew.honey_share))
    wants = dues(due_from(seen, facts, verdict, out, [ta for _, ta in points]))
    wanting, waiting = sorted_out(f"brew-{brew.id}", wants, put_off_now(session, now))
    return Attention(
        brew=brew,
        day=facts.day,
        facts=facts,
        verdict=verdict,
        forecast=out,
        points=points,
        windows=() if verdict.word == DISCARD or brew.kind in NOT_DRUNK else windows_of(out),
        due=wanting[0] if wanting else PEACE,
        also=tuple(wanting[1:]),
        waiting=waiting,
    )


def shared_by(session: Session, known: Attention, ask: ForecastAsk) -> Compromise | None:
    """Plan how its tasters share a brew, as of the hour; None where there is nothing to share or to wait for."""
    brew = known.brew
    if len(known.points) < 2 or KINDS[brew.kind].watch or brew.runs or known.lost or known.on_hold:
        return None
    litres = known.brew.left_l * compromise.BOTTLED_SHARE
    shared = remembered(
        session,
        ("shared", known.brew.id, ask, int(known.day * HOURS_A_DAY)),
        lambda: compromise.plan(ask, known.forecast, known.day, litres),
    )
    if not shared.parts or (len(shared.parts) == 1 and shared.parts[0].day <= known.day):
        return None
    return shared


def uses_of(known: Attention) -> Sequence[Use]:
    """List other uses of a brew that grew too sour; none while it is not."""
    likely, point = known.acidity[1], max((ta for _, ta in known.points), default=0.0)
    return (
        salvage.uses(likely, known.brew.left_l, point) if salvage.is_called_for(known.due.kind, likely, point) else ()
    )
