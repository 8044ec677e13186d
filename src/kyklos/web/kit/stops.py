"""A stop of the round: one vessel with its dial, sour line, words and what it wants now. Shared by round, brew, vessels."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from datetime import datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session

from ...core.base import limit
from ...core.base.kinds import DueKind, KindOfBrew, NextStep, Occasion, SeenKind
from ...core.brewing.pitch_check import Remedy
from ...core.forecast import Forecast
from ...core.judging import Situation
from ...core.judging.next_steps import NextSteps
from ...core.liquid import teas
from ...core.liquid.sweet_tea import amounts
from ...core.liquid.taste import is_all_honey, score_word
from ...drawing.curve import Curve, CurveFacts, curve
from ...drawing.dial import Dial, DialFacts, dial
from ...drawing.sour_line import SourLine, sour_line
from ...reckon.brewing.remedies import remedies_of
from ...reckon.forecast.forecasting import foretell_together
from ...reckon.judging.attention import Attention, attention_of, tasted_days, windows_of
from ...reckon.judging.next_steps import next_steps_of
from ...reckon.tapped import TappedStanding, standing_of
from ...reckon.tapped_ahead import with_care
from ...store.read import moments, recorded
from ...store.records import Brew, Household
from .first_names import called, called_by
from .right_words import right_words
from .tapped_words import lead
from .units import degree_k
from .words import span_word

LOOK_AHEAD_DAYS = 3.0  #: The sour line shows where a brew is going so far ahead. [d]
TASTED_TOGETHER_H = 2.0  #: Tastings so near belong together. [h]
FULL_COLOUR_G_PER_L = 8.0  #: Acidity at which the dial's liquor is at its palest. [g/L]


@dataclass(frozen=True, slots=True)
class Stop(Attention):
    """All that is known of a living brew, with its pictures and words."""

    now: datetime
    dial: Dial
    line: SourLine
    ready_words: str
    brief: str  #: The same in one short sentence.
    moves_words: str
    style: str
    steps: NextSteps
    remedies: tuple[Remedy, ...] = ()  #: Of a held brew.
    tapped: TappedStanding | None = None  #: Of a brew that runs in a tapped vessel.

    @property
    def measured(self) -> bool:
        """Whether its verdict rests on a measured pH."""
        return self.verdict.measured

    @property
    def just_tasted(self) -> dict[int, str]:
        """What tasters said just now, in words, by their numbers."""
        return {who: score_word(score) for who, score in self.tasted_within(TASTED_TOGETHER_H, self.now).items()}

    @property
    def right_for(self) -> list[str]:
        """Who said just now that it is right, while it may be harvested."""
        if self.not_drunk or self.lost or self.on_hold:
            return []
        said = self.tasted_within(TASTED_TOGETHER_H, self.now)
        names = {t.taster_id: t.taster.name for t in recorded.standing_tastings(self.brew)}
        return [names[who] for who, score in said.items() if score == 0]


def _ready_words(known: Attention, now: datetime, zone: str) -> str:
    """Return when it is right for whom; tasters with the same window share a sentence. On hold, what comes first is said first."""
    if known.lost:
        return "Not to be drunk: nothing to wait for."
    brew, out = known.brew, known.forecast
    if known.not_drunk:
        return "Not for drinking." if brew.kind == KindOfBrew.TRIAL else "Not for drinking: a SCOBY grows in it."
    if known.on_hold:
        return "On hold: settle that first."
    if out.stalled:
        return "Its last readings are all alike: it may be stuck. See what may be wrong."
    return right_words(out.ready, brew.pitched_at, now, zone)


def _brief(known: Attention, ready: str) -> str:
    """Return the one sentence that matters of a brew: what it needs where that is more than time, else when it is right."""
    return f"{known.due.what}." if known.due.kind == DueKind.SALVAGE else ready


def _moves(out: Forecast, day: float, degree_k: float) -> str:
    first = next(iter(out.ready.values()))
    if out.days_per_kelvin is None or not out.warmth_matters or first.p50 is None or first.p50 < day:
        return ""
    return f"Each degree warmer brings it {span_word(out.days_per_kelvin * degree_k)} nearer."


def _dial_of(known: Attention) -> Dial:
    brew, facts, out = known.brew, known.facts, known.forecast
    acidity = out.at(out.ta_g_per_l, facts.day)[1]
    return dial(
        DialFacts(
            day=facts.day,
            measured=tuple(r.day for r in facts.ph),
            tasted=tuple(tasted_days(brew)),
            windows=known.windows,
            surface=facts.looks[-1].surface if facts.looks else "bare",
            tea=teas.main_of(teas.from_text(brew.tea)),
            sourness=acidity / FULL_COLOUR_G_PER_L,
            material=brew.vessel.material,
            seed=brew.id,
        )
    )


def stops_of(session: Session, brews: Sequence[Brew], now: datetime, house: Household) -> list[Stop]:
    """Put together all that is shown of several living brews, foretold side by side."""
    foretell_together(session, brews)
    return [stop_of(session, brew, now, house) for brew in brews]


def stop_of(session: Session, brew: Brew, now: datetime, house: Household) -> Stop:
    """Put together all that is shown of a living brew."""
    known = attention_of(session, brew, now)
    tapped = None
    if brew.runs and brew.alive:
        tapped = standing_of(session, known, now)
        known = with_care(session, known, tapped)
    out, facts = known.forecast, known.facts
    steps = next_steps_of(known, tapped is not None and tapped.paused)
    ready = _ready_words(known, now, house.zone)
    told = None if tapped is None else lead(tapped, now, house.zone)
    return Stop(
        steps=steps,
        remedies=remedies_of(session, known) if NextStep.SOUR in {steps.main, *steps.others} else (),
        **{field.name: getattr(known, field.name) for field in fields(known)},
        now=now,
        dial=_dial_of(known),
        line=sour_line(known.acidity, out.at(out.ta_g_per_l, facts.day + LOOK_AHEAD_DAYS)[1], called(known.points)),
        ready_words=ready if told is None else told.says,
        brief=_brief(known, ready) if told is None else told.first.rstrip(".") + ".",
        tapped=tapped,
        moves_words=""
        if tapped is not None or known.lost or known.on_hold or known.not_drunk
        else _moves(out, facts.day, degree_k(house.units)),
        style=(brew.base or teas.name_of(teas.from_text(brew.tea))).lower()
        + (", honey" if is_all_honey(brew.honey_share) else ", part honey" if brew.honey_share > 0 else ""),
    )


def curve_of(stop: Stop, then: Forecast | None = None) -> Curve:
    """Draw a brew's curve, and another future beside it."""
    brew, out = stop.brew, stop.forecast
    tastings = [
        (moments.days_between(brew.pitched_at, t.at), t.taster.name, t.score) for t in recorded.standing_tastings(brew)
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
            windows=[(called_by(name), low, high) for name, low, high in stop.windows],
            gate_day=limit("safe_by_day"),
            gate_ph=limit("safe_ph"),
            other=then.ph.p50 if then is not None else None,
            other_windows=windows_of(then) if then is not None else (),
        )
    )


def situation_of(stop: Stop, moment: Occasion, **more: Any) -> Situation:
    """Return what cautions read of a living brew."""
    brew = stop.brew
    made = amounts(recorded.recipe_of(brew), brew.started_l)
    usual: dict[str, Any] = {
        "material": brew.vessel.material,
        "honey": brew.honey_share > 0,
        "measured": stop.measured,
        "caffeine_mg_per_l": made.caffeine_mg_per_l,
        "abv_high": stop.forecast.at(stop.forecast.abv_percent, stop.day)[2],
        "spoilt": stop.verdict.final,
    }
    return Situation(moment=moment, **(usual | more))


def day_of(brew: Brew, day: float) -> datetime:
    """Turn a day since the pitch into a moment."""
    return brew.pitched_at + timedelta(days=day)
