"""The strip and the burette: reading a colour, and stopping at the first pink that stays."""

from __future__ import annotations

from typing import Any

from flask import Response, redirect, request, session, url_for
from werkzeug.wrappers import Response as Answer

from ....core.measuring.titrating import DROP_ML
from ....core.practice import burette as titration
from ....core.practice import strip as strips
from ....drawing.practising import flask_view, strip_view
from ...kit.numbers import decimal_of, whole
from ...kit.render import page
from .decks import BURETTE, STRIP, Posed, about, address_of, keep_answer, next_card, posed
from .routes import bp

BY_NUMBERS = "by_numbers"  #: In this device's cookie: colours are given as numbers, and in words.
MOST_DROPS = 1_000


def _strip_page(what: Posed, status: int = 200, **more: object) -> Response:
    q = strips.posed(*what)
    view = strip_view(q.ph, q.light, q.tea, q.tint, q.card.after)
    return page(
        "practice/strip.html", None, status, question=q, view=view, by_numbers=bool(session.get(BY_NUMBERS)), **about(STRIP, what), **more
    )


@bp.get("/strip")
def strip() -> Answer:
    """Pose the next strip, or the one asked for; tell colours as numbers, or not."""
    if request.args.get("numbers") in {"0", "1"}:
        session[BY_NUMBERS] = request.args["numbers"] == "1"
    what = posed(STRIP, request.args)
    return next_card(STRIP) if what is None else _strip_page(what)


def _field_sent(source: str) -> float | None:
    try:
        value = decimal_of(source)
    except ValueError:
        return None
    return value if value in strips.CHART_PH else None


@bp.post("/strip")
def strip_read() -> Answer:
    """Grade a reading."""
    what = posed(STRIP, request.form)
    if what is None:
        return redirect(url_for(".strip"), 303)
    field, answer = _field_sent(request.form.get("field", "")), request.form.get("answer", "")
    problems = {}
    if field is None:
        problems["field"] = "Which field is it nearest to?"
    if answer not in strips.ANSWERS:
        problems["answer"] = "Yes, no, or cannot tell?"
    if field is None or problems:
        return _strip_page(what, 422, problems=problems, typed={"field": field, "answer": answer})
    outcome = strips.graded(strips.posed(*what), field, answer)
    keep_answer(STRIP, what, outcome)
    return redirect(address_of(STRIP, what, ".strip_seen", field=str(field), answer=answer), 303)


@bp.get("/strip/seen")
def strip_seen() -> Answer:
    """Show what came of a reading."""
    what, field = posed(STRIP, request.args), _field_sent(request.args.get("field", ""))
    answer = request.args.get("answer", "")
    if what is None or field is None or answer not in strips.ANSWERS:
        return redirect(url_for(".strip"), 303)
    q = strips.posed(*what)
    head, sentence = strips.says(q, field, answer)
    return _strip_page(what, answered={"outcome": strips.graded(q, field, answer), "head": head, "sentence": sentence, "field": field})


def _drops(source: str | None) -> int:
    return min(max(whole(source) or 0, 0), MOST_DROPS)


@bp.get("/burette")
def burette() -> Answer:
    """Pose the next sample, or the one asked for with so many drops in it; tell its colour in words, or not."""
    if request.args.get("words") in {"0", "1"}:
        session[BY_NUMBERS] = request.args["words"] == "1"
    what = posed(BURETTE, request.args)
    return next_card(BURETTE) if what is None else _burette_page(what, _drops(request.args.get("drops")))


def _burette_page(what: Posed, drops: int, **more: Any) -> Response:
    q = titration.posed(what.card, what.seed)
    look = titration.flask(q, drops)
    return page(
        "practice/burette.html", "practice/_flask.html", question=q, drops=drops, look=look, used_ml=drops * DROP_ML, most=MOST_DROPS,
        view=flask_view(drops * DROP_ML, q.card.dark, look.pink, look.fades), jar_l=titration.JAR_L, by_words=bool(session.get(BY_NUMBERS)),
        **about(BURETTE, what), **more,
    )  # fmt: skip


@bp.post("/burette")
def burette_read() -> Answer:
    """Grade where it was stopped."""
    what = posed(BURETTE, request.form)
    if what is None:
        return redirect(url_for(".burette"), 303)
    drops = _drops(request.form.get("drops"))
    keep_answer(BURETTE, what, titration.read_off(titration.posed(what.card, what.seed), drops).outcome)
    return redirect(address_of(BURETTE, what, ".burette_seen", drops=drops), 303)


@bp.get("/burette/seen")
def burette_seen() -> Answer:
    """Show what came of it, and what it does to the starter."""
    what = posed(BURETTE, request.args)
    if what is None:
        return redirect(url_for(".burette"), 303)
    drops = _drops(request.args.get("drops"))
    read = titration.read_off(titration.posed(what.card, what.seed), drops)
    return _burette_page(what, drops, read=read, says=titration.says(read), start_ph=titration.START_PH)
