"""Lessons kept, reworded, written by hand, dismissed; and whether they helped."""

from __future__ import annotations

from typing import Any

from flask import g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import notebook
from ....actions.base import ConflictError, RefusedError
from ....core.notebook.lessons import SEASONS, Applies
from ....reckon.notebook import teaching
from ...kit.acting import act
from ...kit.addresses import within
from ...kit.numbers import whole
from .routes import CHIPS, bp, notebook_page


def _applies() -> Applies:
    """Read where a lesson comes back."""
    given = {name: request.form.get(f"at-{name}", "").strip()[:80] for name in CHIPS}
    if given["season"] not in SEASONS:
        given["season"] = ""
    return Applies(**given)


@bp.post("/lessons")
def write() -> Answer:
    """Write a lesson by hand."""
    text = request.form.get("text", "")
    try:
        act(notebook.keep_lesson, notebook.KeepLesson(text=text, applies=_applies()))
    except RefusedError as refused:
        return notebook_page(422, lesson_problem=str(refused), lesson_text=text)
    return redirect(url_for(".show") + "#lessons", 303)


@bp.get("/lessons/from/<about>/<int:number>")
def written_from(about: str, number: int) -> Answer:
    """Begin a lesson where somebody is: it says already where it comes back."""
    chips: dict[str, Any] = dict(teaching.applies_at(g.session, about, number).given)
    return redirect(url_for(".show", _anchor="write-lesson", **chips), 302)


@bp.post("/lessons/proposed")
def decide() -> Answer:
    """Keep a proposal, reworded or not, or dismiss it for good."""
    key, text = request.form.get("key", ""), request.form.get("text", "")
    one = next((one for one in teaching.proposed(g.session, g.now) if one.key == key), None)
    if one is None:
        return notebook_page(422, lesson_problem="That is not proposed any more.")
    try:
        if request.form.get("do") == "dismiss":
            act(notebook.dismiss_lesson, notebook.DismissLesson(key=key, text=one.text))
        else:
            act(notebook.keep_lesson, notebook.KeepLesson(text=text or one.text, applies=one.applies, key=key, evidence=one.evidence))
    except RefusedError as refused:
        return notebook_page(422, lesson_problem=str(refused), lesson_text=text)
    return redirect(url_for(".show") + "#lessons", 303)


@bp.post("/lessons/<int:number>")
def reword(number: int) -> Answer:
    """Put a lesson in other words."""
    try:
        act(notebook.reword_lesson, notebook.RewordLesson(lesson_id=number, text=request.form.get("text", ""), applies=_applies(), version=whole(request.form.get("version"))))
    except (RefusedError, ConflictError) as refused:
        return notebook_page(422, lesson_problem=str(refused), lesson_text=request.form.get("text", ""))
    return redirect(url_for(".show") + "#lessons", 303)


@bp.post("/lessons/<int:number>/said")
def said(number: int) -> Answer:
    """Write that a lesson helped, or that it is not wanted any more."""
    act(notebook.say_helped, notebook.SayHelped(lesson_id=number, helped=request.form.get("do") == "helped"))
    return redirect(within(request.form.get("back", ""), url_for(".show")), 303)
