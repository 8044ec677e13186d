"""Lines out of and into a household: what a passport takes from the records, and what it writes into them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from ..actions.base import Checks, Done, action, flushed
from ..actions.cultures.giving import Receive, taken_in
from ..core.base.kinds import Diet, NodeKind, Origin
from ..core.cultures import Node
from ..core.cultures.lineage import with_ancestors
from ..core.liquid import teas
from ..reckon.cultures import lineages
from ..store.read import culture_queries, queries
from ..store.records import Brew, Culture, Disc, StarterLot
from .passport import Came, Passport, PassportReading, Thing, fingerprint
from .strict import clean

CARE = {
    "sugar": "Plain black or green tea and sugar, 55 g/L; a tenth to a fifth of mature liquid at each start; 21 to 26 °C; a cloth, never a lid.",
    "jun": "Green tea and honey, 70 g/L, the honey below 40 °C; a tenth to a fifth of mature liquid at each start; 18 to 24 °C; a cloth.",
}


def _iso(moment: datetime) -> str:
    return moment.date().isoformat()


def _key(node: Node) -> str:
    return f"{node[0]}-{node[1]}"


def _thing(session: Session, node: Node) -> Thing:
    kind, number = node
    if kind == NodeKind.BREW:
        brew = queries.get(session, Brew, number)
        tea = clean(teas.name_of(teas.from_text(brew.tea)), 80)
        return Thing(
            key=_key(node), kind="brew", on=_iso(brew.pitched_at), honey_share=round(brew.honey_share, 3), tea=tea
        )
    if kind == NodeKind.DISC:
        disc = queries.get(session, Disc, number)
        born = disc.made_at or (disc.born_brew.pitched_at if disc.born_brew is not None else disc.culture.started_at)
        return Thing(key=_key(node), kind="disc", on=_iso(born))
    return Thing(key=_key(node), kind="lot", on=_iso(queries.get(session, StarterLot, number).made_at))


def passport_of(
    session: Session, culture: Culture, now: datetime, story: bool = False, vigour: float | None = None
) -> Passport:
    """Write a line's passport: its things and all that they came from, by number and day only.

    Args:
        session, culture: The line.
        now: The day of writing.
        story: Whether its story goes along; it may name people.
    """
    links_found, known = lineages.made_of(session), lineages.descent(session)
    own: set[Node] = {("brew", b.id) for b in culture.brews} | {("disc", d.id) for d in culture.discs}
    own |= {("lot", lot.id) for lot in culture.lots}
    whole = with_ancestors(known, own)
    things = [_thing(session, node) for node in sorted(whole)]
    came = [
        Came.model_validate({"from": _key(li.source), "to": _key(li.target), "on": _date_of(li.at)})
        for li in links_found
        if li.source in whole and li.target in whole
    ]
    earlier = Passport.model_validate(culture.passport) if culture.passport else None
    if earlier is not None:
        things = [t.model_copy(update={"key": f"r-{t.key}"[:60]}) for t in earlier.things] + things
        came = [
            Came.model_validate({"from": f"r-{c.source}"[:60], "to": f"r-{c.target}"[:60], "on": c.on})
            for c in earlier.links
        ] + came
    measured = [lot for lot in culture.lots if lot.ph is not None and lot.instrument != "estimate"]
    last = measured[-1] if measured else None
    return Passport(
        name=clean(culture.name, 40) or "Without a name",
        diet="jun" if culture.diet == Diet.JUN else "sugar",
        origin=clean(earlier.origin if earlier is not None else culture.origin, 40),
        begun_on=earlier.begun_on if earlier is not None else _iso(culture.started_at),
        written_on=_iso(now),
        story=clean(culture.story, 2000) if story else "",
        care=CARE[Diet.JUN if culture.diet == Diet.JUN else Diet.SUGAR],
        vigour=None if vigour is None else round(min(5.0, max(0.05, vigour)), 3),
        last_reading=PassportReading(ph=round(last.ph or 0.0, 2), on=_iso(last.made_at)) if last is not None else None,
        things=tuple(things),
        links=tuple(came),
    )


def _date_of(day: float) -> str:
    from datetime import UTC

    return datetime.fromtimestamp(day * 86400, UTC).date().isoformat()


@dataclass(frozen=True, slots=True, kw_only=True)
class ReceivePassport:
    """A passport, with what came along."""

    passport: Passport
    disc: bool = False
    litres: float | None = None  #: [L]
    who: str = ""


@action
def receive_passport(session: Session, ask: ReceivePassport, at: datetime) -> Done:
    """Take a line in by its passport: it goes on here with its ancestors as received; read twice, nothing changes."""
    found = ask.passport
    mark = fingerprint(found)
    known = session.scalars(select(Culture).where(Culture.passport_key == mark)).first()
    if known is not None:
        return Done(f"{known.name} is here already: nothing was changed.", {"culture": known.id})
    checks = Checks()
    checks.refuse_if(_iso(at) < found.begun_on, "file", "This passport cannot be right: the line begins in the future.")
    checks.between(ask.litres, "litres", 0.01, 50, "Starter of (L)")
    checks.done()
    names = {c.name.casefold() for c in culture_queries.cultures(session)}
    name, number = found.name, 2
    while name.casefold() in names:
        name, number = f"{found.name[:36]} {number}", number + 1
    culture = Culture(
        name=name,
        diet=found.diet,
        origin=Origin.RECEIVED,
        story=found.story,
        started_at=at,
        passport=found.model_dump(mode="json", by_alias=True),
        passport_key=mark,
    )
    made = {"culture": flushed(session, culture)}
    came = Receive(culture_id=culture.id, disc=ask.disc, litres=ask.litres, who=ask.who)
    made |= taken_in(session, culture, came, at)
    return Done(f"{name} came with {len(found.things)} ancestors.", made)
