"""The practice kitchen: a season in ten minutes, day by day, with what a wise brewer with the same knowledge would have done."""

from __future__ import annotations

import secrets
from typing import Any, NamedTuple

import numpy as np
from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import practice
from ....core.bottles.advice import fizz_word
from ....core.liquid.taste import score_word
from ....core.practice import counsel as wise
from ....core.practice.knowing import foretell, palate_of
from ....core.practice.moves import (
    MOST_MOVES,
    MOVES,
    WAIT,
    RefusedMoveError,
    after,
    foretold,
    offered,
    until,
)
from ....core.practice.season import PlayedSeason, Rack, verdict_of
from ....core.practice.world import DAYS, MOST_SEED
from ....drawing.practising import BandView, band_view
from ....drawing.season_line import SeasonLine, season_line
from ....drawing.specimen import Specimen, specimen
from ....store.read import practising
from ...kit.numbers import whole
from ...kit.render import page
from .decks import DECKS
from .person import keep, person, season_kept
from .routes import bp

RUN_DAYS, SENTENCES = 7, 9  #: Days that run on at most; sentences shown.
KEYS = {"t": "t", "m": "m", "l": "l", "k": "s", "h": "h", "H": "H", "x": "x", "b": "b", "w": "w", "c": "c", "q": "q", "u": "p", "g": "d"}
BOTTLES_IT = frozenset({"h", "H"})
WEIGHTY = frozenset({WAIT, "h", "H", "x"})  #: After these it is said what would have been wiser.


class RackLine(NamedTuple):
    """Bottles as they are shown."""

    bottles: int
    where: str
    fizz: str


@bp.get("/kitchen")
def kitchen() -> Response:
    """Show where the season stands, or begin one."""
    kept = season_kept()
    if kept is None:
        return page("practice/kitchen_begin.html", seed=secrets.randbelow(MOST_SEED), most=MOST_SEED)
    return _page(kept)


def _page(kept: practising.SeasonKept, status: int = 200, problem: str = "") -> Response:
    season = after(kept.seed, kept.moves)
    return page(
        "practice/kitchen.html",
        None,
        status,
        season=season,
        seed=kept.seed,
        days=DAYS,
        view=_view(season),
        surface=_surface(season),
        verdict=verdict_of(season),
        racks=[_rack_line(season, rack) for rack in season.racks],
        moves=offered(season),
        keys=KEYS,
        happened=season.happened[-SENTENCES:][::-1],
        line=_line(season),
        wiser=_wiser(kept),
        wise_name=lambda letter: MOVES[letter].name if letter in MOVES else "wait",
        taught=[(_deck(one.deck), one.sentence) for one in wise.things_to_learn(season)] if season.over else [],
        problem=problem,
    )


def _deck(key: str) -> Any:
    return next(deck for deck in DECKS if deck.key == key)


def _view(season: PlayedSeason) -> BandView | None:
    """Draw what is known of the brew: its band, what is right as learned from tastes, what was tasted."""
    out, jar, palate = foretell(season), season.jar, palate_of(season.past)
    if out is None or jar is None:
        return None
    shown = out.day <= max(16.0, jar.day(season.day) + 4.0)
    band = out.ta_g_per_l
    dots = [(at, score_word(value)) for at, value in jar.tastes[-2:]]
    return band_view(
        out.day[shown], band.p10[shown], band.p50[shown], band.p90[shown], jar.day(season.day), palate.window_g_per_l,
        max(7.0, 1.6 * palate.ta_g_per_l), dots=dots,
    )  # fmt: skip


def _surface(season: PlayedSeason) -> tuple[Specimen, int] | None:
    """Draw the brew as it was last looked at, and how many days ago that was; None: nobody looked."""
    jar = season.jar
    if jar is None or not jar.looks:
        return None
    look = jar.looks[-1]
    return specimen(look.surface, max(2.0, look.day), 0.55, season.seed + jar.number), int(jar.day(season.day) - look.day)


def _rack_line(season: PlayedSeason, rack: Rack) -> RackLine:
    day = season.day - rack.filled
    if rack.cold_since is not None:
        return RackLine(rack.count, "cold", "")
    likely = foretold(season, rack).volumes_at(day)
    return RackLine(rack.count, f"warm since day {rack.filled}", f"likely {fizz_word(float(np.clip(likely, 0, 5)))}")


def _line(season: PlayedSeason) -> SeasonLine:
    began = [season.day - len(season.jar.temps)] if season.jar is not None else []
    starts = [day for day, says in season.happened if says.startswith(("A jar", "A new brew")) or "bottles filled" in says]
    edges = sorted({*starts, *began})
    spans = [(start, edges[number + 1] if number + 1 < len(edges) else season.day) for number, start in enumerate(edges)]
    return season_line(DAYS, season.day, spans, [day for day, says in season.happened if "bottles filled" in says])


def _wiser(kept: practising.SeasonKept) -> wise.Counsel | None:
    """Return what would have been wiser than what was just done; None: it was wise, or hardly matters."""
    if not kept.moves or kept.moves[-1] not in WEIGHTY:
        return None
    before = wise.counsel(after(kept.seed, kept.moves[:-1]))
    return None if before.letter in {WAIT, wise.LOOK, kept.moves[-1]} else before


def _keep(seed: int, moves: str) -> Answer:
    keep(practice.keep_season, person(), seed, moves, g.now)
    return redirect(url_for(".kitchen"), 303)


@bp.post("/kitchen")
def move() -> Answer:
    """Do one thing, let a day pass, or let days run until there is something to decide."""
    kept, letter = season_kept(), request.form.get("move", "")
    if kept is None:
        return redirect(url_for(".kitchen"), 303)
    if len(kept.moves) >= MOST_MOVES:
        return _page(kept, 422, "That is enough for one season.")
    if letter == "run":
        return _keep(kept.seed, _run_on(kept))
    if letter not in MOVES and letter != WAIT:
        return _page(kept, 422, "Choose one of the things below.")
    return _played(kept, letter)


def _played(kept: practising.SeasonKept, letter: str) -> Answer:
    """Keep a move, or show why the house refuses it."""
    try:
        after(kept.seed, kept.moves + letter)
    except RefusedMoveError as refused:
        return _page(_looked(kept, letter), 422, str(refused))
    return _keep(kept.seed, kept.moves + letter)


def _looked(kept: practising.SeasonKept, letter: str) -> practising.SeasonKept:
    """Keep that it was looked at, where bottling it was refused for what lies on it: who opens a jar sees it."""
    season = after(kept.seed, kept.moves)
    if letter not in BOTTLES_IT or all(one.letter != wise.LOOK for one in offered(season)):
        return kept
    seen = practising.SeasonKept(kept.seed, kept.moves + wise.LOOK)
    keep(practice.keep_season, person(), seen.seed, seen.moves, g.now)
    return seen


def _run_on(kept: practising.SeasonKept) -> str:
    moves = kept.moves
    for _ in range(RUN_DAYS):
        if after(kept.seed, moves).over:
            break
        moves += WAIT
        if wise.pauses(after(kept.seed, moves)):
            break
    return moves


@bp.post("/kitchen/advice")
def advice() -> Answer:
    """Do what a wise brewer would do now."""
    kept = season_kept()
    if kept is None or after(kept.seed, kept.moves).over:
        return redirect(url_for(".kitchen"), 303)
    return _played(kept, wise.counsel(after(kept.seed, kept.moves)).letter)


@bp.post("/kitchen/back")
def back() -> Answer:
    """Go back to the morning of a day."""
    kept, day = season_kept(), whole(request.form.get("day"))
    if kept is None or day is None or not 0 <= day <= DAYS:
        return redirect(url_for(".kitchen"), 303)
    return _keep(kept.seed, until(kept.moves, day))


@bp.post("/kitchen/new")
def new() -> Answer:
    """Begin a season: of a friend's number, or of any."""
    typed = request.form.get("seed", "").strip()
    seed = whole(typed) if typed else secrets.randbelow(MOST_SEED)
    if seed is None or not 0 <= seed <= MOST_SEED:
        return page("practice/kitchen_begin.html", None, 422, seed=typed[:10], most=MOST_SEED, problem=f"A number from 0 to {MOST_SEED}.")
    return _keep(seed, "")
