"""The first minutes: a few questions, then a jar and a culture, then the first brew day."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import Blueprint, Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions import beginning
from ....actions.household import ChangeSettings, change_settings
from ....core.base.kinds import BottleState, KindOfBrew, Origin
from ....store.read import culture_queries, queries
from ...kit.acting import tried
from ...kit.render import page
from .forms import FirstJarForm, WelcomeForm

bp = Blueprint("begin", __name__, url_prefix="/begin", template_folder="templates")

NOBODY = "Me"  #: Who tastes in a household that gave no names.
ROOM_C = {"metric": 22.0, "us": 200 / 9}  #: Of a kitchen, until given (assumed): 22 °C, 72 °F. [degC]
JARS = {
    "metric": ((1.0, "1 L"), (2.0, "2 L"), (3.0, "3 L"), (4.0, "4 L"), (5.0, "5 L")),
    "us": ((0.946353, "1 quart"), (1.892706, "half gallon"), (3.785412, "1 gallon"), (7.570824, "2 gallons")),
}  #: Jars as they are sold, by the household's units. [L]
USUAL_JAR = 2  #: Which of them is offered.
ELSE = "other"
CLOSED = (BottleState.WARM, BottleState.COLD)
ORDINALS = ("First", "Second", "Third", "Fourth")


@dataclass(frozen=True, slots=True)
class OfferedSource:
    """Where a first culture comes from, and what that means for the first brew."""

    key: str
    name: str
    says: str
    origin: str  #: A key of actions/household.py: ORIGINS.
    liquid: str = ""  #: What is asked of the liquid; empty: nothing came with it yet.
    kind: str = ""  #: Of the first brew; empty: what the culture is fed with.


SOURCES = {
    source.key: source
    for source in (
        OfferedSource("gift", "From someone who brews", "A SCOBY in a cup or more of its liquid. The surest way.", Origin.RECEIVED, "Liquid that came with it"),
        OfferedSource("bottle", "From a bottle of raw kombucha", "Plain, raw, not pasteurised. It grows a SCOBY in two to four weeks.", Origin.BOTTLE, kind=KindOfBrew.GROW),
        OfferedSource("shop", "Bought", "In a pouch with its liquid, or dried.", Origin.BOUGHT, "Liquid in the pouch"),
    )
}  # fmt: skip


def _guessed_units() -> str:
    """Guess units by the language that the browser asks for."""
    best = request.accept_languages.best or ""
    return "us" if best.lower() in {"en-us", "es-us"} else "metric"


def is_new() -> bool:
    """Return whether nobody ever said how this household likes things."""
    return g.household.id is None


@bp.before_app_request
def instead_of_an_empty_round() -> Response | None:
    """Show how to begin where the round would have nothing to walk past."""
    if request.endpoint != "round.show" or queries.living_brews(g.session) or queries.any_bottle(g.session, *CLOSED):
        return None
    return welcome_page() if is_new() else show()


def welcome_page(form: WelcomeForm | None = None, status: int = 200) -> Response:
    """Show the few questions that are asked once."""
    shown = form or WelcomeForm(formdata=None, data={"units": _guessed_units(), "zone": g.household.zone, "reads_ph": ""})
    return page("begin/welcome.html", None, status, form=shown)


@bp.post("/welcome")
def welcome() -> Answer:
    """Keep how the household likes things; whatever was left is taken as usual. Asked once: an old page changes nothing."""
    if not is_new():
        return redirect(url_for("round.show"), 303)
    form = WelcomeForm()
    done = tried(
        form,
        change_settings,
        lambda: ChangeSettings(
            name=g.household.name,
            units=form.units.data,
            zone=form.zone.data or g.household.zone,
            theme=g.household.theme,
            tasters=form.tasters.data or (NOBODY,),
            reads_ph=form.reads_ph.data,
        ),
    )
    return welcome_page(form, 422) if done is None else redirect(url_for("round.show"), 303)


@bp.get("/")
def show() -> Response:
    """Ask where the culture comes from."""
    return page(
        "begin/show.html",
        sources=list(SOURCES.values()),
        vessels=queries.vessels(g.session),
        cultures=culture_queries.cultures(g.session),
        brewing=bool(queries.living_brews(g.session)),
    )


def _form(source: OfferedSource, formdata: Any = None) -> FirstJarForm:
    jars = JARS[g.units]
    offered = {
        "size": f"{jars[USUAL_JAR][0]:g}",
        "place": "Kitchen shelf",
        "place_c": ROOM_C[g.units],
        "culture": "Our kombucha",
        "diet": "sugar",
        "with_disc": source.key != "bottle",
    }
    form = FirstJarForm(formdata=formdata, data=offered)
    form.size.choices = [(f"{litres:g}", name) for litres, name in jars] + [(ELSE, "another")]
    return form


def _jar_name() -> str:
    """Name a jar by how many there are."""
    number = len(queries.vessels(g.session))
    return f"{ORDINALS[number]} jar" if number < len(ORDINALS) else f"Jar {number + 1}"


def _page(source: OfferedSource, form: FirstJarForm, status: int = 200) -> Response:
    return page("begin/source.html", None, status, source=source, form=form)


def _source(key: str) -> OfferedSource:
    if key not in SOURCES:
        abort(404)
    return SOURCES[key]


@bp.get("/<key>")
def source(key: str) -> Response:
    """Ask about jar, place and culture."""
    found = _source(key)
    return _page(found, _form(found))


@bp.post("/<key>")
def set_up(key: str) -> Answer:
    """Add jar and culture; then plan the first brew with them."""
    found = _source(key)
    form = _form(found, request.form)
    other = form.size.data == ELSE
    dried = found.key == "shop" and form.dried.data
    done = tried(
        form,
        beginning.set_up,
        lambda: beginning.SetUpHousehold(
            jar=_jar_name(),
            jar_l=form.jar_l.data or 0.0 if other else float(form.size.data),
            place=form.place.data or "",
            place_c=form.place_c.data,
            culture=form.culture.data or "",
            diet=form.diet.data,
            origin=Origin.DRIED if dried else found.origin,
            with_disc=found.key != "bottle" and form.with_disc.data,
            liquid_l=form.liquid_l.data if found.liquid and not dried else None,
        ),
    )
    if done is None:
        return _page(found, form, 422)
    kind = KindOfBrew.DRIED if dried else found.kind or None
    return redirect(
        url_for("brew_day.show", vessel=done.made["vessel"], culture=done.made["culture"], kind=kind), 303
    )
