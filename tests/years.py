"""A generated household of twenty years: thirty lines that part, are led to jun, are given away and end; two thousand beads."""

import random
from datetime import UTC, datetime, timedelta

from kyklos.store.models import (
    Brew,
    Culture,
    Disc,
    Gift,
    Household,
    LotLoss,
    Place,
    Standing,
    StarterLot,
    StarterPortion,
    Vessel,
)

NOW = datetime(2047, 2, 18, 8, 30, tzinfo=UTC)
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


def _brew(line, vessel, day, days, lot, disc, honey, status):
    began = NOW - timedelta(days=day)
    return Brew(
        kind="batch", vessel=vessel, culture=line, starter_lot=lot, disc=disc, tea="green" if honey > 0.5 else "black",
        leaf_g_per_l=5, sugar_g_per_l=60, honey_share=honey, starter_fraction=0.12, starter_ph=3.1, final_l=3.0,
        plan={}, pitched_at=began, status=status, ended_at=None if status == "fermenting" else began + timedelta(days=days),
    )  # fmt: skip


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
            brew = _brew(line, jars[index % 9], 6.0 if alive else day, step * 0.6, lot, discs[-1], honey, status)
            session.add(brew)
            if lot is not None:
                lot.left_l = 0.0
                brew.portions.append(StarterPortion(lot=lot, name=name, litres=lot.volume_l))
            lot = StarterLot(
                culture=line, source_brew=brew, made_at=brew.ended_at or brew.pitched_at, volume_l=0.5, left_l=0.5
            )
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
            lot.left_l, discs[-1].ended_at, discs[-1].ended_as = 0.0, NOW - timedelta(days=ends), "composted"
            lot.lost_l = lot.volume_l
            session.flush()
            session.add(LotLoss(lot_id=lot.id, at=NOW - timedelta(days=ends), litres=lot.volume_l))
        session.add_all(discs)
        session.flush()
        count += brews + len(discs)
    return count
