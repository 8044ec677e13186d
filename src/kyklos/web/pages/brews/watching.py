"""Watching one brew: photos, a logger's file, corrections, notes, the brewer's own verdict, a second opinion, the trace."""

from __future__ import annotations

from typing import Any
from zoneinfo import ZoneInfo

from flask import Response, abort, g, make_response, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.brewing import correcting, readings, watching
from ....core.base.kinds import Units
from ....store.read import queries
from ....store.records import Photo, Reading
from ...kit.acting import act
from ...kit.numbers import number_of
from ...kit.photos import sent_picture, shown_picture
from ...kit.reader import has_letter_paper
from ...kit.render import page
from ...kit.stops import stop_of
from .forms import ReadingForm, StrikeForm
from .opinion import opinion_of
from .routes import ask_of, bp, brew_of, context_of, fill_choices, taken_in

LARGEST_LOG = 6_000_000


def _refused(number: int, refused: RefusedError) -> Response:
    values = {problem.field or "watch": problem.message for problem in refused.problems}
    return page("brews/show.html", "brews/_brew.html", 422, **context_of(brew_of(number), problems=values))


@bp.post("/<int:number>/photos")
def add_photo(number: int) -> Answer:
    """Keep a photo."""
    look = request.form.get("look", type=number_of)
    try:
        picture = sent_picture()
        done = act(watching.add_photo, watching.AddPhoto(brew_id=number, picture=picture, note=request.form.get("note", ""), look_id=look))
    except RefusedError as refused:
        return _refused(number, refused)
    offer: dict[str, Any] = {} if picture is None or picture.taken is None else {"photo": done.made["photo"], "taken": picture.taken.isoformat()}
    return redirect(url_for(".show", number=number, **offer) + "#photos", 303)


@bp.post("/photos/<int:number>/day")
def date_photo(number: int) -> Answer:
    """Put a photo on the day on which its camera says it was taken."""
    brew = queries.get(g.session, Photo, number).brew.id
    taken = taken_in(request.form.get("taken", ""))
    if taken is None:
        abort(404)
    try:
        act(watching.date_photo, watching.DatePhoto(photo_id=number, taken_at=taken))
    except RefusedError as refused:
        return _refused(brew, refused)
    return redirect(url_for(".show", number=brew) + "#photos", 303)


@bp.get("/photos/<int:number>/<size>.jpg")
def photo(number: int, size: str) -> Response:
    """Show a photo, small or large."""
    return shown_picture(queries.get(g.session, Photo, number).sha, size)


@bp.post("/<int:number>/log")
def add_log(number: int) -> Answer:
    """Read in a logger's file."""
    file = request.files.get("file")
    content = file.stream.read(LARGEST_LOG + 1) if file is not None else b""
    text = content.decode("utf-8-sig", "replace") if len(content) <= LARGEST_LOG else ""
    brew = brew_of(number)
    air = request.form.get("of") == "place"
    ask = watching.ReadLog(
        text=text,
        name=(file.filename or "logger") if file is not None else "logger",
        zone=ZoneInfo(g.household.zone),
        brew_id=None if air else number,
        place_id=brew.vessel.place.id if air else None,
        month_first=g.units == Units.US,
    )
    try:
        act(watching.read_log, ask)
    except RefusedError as refused:
        return _refused(number, refused)
    return redirect(url_for(".show", number=number), 303)


@bp.post("/<int:number>/strike/<kind>/<int:record>")
def strike(number: int, kind: str, record: int) -> Answer:
    """Strike out a record of any kind; of a grave look it is asked why."""
    form = StrikeForm()
    try:
        act(correcting.strike, correcting.Strike(kind=kind, number=record, why=form.why.data or ""))
    except RefusedError as refused:
        form.take(refused)
        return page("brews/strike.html", None, 422, brew=brew_of(number), form=form, kind=kind, record=record)
    return redirect(url_for(".show", number=number), 303)


@bp.get("/<int:number>/measure")
def measure(number: int) -> Answer:
    """Ask for all that can be measured; a measurement is never filled in beforehand."""
    brew = brew_of(number)
    if not brew.alive:
        return redirect(url_for(".show", number=number), 303)
    return page("brews/measure.html", brew=brew, form=fill_choices(ReadingForm(formdata=None)))


@bp.post("/<int:number>/measure")
def keep_measurement(number: int) -> Answer:
    """Write a measurement down."""
    form = fill_choices(ReadingForm())
    if form.validate_on_submit():
        try:
            act(readings.log_reading, ask_of(form, number))
            return redirect(url_for(".show", number=number), 303)
        except RefusedError as refused:
            form.take(refused)
    return page("brews/measure.html", None, 422, brew=brew_of(number), form=form)


def _reading_of(number: int, reading: int) -> Reading:
    row = queries.get(g.session, Reading, reading)
    if row.brew.id != number:
        abort(404)
    return row


@bp.get("/<int:number>/correct/<int:reading>")
def correct(number: int, reading: int) -> Response:
    """Show a reading to be corrected, as it was said."""
    row = _reading_of(number, reading)
    named = {
        name: getattr(row, name)
        for name in ("ph", "celsius", "low_c", "high_c", "gravity", "gravity_by", "depth", "degassed", "note")
    }
    values = {**named, "ta_g_per_l": None if row.titration else row.ta_g_per_l, **row.titration}
    form = fill_choices(ReadingForm(formdata=None, data={**values, "instrument": _choice_of(row)}))
    return page("brews/correct.html", brew=brew_of(number), row=row, form=form)


def _choice_of(row: Reading) -> str:
    return f"{row.instrument}:{row.instrument_id}" if row.instrument_id else row.instrument


@bp.post("/<int:number>/correct/<int:reading>")
def save_correction(number: int, reading: int) -> Answer:
    """Put the corrected reading in place; what was said before is kept."""
    row, form = _reading_of(number, reading), fill_choices(ReadingForm())
    if form.validate_on_submit():
        try:
            act(correcting.correct_reading, correcting.CorrectReading(reading_id=reading, now=ask_of(form, number)))
            return redirect(url_for(".show", number=number), 303)
        except RefusedError as refused:
            form.take(refused)
    return page("brews/correct.html", None, 422, brew=brew_of(number), row=row, form=form)


@bp.post("/<int:number>/verdict")
def overrule(number: int) -> Answer:
    """Decide otherwise, or lift what was decided."""
    try:
        if "lift" in request.form:
            act(watching.lift_overrule, watching.LiftOverrule(brew_id=number))
        else:
            word, reason = request.form.get("word", ""), request.form.get("reason", "")
            act(watching.overrule_verdict, watching.OverruleVerdict(brew_id=number, word=word, reason=reason))
    except RefusedError as refused:
        values = {"verdict": " ".join(problem.message for problem in refused.problems)}
        return page("brews/show.html", "brews/_brew.html", 422, **context_of(brew_of(number), problems=values))
    return redirect(url_for(".show", number=number), 303)


@bp.get("/<int:number>/opinion")
def opinion(number: int) -> Response:
    """Show a sheet for a friend's second opinion: nothing private on it."""
    brew = brew_of(number)
    return page("brews/opinion.html", opinion=opinion_of(stop_of(g.session, brew, g.now, g.household)), brew=brew)


@bp.get("/<int:number>/opinion.pdf")
def opinion_pdf(number: int) -> Response:
    """The same as a sheet to send."""
    from .opinion_sheet import sheet  # what draws it is read in when it is first wanted

    found = opinion_of(stop_of(g.session, brew_of(number), g.now, g.household))
    pictures = []
    for row in found.photos:
        content = queries.photo_content(g.session, row.sha)
        if content is not None:
            pictures.append((content.large, found.day_of[row.id]))
    response = make_response(sheet(found, pictures, has_letter_paper()))
    response.headers["Content-Type"] = "application/pdf"
    response.headers["Content-Disposition"] = 'inline; filename="second-opinion.pdf"'
    return response


@bp.get("/<int:number>/trace")
def trace_page(number: int) -> Answer:
    """Lead to the trace of a brew."""
    return redirect(url_for("cultures.trace_page", kind="brew", number=number))
