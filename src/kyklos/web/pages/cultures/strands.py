"""What the braid is drawn from: brews, discs, volumes and passings of every line, read in few light questions."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import replace
from datetime import datetime, timedelta
from typing import Any, NamedTuple

from flask import g, render_template
from markupsafe import Markup, escape

from ....core.base.kinds import BrewStatus, NodeKind
from ....core.cultures import Node
from ....core.cultures.lineage import ENDS
from ....core.liquid.taste import is_all_honey
from ....drawing.braid import LABELS_FROM, LINE_END, MARKS, Bead, Braid, LineFacts, Passing, Ribbon, braid
from ....store.read import culture_queries, queries
from ....store.read import strands as strand_rows
from ....store.read.memory import remembered
from ....store.read.strands import EVER
from ...kit import units
from ...kit.words import day_word, local_today

SPANS = {"season": 120.0, "year": 365.0, "all": 0.0}
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
#: Kind, name and shape of what is marked on the braid.
LEGEND = (
    *((kind, kind, path) for kind, path in MARKS.items()),
    ("given", "given", "m0 5v-10m-3 4l3 -4l3 4"),
    ("spent", "a line’s end", LINE_END),
)  # fmt: skip
LITTLE_L = 0.02  #: Less of a line is nothing. [L]
SPANS_BACK = 3.0  #: So many spans back the braid of a season or a year reaches; all of it is a way of its own.
LEAST_DAYS = 60.0  #: The braid shows at least so much of time. [d]


class StrandRow(NamedTuple):
    """A bead in the table that says what the braid shows."""

    node: Node
    what: str
    began: datetime
    ended: datetime | None
    state: str
    diet: str


def state_words(state: str) -> str:
    """Return in which state a brew or a disc is."""
    return {"alive": "in its vessel", "held": "held back", "kept": "kept"}.get(state, ENDS.get(state, state).lower())


def rows_of(line_number: int, skipped: int, most: int) -> list[StrandRow]:
    """List a page of a line's brews and discs, in order of time."""
    beads = [(kind, number) for kind, number in strand_rows.asked(g.session, strand_rows.BEADS_OF_PAGE, g.now, line=line_number, skipped=skipped, most=most)]
    brews, discs = ([number for kind, number in beads if kind == wanted] for wanted in (NodeKind.BREW, NodeKind.DISC))
    found: dict[Node, StrandRow] = {}
    for number, vessel, began, ended, status, honey in strand_rows.asked(g.session, strand_rows.EVERY_BREW, g.now, numbers=brews):
        state = "alive" if status == BrewStatus.FERMENTING else status
        diet = "honey" if is_all_honey(honey) else f"{100 * honey:.0f} % honey" if honey > 0 else "sugar"
        found[NodeKind.BREW, number] = StrandRow((NodeKind.BREW, number), vessel, began, ended, state, diet)
    for number, name, made, ended, ended_as, started, brew_end, brew_start in strand_rows.asked(g.session, strand_rows.EVERY_DISC, g.now, numbers=discs):
        began = made or brew_end or brew_start or started
        found[NodeKind.DISC, number] = StrandRow((NodeKind.DISC, number), name, began, ended, ended_as or "kept", "")
    return [found[bead] for bead in beads]


def count_of(line_number: int) -> int:
    """Count a line's brews and discs."""
    return int(strand_rows.asked(g.session, strand_rows.THINGS_OF_LINE, g.now, line=line_number)[0][0])


def _says(name: str, began: str, state: str) -> str:
    """Name a bead. `began`: as the database writes a moment, YYYY-MM-DD and more."""
    words = "" if state in {BrewStatus.HARVESTED, "kept"} else f", {state_words(state)}"
    return f"{name}, {int(began[8:10])} {MONTHS[int(began[5:7]) - 1]} {began[:4]}{words}"


def _beads_of(since: float) -> dict[int, list[Bead]]:
    """List the beads of each line; moments stay as the database has them, as there may be thousands."""
    out = defaultdict[int, list[Bead]](list)
    for number, line, vessel, began, day, end, status, honey in strand_rows.asked(g.session, strand_rows.BREWS, g.now, since):
        state = "alive" if status == BrewStatus.FERMENTING else status
        out[line].append(Bead(f"brew-{number}", day, end, "brew", state, _says(vessel, began, state), honey))
    for number, line, name, began, day, end, ended_as in strand_rows.asked(g.session, strand_rows.DISCS, g.now, since):
        state = ended_as or "kept"
        out[line].append(Bead(f"disc-{number}", day, end, "disc", state, _says(name, began, state)))
    return out


def _alive() -> dict[int, float]:
    """Sum what lives of each line now. [L]"""
    out: dict[int, float] = {}
    rows = [(brew.culture_id, brew.left_l) for brew in queries.standing_brews(g.session)]
    rows += [(lot.culture_id, lot.left_l) for lot in culture_queries.starter_lots(g.session)]
    for line, litres in rows:
        out[line] = out.get(line, 0.0) + litres
    return out


def _volumes(since: float) -> tuple[dict[int, list[tuple[float, float]]], dict[int, float]]:
    """Sum what lives of each line over time, and say when nothing did any more. [d from today, L]"""
    changes = strand_rows.asked(g.session, strand_rows.CHANGES, g.now, since)
    lived: dict[int, float] = {}
    if since > EVER:  # what lived before is what lives now, less what changed since
        lived = _alive()
        for line, _, change in changes:
            lived[line] = lived.get(line, 0.0) - change
    out: dict[int, list[tuple[float, float]]] = {line: [(since, max(0.0, litres))] for line, litres in lived.items()}
    lives = 0.0
    last = None
    for line, day, change in changes:
        course = out.setdefault(line, [])
        if line != last:
            last, lives = line, lived.get(line, 0.0)
        lives += change
        course.append((day, max(0.0, lives)))
    left = {line: course[-1][0] for line, course in out.items() if course[-1][1] < LITTLE_L}
    return out, left


def _passings(since: float) -> dict[int, list[Passing]]:
    """List what passed between lines, and over the threshold."""
    out: dict[int, list[Passing]] = defaultdict(list)
    for line, day, outward in strand_rows.asked(g.session, strand_rows.GIFTS, g.now, since):
        out[line].append(Passing(day, "given" if outward else "received", None, not outward))
    for word, query in (("poured into", strand_rows.POURED), ("joined", strand_rows.JOINED)):
        for source, target, day in strand_rows.asked(g.session, query, g.now, since):
            out[source].append(Passing(day, word, target))
    return out


def lines_of(since: float = EVER) -> list[LineFacts]:
    """Put the lines together for the braid: every one, or those that lived since a day. [d from today]"""
    beads, (volumes, empty), passings = _beads_of(since), _volumes(since), _passings(since)
    out = []
    for number, name, started, parent in strand_rows.asked(g.session, strand_rows.LINES, g.now):
        own = beads[number]
        if since > EVER and not own and number not in volumes:
            continue
        ended = None
        if number in empty and own and all(b.end is not None for b in own):
            ended = max(empty[number], *(b.end or b.day for b in own))
        out.append(LineFacts(number, name, started, own, volumes.get(number, []), parent, passings[number], ended))
    return out


def words_of(line_number: int) -> list[str]:
    """Return when a line began, from whom, how much of it lived, what passed on and when it ended."""
    lines = {number: (name, started, parent) for number, name, started, parent in strand_rows.asked(g.session, strand_rows.LINES, g.now)}
    _, started, parent = lines[line_number]

    def date(day: float) -> str:
        return day_word(g.now + timedelta(days=day), g.now, g.household.zone)

    says = [f"Began {date(started)}{f', parted from {lines[parent][0]}' if parent in lines else ''}."]
    most, now, changed = strand_rows.asked(g.session, strand_rows.LIVED_OF_LINE, g.now, line=line_number)[0]
    if most is not None:
        alive, ever = (units.words(max(0.0, litres), "volume", g.units) for litres in (now, most))
        says.append(f"{alive} of it live now, at most {ever}.")
    for word, other, times, day in strand_rows.asked(g.session, strand_rows.PASSED_OF_LINE, g.now, line=line_number):
        where = f" {lines[other][0]}" if other in lines else ""
        says.append(f"{word.capitalize()}{where} {date(day) if times == 1 else f'{times} times, last {date(day)}'}.")
    things, ended, last = strand_rows.asked(g.session, strand_rows.THINGS_OF_LINE, g.now, line=line_number)[0]
    if things and things == ended and most is not None and now < LITTLE_L:
        says.append(f"Nothing of it lived any more {date(max(changed, last))}.")
    return says


def braid_of(span: str) -> Braid:
    """Draw the household's lines along time; drawn anew when something changed, and every hour.

    A season or a year reaches some spans back; all is all.
    """
    hour = g.now.replace(minute=0, second=0, microsecond=0)
    return remembered(g.session, ("braid", span, hour, g.household.zone), lambda: _braid(span))


def _braid(span: str) -> Braid:
    sight = SPANS.get(span) or 0.0
    first = -SPANS_BACK * sight if sight else EVER
    lines = lines_of(first)
    whole = max(LEAST_DAYS, max((-max(line.started, first) for line in lines), default=LEAST_DAYS) * 1.03)
    return braid(_within(lines, first), local_today(), min(sight or whole, whole), whole)


def _within(lines: list[LineFacts], first: float) -> list[LineFacts]:
    """Let lines and beads that are older begin at the braid's first day. [d from today]"""
    if first == EVER:
        return lines
    keys = {line.key for line in lines}
    return [
        replace(
            line,
            started=max(line.started, first),
            parent=line.parent if line.parent in keys and line.started > first else None,
            beads=[bead for bead in line.beads if bead.day >= first],
            passings=[p if p.other in keys else replace(p, other=None) for p in line.passings],
        )
        for line in lines
    ]


def span_for(days: float) -> str:
    """Choose how much of time is in sight so that something so long ago is, and no more. [d]"""
    return next((name for name, span in SPANS.items() if span >= days), "all")


def usual_span() -> str:
    """Return how much of time is in sight at first: as long as what lives has lived, and at most a year."""

    def make() -> str:
        living = _alive()
        found = [-started for number, _, started, _ in strand_rows.asked(g.session, strand_rows.LINES, g.now) if living.get(number, 0.0) > LITTLE_L]
        return "year" if max(found, default=0.0) > SPANS["season"] else "season"

    return remembered(g.session, ("usual span", local_today()), make)


def _beads(ribbon: Ribbon, way: str, lit: frozenset[str], small: bool) -> Markup:
    """Write a ribbon's beads. There may be thousands: each as short as it can be, in one go."""
    shapes = ("r=5 />", "rx=5 ry=2 />") if small else ("r=8 />", "rx=9 ry=4 />")
    out = []
    for shape in ribbon.beads:
        bead, state = shape.bead, shape.bead.state
        marks = [state] if state not in {BrewStatus.HARVESTED, "kept"} else []
        marks += ["is-lit"] if bead.key in lit else []
        mark = f' class="{" ".join(marks)}"' if marks else ""
        tag, size = ("circle", shapes[0]) if bead.kind == NodeKind.BREW else ("ellipse", shapes[1])
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
    """Return what the braid's part of a page needs.

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
        "marks": LEGEND,
    }
