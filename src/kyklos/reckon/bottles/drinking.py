"""What to drink tonight, and what is due of bottles and jars besides the cold."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload, object_session

from ...core.base.kinds import BottleSort, BottleState
from ...core.bottles.advice import BottleStep, may_be_past
from ...core.bottles.second_ferment import AGAIN_DAYS, BURPS, burp_days
from ...core.bottles.tonight import Choice, Picked, three
from ...core.liquid.standing import PlaceKind
from ...store.read.moments import days_between
from ...store.records import Bottle, Infusion
from ..cultures import spoilage
from .cellar import Alike, likeness_of, name_of
from .flavours import name_in_ranking, said
from .pressure import RECLOSED, bottle_future

TESTER_DAYS = 0.5  #: So long before its brothers must be cold a tester is due. [d]


def tonight(session: Session, cold: Sequence[Alike], now: datetime, mild: bool = False) -> list[tuple[Alike, Picked]]:
    """Pick three for tonight out of what is cold."""
    liked: dict[str, list[int]] = defaultdict(list)
    for one in said(session):
        liked[one.flavour].append(one.liked)
    choices, by_key = [], {}
    for group in cold:
        if group.past or group.advice.step in {BottleStep.PAST_COLD, BottleStep.SPOILED}:
            continue
        flavour = name_in_ranking(group.first.bottling)
        some = liked.get(flavour)
        since = group.first.standings[-1].since if group.first.standings else group.first.bottling.at
        key = str(group.first.id)
        by_key[key] = group
        choices.append(
            Choice(
                key,
                flavour,
                group.limit_bar == 0,
                group.advice.step is BottleStep.CREEPS,
                group.day,
                days_between(since, now) * 24,
                group.now_bar[2] / group.limit_bar if group.limit_bar else 0.0,
                group.abv_percent,
                sum(some) / len(some) if some else None,
            )
        )
    return [(by_key[picked.choice.key], picked) for picked in three(choices, mild)]


@dataclass(frozen=True, slots=True)
class SmallThing:
    """Something small that bottles or jars want."""

    key: str
    what: str
    why: str
    jar: int | None = None
    bottle: int | None = None


def jars(session: Session, *, ended: bool = False) -> list[Infusion]:
    """List the jars that take flavour, the oldest first."""
    asked = select(Infusion).options(joinedload(Infusion.liquid), joinedload(Infusion.place)).order_by(Infusion.began_at)
    return list(session.scalars(asked if ended else asked.where(Infusion.ended_at.is_(None))))


def wants(session: Session, warm: Sequence[Bottle], now: datetime) -> list[SmallThing]:
    """List what jars and warm bottles want now: strained, tried again, burped, a tester opened."""
    out = []
    for jar in jars(session):
        due = jar.began_at + timedelta(hours=jar.hours)
        if jar.strained_at is not None:
            out.append(SmallThing(f"jar-{jar.id}", f"{jar.name}: bottle or drink it", "It is strained.", jar=jar.id))
        elif due <= now:
            out.append(SmallThing(f"jar-{jar.id}", f"{jar.name}: taste and strain it", "Its hours are over.", jar=jar.id))
    alike = [(likeness_of(bottle), bottle) for bottle in warm]
    alone = {like for like, bottle in dict(alike).items() if _left_alone(bottle, now)}
    warm = [bottle for like, bottle in alike if like not in alone]
    for bottle in warm:
        again = [row.at for row in bottle.heard if row.how == RECLOSED]
        if again and days_between(again[-1], now) >= AGAIN_DAYS:
            what = f"{name_of(bottle)}: chill the one that was flat, then try it"
            out.append(SmallThing(f"again-{bottle.id}", what, "It was warm for a day more.", bottle=bottle.id))
    seen = set()
    for bottle in warm:
        group = bottle.bottling
        if group.id in seen or group.burps not in BURPS or group.burps == "never" or not bottle.limit_bar:
            continue
        seen.add(group.id)
        due_days = burp_days(group.burps, days_between(group.at, now) + 1e-6)
        last = max((days_between(group.at, row.at) for b in group.bottles for row in b.heard), default=0.0)
        if due_days and due_days[-1] > last + 0.2:
            out.append(SmallThing(f"burp-{group.id}", f"Burp {name_of(bottle)}", BURPS[group.burps][0], bottle=bottle.id))
    return out + _testers(warm, now)


def _left_alone(bottle: Bottle, now: datetime) -> bool:
    """Return whether nobody carries, burps or opens a bottle now: it may be past its limit, or its brew spoiled."""
    day = days_between(bottle.bottling.at, now)
    past = bottle.limit_bar > 0 and may_be_past(bottle_future(bottle), bottle.state, bottle.limit_bar, day)
    session = object_session(bottle)
    return past or (session is not None and bottle.bottling_id in spoilage.bottles_held(session, now))


def _testers(warm: Sequence[Bottle], now: datetime) -> list[SmallThing]:
    """List the testers that are due: half a day before their filling must be cold, unless one of it was heard already."""
    out = []
    for bottle in warm:
        group = bottle.bottling
        if not bottle.tester or not bottle.limit_bar or any(b.heard or b.hiss is not None for b in group.bottles):
            continue
        by = bottle_future(bottle).chill_by_day
        if by is not None and days_between(group.at, now) >= by - TESTER_DAYS:
            how = "Squeeze" if bottle.kind == BottleSort.PET else "Chill and open"
            why = "It tells how the others press."
            out.append(SmallThing(f"tester-{group.id}", f"{how} the tester of {name_of(bottle)}", why, bottle=bottle.id))
    return out


def cold_hours(bottle: Bottle, now: datetime) -> float | None:
    """Return how long a bottle stood in the fridge at last, until it was opened or now; None: it stood at room temperature. [h]"""
    last = bottle.standings[-1] if bottle.standings else None
    if last is None or last.place.kind != PlaceKind.FRIDGE:
        return None
    return max(0.0, days_between(last.since, bottle.gone_at or now) * 24)


def brothers_of(bottle: Bottle) -> list[Bottle]:
    """List the bottles of the same filling that stand."""
    return [b for b in bottle.bottling.bottles if b.id != bottle.id and b.state != BottleState.GONE]


def warm_days(bottle: Bottle, now: datetime) -> float:
    """Return how long a bottle stood at room temperature. [d]"""
    end = bottle.gone_at or now
    total = 0.0
    for row in bottle.standings:
        if row.place.kind == PlaceKind.ROOM:
            total += max(0.0, days_between(row.since, min(row.until or end, end)))
    return total
