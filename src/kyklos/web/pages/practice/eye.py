"""The eye: a drawn surface; carry on, watch, hold or discard, and by what sign."""

from __future__ import annotations

from flask import Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....core.judging.observations import ORDER
from ....core.practice import eye
from ....core.practice.eye import EyeQuestion
from ....core.practice.look_pairs import pair_of
from ....drawing.specimen import Specimen, specimen
from ....store.read import practising
from ...kit.render import page
from .decks import EYE, Posed, about, address_of, keep_answer, next_card, posed
from .person import person
from .routes import bp

WORDS = tuple(str(word) for word in ORDER)


def drawn(question: EyeQuestion) -> Specimen:
    """Draw what a question asks about."""
    return specimen(
        question.card.draws, question.day, question.coverage, question.seed, question.colour, question.tea, question.light, question.material
    )


def _page(what: Posed, status: int = 200, **more: object) -> Response:
    question = eye.posed(*what)
    return page(
        "practice/eye.html", None, status, question=question, drawn=drawn(question), names=eye.sign_name, words=WORDS, **about(EYE, what), **more
    )  # fmt: skip


@bp.get("/eye")
def look() -> Answer:
    """Pose the next card, or the one asked for."""
    what = posed(EYE, request.args)
    return next_card(EYE) if what is None else _page(what)


@bp.post("/eye")
def answer() -> Answer:
    """Grade an answer and move its card."""
    what = posed(EYE, request.form)
    if what is None:
        return redirect(url_for(".look"), 303)
    question, word, sign = eye.posed(*what), request.form.get("word", ""), request.form.get("sign", "")
    problems = {}
    if sign not in question.signs:
        problems["sign"] = "By what sign? Choose one first."
    if word not in WORDS:
        problems["word"] = "Carry on, watch, hold or discard?"
    if problems:
        return _page(what, 422, problems=problems, typed={"sign": sign})
    taken = sign if sign != question.card.sign else ""
    confused = tuple(key for key, card in eye.CARDS.items() if card.sign == taken)
    keep_answer(EYE, what, eye.graded(question, word, sign), question.card.sign, taken, confused)
    return redirect(address_of(EYE, what, ".seen", word=word, sign=sign), 303)


@bp.get("/eye/seen")
def seen() -> Answer:
    """Show what came of an answer, and why."""
    what, word, sign = posed(EYE, request.args), request.args.get("word", ""), request.args.get("sign", "")
    question = None if what is None else eye.posed(*what)
    if what is None or question is None or word not in WORDS or sign not in question.signs:
        return redirect(url_for(".look"), 303)
    mixed = practising.mixed(g.session, person(), EYE.key)
    answered = {
        "outcome": eye.graded(question, word, sign),
        "says": eye.says(question, word, sign),
        "why": eye.why(question),
        "pair": pair_of(question.card.sign, sign) if sign != question.card.sign else None,
        "mixed": next((row for row in mixed if row.was == question.card.sign and row.taken_for == sign), None),
    }
    return _page(what, answered=answered)
