"""A sheet for a second opinion: what was seen, measured and judged of a brew, with nothing private on it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ....core.base.facts import INSTRUMENTS
from ....core.base.saying import day_of, spoken
from ....core.judging.observations import Reason
from ....core.liquid.taste import is_jun
from ....store.read import moments
from ....store.records import Photo
from ...kit.acting import in_units
from ...kit.stops import Stop
from ...kit.words import ph_word

MOST_PHOTOS = 4


@dataclass(frozen=True, slots=True)
class Opinion:
    """What goes on the sheet."""

    title: str
    facts: tuple[str, ...]
    verdict: str
    reasons: tuple[Reason, ...]
    readings: tuple[str, ...]
    looks: tuple[str, ...]
    photos: tuple[Photo, ...]
    day_of: dict[int, str]


def opinion_of(stop: Stop) -> Opinion:
    """Put a sheet together: days since the pitch and no dates, no names of people or places."""
    brew, facts = stop.brew, stop.facts
    photos = tuple(p for p in brew.photos if not p.struck)[-MOST_PHOTOS:]
    looks = []
    for look in facts.looks:
        rows = [seen.name for seen in look.seen]
        looks.append(f"Day {day_of(look.day)}: {'; '.join(rows).lower()}.")
    return Opinion(
        title=f"{'Jun' if is_jun(brew.honey_share) else 'Kombucha'}, day {day_of(stop.day)}",
        facts=(
            f"{in_units(brew.started_l, 'volume')} in {brew.vessel.material}, {stop.style}, {in_units(brew.leaf_g_per_l, 'strength')} leaf, {in_units(brew.sugar_g_per_l, 'strength')} sugars.",
            f"{brew.starter_fraction * 100:.0f} % starter of {ph_word(brew.starter_ph, brew.starter_instrument)}"
            + (", estimated." if brew.starter_instrument == "estimate" else "."),
            f"It stood at {in_units(facts.mean_c, 'temperature')} on the whole, now at {in_units(facts.now_c, 'temperature')}.",
        ),
        verdict=stop.verdict.word,
        reasons=tuple(replace(r, sentence=spoken(r.sentence, in_units)) for r in stop.verdict.reasons),
        readings=tuple(f"Day {day_of(r.day)}: {ph_word(r.ph, r.instrument)}, {INSTRUMENTS[r.instrument].name.lower()}" for r in facts.ph),
        looks=tuple(looks),
        photos=photos,
        day_of={p.id: f"Day {day_of(max(0.0, moments.days_between(brew.pitched_at, p.at)))}" for p in photos},
    )
