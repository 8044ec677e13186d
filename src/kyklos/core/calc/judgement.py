"""The question `judge`: is a brew all right, may it be bottled, is a trial fit to taste."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..base.facts import INSTRUMENTS
from ..base.kinds import KindOfBrew
from ..base.saying import in_si, spoken
from ..judging import BrewFacts, judge
from ..judging.observations import SeenLook, of_group
from ..judging.safety import PhReading, may_bottle, trial_verdict
from . import keys
from .keys import Key, read

DAY = Key("day", "d", 0, 1000)
KINDS = ("batch", "continuous", "grow", "trial")
_READING = (DAY, Key("ph", "pH", 0, 14), Key("instrument", default="meter", kind="choice", choices=tuple(INSTRUMENTS)))
_LOOK = (
    DAY,
    Key("surface", default="", kind="choice", choices=("", *(seen.key for seen in of_group("surface")))),
    Key("signs", default=(), kind="any"),
    Key("smell", default="", kind="choice", choices=("", *(seen.key for seen in of_group("smell")))),
)
_TASTE = (DAY, Key("score", "steps", -3, 3))
_TITRATED = (DAY, Key("ta_g_per_l", "g/L", 0, 60))
JUDGE = (
    DAY,
    Key("mean_c", "degC", -5, 60),
    Key("readings", default=(), kind="any"),
    Key("looks", default=(), kind="any"),
    Key("tastes", default=(), kind="any"),
    Key("top_ups", default=(), kind="any"),
    Key("ta", default=(), kind="any"),
    Key("now_c", "degC", -5, 60, None),
    Key("warmest_c", "degC", -5, 100, None),
    Key("warmest_day", "d", 0, 1000, 0.0),
    Key("kind", default="batch", kind="choice", choices=KINDS),
)


def _rows(ask: Mapping[str, Any], name: str, known: tuple[Key, ...]) -> list[dict[str, Any]]:
    objects = keys.objects(list(ask[name]) if isinstance(ask[name], list | tuple) else ask[name], name)
    return [read(known, one, f"{name}[{i}].") for i, one in enumerate(objects)]


def _look(row: Mapping[str, Any], where: str) -> SeenLook:
    known = tuple(seen.key for seen in of_group("sign"))
    signs = row["signs"]
    if not isinstance(signs, list | tuple):
        raise keys.CalcError(f"{where}signs must be a list of words.")
    signs_seen = tuple(keys.choice(sign, f"{where}signs[{i}]", known) for i, sign in enumerate(signs))
    return SeenLook(row["day"], row["surface"], signs_seen, row["smell"])


def _days(value: Any, name: str) -> tuple[float, ...]:
    if not isinstance(value, list | tuple):
        raise keys.CalcError(f"{name} must be a list of days.")
    return tuple(keys.number(day, f"{name}[{i}]", 0, 1000) for i, day in enumerate(value))


def judged(ask: dict[str, Any]) -> dict[str, Any]:
    """Answer what is to be done with a brew, and why."""
    facts = BrewFacts(
        day=ask["day"],
        mean_c=ask["mean_c"],
        now_c=ask["mean_c"] if ask["now_c"] is None else ask["now_c"],
        ph=tuple(PhReading(row["day"], row["ph"], row["instrument"]) for row in _rows(ask, "readings", _READING)),
        looks=tuple(_look(row, f"looks[{i}].") for i, row in enumerate(_rows(ask, "looks", _LOOK))),
        tastes=tuple((row["day"], row["score"]) for row in _rows(ask, "tastes", _TASTE)),
        top_ups=_days(ask["top_ups"], "top_ups"),
        ta=tuple((row["day"], row["ta_g_per_l"]) for row in _rows(ask, "ta", _TITRATED)),
        measured_c=ask["warmest_c"],
        warmest_day=ask["warmest_day"],
        kind=ask["kind"],
    )
    verdict = judge(facts)
    return {
        "verdict": str(verdict.word),
        "may_bottle": may_bottle(facts, verdict),
        "fit_to_taste": trial_verdict(facts).fit if facts.kind == KindOfBrew.TRIAL else None,
        "measured": verdict.measured,
        "reasons": [
            {"key": r.key, "verdict": str(r.verdict), "says": spoken(r.sentence, in_si)} for r in verdict.reasons
        ],
    }
