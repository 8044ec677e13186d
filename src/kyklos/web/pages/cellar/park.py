"""The park: which bottles the household owns, how many are clean, their closures and limits."""

from __future__ import annotations

from datetime import timedelta

from flask import Response, g, redirect, request, url_for
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response as Answer
from wtforms import BooleanField, StringField

from ....actions.base import ConflictError, RefusedError
from ....actions.bottles import filling, owning
from ....core.base.facts import BOTTLES
from ....core.base.kinds import BrewStatus
from ....core.bottles import ingredient
from ....core.bottles.ingredients import INGREDIENTS, USUAL_G_PER_L
from ....core.bottles.park import CLOSURES, USUAL_CLOSURE, USUAL_NECK_MM, worn
from ....core.bottles.room import HEADSPACE_CM
from ....core.liquid.standing import PlaceKind
from ....store.read import park, queries
from ....store.read.moments import days_between
from ....store.records import BottleType, Brew, Place
from ...kit.acting import act, tried
from ...kit.fields import ChoiceField, KitchenForm, MomentField, QuantityField, WholeField
from ...kit.numbers import number_of
from ...kit.render import page
from ...kit.words import day_word
from .routes import bp

BREWS_SHOWN = 12  #: Ended brews of which found bottles may be.
FORGOTTEN_DAYS = 30.0  #: Where nobody remembers when. [d]


class KindForm(KitchenForm):
    """A kind of bottle."""

    owned = WholeField("How many you have")
    limit_bar = QuantityField("Maker's limit", kind="pressure", required=False)
    neck_mm = QuantityField("Neck, inside", kind="thickness", required=False)
    closure = ChoiceField("Closed with", choices=[(key, one.name) for key, one in CLOSURES.items()])
    fresh_closures = BooleanField("New rings or caps from today")
    note = StringField("Note")
    version = WholeField("version")


@bp.get("/park")
def the_park() -> Response:
    """Show the park."""
    return _park()


def _form(kind: BottleType) -> KindForm:
    return KindForm(
        formdata=None,
        prefix=f"k{kind.id}-",
        data={
            "owned": kind.owned,
            "limit_bar": kind.limit_bar or None,
            "neck_mm": kind.neck_mm or USUAL_NECK_MM.get(kind.kind),
            "closure": kind.closure or USUAL_CLOSURE.get(kind.kind),
            "note": kind.note,
            "version": kind.version,
        },
    )


def _park(status: int = 200, line: str = "", wrong: str = "", sent: tuple[int, KindForm] | None = None) -> Response:
    kinds = park.kinds(g.session)
    stands = park.counted_of(g.session, kinds)
    rows = []
    for kind in kinds:
        age = days_between(kind.closure_since, g.now) / 365.25 if kind.closure_since is not None else None
        closure = kind.closure or USUAL_CLOSURE.get(kind.kind, "")
        form = sent[1] if sent is not None and sent[0] == kind.id else _form(kind)
        rows.append((kind, BOTTLES[kind.kind], stands[kind.id], worn(closure, age), form, CLOSURES.get(closure)))
    return page("cellar/park.html", None, status, rows=rows, line=line, line_wrong=wrong, open_kind=sent[0] if sent else 0)


@bp.post("/park")
def own() -> Answer:
    """Add bottles by one line."""
    line = request.form.get("line", "")[:200]
    try:
        act(owning.own_bottles, owning.OwnBottles(line=line))
    except RefusedError as refused:
        return _park(422, line, str(refused))
    return redirect(url_for("cellar.the_park"), 303)


@bp.post("/park/<int:number>")
def change_kind(number: int) -> Answer:
    """Put a kind of bottle right."""
    kind = queries.get(g.session, BottleType, number)
    form = KindForm(prefix=f"k{number}-")
    try:
        done = tried(
            form,
            owning.change_kind,
            lambda: owning.ChangeKind(
                type_id=number,
                owned=form.owned.data or 0,
                limit_bar=form.limit_bar.data,
                neck_mm=form.neck_mm.data,
                closure=form.closure.data or "",
                fresh_closures=form.fresh_closures.data,
                note=form.note.data or "",
                version=form.version.data,
            ),
        )
    except ConflictError as conflict:
        form.overtaken(conflict, kind.version, owned=kind.owned)
        done = None
    return redirect(url_for("cellar.the_park"), 303) if done is not None else _park(form.status, sent=(number, form))


class FoundForm(KitchenForm):
    """Bottles that nobody wrote down."""

    brew = ChoiceField("Most likely of", coerce=number_of)
    count = WholeField("How many", default=1)
    kind = ChoiceField("Kind of bottle", choices=[(key, kind.name) for key, kind in BOTTLES.items()])
    volume_ml = QuantityField("Size", kind="bottle", required=False, hint="Empty: as usual of its kind.")
    flavour = ChoiceField("Flavour, if it has one", choices=[(key, one.name) for key, one in INGREDIENTS.items()])
    filled_at = MomentField("Filled about")
    place = ChoiceField("Where they stood", coerce=number_of)
    note = StringField("Name on the bottle")


def _found_form(formdata: MultiDict[str, str] | None = None) -> FoundForm:
    form = FoundForm(formdata=formdata)
    brews = queries.last_brews(g.session, Brew.status != BrewStatus.DISCARDED, most=BREWS_SHOWN)
    form.brew.choices = [(b.id, f"{b.vessel.name}, begun {day_word(b.pitched_at, g.now, g.household.zone)}") for b in brews]
    form.place.choices = [(place.id, place.name) for place in queries.places(g.session)]
    return form


@bp.get("/found")
def found() -> Response:
    """Ask what was found at the back of a cupboard."""
    return page("cellar/found.html", form=_found_form())


@bp.post("/found")
def write_found() -> Answer:
    """Write down what was found; it comes first on the rack, with what it may press."""
    form = _found_form(request.form)

    def ask() -> filling.FindBottles:
        kind = BOTTLES[form.kind.data]
        size = form.volume_ml.data or kind.volume_ml
        place = queries.find(g.session, Place, form.place.data)
        return filling.FindBottles(
            brew_id=form.brew.data,
            count=form.count.data or 1,
            kind=form.kind.data,
            volume_ml=size,
            headspace_fraction=kind.headspace_fraction(HEADSPACE_CM, max(size, 1.0)),
            flavour=form.flavour.data,
            flavour_g_per_l=USUAL_G_PER_L[ingredient(form.flavour.data).form] if form.flavour.data != "plain" else 0.0,
            filled_at=form.filled_at.data or g.now - timedelta(days=FORGOTTEN_DAYS),
            place_id=form.place.data,
            cold=place is not None and place.kind == PlaceKind.FRIDGE,
            note=form.note.data or "",
        )

    if tried(form, filling.find_bottles, ask) is not None:
        return redirect(url_for("cellar.show"), 303)
    return page("cellar/found.html", None, form.status, form=form)


@bp.post("/park/<int:number>/washed")
def washed(number: int) -> Answer:
    """Record that the empty ones are clean."""
    act(owning.wash_bottles, owning.WashBottles(type_id=number, left=request.form.get("left", 0, type=number_of)))
    return redirect(url_for("cellar.the_park"), 303)


@bp.post("/park/<int:number>/retired")
def retired(number: int) -> Answer:
    """Take a kind of bottle out of use."""
    act(owning.retire_bottles, owning.RetireBottles(type_id=number, count=1))
    return redirect(url_for("cellar.the_park"), 303)
