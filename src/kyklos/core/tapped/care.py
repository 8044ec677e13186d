"""The care of a tapped vessel: what its tap is made of, what is done to it, and what is due when."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..judging import Due
from .vessel import CLEAN_DAYS, SEDIMENT_SHARE, THIN_AT_MM, THIN_SHARE

#: What a tap is made of: name, whether it may stay in the acid, and why.
TAPS: Mapping[str, tuple[str, bool, str]] = {
    "stainless": ("Stainless steel", True, "Right for acid."),
    "plastic": ("Food-grade plastic", True, "Fine; renew it when it is scratched or clouded."),
    "wood": ("Wood", True, "Holds mould in its grain: take it apart and dry it more often."),
    "brass": ("Brass, or plated metal", False, "Acid takes metal out of it: change the tap before anything is filled in."),
    "unknown": ("Not known", False, "Scratch it where nobody sees: yellow under a bright skin is brass. Until then, change it."),
}
#: What is done to a tapped vessel, in words of the record.
CARE: Mapping[str, str] = {
    "tested": "tap and washer tried with water",
    "cover": "fresh cover",
    "tap": "tap taken apart and cleaned",
    "sediment": "sediment taken out",
    "thinned": "discs thinned",
    "gauge": "temperature read at its gauge",
    "rested": "rests",
    "paused": "paused",
    "resumed": "goes on",
}
COVER_DAYS, TAP_DAYS = 30.0, 90.0  #: A fresh cover each month, the tap apart each season (usual practice). [d]
GAUGE_FIRST_WEEK_DAYS, GAUGE_DAYS = 1.0, 30.0  #: The gauge daily at first, then monthly. [d]
FIRST_WEEK = 7.0  #: [d]
GAUGE_OFF_K = 3.0  #: A heater that is so far off its set point may be failing (assumed). [K]
FORGOTTEN_DAYS = 14.0  #: Nobody drew for so long. [d]
AFTER_FIRST = 3  #: So many toppings up are measured afterwards at first. [-]
AFTER_HALF = 0.5  #: And each that followed a draw of more than so much. [-]


@dataclass(frozen=True, slots=True, kw_only=True)
class CareFacts:
    """What decides about a tapped vessel's care; days are counted back from now."""

    running_days: float  #: Since its first fill. [d]
    since: Mapping[str, float]  #: By a key of CARE: when it was last done. [d]
    drawn_days: float | None = None  #: Since the last draw; None: never. [d]
    topped_days: float | None = None  #: Since it was last topped up; None: never. [d]
    topped_times: int = 0
    ph_since: bool = False  #: A pH was measured since it was last topped up.
    drew_more_than_half: bool = False  #: Before it was last topped up.
    measures_ph: bool = False  #: This household reads pH.
    missing_share: float = 0.0  #: Of its line: drawn and not topped up yet. [-]
    ripe: bool = False  #: Somebody likes it now, and something may be drawn.
    too_sour: bool = False  #: For everybody.
    stack_mm: float = 0.0  #: [mm]
    stack_share: float = 0.0  #: Of the vessel that its discs take. [-]
    sediment_share: float = 0.0  #: [-]
    gauge_c: float | None = None  #: As last read. [degC]
    heater_c: float | None = None  #: Its set point; None: no heater. [degC]
    new_season: bool = False  #: The gauge was last read in another season.
    paused: bool = False
    resting: bool = False  #: On hold by its pH after topping up.


def _again(facts: CareFacts, what: str, every_days: float) -> bool:
    """Return whether something was last done so long ago, its first fill counted as done."""
    return min(facts.since.get(what, facts.running_days), facts.running_days) >= every_days


def wants(f: CareFacts) -> tuple[Due, ...]:
    """List what a tapped vessel wants besides looks and tastings, most pressing first.

    A resting or paused one is not drawn from; sediment is never taken out on a day of topping up.

    Args:
        f: What decides.
    """
    out = []
    if not f.paused and not f.resting:
        out += _rhythm(f)
    first_week = f.running_days <= FIRST_WEEK
    every = GAUGE_FIRST_WEEK_DAYS if first_week else GAUGE_DAYS
    if (_again(f, "gauge", every - 0.2) or f.new_season) and not f.paused:
        why = "Daily in the first week, then monthly and when the season changes."
        out.append(Due("gauge", "Read its temperature", why))
    if f.heater_c is not None and f.gauge_c is not None and abs(f.gauge_c - f.heater_c) > GAUGE_OFF_K:
        out.append(Due("heater", "Look at its heater", _heater_words(f.gauge_c - f.heater_c)))
    if f.stack_mm >= THIN_AT_MM or f.stack_share >= THIN_SHARE:
        out.append(Due("thin", "Thin its discs", "They take room and air. Keep the youngest, about ⟦thickness:10⟧ of it."))
    topped_today = f.topped_days is not None and f.topped_days < 1.0
    if (f.sediment_share >= SEDIMENT_SHARE or _again(f, "sediment", CLEAN_DAYS)) and not topped_today:
        why = "Yeast has settled at the bottom: the taste goes bready, and alcohol rises. Not on a day of topping up."
        out.append(Due("sediment", "Take out its sediment", why))
    if _again(f, "tap", TAP_DAYS):
        out.append(Due("tap", "Take its tap apart and clean it", "Slime sits behind the washer, where nobody sees it."))
    if _again(f, "cover", COVER_DAYS):
        out.append(Due("cover", "Give it a fresh cover", "A month is long for a cloth: it goes damp, and flies find it."))
    return tuple(out)


def _heater_words(off_k: float) -> str:
    if off_k < 0:
        return "Its gauge stands well below what the heater is set to: is it plugged in, and does it touch the vessel?"
    return "Its gauge stands well above what the heater is set to. Just filled up cold, a heater overshoots for some hours; else it fails: unplug it."


def _rhythm(f: CareFacts) -> list[Due]:
    out = []
    if f.measures_ph and not f.ph_since and f.topped_days is not None and f.topped_days <= 2.0:
        if f.drew_more_than_half:
            out.append(Due("measure", "Measure it after topping up", "More than half was drawn: is it at pH 4.2 or lower?", True))
        elif f.topped_times <= AFTER_FIRST:
            out.append(Due("measure", "Measure it after topping up", "In the first weeks: at pH 4.2 or lower it is safe."))
    if f.missing_share > 0.03:
        why = "What was drawn is given back as sweet tea, as warm as what stands there; until then the surface only dries."
        out.append(Due("top-up", "Top it up", why))
    forgotten = f.drawn_days is None or f.drawn_days >= FORGOTTEN_DAYS
    if f.too_sour:
        why = "Small draws bring it back; what runs out is strong starter or vinegar." if forgotten else "A larger draw brings it back."
        out.append(Due("draw", "Draw it down, it is too sour", why))
    elif f.ripe:
        out.append(Due("draw", "Draw what is ready", "It is right now, and would only turn sour."))
    return out
