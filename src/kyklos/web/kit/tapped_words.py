"""What is said of a tapped vessel, in one or two sentences: on the round, on its page, in the calendar."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from ...core.base import limit, marked
from ...core.liquid.taste import score, score_word
from ...core.tapped.care import FORGOTTEN_DAYS
from ...core.tapped.cycle import advised
from ...core.tapped.states import Sourness, TapState, sourness
from ...core.tapped.vessel import COLDER_K, as_poured, best_interval, can_give, drawing
from ...reckon.tapped import TappedStanding
from .first_names import joined
from .words import day_word


@dataclass(frozen=True, slots=True)
class Lead:
    """The one sentence that matters: how it begins, and the rest."""

    first: str
    rest: str

    @property
    def says(self) -> str:
        """Both together."""
        return f"{self.first}{self.rest}"


def _days(days: float) -> str:
    """Return how often, in words.

    >>> _days(1), _days(3), _days(7)
    ('every day', 'every 3 days', 'every week')
    """
    return "every day" if days == 1 else "every week" if days == 7 else f"every {days:g} days"


def _when(standing: TappedStanding, days: float, zone: str) -> str:
    return day_word(standing.at + timedelta(days=days), standing.at, zone)


def _for_whom(standing: TappedStanding, times: Sequence[tuple[str, float | None]], zone: str) -> str:
    """Return when it is right for each: right for Bram again on Sunday, for Odile on Monday."""
    parts: list[str] = []
    by_day: dict[str, list[str]] = {}
    for name, days in times:
        if days is not None:
            by_day.setdefault(_when(standing, days, zone), []).append(name or "you")
    for number, (day, names) in enumerate(by_day.items()):
        parts.append(f"for {joined(names)} {'again ' if not number else ''}{_on(day)}")
    return f"right {', '.join(parts)}" if parts else ""


def lead(standing: TappedStanding, now: datetime, zone: str) -> Lead:
    """Return the one sentence that matters now.

    Args:
        standing: The vessel.
        now: The moment.
        zone: Of the household.
    """
    state = standing.state
    if state == TapState.SPOILED:
        return Lead("Not to be drunk.", " See the verdict: it is emptied and washed.")
    if state == TapState.RESTS:
        return Lead("Let it rest.", " Nothing is drawn and nothing poured in until it stands at pH 4.2 or lower.")
    if state == TapState.PAUSED:
        since = standing.last_care["paused"]
        return Lead(f"Paused since {day_word(since.at, now, zone)}", f": {since.note}. Nothing is drawn until it goes on.")
    if state == TapState.FORGOTTEN:
        return _too_sour(standing)
    if state not in {TapState.SOUR, TapState.READY}:
        return _wait(standing, zone)
    return _draw(standing, as_poured(standing.now.litres) if state == TapState.SOUR else standing.litres_today, zone)


def _draw(standing: TappedStanding, each: float, zone: str) -> Lead:
    """Return the sentence that so much can be drawn, and what comes of it. [L]"""
    then = drawing(standing.tapped, each)
    first = next((p for p in standing.tapped.points), None)
    taste = f"tastes {score_word(round(score(then.ta_after, first.ta_g_per_l)))}" if first is not None else "is sweet"
    again = _for_whom(standing, then.right_again, zone)
    and_right = f", and is {again}" if again else ""
    if standing.state == TapState.SOUR:
        return Lead("It is too sour for everybody now.", f" Draw {marked(each, 'volume')} and top up: then it {taste}{and_right}.")
    rest = f", and as much again {_days(standing.tapped.every_days)}. Topped up it {taste}"
    return Lead(f"You can draw {marked(each, 'volume')} today", f"{rest}{and_right}.")


def draw_words(standing: TappedStanding, litres: float, zone: str) -> str:
    """Return what comes of such a draw: how it tastes and stands once topped up, and when it is right again. [L]"""
    tapped = standing.tapped
    if litres > standing.above_tap_l:
        return "The tap does not give that much: the rest stays below it."
    then = drawing(tapped, min(litres, tapped.line_l))
    again = _for_whom(standing, then.right_again, zone)
    says = f"Topped up it stands at about pH {then.ph_after:.1f}{', and is ' + again if again else ''}."
    if then.ph_after > limit("safe_ph"):
        return f"{says} Above pH {limit('safe_ph'):g} it does not keep itself: draw less, or measure, and let it rest."
    if standing.too_often(litres):
        return f"{says} That is more than it can give every time: wait longer before the next."
    return says


def _too_sour(standing: TappedStanding) -> Lead:
    back, known = standing.back, standing.known
    if back is None:
        return Lead("", "")
    what = sourness(known.acidity[1])
    idle = standing.care.drawn_days
    long = f" Nobody drew for {idle:.0f} days." if idle is not None and idle >= FORGOTTEN_DAYS else ""
    use = "" if what == Sourness.TOO_SOUR else " What runs out is starter or vinegar, not waste."
    return Lead(
        f"It is {what} now.",
        f"{long} The way back: draw {marked(as_poured(back.litres), 'volume')} every {back.every_days:g} days and top up; after "
        f"{back.draws} draws it is right again.{use}",
    )


def _wait(standing: TappedStanding, zone: str) -> Lead:
    state, wait = standing.state, standing.now.ready_in or 0.0
    if state == TapState.NEVER:
        return Lead("Leave it.", " At this pace nobody likes it within two months: is it too cold, or too weak?")
    if state == TapState.JUST_TOPPED:
        again = _on(_when(standing, standing.tapped.every_days, zone))
        return Lead("Leave it for now", f": it was topped up today. Draw again {again}.")
    if state == TapState.AT_ITS_HEEL:
        return Lead("Nothing can run out at the tap.", " Top it up: what stands there is its heel.")
    if state == TapState.TOP_UP_FIRST:
        right = _for_whom(standing, drawing(standing.tapped, 0.0).right_again, zone)
        filled = f" Filled up it is {right}." if right else ""
        return Lead("Top it up first.", f" {marked(round(standing.missing_l, 1), 'volume')} are missing; a glass does no harm.{filled}")
    most = standing.litres_for_good
    then = f" Then {marked(most, 'volume')} can be drawn {_days(standing.tapped.every_days)}." if most else ""
    name = min(standing.tapped.points, key=lambda p: p.ta_g_per_l).taster if standing.tapped.points else "you"
    return Lead("Leave it for now", f": it is right for {joined([name or 'you'])} {_on(_when(standing, max(wait, 0.0), zone))}.{then}")


def _on(day: str) -> str:
    return day if day in {"today", "tomorrow"} else f"on {day}"


def second(standing: TappedStanding, zone: str) -> str:
    """Return what becomes of it when it is left, and in a colder room."""
    if standing.known.lost:
        return ""
    left, parts = standing.left, []
    ahead = [(name, days) for name, days in left.too_sour if days is not None and days > 0]
    already = [name for name, days in left.too_sour if days is not None and days <= 0]
    if already and len(already) < len(left.too_sour):
        parts.append(f"It is too sour for {joined(already)} now.")
    if ahead:
        last = max(ahead, key=lambda one: one[1])
        everyone = len(ahead) == len(left.too_sour) and len(ahead) > 1
        who = "everybody" if everyone or already else joined([name or "you" for name, _ in ahead])
        vinegar = f", and vinegar by {_when(standing, left.vinegar, zone)}" if left.vinegar else ""
        parts.append(f"Left alone it is too sour for {who} from {_when(standing, last[1], zone)}{vinegar}.")
    elif left.vinegar:
        parts.append(f"Left alone it is vinegar by {_when(standing, left.vinegar, zone)}.")
    colder = can_give(standing.tapped, -COLDER_K)
    if colder.most and standing.gives.most and colder.most < standing.gives.most:
        litres = marked(as_poured(colder.most * standing.tapped.line_l), "volume")
        parts.append(f"Colder by {marked(COLDER_K, 'difference')}: {litres} instead.")
    return " ".join(parts)


def rhythm_words(standing: TappedStanding) -> str:
    """Return how much it gives in a week, at least and at most, by the habit."""
    gives, tapped = standing.gives, standing.tapped
    if gives.most is None:
        return f"Drawn {_days(tapped.every_days)} it is not sour enough again: leave it longer, or stand it warmer."
    week = 7 / tapped.every_days * tapped.line_l
    most = f"at most {marked(as_poured(gives.most * week), 'volume')} a week"
    if gives.least is None or gives.least > (advised(gives.most, tapped.measures_after) or 0.0):
        return f"Drawn {_days(tapped.every_days)} it turns too sour. {_days(best_interval(tapped)).capitalize()} suits it better."
    return f"Drawn {_days(tapped.every_days)} it gives {most}; with less than {marked(as_poured(gives.least * week), 'volume')} a week it turns too sour."


