"""The eye: a drawn surface; carry on, watch, hold or discard, and by what sign."""

from __future__ import annotations

import secrets

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import practice
from ....core.judging.observations import ORDER
from ....core.practice import boxes, eye
from ....core.practice.eye import DECK, EyeQuestion
from ....core.practice.look_pairs import pair_of
from ....core.practice.mixing import Mixed, worst_first
from ....drawing.specimen import Specimen, specimen
from ....store.read import practising
from ...kit.numbers import whole
from ...kit.render import page
from .person import keep, person, today
from .routes import bp

EYE = "eye"
MOST_SEED = 1_000_000
WORDS = tuple(str(word) for word in ORDER)


def drawn(question: EyeQuestion) -> Specimen:
    """Draw what a question asks about."""
    return specimen(
        question.card.draws, question.day, question.coverage, question.seed, question.colour, question.tea, question.light, question.material
    )


def _asked(source: dict[str, str]) -> EyeQuestion | None:
    """Read which card was posed, of which seed and how hard; None: it is none of ours."""
    card, seed, box = (whole(source.get(name)) for name in ("card", "seed", "hard"))
    if card is None or not 0 <= card < len(DECK) or seed is None or not 0 <= seed <= MOST_SEED:
        return None
    return eye.posed(DECK[card], seed, min(max(box or 1, 1), boxes.BOXES))


def _page(question: EyeQuestion, hard: int, status: int = 200, **more: object) -> Response:
    standings = practising.standings(g.session, person(), EYE)
    left = boxes.due_cards(DECK, standings, today())
    return page(
        "practice/eye.html",
        None,
        status,
        question=question,
        number=DECK.index(question.card.key),
        hard=hard,
        drawn=drawn(question),
        names=eye.sign_name,
        words=WORDS,
        done_today=sum(1 for s in standings.values() if s.seen == today()),
        left=len(left),
        **more,
    )


@bp.get("/eye")
def look() -> Answer:
    """Pose the next card, or the one asked for."""
    question = _asked(dict(request.args))
    if question is not None:
        return _page(question, whole(request.args.get("hard")) or 1)
    standings, last = practising.standings(g.session, person(), EYE), request.args.get("after", "")
    card = boxes.next_card(DECK, standings, today(), last)
    if card is None and not request.args.get("anyway"):
        return page("practice/rest.html", deck="eye", name="The eye", again=boxes.comes_again(DECK, standings, today()), mixed=_mixed())
    card = card or boxes.anyway(DECK, standings, last)
    hard = standings[card].box if card in standings else 1
    return redirect(url_for(".look", card=DECK.index(card), seed=secrets.randbelow(MOST_SEED), hard=hard), 303)


@bp.post("/eye")
def answer() -> Answer:
    """Grade an answer, move its card, and say why."""
    question, hard = _asked(dict(request.form)), whole(request.form.get("hard")) or 1
    if question is None:
        return redirect(url_for(".look"), 303)
    word, sign = request.form.get("word", ""), request.form.get("sign", "")
    problems = {}
    if sign not in question.signs:
        problems["sign"] = "By what sign? Choose one first."
    if word not in WORDS:
        problems["word"] = "Carry on, watch, hold or discard?"
    if problems:
        return _page(question, hard, 422, problems=problems, typed={"sign": sign})
    outcome = eye.graded(question, word, sign)
    taken = sign if sign != question.card.sign else ""
    confused = tuple(key for key, card in eye.CARDS.items() if card.sign == taken)
    kept = practice.PracticeAnswer(
        person=person(), deck=EYE, card=question.card.key, outcome=outcome, today=today(), was=question.card.sign, taken_for=taken, confused=confused
    )
    keep(practice.keep_answer, kept)
    number = DECK.index(question.card.key)
    return redirect(url_for(".seen", word=word, sign=sign, card=number, seed=question.seed, hard=hard), 303)


@bp.get("/eye/seen")
def seen() -> Answer:
    """Say what came of an answer, and why."""
    question, hard = _asked(dict(request.args)), whole(request.args.get("hard")) or 1
    word, sign = request.args.get("word", ""), request.args.get("sign", "")
    if question is None or word not in WORDS or sign not in question.signs:
        return redirect(url_for(".look"), 303)
    tell, follows = eye.why(question)
    mixed = next((row for row in _mixed() if row.was == question.card.sign and row.taken_for == sign), None)
    answered = {
        "word": word,
        "sign": sign,
        "outcome": eye.graded(question, word, sign),
        "says": eye.says(question, word, sign),
        "tell": tell,
        "follows": follows,
        "pair": pair_of(question.card.sign, sign) if sign != question.card.sign else None,
        "mixed": mixed,
    }
    return _page(question, hard, answered=answered)


def _mixed() -> list[Mixed]:
    return worst_first(practising.mixed(g.session, person(), EYE))
