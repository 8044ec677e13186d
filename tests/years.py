"""A generated household of twenty years: thirty lines that part, are led to jun, are given away and end; two thousand beads."""

import random
from datetime import UTC, datetime, timedelta

from kyklos.core.pouring import Added, LiquidKind, Way
from kyklos.store.models import (
    Addition,
    Brew,
    Culture,
    Disc,
    Gift,
    Household,
    Liquid,
    Place,
    Standing,
    StarterLot,
    Transfer,
    Vessel,
)

NOW = datetime(2047, 2, 18, 8, 30, tzinfo=UTC)
START_L = 0.5  #: Set aside of each brew, and poured into the next. [L]
WINDS = [
    "Bora",
    "Meltemi",
    "Levanter",
    "Ponente",
    "Sirocco",
    "Mistral",
    "Tramontana",
    "Ostro",
    "Libeccio",
    "Zephyr",
    "Harmattan",
    "Chinook",
    "Foehn",
    "Khamsin",
    "Shamal",
]


def _brew(session, line, vessel, day, days, lot, disc, honey, status):
    began = NOW - timedelta(days=day)
    return Brew(
        kind="batch", vessel=vessel, culture=line, disc=disc, tea="green" if honey > 0.5 else "black",
        leaf_g_per_l=5, sugar_g_per_l=60, honey_share=honey, starter_fraction=0.12, starter_ph=3.1,
        liquid=_started(session, began, lot), plan={}, pitched_at=began, status=status,
        ended_at=None if status == "fermenting" else began + timedelta(days=days),
    )  # fmt: skip


def _started(session, began, lot):
    """Three litres: sweet tea, and all of a starter."""
    liquid = Liquid(kind=LiquidKind.BREW, began_at=began)
    liquid.additions.append(Addition(at=began, what=Added.SWEET_TEA, litres=3.0 - (START_L if lot else 0)))
    if lot is not None:
        _passed(session, began, START_L, Way.PITCHED, lot.liquid, liquid)
    return liquid


def _passed(session, at, litres, how, source, target):
    """A transfer; a source that it empties has ended."""
    if source is not None and how not in {Way.RESERVED}:
        source.ended_at = at
    session.add(Transfer(at=at, litres=litres, how=how, source=source, target=target))


def _kept(session, line, brew):
    """Starter set aside at the end of a brew; the rest went."""
    at = brew.ended_at or brew.pitched_at
    lot = StarterLot(culture=line, made_at=at, liquid=Liquid(kind=LiquidKind.STARTER, began_at=at))
    _passed(session, at, START_L, Way.RESERVED, brew.liquid, lot.liquid)
    if brew.ended_at is not None:
        _passed(session, at, 3.0 - START_L, Way.LEFT_OVER, brew.liquid, None)
    return lot


def fill_years(session, lines=30, beads=2000, seed=7):
    """Write the household; gives the number of its beads."""
    rng = random.Random(seed)
    session.add(Household(name="Twenty years", units="metric", zone="UTC", theme="auto"))
    place = Place(name="Dresser", celsius=22)
    jars = [Vessel(name=f"Jar {i + 1}", nominal_l=4, usable_l=3.4, diameter_cm=15) for i in range(9)]
    session.add_all([place, *jars])
    session.add_all([Standing(vessel=jar, place=place, since=NOW - timedelta(days=7400)) for jar in jars])
    made, count, span = [], 0, 7300.0
    for index in range(lines):
        start = span - index * span * 0.93 / lines
        ends = 0.0 if rng.random() < 0.55 or index > lines - 6 else rng.uniform(0.1, 0.6) * start
        parent = rng.choice(made) if made and rng.random() < 0.6 else None
        name = WINDS[index % len(WINDS)] + ("" if index < len(WINDS) else f" {index // len(WINDS) + 1}")
        line = Culture(
            name=name, diet="sugar", origin="received", started_at=NOW - timedelta(days=start),
            parent_id=parent.id if parent else None,
        )  # fmt: skip
        session.add(line)
        session.flush()
        made.append(line)
        share = round(beads / lines)
        brews = round(share * 0.66)
        step = (start - ends) / (brews + 1)
        disc = Disc(name=f"{name}, first disc", culture=line, made_at=line.started_at)
        discs, lot, honey = [disc], None, 0.0
        leads = rng.random() < 0.4
        for number in range(brews):
            day = start - step * (number + 0.5)
            honey = min(1.0, honey + 0.2) if leads and number > brews / 2 else honey
            alive = number == brews - 1 and ends == 0.0
            status = "fermenting" if alive else "discarded" if rng.random() < 0.03 else "harvested"
            brew = _brew(
                session, line, jars[index % 9], 6.0 if alive else day, step * 0.6, lot, discs[-1], honey, status
            )
            session.add(brew)
            lot = _kept(session, line, brew)
            session.add(lot)
            if len(discs) < share - brews and not alive:
                born = Disc(name=f"{name}, disc {len(discs) + 1}", culture=line, born_brew=brew)
                old = discs[-1]
                old.ended_at, old.ended_as = (
                    brew.ended_at,
                    rng.choice(["composted", "given", "dried", "lost", "discarded"]),
                )
                if old.ended_as == "given":
                    session.add(Gift(culture=line, at=brew.ended_at, disc=old, who="a neighbour"))
                discs.append(born)
        if ends and lot is not None:
            discs[-1].ended_at, discs[-1].ended_as = NOW - timedelta(days=ends), "composted"
            _passed(session, NOW - timedelta(days=ends), START_L, Way.LOST, lot.liquid, None)
        session.add_all(discs)
        session.flush()
        count += brews + len(discs)
    return count
