"""A stop of the round: one vessel with its dial, sour line, words and what it wants now. Shared by round, brew, vessels."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session

from ..core import teas
from ..core.brew_kinds import KINDS
from ..core.cautions import Situation
from ..core.due import PEACE, Due, DueFacts, dues
from ..core.facts import limit
from ..core.forecast import Forecast, Window
from ..core.kinds import Diet, SeenKind
from ..core.observations import CARRY_ON, reasons_from
from ..core.safety import BrewFacts, Verdict
from ..core.sweet_tea import amounts
from ..drawing.curve import Curve, CurveFacts, curve
from ..drawing.dial import Dial, DialFacts, dial
from ..drawing.sour_line import SourLine, sour_line
from ..reckon import forecasting, judging, palates
from ..store import queries
from ..store.models import Brew, Household, PutOff, Vessel
from ..store.read import moments, recorded
from ..store.session import context_of
from .words import span_word, window_word


@dataclass(frozen=True, slots=True)
class Stop:
    """What a page shows of a living brew."""

    brew: Brew
    now: datetime
    day: float
    dial: Dial
    line: SourLine
    due: Due
    also: tuple[Due, ...]
    waiting: tuple[tuple[Due, PutOff], ...]
    verdict: Verdict
    forecast: Forecast
    facts: BrewFacts
    ready_words: str
    moves_words: str
    measured: bool
    style: str
    points: tuple[tuple[str, float], ...]
    windows: tuple[tuple[str, float, float], ...]


def windows_of(out: Forecast) -> tuple[tuple[str, float, float], ...]:
    """List windows that lie within the forecast: taster, from, to. [d]"""
    return tuple((name, w.p10, w.p90) for name, w in out.ready.items() if w.p10 is not None and w.p90 is not None)


def joined(names: list[str]) -> str:
    """Join names in words."""
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]


def _ready_words(brew: Brew, out: Forecast, now: datetime, zone: str) -> str:
    """Say when it is right for whom; tasters with the same window share a sentence."""
    together: dict[Window, list[str]] = {}
    for name, window in out.ready.items():
        together.setdefault(window, []).append(name)
    parts = []
    for window, names in together.items():
        when = window_word(brew.pitched_at, window, now, zone)
        past = when.startswith("was ")
        parts.append(f"Was right for {joined(names)} {when[4:]}" if past else f"Right for {joined(names)} {when}")
    return ". ".join(parts) + "."


def _moves(out: Forecast, day: float) -> str:
    first = next(iter(out.ready.values()))
    if not out.days_per_kelvin or out.days_per_kelvin <= 0.05 or first.p50 is None or first.p50 < day:
        return ""
    return f"Each degree warmer brings it {span_word(out.days_per_kelvin)} nearer."


def _due_facts(brew: Brew, facts: BrewFacts, verdict: Verdict, out: Forecast, points: list[float]) -> DueFacts:
    windows = windows_of(out)
    tastes = [moments.days_between(brew.pitched_at, t.at) for t in brew.tastings if not t.struck]
    return DueFacts(
        status=brew.status,
        diet=Diet.JUN if brew.honey_share >= 0.5 else Diet.SUGAR,
        day=facts.day,
        mean_c=facts.mean_c,
        verdict=verdict,
        measures_ph=bool(facts.ph),
        last_ph_day=facts.ph[-1].day if facts.ph else None,
        last_ph=facts.ph[-1].ph if facts.ph else None,
        last_taste_day=max(tastes) if tastes else None,
        last_look_day=facts.looks[-1].day if facts.looks else None,
        ready_from=min((w[1] for w in windows), default=None),
        ready_to=max((w[2] for w in windows), default=None),
        watch=KINDS[brew.kind].watch,
        kind=brew.kind,
        reach=brew.vessel.place.reach,
        labelled=brew.labelled_at is not None,
        dry_disc=bool(facts.looks) and "lifted" in facts.looks[-1].signs,
        look_verdict=_last_look_word(facts),
        sourness=out.at(out.ta_g_per_l, facts.day)[1] / max(points) if points else None,
    )


def _last_look_word(facts: BrewFacts) -> str:
    """Say what the last look came to, by itself."""
    reasons = reasons_from(facts.looks)
    return reasons[0].verdict if reasons else CARRY_ON


def _sorted_out(
    brew: Brew, wants: tuple[Due, ...], off: dict[str, PutOff]
) -> tuple[list[Due], tuple[tuple[Due, PutOff], ...]]:
    """Part what a brew wants now from what is put off; what cannot wait is never put off."""
    now_list, waiting = [], []
    for due in wants:
        row = off.get(f"brew-{brew.id}-{due.kind}")
        if row is not None and due.can_wait and not due.urgent:
            waiting.append((due, row))
        else:
            now_list.append(due)
    return now_list, tuple(waiting)


def _dial_of(brew: Brew, facts: BrewFacts, out: Forecast) -> Dial:
    acidity = out.at(out.ta_g_per_l, facts.day)[1]
    tastes = [moments.days_between(brew.pitched_at, t.at) for t in brew.tastings if not t.struck]
    return dial(
        DialFacts(
            day=facts.day,
            measured=tuple(r.day for r in facts.ph),
            tasted=tuple(tastes),
            windows=windows_of(out),
            surface=facts.looks[-1].surface if facts.looks else "bare",
            tea=teas.main_of(teas.from_text(brew.tea)),
            sourness=acidity / 8,
            material=brew.vessel.material,
            seed=brew.id,
        )
    )


def put_off_now(session: Session, now: datetime) -> dict[str, PutOff]:
    """Give what is put off by what it is; asked once a session."""
    answers = context_of(session).answers
    if "put_off" not in answers:
        answers["put_off"] = {row.what: row for row in queries.waiting(session, now)}
    found: dict[str, PutOff] = answers["put_off"]
    return found


def stop_of(session: Session, brew: Brew, now: datetime, house: Household) -> Stop:
    """Put together all that is shown of a living brew."""
    facts = judging.facts_of(brew, now)
    out = forecasting.forecast_of(session, brew)
    verdict = judging.verdict_of(brew, now, facts)
    points = tuple((p.taster, p.ta_g_per_l) for p in palates.points_of(session, brew.honey_share))
    acidity = out.at(out.ta_g_per_l, facts.day)
    wants = dues(_due_facts(brew, facts, verdict, out, [ta for _, ta in points]))
    wanting, waiting = _sorted_out(brew, wants, put_off_now(session, now))
    return Stop(
        brew=brew,
        now=now,
        day=facts.day,
        dial=_dial_of(brew, facts, out),
        line=sour_line(acidity, out.at(out.ta_g_per_l, facts.day + 3)[1], points),
        due=wanting[0] if wanting else PEACE,
        also=tuple(wanting[1:]),
        waiting=waiting,
        verdict=verdict,
        forecast=out,
        facts=facts,
        ready_words=_ready_words(brew, out, now, house.zone),
        moves_words=_moves(out, facts.day),
        measured=verdict.measured,
        style=(brew.base or teas.name_of(teas.from_text(brew.tea))).lower()
        + (", honey" if brew.honey_share >= 0.99 else ", part honey" if brew.honey_share > 0 else ""),
        points=points,
        windows=windows_of(out),
    )


def empty_dial(vessel: Vessel) -> Dial:
    """Draw a vessel with nothing in it."""
    return dial(DialFacts(material=vessel.material, seed=vessel.id))


def curve_of(stop: Stop, then: Forecast | None = None) -> Curve:
    """Draw a brew's curve, and another future beside it."""
    brew, out = stop.brew, stop.forecast
    tastings = [
        (moments.days_between(brew.pitched_at, t.at), t.taster.name, t.score) for t in brew.tastings if not t.struck
    ]
    return curve(
        CurveFacts(
            day=out.day,
            low=out.ph.p10,
            likely=out.ph.p50,
            high=out.ph.p90,
            today=stop.day,
            readings=[(o.day, o.value, o.spread) for o in recorded.measured(brew) if o.kind == SeenKind.PH],
            tastings=tastings,
            windows=stop.windows,
            gate_day=limit("safe_by_day"),
            gate_ph=limit("safe_ph"),
            other=then.ph.p50 if then is not None else None,
            other_windows=windows_of(then) if then is not None else (),
        )
    )


def situation_of(stop: Stop, moment: str, **more: Any) -> Situation:
    """Say what cautions read of a living brew."""
    brew = stop.brew
    made = amounts(recorded.recipe_of(brew), brew.started_l)
    return Situation(
        moment=moment,
        material=brew.vessel.material,
        honey=brew.honey_share > 0,
        measured=stop.measured,
        starter_fraction=brew.starter_fraction,
        caffeine_mg_per_l=made.caffeine_mg_per_l,
        abv_high=stop.forecast.at(stop.forecast.abv_percent, stop.day)[2],
        **more,
    )


def day_of(brew: Brew, day: float) -> datetime:
    """Turn a day since the pitch into a moment."""
    return brew.pitched_at + timedelta(days=day)
