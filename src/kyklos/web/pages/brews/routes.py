"""A brew: its dial, curve and words; logging; harvest; discard; why."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from flask import Blueprint, Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.bottles import filling, harvest
from ....actions.brewing import happenings, readings
from ....core.base.facts import INSTRUMENTS
from ....core.base.kinds import BrewStatus, Occasion
from ....core.brewing.portions import UNSURE
from ....core.liquid.sweet_tea import density
from ....core.why import Why, why_ready, why_start_ph, why_starter
from ....reckon.bottles import harvests
from ....reckon.brewing.brew_records import instrument_choices
from ....reckon.forecast import forecasting
from ....store.read import culture_queries, park, queries, recorded
from ....store.records import Brew, Photo
from ...kit.acting import act, in_units
from ...kit.cautioned import heard
from ...kit.numbers import number_of, whole
from ...kit.render import page, wants_part
from ...kit.stops import curve_of, situation_of, stop_of
from . import harvesting
from .forms import AddStarterForm, DiscardForm, EndBrewForm, ReadingForm, ReserveForm
from .telling import findings_of, telling_of

PHOTO_APART = timedelta(hours=12)  #: A photo taken so long before it came in is asked about.

bp = Blueprint("brews", __name__, url_prefix="/brews", template_folder="templates")


def brew_of(number: int) -> Brew:
    """Find a brew."""
    return queries.get(g.session, Brew, number)


def context_of(brew: Brew, **more: Any) -> Mapping[str, Any]:
    """Put together what the pages of a living brew show."""
    from .futures import future_context

    forecasting.foretell_with_before(g.session, brew)
    stop = stop_of(g.session, brew, g.now, g.household)
    return {
        "stop": stop,
        "brew": brew,
        "tasters": queries.tasters_of(g.session),
        "view": "brew",
        "cautions": heard(situation_of(stop, Occasion.FERMENT)),
        "discard": DiscardForm(version=brew.version),
        "more_starter": _more_starter(brew),
        "telling": telling_of(stop),
        "problems": {},
        **future_context(brew, stop),
        **more,
    }


def fill_choices(form: ReadingForm) -> ReadingForm:
    """Let a reading be by any of the household's instruments; an older kind stays choosable."""
    known = dict(instrument_choices(g.session))
    known |= {key: entry.name for key, entry in INSTRUMENTS.items() if key == form.instrument.data}
    form.instrument.choices = list(known.items())
    return form


def ask_of(form: ReadingForm, number: int) -> readings.LogReading:
    """Turn a form into what is logged; a gravity of more than 1.2 is in Brix."""
    key, _, tool = str(form.instrument.data).partition(":")
    gravity = form.gravity.data
    if gravity is not None and 1.2 < gravity <= 40:
        gravity = round(float(density(gravity) / density(0)), 4)
    plain = ("ph", "millivolts", "celsius", "low_c", "high_c", "ta_g_per_l", "base_ml", "base_normality", "sample_ml")
    return readings.LogReading(
        brew_id=number,
        instrument=key,
        instrument_id=whole(tool),
        gravity=gravity,
        gravity_by=form.gravity_by.data or "",
        depth=form.depth.data or "",
        note=form.note.data or "",
        at=form.at.data,
        sure=form.sure.data,
        degassed=form.degassed.data,
        **{name: form[name].data for name in plain},
    )


def _more_starter(brew: Brew) -> AddStarterForm | None:
    if brew.status != BrewStatus.HELD:
        return None
    form = AddStarterForm()
    form.lot.choices = [(0, "other starter")] + [
        (lot.id, f"{lot.culture.name}, {in_units(lot.left_l, 'volume')}") for lot in culture_queries.starter_lots(g.session)
    ]
    return form


def taken_in(text: str) -> datetime | None:
    """Read a camera's moment, in the household's zone; None: it is none."""
    try:
        return datetime.fromisoformat(text[:19]).replace(tzinfo=ZoneInfo(g.household.zone)).astimezone(UTC)
    except (ValueError, OverflowError):
        return None


def _photo_offer(brew: Brew) -> tuple[int, str, datetime] | None:
    """Return the photo that just came, what its camera says, and when that was; None: it is of today, or not of this brew."""
    photo = queries.find(g.session, Photo, request.args.get("photo", type=number_of))
    text = request.args.get("taken", "")
    taken = taken_in(text)
    if photo is None or taken is None or photo.liquid_id != brew.liquid_id or not brew.pitched_at <= taken < photo.at - PHOTO_APART:
        return None
    return photo.id, text[:19], taken


@bp.get("/<int:number>")
def show(number: int) -> Answer:
    """Show a brew: living ones whole, ended ones as a record."""
    brew = brew_of(number)
    if not brew.alive:
        stop = stop_of(g.session, brew, brew.ended_at or g.now, g.household)
        found = findings_of(stop) if brew.status == BrewStatus.DISCARDED else []
        return page("brews/ended.html", brew=brew, stop=stop, curve=curve_of(stop), findings=found)
    if brew.runs and "all" not in request.args and not wants_part():
        return redirect(url_for("tapped.show", number=number), 303)
    return page("brews/show.html", "brews/_brew.html", **context_of(brew, photo_offer=_photo_offer(brew)))


def _after(number: int, status: int = 200, **more: Any) -> Answer:
    """Show what changed where it was asked: the stop on the round, the brew's page, or go there without htmx."""
    brew = brew_of(number)
    if request.form.get("view") == "brew" or not wants_part():
        if status == 200 and not wants_part():
            return redirect(
                url_for("round.show") + f"#stop-{number}"
                if request.form.get("view") == "round"
                else url_for(".show", number=number),
                303,
            )
        return page("brews/show.html", "brews/_brew.html", status, **context_of(brew, **more))
    stop = stop_of(g.session, brew, g.now, g.household)
    return page(
        "brews/show.html",
        "round/_stop.html",
        status,
        stop=stop,
        tasters=queries.tasters_of(g.session),
        view="round",
        **more,
    )


@bp.post("/<int:number>/reading")
def read(number: int) -> Answer:
    """Log a reading."""
    form = fill_choices(ReadingForm())
    if form.validate_on_submit():
        try:
            act(readings.log_reading, ask_of(form, number))
            return _after(number)
        except RefusedError as refused:
            form.take(refused)
    return _after(number, 422, reading=form)


@bp.post("/<int:number>/tasting")
def taste(number: int) -> Answer:
    """Log a taste."""
    try:
        taster, score = (number_of(request.form.get(name, "")) for name in ("taster", "score"))
    except ValueError:
        abort(400, "Choose a taster and how it tasted.")
    act(readings.log_tasting, readings.LogTasting(brew_id=number, taster_id=taster, score=score))
    return _after(number)


@bp.post("/<int:number>/look")
def look(number: int) -> Answer:
    """Log what was seen."""
    act(readings.log_look, readings.LogLook(brew_id=number, surface=request.form.get("surface", "")))
    return _after(number)


@bp.post("/<int:number>/starter")
def add_starter(number: int) -> Answer:
    """Add starter to a held brew."""
    form = _more_starter(brew_of(number))
    if form is None:
        return redirect(url_for(".show", number=number), 303)
    if form.validate_on_submit():
        try:
            act(
                happenings.put_into,
                happenings.PutIn(
                    brew_id=number, enters="starter", litres=form.litres.data, lot_id=form.lot.data or None
                ),
            )
            return redirect(url_for(".show", number=number), 303)
        except RefusedError as refused:
            form.take(refused)
    return page("brews/show.html", None, 422, **{**context_of(brew_of(number)), "more_starter": form})


@bp.post("/<int:number>/discard")
def discard(number: int) -> Answer:
    """Throw a brew out."""
    form = DiscardForm()
    try:
        act(
            readings.discard_brew,
            readings.DiscardBrew(brew_id=number, reason=form.reason.data or "", version=form.version.data),
        )
        return redirect(url_for(".trace_page", number=number), 303)
    except RefusedError as refused:
        form.take(refused)
        return page("brews/show.html", None, 422, **{**context_of(brew_of(number)), "discard": form})
    return redirect(url_for(".show", number=number), 303)


def _reserve_form(brew: Brew) -> ReserveForm:
    """Offer to keep as much as the next brew takes; nothing where that cannot be said or is not there."""
    wanted = harvests.reserve_l(harvests.why_reserve(g.session, brew, g.now)) if brew.alive else None
    if wanted is not None:
        wanted += sum(litres for _, litres in harvests.planned_starter(g.session, brew, g.now))
    offered = wanted if wanted is not None and wanted <= brew.left_l else None
    form = ReserveForm(formdata=None, litres=offered)
    form.litres.like(wanted)
    return form


@bp.get("/<int:number>/harvest", endpoint="harvest")
def harvest_page(number: int) -> Response:
    """Show the harvest: reserve, bottle, done."""
    brew = brew_of(number)
    sent = harvesting.bottles_form(brew, request.args.get("count", type=number_of), request.args.get("flavour", ""))
    return _harvest(number, bottles=sent, reserve=_reserve_form(brew))


def _harvest(number: int, status: int = 200, **forms: Any) -> Response:
    brew = brew_of(number)
    if not brew.alive:
        return page("brews/harvested.html", brew=brew)
    forms.setdefault("reserve", ReserveForm(formdata=None))
    forms.setdefault("bottles", harvesting.bottles_form(brew))
    forms.setdefault("end", EndBrewForm(formdata=None, keep_disc=True, version=brew.version))
    shown = harvesting.tell(brew, forms["bottles"])
    typed = forms["bottles"].errors or forms["bottles"].form_errors
    by_hand = "count" in request.args or bool(typed) or not park.kinds(g.session)
    return page(
        "brews/harvest.html",
        None,
        status,
        brew=brew,
        shown=shown,
        by_hand=by_hand,
        last_flavours=harvesting.last_flavours(brew),
        **forms,
    )


@bp.get("/<int:number>/harvest/preview")
def preview(number: int) -> Response:
    """Return what the bottles being typed would do."""
    form = harvesting.bottles_asked(brew_of(number), request.args)
    form.validate()
    return page(
        "brews/_preview.html", "brews/_preview.html", by_hand=True, shown=harvesting.tell(brew_of(number), form), brew=brew_of(number)
    )


@bp.post("/<int:number>/harvest/reserve")
def reserve(number: int) -> Answer:
    """Set starter aside, or say that there is no next brew."""
    form = ReserveForm()
    if "none" in request.form:
        try:
            act(harvest.say_no_next_brew, harvest.SayNoNextBrew(brew_id=number))
        except RefusedError as refused:
            form.take(refused)
            return _harvest(number, 422, reserve=form)
        return redirect(url_for(".harvest", number=number), 303)
    if form.validate_on_submit():
        try:
            act(
                harvest.reserve_starter,
                harvest.ReserveStarter(
                    brew_id=number, litres=form.litres.data, ph=form.ph.data, instrument=form.instrument.data
                ),
            )
            return redirect(url_for(".harvest", number=number), 303)
        except RefusedError as refused:
            form.take(refused)
    return _harvest(number, 422, reserve=form)


@bp.post("/<int:number>/harvest/bottles")
def fill(number: int) -> Answer:
    """Fill bottles."""
    form = harvesting.bottles_asked(brew_of(number), request.form)
    if form.validate_on_submit() and form.count.data is not None:
        try:
            act(filling.fill_bottles, harvesting.filling_of(number, form))
            return redirect(url_for(".harvest", number=number), 303)
        except RefusedError as refused:
            form.take(refused)
    return _harvest(number, 422, bottles=form)


@bp.post("/<int:number>/harvest/end")
def end(number: int) -> Answer:
    """End the harvest."""
    form = EndBrewForm()
    try:
        act(harvest.end_brew, harvest.EndBrew(brew_id=number, keep_disc=form.keep_disc.data, version=form.version.data))
    except RefusedError as refused:
        form.take(refused)
        return _harvest(number, 422, end=form)
    return redirect(url_for(".harvest", number=number), 303)


def why_of(brew: Brew, topic: str, name: str) -> Why:
    """Find the reasons behind one of a brew's numbers."""
    if topic == "start":
        return why_start_ph(recorded.recipe_of(brew))
    if topic == "reserve":
        return harvests.why_reserve(g.session, brew, g.now)
    ask = forecasting.forecast_ask_of(g.session, brew)
    if topic == "ready" and not brew.runs and name in {point.taster for point in ask.points}:
        return why_ready(ask, name)
    if topic == "starter":
        return why_starter(
            recorded.recipe_of(brew), 0.1, brew.started_l, measured=brew.starter_instrument not in UNSURE
        )
    abort(404)
    return None


@bp.get("/<int:number>/why/<topic>")
def why(number: int, topic: str) -> Response:
    """Return where a number comes from."""
    return page("why.html", "_why.html", why=why_of(brew_of(number), topic, request.args.get("for", "")))


@bp.get("/<int:number>/why-chilled")
def why_chilled(number: int) -> Response:
    """Return why the bottles being typed must be cold by their day."""
    form = harvesting.bottles_asked(brew_of(number), request.args)
    form.validate()
    shown = harvesting.tell(brew_of(number), form)
    if shown.chill_why is None:
        abort(404)
    return page("why.html", "_why.html", why=shown.chill_why)
