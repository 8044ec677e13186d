"""What is known of flavours: cards to bottle by, how they were liked, and what to make next."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload

from ...core.base.kinds import LeftAs
from ...core.bottles import Ingredient, Part
from ...core.bottles.heard import HISS_WORDS, LOUDEST
from ...core.bottles.ingredients import INGREDIENTS, USUAL_G_PER_L, ripe
from ...core.bottles.scores import FlavourScore, Ranked, ranking
from ...core.bottles.suggest import Candidate, Proposal, next_amount, primed_after_gush, proposals
from ...store.read import ingredients, queries
from ...store.read.moments import days_between
from ...store.records import Bottle, Bottling, Comparison, Flavour, LarderItem, Score

PLAIN = "plain"
KEPT, RAW = "f", "i"  #: How the key of a card begins: of a flavour kept, of an ingredient.
FILLINGS_SHOWN = 8  #: Of a flavour's history.
SCORES_READ = 400  #: The newest; older taste is no guide, and a page must not grow.
NOT_FLAVOURS = ("plain", "sugar", "herbs")  #: Of what Kyklos brings.
MADE_DAYS = 400.0  #: What was made longer ago than that counts as never made. [d]


@dataclass(frozen=True, slots=True)
class FlavourCard:
    """A flavour as it goes into bottles."""

    key: str  #: PLAIN, or KEPT with a number, or RAW with an ingredient's key.
    name: str
    parts: tuple[Part, ...] = ()
    moments: tuple[str, ...] = ()  #: When each part goes in.
    priming_g_per_l: float = 0.0  #: [g/L]
    flavour_id: int | None = None
    hours: float | None = None  #: In a jar first. [h]
    said: tuple[str, ...] = ()  #: What was said last time: more, less.
    words: tuple[str, ...] = ()  #: And in words.
    in_it: tuple[Part, ...] = ()  #: What the drink took up in a jar already.
    gushed: bool = False  #: Its last filling did: it goes in with less.
    changed: tuple[str, ...] = ()  #: What goes in another way than usual, so that it comes out again.

    @property
    def infused(self) -> tuple[Part, ...]:
        """What goes into a jar first."""
        return tuple(p for p, moment in zip(self.parts, self.moments, strict=True) if moment == "infusion")

    @property
    def poured(self) -> tuple[Part, ...]:
        """What goes into the bottle, or the batch."""
        return tuple(p for p, moment in zip(self.parts, self.moments, strict=True) if moment != "infusion")

    @property
    def colour(self) -> str:
        """Key of the ingredient that gives the colour."""
        return tells_most(self.parts or self.in_it)


def tells_most(parts: Sequence[Part]) -> str:
    """Return the key of the ingredient that tells most: the heaviest that is more than sugar."""
    telling = [p for p in parts if p.what.key != "sugar"] or list(parts)
    return max(telling, key=lambda p: p.g_per_l).what.key if telling else PLAIN


def plain_card(priming_g_per_l: float = 0.0) -> FlavourCard:
    """Return the card of a plain bottle. [g/L]"""
    return FlavourCard(PLAIN, "Plain", priming_g_per_l=priming_g_per_l)


def raw_card(ingredient: Ingredient) -> FlavourCard:
    """Return the card of an ingredient alone, as much of it as is usual."""
    return FlavourCard(f"{RAW}{ingredient.key}", ingredient.name, (Part(ingredient, USUAL_G_PER_L[ingredient.form]),), ("bottle",))


def card_of(session: Session, kept: Flavour, lean: bool = False) -> FlavourCard:
    """Return the card of a flavour kept; leaning, with as much as was asked for last time."""
    rows = [(part, row.moment) for row in kept.parts if (part := ingredients.part_of(session, row)) is not None]
    said, words = _said_last(session, kept.id) if lean else ((), ())
    gushed = lean and _gushed_last(session, kept.id)
    parts = tuple(replace(p, g_per_l=round(next_amount(p.g_per_l, said, gushed=gushed), 2)) for p, _ in rows)
    return FlavourCard(
        f"{KEPT}{kept.id}",
        kept.name,
        parts,
        tuple(moment for _, moment in rows),
        round(primed_after_gush(kept.priming_g_per_l), 2) if gushed else kept.priming_g_per_l,
        kept.id,
        kept.hours,
        said,
        words,
        gushed=gushed,
    )


def _said_last(session: Session, flavour_id: int) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Return what tasters said of the last filling that was scored: more or less, and in words."""
    last = session.scalars(
        select(Bottling.id)
        .join(Score, Score.bottling_id == Bottling.id)
        .where(Bottling.flavour_id == flavour_id)
        .order_by(Bottling.at.desc())
        .limit(1)
    ).first()
    if last is None:
        return (), ()
    rows = session.scalars(select(Score).where(Score.bottling_id == last).order_by(Score.at)).all()
    return tuple(r.next_time for r in rows if r.next_time), tuple(r.word for r in rows if r.word)[-2:]


def _gushed_last(session: Session, flavour_id: int) -> bool:
    """Return whether a bottle of the last filling that was opened gushed."""
    opened = Bottle.hiss.is_not(None) | (Bottle.left_as == LeftAs.GUSHED)
    last = select(Bottling.id).join(Bottle).where(Bottling.flavour_id == flavour_id, opened).order_by(Bottling.at.desc()).limit(1)
    rows = session.execute(select(Bottle.hiss, Bottle.left_as).where(Bottle.bottling_id == last.scalar_subquery()))
    return any(hiss == LOUDEST or left == LeftAs.GUSHED for hiss, left in rows)


def card_named(session: Session, key: str) -> FlavourCard | None:
    """Find a card by its key; None: nobody knows it."""
    if key == PLAIN:
        return plain_card()
    if key.startswith(KEPT) and key[1:].isdigit():
        kept = session.get(Flavour, int(key[1:10]))
        return card_of(session, kept, lean=True) if kept is not None else None
    found = ingredients.named(session, key[1:]) if key.startswith(RAW) else None
    return raw_card(found) if found is not None and found.key not in ("plain",) else None


@dataclass(frozen=True, slots=True)
class PastFilling:
    """One filling of a flavour's history."""

    bottling: Bottling
    scores: Sequence[Score]
    hisses: Sequence[str]


def history(session: Session, flavour_id: int) -> list[PastFilling]:
    """List the last fillings of a flavour, the newest first, with how they were liked and how they hissed."""
    rows = session.scalars(
        select(Bottling)
        .where(Bottling.flavour_id == flavour_id)
        .options(joinedload(Bottling.brew))
        .order_by(Bottling.at.desc())
        .limit(FILLINGS_SHOWN)
    ).all()
    out = []
    for row in rows:
        heard = [HISS_WORDS[b.hiss] for b in row.bottles if b.hiss is not None]
        out.append(PastFilling(row, row.scores, heard))
    return out


def name_in_ranking(group: Bottling) -> str:
    """Name a filling as rankings do: by its flavour kept, else by its ingredient."""
    if group.kept is not None:
        return group.kept.name
    known = INGREDIENTS.get(group.flavour)
    return known.name if known is not None else group.note or "Own flavour"


def said(session: Session) -> list[FlavourScore]:
    """List what tasters said of late, for a ranking; what is still blind is left out."""
    rows = session.scalars(
        select(Score)
        .outerjoin(Comparison, Score.comparison_id == Comparison.id)
        .where((Score.comparison_id.is_(None)) | (Comparison.revealed_at.is_not(None)))
        .options(joinedload(Score.bottling).joinedload(Bottling.kept), joinedload(Score.taster))
        .order_by(Score.at.desc(), Score.id.desc())
        .limit(SCORES_READ)
    ).all()
    return [FlavourScore(r.taster.name, name_in_ranking(r.bottling), r.liked, r.comparison_id) for r in rows]


def rankings(session: Session) -> list[tuple[str, list[Ranked]]]:
    """Rank flavours for all together and for each taster."""
    every = said(session)
    tasters = sorted({one.taster for one in every})
    out = [("Together", ranking(every))] if len(tasters) > 1 else []
    return out + [(name, ranking([one for one in every if one.taster == name])) for name in tasters]


def larder(session: Session) -> list[LarderItem]:
    """List what is at hand, the oldest first."""
    return list(session.scalars(select(LarderItem).where(LarderItem.gone_at.is_(None)).order_by(LarderItem.since)))


def ripe_now(session: Session, now: datetime) -> list[Ingredient]:
    """List the ingredients that are ripe this month where the household is."""
    below = queries.household_of(session).southern
    return [one for one in _flavours_of(ingredients.by_key(session).values()) if ripe(one, now.month, below)]


def _flavours_of(some: Iterable[Ingredient]) -> list[Ingredient]:
    return [one for one in some if one.key not in NOT_FLAVOURS]


def suggestions(session: Session, now: datetime) -> list[Proposal]:
    """Propose three flavours to make, with the reasons."""
    month, below, known = now.month, queries.household_of(session).southern, ingredients.by_key(session)
    at_hand: dict[str, list[str]] = defaultdict(list)
    for item in larder(session):
        at_hand[item.ingredient].append(item.where)
    liked: dict[str, dict[str, list[int]]] = defaultdict(lambda: defaultdict(list))
    for one in said(session):
        liked[one.flavour][one.taster].append(one.liked)
    made = _made_lately(session, now)
    out, used = [], set()
    for kept in ingredients.flavours(session):
        parts = [known[row.ingredient] for row in sorted(kept.parts, key=lambda r: -r.g_per_l) if row.ingredient in known]
        used |= {one.key for one in parts[:1]}
        out.append(
            Candidate(
                f"{KEPT}{kept.id}",
                kept.name,
                tuple(one.name for one in parts),
                tuple(one.name for one in parts if ripe(one, month, below)),
                tuple((where, one.name) for one in parts for where in at_hand.get(one.key, ())),
                tuple((name, sum(some) / len(some)) for name, some in sorted(liked[kept.name].items())),
                made.get(kept.id),
            )
        )
    for flavour in _flavours_of(known.values()):
        if flavour.key not in used and (flavour.key in at_hand or ripe(flavour, month, below)):
            here = tuple((where, flavour.name) for where in at_hand.get(flavour.key, ()))
            season = (flavour.name,) if ripe(flavour, month, below) else ()
            out.append(Candidate(f"{RAW}{flavour.key}", flavour.name, (flavour.name,), season, here, kept=False))
    return proposals(out)


def _made_lately(session: Session, now: datetime) -> dict[int, float]:
    """Return how many days ago each flavour was last filled."""
    rows = session.execute(
        select(Bottling.flavour_id, func.max(Bottling.at))
        .where(Bottling.flavour_id.is_not(None), Bottling.at >= now - timedelta(days=MADE_DAYS))
        .group_by(Bottling.flavour_id)
    )
    return {number: days_between(at, now) for number, at in rows if number is not None}


def opened_lately(session: Session, most: int) -> list[Bottle]:
    """List the bottles that were opened last, to be scored, the newest first."""
    return list(
        session.scalars(
            select(Bottle)
            .where(Bottle.gone_at.is_not(None), Bottle.left_as.in_((LeftAs.DRUNK, LeftAs.GUSHED)))
            .options(joinedload(Bottle.bottling).joinedload(Bottling.brew), joinedload(Bottle.bottling).joinedload(Bottling.kept))
            .order_by(Bottle.gone_at.desc(), Bottle.id.desc())
            .limit(most)
        )
    )
