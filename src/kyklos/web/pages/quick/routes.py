"""Reads a quick line while it is typed, and saves it on Enter."""

from __future__ import annotations

from flask import Blueprint, Response, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.quick import SaveAll, save_all, save_quick
from ....core.quick.line import LONGEST
from ...kit.acting import act
from ...kit.addresses import within
from ...kit.numbers import number_of
from ...kit.render import page
from .saving import all_saved
from .telling import Chosen, Understood, tell

bp = Blueprint("quick", __name__, url_prefix="/quick", template_folder="templates")


EXAMPLES = {
    "metric": ("crock 3.42 24c bit sweet", "crock low 18 high 24", "crock 300 ml", "1 kg sugar 1.49"),
    "us": ("crock 3.42 76f bit sweet", "crock low 65 high 76", "crock 1 cup", "4 lb sugar 3.99"),
}  #: In the household's units; then what is the same everywhere.
ANYWHERE = (
    "jar two strip 3.5 yesterday 8pm", "tall jar film, smells of vinegar", "bram too sour, odile right, crock",
    "opened one damson, flat", "burped the ginger, loud", "put the plain in the fridge", "bottled 6 from jar one",
    "moved jar two to the cupboard", "guests saturday 6 people 2 glasses", "? damson gushed last winter", "jar 2 5.2 brix refractometer",
)  # fmt: skip


def _told() -> Understood:
    asked = request.form if request.method == "POST" else request.args
    names = {"brew": "chosen", "here": "here", "taster": "taster", "filling": "filling", "hiss": "hiss"}
    return tell(
        asked.get("line", "")[:LONGEST], Chosen(**{key: asked.get(name, type=number_of) for key, name in names.items()})
    )


@bp.get("/")
def read() -> Response:
    """Show what a line is understood as."""
    return page("quick/page.html", "quick/_reads.html", understood=_told(), problems=[], examples=_examples())


@bp.post("/")
def save() -> Answer:
    """Save a line that is clear, or open the page it leads to; ask for what is not."""
    found, problems = _told(), []
    if found.ready:
        try:
            if asks := all_saved(found):
                act(save_quick, asks[0]) if len(asks) == 1 else act(save_all, SaveAll(lines=asks))
            return redirect(found.leads or within(request.form.get("back", ""), url_for("round.show")), 303)
        except RefusedError as refused:
            problems = [problem.message for problem in refused.problems]
    return page(
        "quick/page.html", None, 422, understood=found, problems=problems or _missing(found), examples=_examples()
    )


def _examples() -> tuple[str, ...]:
    return (*EXAMPLES[g.units], *ANYWHERE)


def _missing(understood: Understood) -> list[str]:
    if understood.quick.empty:
        return ["There is nothing in it to keep yet: a pH, a temperature, a taste, a look, or words."]
    return [understood.lacks or "Choose what is meant, then save."]
