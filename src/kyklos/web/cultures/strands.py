"""What the braid is drawn from: brews, discs, volumes and passings of every line, read in few light questions."""

from __future__ import annotations

from collections import defaultdict
from datetime import UTC, datetime
from typing import Any, NamedTuple

from flask import g, render_template
from markupsafe import Markup, escape
from sqlalchemy import Float, cast, func, select

from ...core.lineage import ENDS
from ...core.trace import Node
from ...drawing.braid import LABELS_FROM, Bead, Braid, LineFacts, Passing, Ribbon, braid
from ...store.memory import remembered
from ...store.models import Brew, BrewDisc, Culture, Disc, Gift, LotLoss, LotPour, StarterLot, StarterPortion, Vessel
from ..names import local_today

SPANS = {"season": 120.0, "year": 365.0, "all": 0.0}
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
LEAST_DAYS = 60.0  #: The braid shows at least so much of time. [d]


class Row(NamedTuple):
    """A bead in the table that says what the braid shows."""

    line: str
    node: Node
    what: str
    began: datetime
    ended: datetime | None
    state: str
    diet: str


def _days(moment: datetime, now: float) -> float:
    """Put a moment on the braid. `now`: as a timestamp, read once. [s] to [d from today]"""
    return (moment.timestamp() - now) / 86400


def _day(column: Any, now: datetime) -> Any:
    """Let the database put a column of moments on the braid: thousands need no dates. [d from today]"""
    here = now.astimezone(UTC).replace(tzinfo=None).isoformat(" ")
    return cast(func.julianday(column), Float) - func.julianday(here)


def state_words(state: str) -> str:
    """Say in which state a brew or a disc is."""
    return {"alive": "in its vessel", "held": "held back", "kept": "kept"}.get(state, ENDS.get(state, state).lower())


def rows_of() -> list[Row]:
    """List every brew and disc, by line and in order of time."""
    out: list[Row] = []
    brews = (
        select(Brew.id, Culture.name, Vessel.name, Brew.pitched_at, Brew.ended_at, Brew.status, Brew.honey_share)
        .join(Culture, Culture.id == Brew.culture_id)
        .join(Vessel, Vessel.id == Brew.vessel_id)
    )
    for number, line, vessel, began, ended, status, honey in g.session.execute(brews):
        state = "alive" if status == "fermenting" else status
        diet = "honey" if honey > 0.99 else f"{100 * honey:.0f} % honey" if honey > 0 else "sugar"
        out.append(Row(line, ("brew", number), vessel, began, ended, state, diet))
    told = (Disc.id, Disc.name, Disc.made_at, Disc.ended_at, Disc.ended_as)
    discs = (
        select(*told, Culture.name, Culture.started_at, Brew.ended_at, Brew.pitched_at)
        .join(Culture, Culture.id == Disc.culture_id)
        .outerjoin(Brew, Brew.id == Disc.born_brew_id)
    )
    for number, name, made, ended, ended_as, line, started, brew_end, brew_start in g.session.execute(discs):
        began = made or brew_end or brew_start or started
        out.append(Row(line, ("disc", number), name, began, ended, ended_as or "kept", ""))
    return sorted(out, key=lambda row: (row.line, row.began, row.node))


def _bead(row: Row, honey: float, now: float) -> Bead:
    end = _days(row.ended, now) if row.ended is not None else None
    state = "" if row.state in {"harvested", "kept"} else f", {state_words(row.state)}"
    says = f"{row.what}, {row.began.day} {MONTHS[row.began.month - 1]} {row.began.year}{state}"
    kind, number = row.node
    return Bead(f"{kind}-{number}", _days(row.began, now), end, kind, row.state, says, honey)


def _volumes() -> tuple[dict[int, list[tuple[float, float]]], dict[int, float]]:
    """Sum what lives of each line over time, and say when nothing did any more. [d from today, L]"""
    steps: dict[int, list[tuple[float, float]]] = defaultdict(list)
    now = g.now
    brews = select(Brew.culture_id, _day(Brew.pitched_at, now), _day(Brew.ended_at, now), Brew.final_l)
    for line, began, ended, litres in g.session.execute(brews):
        steps[line].append((began, litres))
        if ended is not None:
            steps[line].append((ended, -litres))
    for line, made, litres in g.session.execute(
        select(StarterLot.culture_id, _day(StarterLot.made_at, now), StarterLot.volume_l)
    ):
        steps[line].append((made, litres))
    lot = StarterLot.culture_id
    spent = (
        select(lot, _day(Brew.pitched_at, now), StarterPortion.litres)
        .join(StarterPortion, StarterPortion.lot_id == StarterLot.id)
        .join(Brew, Brew.id == StarterPortion.brew_id),
        select(lot, _day(LotLoss.at, now), LotLoss.litres).join(LotLoss, LotLoss.lot_id == StarterLot.id),
        select(lot, _day(Gift.at, now), Gift.litres).join(Gift, Gift.lot_id == StarterLot.id).where(Gift.outward),
        select(lot, _day(LotPour.at, now), LotPour.litres).join(LotPour, LotPour.source_id == StarterLot.id),
    )
    for query in spent:
        for line, at, litres in g.session.execute(query):
            steps[line].append((at, -litres))
    return _summed(steps)


def _summed(
    steps: dict[int, list[tuple[float, float]]],
) -> tuple[dict[int, list[tuple[float, float]]], dict[int, float]]:
    out: dict[int, list[tuple[float, float]]] = {}
    for line, changes in steps.items():
        now, course = 0.0, []
        for day, change in sorted(changes):
            now += change
            course.append((day, max(0.0, now)))
        out[line] = course
    left = {line: course[-1][0] for line, course in out.items() if course[-1][1] < 0.02}
    return out, left


def _passings() -> dict[int, list[Passing]]:
    """List what passed between lines, and over the threshold."""
    out: dict[int, list[Passing]] = defaultdict(list)
    now = g.now.timestamp()
    for gift in g.session.scalars(select(Gift)):
        word = "given" if gift.outward else "received"
        out[gift.culture_id].append(Passing(_days(gift.at, now), word, None, not gift.outward))
    poured = (
        select(StarterLot.culture_id, Brew.culture_id, Brew.pitched_at)
        .join(StarterPortion, StarterPortion.lot_id == StarterLot.id)
        .join(Brew, Brew.id == StarterPortion.brew_id)
        .where(StarterLot.culture_id != Brew.culture_id)
    )
    joined = (
        select(Disc.culture_id, Brew.culture_id, BrewDisc.since)
        .join(BrewDisc, BrewDisc.disc_id == Disc.id)
        .join(Brew, Brew.id == BrewDisc.brew_id)
        .where(Disc.culture_id != Brew.culture_id)
    )
    for word, query in (("poured into", poured), ("joined", joined)):
        for source, target, at in g.session.execute(query):
            out[source].append(Passing(_days(at, now), word, target))
    return out


def lines_of() -> list[LineFacts]:
    """Put every line together for the braid."""
    rows, (volumes, empty), passings = rows_of(), _volumes(), _passings()
    now = g.now.timestamp()
    honey = dict(g.session.execute(select(Brew.id, Brew.honey_share)).all())
    beads: dict[str, list[Bead]] = defaultdict(list)
    living: dict[str, bool] = defaultdict(bool)
    for row in rows:
        beads[row.line].append(_bead(row, honey[row.node[1]] if row.node[0] == "brew" else 0.0, now))
        living[row.line] |= row.ended is None
    out = []
    query = select(Culture.id, Culture.name, Culture.started_at, Culture.parent_id)
    for number, name, started, parent in g.session.execute(query.order_by(Culture.started_at, Culture.id)):
        own = beads[name]
        ended = None
        if number in empty and not living[name] and own:
            ended = max(empty[number], *(b.end or b.day for b in own))
        facts = LineFacts(
            number, name, _days(started, now), own, volumes.get(number, []), parent, passings[number], ended
        )
        out.append(facts)
    return out


def braid_of(span: str) -> Braid:
    """Draw the household's lines along time; drawn anew when something changed, and every hour."""
    hour = g.now.replace(minute=0, second=0, microsecond=0)
    return remembered(g.session, ("braid", span, hour, g.household.zone), lambda: _braid(span))


def _braid(span: str) -> Braid:
    lines = lines_of()
    whole = max(LEAST_DAYS, max((-line.started for line in lines), default=LEAST_DAYS) * 1.03)
    return braid(lines, local_today(), min(SPANS.get(span) or whole, whole), whole)


def usual_span() -> str:
    """Say how much of time is in sight at first: a year, once there is more."""
    oldest = g.session.scalar(select(func.min(Culture.started_at)))
    return "year" if oldest is not None and -_days(oldest, g.now.timestamp()) > SPANS["year"] * 1.1 else "all"


def _beads(ribbon: Ribbon, way: str, lit: frozenset[str], small: bool) -> Markup:
    """Write a ribbon's beads. There may be thousands: each as short as it can be, in one go."""
    shapes = ("r=5 />", "rx=5 ry=2 />") if small else ("r=8 />", "rx=9 ry=4 />")
    out = []
    for shape in ribbon.beads:
        bead, state = shape.bead, shape.bead.state
        marks = [state] if state not in {"harvested", "kept"} else []
        marks += ["is-lit"] if bead.key in lit else []
        mark = f' class="{" ".join(marks)}"' if marks else ""
        tag, size = ("circle", shapes[0]) if bead.kind == "brew" else ("ellipse", shapes[1])
        address = f"{way}{bead.key.replace('-', '/')}"
        out.append(
            f'<a{mark} href={address} aria-label="{escape(bead.says)}"><{tag} cx={shape.x} cy={shape.y} {size}</a>'
        )
    return Markup("".join(out))  # every text in it is escaped or a number


def _svg(span: str, way: str, lit: frozenset[str]) -> Markup:
    drawn = braid_of(span)
    small = drawn.lane < LABELS_FROM
    text = render_template(
        "cultures/_braid.svg", braid=drawn, lit=lit, beads=lambda ribbon: _beads(ribbon, way, lit, small)
    )
    return Markup(text)  # the template escapes what it says


def shown(span: str, way: str, lit: set[Node] | None = None) -> dict[str, Any]:
    """Give the braid's part of a page what it needs.

    Args:
        span: A key of SPANS.
        way: From the page to the cards of beads.
        lit: What is lit at first.
    """
    keys = frozenset(f"{kind}-{number}" for kind, number in lit or ())
    hour = g.now.replace(minute=0, second=0, microsecond=0)
    svg = _svg(span, way, keys) if keys else None
    key = ("braid svg", span, way, hour, g.household.zone)
    return {
        "braid_svg": svg or remembered(g.session, key, lambda: _svg(span, way, keys)),
        "span": span if span in SPANS else "all",
    }
