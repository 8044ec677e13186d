"""What happens to a brew while it stands: taken out, put in, split, joined, poured into another vessel; at any date since it began."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.base import marked
from ...core.base.kinds import BrewStatus, VesselKind
from ...core.judging.safety import DISCARD, HOLD
from ...core.liquid import Way
from ...core.liquid.pouring import LEAST_L, Added, LiquidKind
from ...reckon.forecast import forecasting
from ...reckon.judging import verdicts
from ...store.read import queries
from ...store.read.moments import days_between
from ...store.records import Brew, BrewStay, StarterLot, Transfer, Vessel
from ..base import FUTURE_GRACE, Checks, Done, action, check_version, flushed
from ..bottles.filling import BY_EYE_SHARE
from ..bottles.harvest import ended, why_not_bottled
from ..pouring import begin, pour, put_in, shortest_l
from .readings import living

#: How liquid leaves a brew without bottles: the way of the record, and what is said of it.
LEAVES = {
    "drunk": (Way.DRUNK, "drunk"),
    "given": (Way.GIVEN, "given away"),
    "vinegar": (Way.VINEGAR, "kept as vinegar"),
    "spilt": (Way.LOST, "spilt or thrown out"),
}
#: What may be put in besides starter.
ENTERS = {
    "water": (Added.WATER, "water"),
    "sweet tea": (Added.SWEET_TEA, "sweet tea"),
    "vinegar": (Added.VINEGAR, "distilled vinegar"),
}
STATE_DIGITS = 6


def _check_when(checks: Checks, brew: Brew, when: datetime, now: datetime) -> None:
    checks.refuse_if(when > now + FUTURE_GRACE, "at", "That lies in the future.")
    checks.refuse_if(when < brew.liquid.began_at, "at", "That is before it stood in this jar.")


def _check_there(checks: Checks, session: Session, brew: Brew, litres: float, when: datetime) -> None:
    """Refuse to take out more than there was then, or than is needed for what was taken out since."""
    there = shortest_l(session, brew.liquid, when)
    checks.refuse_if(
        litres > there + BY_EYE_SHARE * brew.started_l,
        "litres",
        f"Only {marked(max(there, 0.0), 'volume')} of it can have been taken then.",
    )


def _check_drinkable(checks: Checks, brew: Brew, leaves: str, reason: str, now: datetime) -> None:
    """Let nothing that is to be drunk, given or kept leave a brew that is not all right."""
    if leaves == "spilt":
        return
    word = verdicts.verdict_of(brew, now).word
    checks.refuse_if(
        word == DISCARD, "leaves", "The verdict is discard: nobody drinks of it, and it is not given away."
    )
    held = word == HOLD or brew.status == BrewStatus.HELD
    checks.refuse_if(held and leaves == "given", "leaves", "It is on hold: nothing of it is given away.")
    checks.refuse_if(
        held and leaves != "given" and not reason.strip(),
        "reason",
        "It is on hold. Write down why it is taken all the same.",
    )
    why = why_not_bottled(brew, now) if leaves == "given" and not held and word != DISCARD else ""
    checks.refuse_if(bool(why), "leaves", why)


@dataclass(frozen=True, slots=True, kw_only=True)
class TakeOut:
    """A glass, a jug, a spill, or all of it: out of the jar without bottles."""

    brew_id: int
    leaves: str  #: A key of LEAVES.
    litres: float | None = None  #: None: all that is left. [L]
    at: datetime | None = None  #: Now, unless given.
    reason: str = ""  #: To whom, or why in spite of a hold.
    keep_disc: bool = True  #: If that is the end of it.
    stirred: bool = False  #: Before: what has settled goes along.
    version: int | None = None


@action
def take_out(session: Session, ask: TakeOut, at: datetime) -> Done:
    """Take liquid out of a brew; when nothing is left, the brew is over and its jar free."""
    return take_out_of(session, ask, at)


def take_out_of(session: Session, ask: TakeOut, at: datetime) -> Done:
    """Check and write what is taken out; for actions that do so among other things."""
    brew, checks, when = living(session, ask.brew_id), Checks(), ask.at or at
    check_version(ask.version, brew.version, brew.vessel.name)
    checks.refuse_if(ask.leaves not in LEAVES, "leaves", "Choose where it went.")
    checks.between(ask.litres, "litres", LEAST_L, 250, "An amount of", "volume")
    _check_when(checks, brew, when, at)
    if ask.leaves != "spilt":
        checks.refuse_apart(session, "leaves", ("brew", brew.id))
    checks.done()
    _check_drinkable(checks, brew, ask.leaves, ask.reason, at)
    litres = brew.left_l if ask.litres is None else ask.litres
    _check_there(checks, session, brew, litres, when)
    checks.done()
    how, word = LEAVES[ask.leaves]
    pour(session, when, litres, how, brew.liquid, None, name=ask.reason.strip()[:80], stirred=ask.stirred)
    if brew.left_l > LEAST_L:
        return Done(f"{marked(litres, 'volume')} of {brew.vessel.name} {word}; {marked(brew.left_l, 'volume')} left.")
    made = ended(session, brew, when, ask.keep_disc)
    brew.end_note = f"All of it {word}."
    return Done(f"All of {brew.vessel.name} {word}. It is empty and free.", made)


@dataclass(frozen=True, slots=True, kw_only=True)
class PutIn:
    """Water, sweet tea, vinegar or starter into a brew that stands."""

    brew_id: int
    enters: str  #: A key of ENTERS, or starter.
    litres: float  #: [L]
    sugar_g_per_l: float | None = None  #: Of sweet tea; as the brew's unless given. [g/L]
    honey_share: float | None = None  #: Of its sugars; as the brew's unless given. [-]
    lot_id: int | None = None  #: Of starter; None: other starter.
    ph: float | None = None  #: Of other starter. [pH]
    at: datetime | None = None  #: Now, unless given.


@action
def put_into(session: Session, ask: PutIn, at: datetime) -> Done:
    """Put something into a brew; a held one stays held until a pH of 4.5 or lower is measured."""
    return put_in_brew(session, ask, at)


def put_in_brew(session: Session, ask: PutIn, at: datetime) -> Done:
    """Check and write what is put in; for actions that do so among other things."""
    brew, checks, when = living(session, ask.brew_id), Checks(), ask.at or at
    checks.refuse_if(ask.enters not in {*ENTERS, "starter"}, "enters", "Choose what was put in.")
    checks.between(ask.litres, "litres", LEAST_L, 250, "An amount of", "volume")
    checks.between(ask.sugar_g_per_l, "sugar_g_per_l", 0, 200, "Sweet tea of", "strength")
    checks.between(ask.ph, "ph", 1.8, 5.5, "A starter's pH of")
    _check_when(checks, brew, when, at)
    checks.refuse_if(
        brew.left_l + ask.litres > brew.vessel.nominal_l + LEAST_L,
        "litres",
        f"{brew.vessel.name} would overflow: there is room for "
        f"{marked(max(0.0, brew.vessel.nominal_l - brew.left_l), 'volume')}.",
    )
    lot = queries.get(session, StarterLot, ask.lot_id) if ask.enters == "starter" and ask.lot_id else None
    if ask.enters == "starter":
        checks.refuse_apart(session, "lot", ("brew", brew.id), ("lot", lot.id) if lot is not None else None)
    checks.refuse_if(
        lot is not None and lot.left_l < ask.litres - LEAST_L, "litres", "There is not so much left of this starter."
    )
    checks.done()
    if ask.enters != "starter":
        what, word = ENTERS[ask.enters]
        strength = brew.sugar_g_per_l if ask.sugar_g_per_l is None else ask.sugar_g_per_l
        grams = strength * ask.litres if what == Added.SWEET_TEA else 0.0
        put_in(session, brew.liquid, when, what, ask.litres, grams, honey_share=ask.honey_share)
        return Done(f"{marked(ask.litres, 'volume')} of {word} into {brew.vessel.name}.")
    if lot is not None:
        litres, name = min(ask.litres, lot.left_l), lot.culture.name
        pour(session, when, litres, Way.ADDED, lot.liquid, brew.liquid, name=name, lively=lot.kind, ph=lot.likely_ph)
    else:
        pour(session, when, ask.litres, Way.ADDED, None, brew.liquid, name="other starter", lively="fresh", ph=ask.ph)
    return Done(f"{marked(ask.litres, 'volume')} of starter into {brew.vessel.name}. Stir, then measure.")


def _free(checks: Checks, session: Session, vessel: Vessel, litres: float, when: datetime, now: datetime) -> None:
    """Refuse a vessel that is, or was then, full, or too small."""
    standing = queries.filled_then(session, vessel.id, when, max(when, now) + FUTURE_GRACE)
    checks.refuse_if(standing is not None, "vessel", f"{vessel.name} is full, or was then.")
    checks.refuse_if(vessel.kind == VesselKind.HOTEL, "vessel", "A hotel keeps spare discs: choose a jar or crock.")
    checks.refuse_if(
        litres > vessel.nominal_l + LEAST_L,
        "vessel",
        f"{vessel.name} holds {marked(vessel.nominal_l, 'volume')}, and there are {marked(litres, 'volume')}.",
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class PourOver:
    """A whole brew into another vessel."""

    brew_id: int
    vessel_id: int
    at: datetime | None = None  #: Now, unless given.
    version: int | None = None


@action
def pour_over(session: Session, ask: PourOver, at: datetime) -> Done:
    """Pour a brew over into another vessel; where it stood before stays as it was."""
    brew, checks, when = living(session, ask.brew_id), Checks(), ask.at or at
    check_version(ask.version, brew.version, brew.vessel.name)
    old, vessel = brew.vessel, queries.get(session, Vessel, ask.vessel_id)
    _check_when(checks, brew, when, at)
    since = _stands_since(brew)
    checks.refuse_if(when < since, "at", f"It came into {old.name} later than that.")
    _free(checks, session, vessel, brew.left_l, when, at)
    checks.done()
    session.add(BrewStay(brew_id=brew.id, vessel_id=old.id, since=since, until=max(when, since)))
    brew.vessel_id = vessel.id
    session.flush()
    return Done(f"{old.name} poured over into {vessel.name}.")


def _stands_since(brew: Brew) -> datetime:
    """Return since when a brew stands in the vessel in which it is now."""
    return max((stay.until for stay in brew.earlier), default=brew.pitched_at)


@dataclass(frozen=True, slots=True, kw_only=True)
class Split:
    """A part of a brew into a second vessel, where it goes on as a brew of its own."""

    brew_id: int
    vessel_id: int
    litres: float  #: [L]
    at: datetime | None = None  #: Now, unless given.


@action
def split(session: Session, ask: Split, at: datetime) -> Done:
    """Split a brew over two vessels: both have the same past, and go on by themselves; the disc stays where it is."""
    brew, checks, when = living(session, ask.brew_id), Checks(), ask.at or at
    vessel = queries.get(session, Vessel, ask.vessel_id)
    _check_when(checks, brew, when, at)
    checks.between(ask.litres, "litres", LEAST_L, 250, "An amount of", "volume")
    checks.refuse_apart(session, "", ("brew", brew.id))
    _free(checks, session, vessel, ask.litres, when, at)
    _check_there(checks, session, brew, ask.litres, when)
    checks.done()
    there = shortest_l(session, brew.liquid, when)
    checks.refuse_if(
        ask.litres > there - LEAST_L, "litres", f"That is all of it: pour it over into {vessel.name} instead."
    )
    checks.done()
    other = _twin(brew, vessel)
    other.liquid = begin(session, LiquidKind.BREW, when)
    made = {"brew": flushed(session, other)}
    session.add_all(
        BrewStay(brew_id=other.id, vessel_id=s.vessel_id, since=s.since, until=s.until) for s in brew.earlier
    )
    session.add(BrewStay(brew_id=other.id, vessel_id=brew.vessel_id, since=_stands_since(brew), until=when))
    passed = pour(session, when, ask.litres, Way.SPLIT, brew.liquid, other.liquid, name=brew.culture.name)
    passed.start = state_then(session, brew, when)
    session.flush()
    session.expire(other)
    return Done(f"{marked(ask.litres, 'volume')} of {brew.vessel.name} go on in {vessel.name}.", made)


#: What a brew takes over from the one that it was split from.
INHERITED = (
    "kind", "base", "culture_id", "tea", "leaf_g_per_l", "sugar_g_per_l", "honey_share", "invert_share",
    "alkalinity_meq_per_l", "starter_fraction", "starter_ph", "starter_instrument", "starter_ta_g_per_l", "starter_tea",
    "starter_leaf_g_per_l", "starter_alkalinity_meq_per_l", "starter_kind",
    "starter_yeast", "starter_bacteria", "plan", "facts", "pitched_at", "start_doubt_days", "status",
)  # fmt: skip


def _twin(brew: Brew, vessel: Vessel) -> Brew:
    """Return a brew with the same past in another vessel."""
    return Brew(vessel_id=vessel.id, version=1, **{name: getattr(brew, name) for name in INHERITED})


def state_then(session: Session, brew: Brew, when: datetime) -> list[float]:
    """Return what a brew was, as far as is known, at a moment: 8 parts as in `core/liquid/ferment.py`."""
    out = forecasting.forecast_of(session, brew)
    return [round(float(v), STATE_DIGITS) for v in out.state_at(days_between(brew.pitched_at, when))]


@dataclass(frozen=True, slots=True, kw_only=True)
class Join:
    """A whole brew poured into another one."""

    brew_id: int  #: The one that is poured.
    into_id: int
    at: datetime | None = None  #: Now, unless given.
    other_diet: bool = False  #: Honey and sugar together are meant.
    version: int | None = None


@action
def join(session: Session, ask: Join, at: datetime) -> Done:
    """Pour one brew into another: the first is over, the second goes on with both."""
    brew, into, checks, when = living(session, ask.brew_id), living(session, ask.into_id), Checks(), ask.at or at
    check_version(ask.version, brew.version, brew.vessel.name)
    checks.refuse_if(brew.id == into.id, "into", "Choose another brew.")
    for one in (brew, into):
        _check_when(checks, one, when, at)
        word = verdicts.verdict_of(one, at).word
        checks.refuse_if(
            word in {HOLD, DISCARD} or one.status == BrewStatus.HELD,
            "into",
            f"{one.vessel.name} is not all right ({word}): it is joined with nothing.",
        )
    checks.refuse_apart(session, "into", ("brew", brew.id), ("brew", into.id))
    checks.refuse_if(
        brew.culture.diet != into.culture.diet and not ask.other_diet,
        "other_diet",
        "One is fed with honey, the other with sugar. Tick the box if you mean it.",
    )
    checks.refuse_if(
        brew.left_l + into.left_l > into.vessel.nominal_l + LEAST_L,
        "into",
        f"{into.vessel.name} would overflow: there is room for "
        f"{marked(max(0.0, into.vessel.nominal_l - into.left_l), 'volume')}.",
    )
    checks.done()
    state, litres = state_then(session, brew, when), brew.left_l
    passed: Transfer = pour(session, when, litres, Way.JOINED, brew.liquid, into.liquid, name=brew.culture.name)
    passed.start = state
    ended(session, brew, when, keep_disc=False)
    brew.end_note = f"Poured into {into.vessel.name}."
    return Done(f"{brew.vessel.name} poured into {into.vessel.name}, and free.")
