"""A generated household of twenty years, by the same records as a real one.

Thirty lines that part, are led to jun, are given away and end; brews with readings, tastings, looks, bottles and starter in the
proportions that households have; what the brews taught stands as the house keeps it.
"""

import itertools
import random
from datetime import UTC, datetime, timedelta

from sqlalchemy import insert

from kyklos.core.liquid.pouring import Added, LiquidKind, Way
from kyklos.reckon.forecast.learning import RULES
from kyklos.store.records import (
    Addition,
    Bottle,
    BottleType,
    Bottling,
    Brew,
    Change,
    Culture,
    Disc,
    Gift,
    Household,
    KeptLiquid,
    Lesson,
    Look,
    Place,
    Reading,
    Standing,
    StarterLot,
    Taster,
    Tasting,
    Touched,
    Transfer,
    Vessel,
)
from kyklos.store.records.base import LAYOUT

NOW = datetime(2047, 2, 18, 8, 30, tzinfo=UTC)
START_L = 0.5  #: Set aside of each brew, and poured into the next. [L]
BOTTLE_L = 0.47  #: In one bottle. [L]
LIVING_LINES = 5
WINDS = [
    "Bora", "Meltemi", "Levanter", "Ponente", "Sirocco", "Mistral", "Tramontana", "Ostro", "Libeccio", "Zephyr",
    "Harmattan", "Chinook", "Foehn", "Khamsin", "Shamal",
]  # fmt: skip


def _brew(session, line, vessel, began, days, lot, disc, honey, status):
    return Brew(
        kind="batch", vessel=vessel, culture=line, disc=disc, tea="green" if honey > 0.5 else "black",
        leaf_g_per_l=5, sugar_g_per_l=60, honey_share=honey, starter_fraction=0.12, starter_ph=3.1,
        liquid=_started(session, began, lot), plan={}, pitched_at=began, status=status,
        ended_at=None if status == "fermenting" else began + timedelta(days=days),
    )  # fmt: skip


def _liquid(session, **more):
    """A liquid with its number, so that what is of it can be written before it is."""
    return KeptLiquid(id=next(session.info.setdefault("liquids", itertools.count(1))), **more)


def _started(session, began, lot):
    """Three litres: sweet tea, and all of a starter."""
    liquid = _liquid(session, kind=LiquidKind.BREW, began_at=began)
    liquid.additions.append(Addition(at=began, what=Added.SWEET_TEA, litres=3.0 - (START_L if lot else 0)))
    if lot is not None:
        _passed(session, began, START_L, Way.PITCHED, lot.liquid, liquid)
    return liquid


def _passed(session, at, litres, how, source, target):
    """A transfer; a source that it empties has ended."""
    if source is not None and how not in {Way.RESERVED, Way.BOTTLED, Way.DRUNK}:
        source.ended_at = at
    session.add(Transfer(at=at, litres=litres, how=how, source=source, target=target))


def _watched(brew, rng, tasters):
    """What was measured, seen and tasted: four readings, two looks, three tastings in two brews, as households do; written once its liquid is."""
    out = []
    over = (brew.ended_at or NOW) - timedelta(hours=1)
    for day, ph in ((0, 4.4), (2, 4.0), (4, 3.65), (7, 3.3)):
        at = brew.pitched_at + timedelta(days=day + rng.uniform(0, 0.3))
        if at < over:
            out.append(
                Reading(
                    liquid_id=brew.liquid.id,
                    at=at,
                    ph=round(ph + rng.gauss(0, 0.06), 2),
                    celsius=round(rng.gauss(23, 1), 1),
                )
            )
    for day, seen in ((3, "skin"), (6, "disc")):
        if (at := brew.pitched_at + timedelta(days=day)) < over:
            out.append(Look(liquid_id=brew.liquid.id, at=at, surface=seen))
    for taster in tasters[: rng.choice((1, 1, 2))]:
        if (at := brew.pitched_at + timedelta(days=7)) < over:
            out.append(Tasting(liquid_id=brew.liquid.id, taster=taster, at=at, score=rng.choice((-1, 0, 0, 1))))
    return out


def _bottled(session, brew, rng, kind, shelf, fridge):
    """Four or five bottles of two brews in three: some days warm, then cold, then drunk; the last ones still stand."""
    at, count = brew.ended_at, rng.choice((4, 5))
    filling = _liquid(session, kind=LiquidKind.FILLING, began_at=at)
    _passed(session, at, count * BOTTLE_L, Way.BOTTLED, brew.liquid, filling)
    group = Bottling(
        brew=brew, liquid=filling, at=at, flavour="ginger", flavour_g_per_l=10.0, added_sugar_g_per_l=0.2,
        start=[20.0, 15.0, 3.0, 4.0, 0.5, 0.3, 0.8, 0.1], vigour=1.0,
    )  # fmt: skip
    for number in range(count):
        chilled, gone = at + timedelta(days=3), at + timedelta(days=20 + 14 * number)
        bottle = Bottle(bottling=group, type=kind, headspace_fraction=0.05, state="gone", gone_at=gone, hiss=2)
        if gone >= NOW:
            bottle.state, bottle.gone_at, bottle.hiss = ("cold" if chilled < NOW else "warm"), None, None
        else:
            _passed(session, gone, BOTTLE_L, Way.DRUNK, filling, None)
        session.add(bottle)
        session.add(Standing(bottle=bottle, place=shelf, since=at, until=chilled if chilled < NOW else None))
        if chilled < NOW:
            session.add(Standing(bottle=bottle, place=fridge, since=chilled))
    return count * BOTTLE_L


def _kept(session, line, brew, bottled):
    """Starter set aside at the end of a brew; the rest went."""
    at = brew.ended_at or brew.pitched_at
    lot = StarterLot(culture=line, made_at=at, ph=3.1, liquid=_liquid(session, kind=LiquidKind.STARTER, began_at=at))
    _passed(session, at, START_L, Way.RESERVED, brew.liquid, lot.liquid)
    if brew.ended_at is not None:
        _passed(session, at, 3.0 - START_L - bottled, Way.LEFT_OVER, brew.liquid, None)
    return lot


def _lessons(session):
    """What the brews taught, as the house keeps it; the figures are made up, for to compute them takes minutes."""
    rng = random.Random(3)
    for revision, brew in enumerate(session.query(Brew).filter(Brew.ended_at.is_not(None)), 1):
        tasted = [[t.taster_id, t.score, t.at.timestamp(), round(rng.uniform(3.4, 4.8), 3), 0.1] for t in brew.tastings]
        tests = [[4.0, 2.0, 3.7, 3.5, 3.9, 3.65], [7.0, 3.0, 3.3, 3.1, 3.5, 3.32]]
        session.add(
            Lesson(
                brew_id=brew.id,
                stale=False,
                rules=RULES,
                fingerprint="made up",
                revision=revision,
                yeast_vigour=rng.uniform(0.8, 1.3),
                bacteria_vigour=rng.uniform(0.8, 1.3),
                yeast_sd=0.15,
                bacteria_sd=0.1,
                mean_c=23.0,
                jun=brew.honey_share >= 0.5,
                tasted=tasted,
                tests=tests,
            )
        )


def _written(session):
    """The journal's share: a change for each reading, with the rows that it touched."""
    changes, touched = [], []
    for number, reading in enumerate(session.query(Reading).order_by(Reading.at), 1):
        row = {"id": reading.id, "liquid_id": reading.liquid_id, "ph": reading.ph}
        told = {
            "id": number,
            "action": "log_reading",
            "says": f"pH {reading.ph} logged.",
            "at": reading.at,
            "layout": LAYOUT,
        }
        changes.append({**told, "undone_at": None, "rows": [["reading", reading.id, None, row]]})
        touched.append({"change_id": number, "name": "reading", "number": reading.id, "refers": False, "made": True})
        touched.append(
            {"change_id": number, "name": "liquid", "number": reading.liquid_id, "refers": True, "made": False}
        )
    session.execute(insert(Change), changes)
    session.execute(insert(Touched), touched)


def fill_years(session, lines=30, beads=2000, seed=7, days=7300.0):
    """Write the household of so many days; gives the number of its beads."""
    with session.no_autoflush:
        return _fill_years(session, lines, beads, random.Random(seed), days)


def _fill_years(session, lines, beads, rng, days):
    session.add(Household(name="Twenty years", units="metric", zone="UTC", theme="auto"))
    tasters = [Taster(name="Ana", position=0), Taster(name="Ben", position=1)]
    place, fridge = Place(name="Dresser", celsius=22), Place(name="Fridge", kind="fridge", celsius=6, position=1)
    jars = [Vessel(name=f"Jar {i + 1}", nominal_l=4, usable_l=3.4, diameter_cm=15) for i in range(9)]
    kind = BottleType(kind="swing-top", volume_ml=500.0, limit_bar=6.0)
    session.add_all([place, fridge, kind, *jars, *tasters])
    session.add_all([Standing(vessel=jar, place=place, since=NOW - timedelta(days=days + 100)) for jar in jars])
    made, count, span = [], 0, days
    for index in range(lines):
        start = span - index * span * 0.93 / lines
        lives = index >= lines - LIVING_LINES
        ends = 0.0 if lives else rng.uniform(0.1, 0.6) * start
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
        discs, watched, lot, honey = [disc], [], None, 0.0
        leads = rng.random() < 0.4
        for number in range(brews):
            day = start - step * (number + 0.5)
            honey = min(1.0, honey + 0.2) if leads and number > brews / 2 else honey
            alive = number == brews - 1 and lives
            status = "fermenting" if alive else "discarded" if rng.random() < 0.03 else "harvested"
            began = NOW - timedelta(days=6.0 + index % 3 if alive else day)
            brew = _brew(session, line, jars[index % 9], began, step * 0.6, lot, discs[-1], honey, status)
            session.add(brew)
            watched += _watched(brew, rng, tasters)
            bottled = 0.0 if alive or rng.random() < 0.52 else _bottled(session, brew, rng, kind, place, fridge)
            lot = _kept(session, line, brew, bottled)
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
        session.add_all(watched)
        session.flush()
        count += brews + len(discs)
    _lessons(session)
    _written(session)
    return count


def fill_crowded(session, jars=15, bottles=400, seed=11):
    """Write a household of one year with many jars that brew and many bottles that stand."""
    rng = random.Random(seed)
    fill_years(session, lines=4, beads=80, days=365.0)
    place, fridge = session.query(Place).filter_by(kind="room").first(), session.query(Place).filter_by(kind="fridge").first()
    tasters, kind, line = session.query(Taster).all(), session.query(BottleType).first(), session.query(Culture).first()
    for number in range(jars - session.query(Brew).filter_by(status="fermenting").count()):
        jar = Vessel(name=f"Crowded {number + 1}", nominal_l=4, usable_l=3.4, diameter_cm=15)
        session.add_all([jar, Standing(vessel=jar, place=place, since=NOW - timedelta(days=400))])
        brew = _brew(session, line, jar, NOW - timedelta(days=2 + number % 9, hours=number), 9, None, None, 0.0, "fermenting")
        session.add(brew)
        session.flush()
        session.add_all(_watched(brew, rng, tasters))
    ended = session.query(Brew).filter_by(status="harvested").order_by(Brew.ended_at.desc()).limit(60).all()
    standing = session.query(Bottle).filter(Bottle.gone_at.is_(None)).count()
    for turn in range(bottles):
        if standing >= bottles:
            break
        brew = ended[turn % len(ended)]
        at = NOW - timedelta(days=rng.uniform(0.5, 60))
        filling = _liquid(session, kind=LiquidKind.FILLING, began_at=at)
        session.add(filling)
        group = Bottling(
            brew=brew, liquid=filling, at=at, flavour=rng.choice(("ginger", "plain", "damson", "fig")), flavour_g_per_l=10.0, added_sugar_g_per_l=rng.uniform(0, 6),
            start=[20.0, 15.0, 3.0, 4.0, 0.5, 0.3, 0.8, 0.1], vigour=1.0,
        )  # fmt: skip
        filling.additions.append(Addition(at=at, what=Added.SWEET_TEA, litres=5 * BOTTLE_L))
        cold = rng.random() < 0.6
        for _ in range(min(5, bottles - standing)):
            bottle = Bottle(bottling=group, type=kind, headspace_fraction=0.05, state="cold" if cold else "warm")
            session.add_all([bottle, Standing(bottle=bottle, place=place, since=at, until=at + timedelta(days=3) if cold and at + timedelta(days=3) < NOW else None)])
            if cold:
                session.add(Standing(bottle=bottle, place=fridge, since=at + timedelta(days=3)))
            standing += 1
    session.flush()
    return standing
