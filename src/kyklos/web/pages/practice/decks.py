"""What all decks share: which card comes, what was posed, and keeping an answer."""

from __future__ import annotations

import secrets
from collections.abc import Mapping
from typing import Any, NamedTuple

from flask import g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import practice
from ....core.practice import boxes, burette, clock, eye, harvest, strip
from ....core.practice.boxes import CardStanding, Graded
from ....store.read import practising
from ...kit.numbers import whole
from ...kit.render import page
from .person import keep, person, today

MOST_SEED = 1_000_000


class Deck(NamedTuple):
    """One deck of cards."""

    key: str
    name: str
    asks: str  #: What it teaches, in a few words.
    cards: tuple[str, ...]
    endpoint: str


EYE = Deck("eye", "The eye", "mould, film yeast or jelly", eye.DECK, "practice.look")
STRIP = Deck("strip", "The strip", "read it to half a unit", strip.DECK, "practice.strip")
BURETTE = Deck("burette", "The burette", "to the first pink that stays", burette.DECK, "practice.burette")
PALATE = Deck("palate", "The palate", "taste, wait or harvest", harvest.DECK, "practice.palate")
CLOCK = Deck("clock", "The clock", "when a bottle goes cold", clock.DECK, "practice.clock")
DECKS = (EYE, STRIP, BURETTE, PALATE, CLOCK)


class Posed(NamedTuple):
    """Which card was posed, of which seed, and how hard."""

    card: str
    seed: int
    hard: int


def posed(deck: Deck, source: Mapping[str, str]) -> Posed | None:
    """Read what was posed; None: it is no card of ours."""
    card, seed, hard = (whole(source.get(name)) for name in ("card", "seed", "hard"))
    if card is None or not 0 <= card < len(deck.cards) or seed is None or not 0 <= seed <= MOST_SEED:
        return None
    return Posed(deck.cards[card], seed, min(max(hard or 1, 1), boxes.BOXES))


def address_of(deck: Deck, what: Posed, endpoint: str = "", **more: str | int) -> str:
    """Return the address under which a card is posed, or what came of it."""
    values: dict[str, str | int] = {"card": deck.cards.index(what.card), "seed": what.seed, "hard": what.hard, **more}
    return url_for(endpoint or deck.endpoint, **values)  # type: ignore[arg-type]


def next_card(deck: Deck) -> Answer:
    """Lead to the next card of a deck, or say that it is enough for today."""
    standings, last = practising.standings(g.session, person(), deck.key), request.args.get("after", "")
    card = boxes.next_card(deck.cards, standings, today(), last)
    if not left_today(deck, standings) and not request.args.get("anyway"):
        return page("practice/rest.html", deck=deck, again=boxes.comes_again(deck.cards, standings, today()) or 1)
    card = card or boxes.anyway(deck.cards, standings, last)
    hard = standings[card].box if card in standings else 1
    return redirect(address_of(deck, Posed(card, secrets.randbelow(MOST_SEED), hard)), 303)


def left_today(deck: Deck, standings: Mapping[str, CardStanding]) -> int:
    """Return how many cards of a deck are to come today."""
    return boxes.left_of_round(deck.cards, standings, today())


def about(deck: Deck, what: Posed) -> dict[str, Any]:
    """Return what every page of a deck shows besides its card."""
    standings = practising.standings(g.session, person(), deck.key)
    done = sum(1 for one in standings.values() if one.seen == today())
    return {"deck": deck, "what": what, "number": deck.cards.index(what.card), "left": left_today(deck, standings), "done_today": done}


def keep_answer(deck: Deck, what: Posed, outcome: Graded, was: str = "", taken_for: str = "", confused: tuple[str, ...] = ()) -> None:
    """Keep an answer to a card for who practises here."""
    keep(
        practice.keep_answer,
        practice.PracticeAnswer(
            person=person(), deck=deck.key, card=what.card, outcome=outcome, today=today(), was=was, taken_for=taken_for, confused=confused
        ),
    )
