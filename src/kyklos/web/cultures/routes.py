"""Cultures: the lines as a braid, their discs and starters, how strong they are, and what is left as a backup."""

from __future__ import annotations

from flask import Blueprint, Response, abort, g, make_response, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ...actions import lives
from ...actions.base import RefusedError
from ...actions.household import ORIGINS, AddCulture, add_culture
from ...core.lineage import ENDS
from ...exchange.lines import passport_of, receive_passport
from ...exchange.passport import LARGEST_BYTES, PassportError, read, written
from ...store import queries
from ...store.models import Culture, Disc
from ..acting import act
from ..fields import KitchenForm
from ..render import page
from . import telling
from .forms import CultureForm, DiscForm, FeedForm, GiftForm

bp = Blueprint("cultures", __name__, url_prefix="/cultures", template_folder="templates")


@bp.get("/")
def show() -> Response:
    """Show the braid and list the lines."""
    span = request.args.get("span", "all")
    cultures = telling.cultures_whole()
    kept = {c.id: telling.backups_of(c) for c in cultures}
    return page(
        "cultures/show.html",
        cultures=cultures,
        origins=ORIGINS,
        braid=telling.braid_of(cultures, span) if cultures else None,
        span=span if span in telling.SPANS else "all",
        kept=kept,
    )


@bp.get("/bead/<kind>/<int:number>")
def bead(kind: str, number: int) -> Response:
    """Tell what a bead is, and which it came from and led to."""
    if kind not in {"brew", "disc"}:
        abort(404)
    return page("cultures/bead.html", "cultures/_card.html", card=telling.card_of((kind, number)))


def _line(number: int, status: int = 200, problem: str = "", **forms: KitchenForm) -> Response:
    culture = queries.get(g.session, Culture, number)
    used = queries.in_use(g.session)[1]
    return page(
        "cultures/line.html",
        None,
        status,
        c=culture,
        origins=ORIGINS,
        ends=ENDS,
        used=used,
        kept=telling.backups_of(culture),
        vigour=telling.vigour_of(culture),
        hotels=telling.hotels(),
        born_at=telling.born_at,
        problem=problem,
        gift=forms.get("gift") or _gift_form(culture, formdata=None),
        feed=forms.get("feed") or FeedForm(formdata=None),
        disc_form=forms.get("disc_form") or DiscForm(formdata=None),
    )


def _gift_form(culture: Culture, **given: object) -> GiftForm:
    form = GiftForm(**given)
    used = queries.in_use(g.session)[1]
    form.disc.choices = [(0, "no disc")] + [
        (d.id, d.name) for d in culture.discs if d.ended_at is None and d.id not in used
    ]
    form.lot.choices = [(0, "no liquid")] + [
        (lot.id, f"liquid, {lot.left_l * 1000:.0f} mL left") for lot in culture.lots if lot.left_l > 0.005
    ]
    return form


@bp.get("/<int:number>")
def line(number: int) -> Response:
    """Show one line."""
    return _line(number)


@bp.post("/discs/<int:number>")
def disc(number: int) -> Answer:
    """Part, measure, house or end a disc, by the button that was pressed."""
    row, form = queries.get(g.session, Disc, number), DiscForm()
    form.validate()
    does = request.form.get("do", "")
    hotel = request.form.get("hotel", type=int)
    asks = {
        "part": (lives.part_disc, lives.PartDisc(disc_id=number, thickness_mm=form.thickness_mm.data)),
        "measure": (
            lives.measure_disc,
            lives.MeasureDisc(
                disc_id=number,
                name=form.name.data or row.name,
                thickness_mm=form.thickness_mm.data,
                diameter_cm=form.diameter_cm.data,
            ),
        ),
        "house": (lives.house_disc, lives.HouseDisc(disc_id=number, vessel_id=hotel)),
        "leave": (lives.house_disc, lives.HouseDisc(disc_id=number, vessel_id=None)),
        "end": (
            lives.end_disc,
            lives.EndDisc(disc_id=number, ended_as=request.form.get("ended_as", ""), note=form.note.data or ""),
        ),
    }
    if does not in asks:
        abort(400, "Choose what to do with it.")
    if form.errors:
        return _line(row.culture_id, 422, " ".join(m for found in form.errors.values() for m in found), disc_form=form)
    try:
        act(*asks[does])
    except RefusedError as refused:
        return _line(row.culture_id, 422, str(refused), disc_form=form)
    return redirect(url_for(".line", number=row.culture_id), 303)


@bp.post("/<int:number>/gift")
def gift(number: int) -> Answer:
    """Give something away."""
    form = _gift_form(queries.get(g.session, Culture, number))
    if form.validate_on_submit():
        ask = lives.GiveAway(
            culture_id=number,
            disc_id=form.disc.data or None,
            lot_id=form.lot.data or None,
            litres=form.litres.data,
            who=form.who.data or "",
        )
        try:
            act(lives.give_away, ask)
            return redirect(url_for(".line", number=number), 303)
        except RefusedError as refused:
            form.take(refused)
    return _line(number, 422, gift=form)


@bp.post("/<int:number>/feed/<int:hotel>")
def feed(number: int, hotel: int) -> Answer:
    """Feed the hotel."""
    form = FeedForm()
    if form.validate_on_submit():
        ask = lives.FeedHotel(vessel_id=hotel, litres=form.litres.data, of=form.of.data, ph=form.ph.data)
        try:
            act(lives.feed_hotel, ask)
            return redirect(url_for(".line", number=number), 303)
        except RefusedError as refused:
            form.take(refused)
    return _line(number, 422, feed=form)


@bp.post("/starters/<int:number>/lose")
def lose(number: int) -> Answer:
    """Take liquid off a lot that was thrown out."""
    try:
        act(lives.lose_starter, lives.LoseStarter(lot_id=number))
    except RefusedError as refused:
        abort(422, str(refused))
    return redirect(
        request.referrer if (request.referrer or "").startswith(request.host_url) else url_for(".show"), 303
    )


@bp.get("/<int:number>/passport.json")
def passport(number: int) -> Response:
    """Write a line's passport; its story only if asked for."""
    culture = queries.get(g.session, Culture, number)
    text = written(passport_of(g.session, culture, g.now, story="story" in request.args))
    response = make_response(text)
    response.headers["Content-Type"] = "application/json; charset=utf-8"
    response.headers["Content-Disposition"] = f'attachment; filename="passport-{number}.json"'
    return response


@bp.post("/passport")
def receive() -> Answer:
    """Take a line in by its passport."""
    file = request.files.get("file")
    content = file.stream.read(LARGEST_BYTES + 1) if file is not None else b""
    try:
        done = act(receive_passport, read(content))
    except (PassportError, RefusedError) as refused:
        return page("cultures/form.html", None, 422, form=CultureForm(formdata=None), problem=str(refused))
    return redirect(url_for(".line", number=done.made["culture"]), 303)


@bp.get("/new")
def add() -> Response:
    """Ask for a new line."""
    return page("cultures/form.html", form=CultureForm())


@bp.post("/new")
def create() -> Answer:
    """Add a line."""
    form = CultureForm()
    if form.validate_on_submit():
        ask = AddCulture(
            name=form.name.data or "",
            diet=form.diet.data,
            origin=form.origin.data,
            story=form.story.data or "",
            starter_l=form.starter_l.data,
            starter_ph=form.starter_ph.data,
            instrument=form.instrument.data,
            with_disc=form.with_disc.data,
        )
        try:
            act(add_culture, ask)
            return redirect(url_for("round.show") if not queries.living_brews(g.session) else url_for(".show"), 303)
        except RefusedError as refused:
            form.take(refused)
    return page("cultures/form.html", None, 422, form=form)
