"""What is known of jars in which a brew takes flavour: what is in them, how they are by now, what strained bottles would do."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from ...core.base.facts import BOTTLES
from ...core.base.kinds import AddedAs
from ...core.bottles import BottleAsk, Part
from ...core.bottles.bottle import POURS
from ...core.bottles.flavouring import added_ethanol, driving_form, flavoured, may_close, room
from ...core.bottles.infusing import Infused, infuse
from ...core.liquid.liquid import fermented
from ...core.liquid.pouring import Added
from ...store.read import ingredients, recorded
from ...store.read.moments import age_of, days_between, quarter_of
from ...store.records import Infusion
from ..forecast.warmth import Stay, warmth_from
from .harvests import Filling, spot_of
from .pressure import Filled, ask_if_filled


@dataclass(frozen=True, slots=True)
class JarStands:
    """A jar as it is now."""

    infusion: Infusion
    out: Infused
    hours: float  #: Since it began. [h]
    parts: tuple[Part, ...]

    @property
    def due_at(self) -> datetime:
        """When it is meant to be strained."""
        return self.infusion.began_at + timedelta(hours=self.infusion.hours)


def parts_of(session: Session, infusion: Infusion) -> tuple[Part, ...]:
    """Return what was put into a jar, in g/L of the full jar."""
    jar_l = infusion.liquid.made_l
    known = ingredients.by_key(session)
    return tuple(
        Part(known[row.name], row.grams / jar_l, "")
        for row in infusion.liquid.additions
        if row.what == Added.FLAVOUR and row.name in known and jar_l > 0
    )


def infused(session: Session, infusion: Infusion, at: datetime) -> Infused:
    """Return a jar as it is at a moment: until it was strained, its pieces go on giving."""
    parts = parts_of(session, infusion)
    until = min(at, infusion.strained_at) if infusion.strained_at is not None else at
    hours = age_of(infusion.began_at, until) * 24
    plain_l = infusion.liquid.made_l * (1 - room(parts))
    brew = fermented([*infusion.start[:7], 0.0], recorded.recipe_of(infusion.brew), plain_l)
    stood = [Stay(place=infusion.place, since=infusion.began_at)]
    course = warmth_from(session, stood, infusion.began_at, max(1.0, hours / 24 + 1)).course
    return infuse(brew, parts, min(hours, 24 * 30), course, air=infusion.cover == "cloth", vigour=infusion.vigour)


def stands(session: Session, infusion: Infusion, now: datetime) -> JarStands:
    """Return a jar as it stands now."""
    return JarStands(
        infusion,
        infused(session, infusion, now),
        max(0.0, days_between(infusion.began_at, now) * 24),
        parts_of(session, infusion),
    )


def ph_in(session: Session, infusion: Infusion, filling: Filling, at: datetime) -> float:
    """Return the pH of strained drink with what else goes in. [pH]"""
    return flavoured(infused(session, infusion, at).liquid, filling.parts).ph


def too_high_to_close(session: Session, infusion: Infusion, filling: Filling, at: datetime) -> float | None:
    """Return the pH for which strained drink is not closed for fizz; None where it may be. [pH]"""
    if not filling.closes:
        return None
    measured = filling.ph_after
    if measured is None and not any(part.g_per_l > 0 for part in filling.parts):
        measured = infusion.ph_after  # in the jar: it counts until something is added
    foretold = ph_in(session, infusion, filling, at)
    if may_close(began_at_ph(infusion), foretold, (*parts_of(session, infusion), *filling.parts), measured):
        return None
    return foretold if measured is None else measured


def began_at_ph(infusion: Infusion) -> float:
    """Return the pH of the brew that went into a jar. [pH]"""
    return fermented([*infusion.start[:7], 0.0], recorded.recipe_of(infusion.brew), 1.0).ph


def ask_of(session: Session, infusion: Infusion, filling: Filling, at: datetime) -> BottleAsk:
    """Ask what bottles would do that were filled out of a jar now."""
    out = infused(session, infusion, at)
    filled = Filled(
        at=quarter_of(at),
        start=(*(round(float(v), 6) for v in out.liquid.state[:7]), 0.0),
        vigour=infusion.vigour,
        added_sugar_g_per_l=filling.added_sugar_g_per_l,
        added_ethanol_g_per_l=added_ethanol(filling.parts),
        form=driving_form(filling.parts) if filling.parts else AddedAs.JUICE,
        pour_yeast=POURS[filling.pour],
        volumes=out.volumes,
        headspace_fraction=filling.headspace_fraction,
        limit_bar=filling.limit_bar or BOTTLES[filling.kind].limit_bar,
        leaf_g_per_l=infusion.brew.leaf_g_per_l,
        brew_share=1 - room(filling.parts),
    )
    return ask_if_filled(session, filled, *spot_of(session, filling, infusion.brew.vessel.place))
