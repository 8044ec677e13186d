"""Gifts and receipts. Who it was stays in the household's file."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from ...core.liquid import Way
from ...store.read import culture_queries, queries
from ...store.records import Culture, Disc, Gift, StarterLot, Transfer
from ..base import Checks, Done, action, flushed
from ..brewing.pitching import leave_hotel
from ..pouring import lot_in, pour
from .discs import happened, living_disc


@dataclass(frozen=True, slots=True, kw_only=True)
class GiveAway:
    """Something living for someone: a disc, liquid, or both."""

    culture_id: int
    disc_id: int | None = None
    lot_id: int | None = None
    litres: float | None = None  #: Of that liquid. [L]
    who: str = ""
    note: str = ""


@action
def give_away(session: Session, ask: GiveAway, at: datetime) -> Done:
    """Give a disc or liquid away; who has it is kept here and told to nobody."""
    culture, checks = queries.get(session, Culture, ask.culture_id), Checks()
    lot = queries.find(session, StarterLot, ask.lot_id)
    disc = living_disc(session, ask.disc_id) if ask.disc_id else None
    litres = ask.litres or 0.0
    checks.refuse_if(disc is None and not litres, "disc", "Choose a disc, or say how much liquid.")
    checks.refuse_if(litres > 0 and lot is None, "lot", "Choose the liquid.")
    checks.refuse_if(lot is not None and litres > lot.left_l + 1e-9, "litres", "There is not so much left of it.")
    checks.between(ask.litres, "litres", 0, 50, "Liquid of", "volume")
    own = (disc is None or disc.culture_id == culture.id) and (lot is None or lot.culture_id == culture.id)
    checks.refuse_if(not own, "", "That belongs to another line.")
    checks.refuse_if(disc is not None and disc.id in culture_queries.in_use(session)[1], "disc", "That disc lies in a brew.")
    given = [("disc", disc.id)] if disc is not None else []
    given += [("lot", lot.id)] if lot is not None else []
    checks.refuse_apart(session, "", *given)
    checks.done()
    passed = pour(session, at, litres, Way.GIVEN, lot.liquid, None) if lot is not None and litres else None
    if disc is not None:
        leave_hotel(disc, at)
        disc.ended_at, disc.ended_as = at, "given"
    gift = Gift(
        culture_id=culture.id,
        at=at,
        disc_id=disc.id if disc is not None else None,
        transfer_id=passed.id if passed is not None else None,
        who=ask.who.strip()[:80],
        note=ask.note.strip()[:300],
    )
    return Done(f"{culture.name} went to {ask.who.strip() or 'someone'}.", {"gift": flushed(session, gift)})


@dataclass(frozen=True, slots=True, kw_only=True)
class Receive:
    """A disc or liquid of a line that came from someone."""

    culture_id: int
    disc: bool = False
    disc_name: str = ""
    litres: float | None = None  #: [L]
    ph: float | None = None  #: [pH]
    instrument: str = "meter"
    who: str = ""
    note: str = ""


@action
def receive(session: Session, ask: Receive, at: datetime) -> Done:
    """Take in what someone gave: a disc, liquid or both, of a line that is kept here."""
    culture, checks = queries.get(session, Culture, ask.culture_id), Checks()
    checks.refuse_if(not ask.disc and not ask.litres, "litres", "A disc, or say how much liquid.")
    checks.between(ask.litres, "litres", 0.01, 50, "Starter of", "volume")
    checks.between(ask.ph, "ph", 1.8, 5.5, "A starter's pH of")
    checks.done()
    return Done(f"{culture.name} came from {ask.who.strip() or 'someone'}.", taken_in(session, culture, ask, at))


def taken_in(session: Session, culture: Culture, ask: Receive, at: datetime) -> dict[str, int]:
    """Write what came; gives the numbers of disc, lot and gift."""
    made: dict[str, int] = {}
    came: Transfer | None = None
    if ask.disc:
        name = ask.disc_name.strip()[:60] or f"{culture.name}, received {at:%-d %b}"
        disc = Disc(name=name, culture_id=culture.id, made_at=at)
        made["disc"] = flushed(session, disc)
        happened(session, disc, "received", at)
    if ask.litres:
        lot = StarterLot(culture_id=culture.id, made_at=at, ph=ask.ph, instrument=ask.instrument)
        made["lot"] = lot_in(session, lot, at, ask.litres, Way.RECEIVED, None)
        came = lot.liquid.inflows[0]
    if made:
        gift = Gift(
            culture_id=culture.id,
            at=at,
            outward=False,
            disc_id=made.get("disc"),
            transfer_id=came.id if came is not None else None,
            who=ask.who.strip()[:80],
            note=ask.note.strip()[:300],
        )
        made["gift"] = flushed(session, gift)
    return made


@dataclass(frozen=True, slots=True, kw_only=True)
class SayHolds:
    """Whether someone still has what was given."""

    gift_id: int
    holds: bool


@action
def say_holds(session: Session, ask: SayHolds, at: datetime) -> Done:
    """Note whether someone still holds it: only then it counts as a backup elsewhere."""
    gift = queries.get(session, Gift, ask.gift_id)
    gift.still_holds = ask.holds
    return Done(f"{gift.who or 'Someone'} {'still has it' if ask.holds else 'has it no more'}.")
