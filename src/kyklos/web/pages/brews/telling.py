"""What a brew's page tells besides its curve: what the last reading changed, why it is slow, how two share it, its photos."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

from flask import g

from ....core.base.facts import INSTRUMENTS
from ....core.base.kinds import SeenKind
from ....core.cultures.growth import Slot, slots
from ....core.forecast import Forecast, ForecastAsk, Observation, compromise, forecast, hindsight
from ....core.forecast.answer import AT_ODDS
from ....core.judging.diagnosis import Evidence, Finding, diagnose, unknown_yet
from ....core.judging.overrule import towards_risk
from ....core.liquid.taste import score_word
from ....reckon.forecast import forecasting
from ....reckon.judging import attention, verdicts
from ....reckon.judging.evidence import asks_warmth, evidence_of
from ....store.read import moments, warmth_queries
from ....store.records import Overrule, Photo, TemperatureLog
from ...kit import units
from ...kit.acting import in_units
from ...kit.first_names import joined
from ...kit.stops import Stop
from ...kit.words import day_word, span_word


@dataclass(frozen=True, slots=True)
class Telling:
    """What the page tells."""

    changed: str
    aside: tuple[str, ...]  #: Readings that do not count, in words.
    at_odds: bool
    asks_warmth: str  #: Why its warmth is asked for; empty: it is not.
    evidence: Evidence
    findings: Sequence[Finding]
    asks: Sequence[str]
    parts: Sequence[str]
    sooner: str
    uses: Sequence[tuple[str, str, str]]
    growth: Sequence[Slot[Photo]]
    photos: Sequence[Photo]
    own: Overrule | None
    own_counts: bool
    own_risky: bool
    computed: str
    logs: Sequence[TemperatureLog]


def _seen_words(seen: Observation) -> str:
    if seen.kind == SeenKind.PH:
        return f"The last reading, pH {seen.value:g} by {INSTRUMENTS[seen.instrument].name.lower()},"
    if seen.kind == SeenKind.TASTE:
        return f"{seen.taster}’s last taste, {score_word(seen.value)},"
    return "The last titration" if seen.kind == SeenKind.TA else "The last gravity"


def changed_words(ask: ForecastAsk, out: Forecast) -> str:
    """Return, in a sentence, what the last reading or taste did to the first taster's window."""
    before = hindsight.without_last(ask)
    if before is None:
        return ""
    moved = hindsight.moved(forecast(before[0]), out)
    if not moved:
        return f"{_seen_words(before[1])} left it open when it is right."
    name, first = next(iter(moved.items()))
    if first.shift:
        way = "nearer" if first.shift > 0 else "further off"
        text = f"{_seen_words(before[1])} brought {name}’s day {span_word(first.shift)} {way}"
    else:
        text = f"{_seen_words(before[1])} did not change the forecast"
    if first.narrowed:
        way = "narrower" if first.narrowed > 0 else "wider"
        text += f" and made its window {span_word(first.narrowed)} {way}"
    return text + "."


def _parts(stop: Stop, ask: ForecastAsk) -> tuple[list[str], str]:
    """Return how two tasters with different windows share it."""
    shared = attention.shared_by(g.session, stop, ask)
    if shared is None:
        return [], ""
    if len(shared.parts) == 1:
        meet = day_word(stop.brew.pitched_at + timedelta(days=shared.parts[0].day), g.now, g.household.zone)
        return [f"{meet} suits {joined([name for name, _ in stop.points])}"], ""
    out = []
    for number, part in enumerate(shared.parts):
        when = stop.brew.pitched_at + timedelta(days=part.day)
        near = day_word(max(when, g.now), g.now, g.household.zone)
        amount = units.words(part.litres, "volume", g.units)
        verb = "Bottle" if number == 0 else "the rest,"
        out.append(f"{verb} {amount} {near} for {joined(list(part.tasters))}")
    sooner = (
        f"The rest stands shallower, and is right {span_word(shared.sooner_days)} sooner for it."
        if shared.sooner_days >= compromise.LEAST_SOONER
        else ""
    )
    return out, sooner


def _uses(stop: Stop) -> list[tuple[str, str, str]]:
    found = attention.uses_of(stop)
    values = {
        "starter": "starts up to {} of new brew",
        "dilute": "with {} of water or juice",
        "vinegar": "up to {}",
        "hotel": "about {}",
    }
    return [(use.name, values[use.key].format(units.words(use.litres, "volume", g.units)), use.says) for use in found]


def findings_of(stop: Stop) -> list[Finding]:
    """Return what the evidence speaks for."""
    ask = forecasting.forecast_ask_of(g.session, stop.brew)
    return diagnose(evidence_of(ask, stop.brew, stop.facts, stop.now))


ASIDE_NAMES = {"ph": "pH {:g}", "ta": "acidity {}", "gravity": "gravity {:.3f}", "taste": "taste {:+g}"}


def _aside_words(seen: Observation, stop: Stop) -> str:
    """Name a reading that was set aside: what it said, and when."""
    at = stop.brew.pitched_at + timedelta(days=seen.day)
    value = in_units(seen.value, "acidity") if seen.kind == SeenKind.TA else seen.value
    return f"{ASIDE_NAMES[seen.kind].format(value)} of {day_word(at, g.now, g.household.zone)}"


def _asks_warmth(off: float) -> str:
    """Return in words why a brew's warmth is asked for. [pH]"""
    if off == 0:
        return ""
    return f"It is {'less sour' if off > 0 else 'sourer'} than foretold. {'A colder' if off > 0 else 'A warmer'} spot would explain it."


def telling_of(stop: Stop) -> Telling:
    """Put together what a brew's page tells."""
    brew = stop.brew
    ask = forecasting.forecast_ask_of(g.session, brew)
    evidence = evidence_of(ask, brew, stop.facts, g.now)
    found = diagnose(evidence)
    odd = evidence.pace in {"slow", "stuck"} or evidence.pace_against_warm in {"slow", "stuck"}
    photos = [p for p in brew.photos if not p.struck]
    shown = [(moments.days_between(brew.pitched_at, p.at), p) for p in photos]
    growth = slots(shown, stop.day)
    own = next((row for row in reversed(brew.overrules) if not row.struck), None)
    parts, sooner = _parts(stop, ask)
    computed = verdicts.computed_of(brew, stop.facts).word
    return Telling(
        changed=changed_words(ask, stop.forecast),
        at_odds=stop.forecast.contradicted >= AT_ODDS,
        asks_warmth=_asks_warmth(asks_warmth(ask, brew)),
        aside=tuple(_aside_words(seen, stop) for seen in stop.forecast.aside),
        evidence=evidence,
        findings=[] if stop.forecast.aside else found,  # what a wrong reading would explain is left out
        asks=unknown_yet(evidence) if odd and not found and not stop.forecast.aside else [],
        parts=parts,
        sooner=sooner,
        uses=_uses(stop),
        growth=growth,
        photos=[p for p in photos if all(slot.photo is not p for slot in growth)][-3:],
        own=own,
        own_counts=own is not None and stop.verdict.word == own.word,
        own_risky=own is not None and towards_risk(own.word, own.was),
        computed=computed,
        logs=[log for log in warmth_queries.logs_of(g.session, brew) if log.brew_id == brew.id and log.device_id is None],
    )
