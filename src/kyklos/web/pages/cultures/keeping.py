"""The hotel and the starters: how they stand, what they want, labels that say not to drink them."""

from __future__ import annotations

from flask import Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.cultures import keeping
from ....core.base.kinds import NodeKind, VesselKind
from ....core.cultures import discs, hotel
from ....core.liquid import Way
from ....core.liquid.ageing import condition_words, liveliness
from ....core.liquid.pouring import INTO_A_BREW, is_a_glass
from ....drawing.stack import Stack, stack
from ....reckon.cultures import hotels, lineages, links
from ....reckon.cultures.hotels import Hotel
from ....store.read import culture_queries, queries
from ....store.records import StarterLot, Vessel
from ...kit import printing, units
from ...kit.acting import act, tried
from ...kit.numbers import number_of
from ...kit.printing import LabelText
from ...kit.render import page
from ...kit.words import local, ph_word
from .forms import DrawStarterForm, FeedForm, LotForm
from .naming import age_days, born_at, named, source_words
from .place import bp
from .routes import line_page

OLD = discs.OLD_DAYS
SAME_PH = 0.005  #: A field that shows what is known tells nothing new.


def _feed_form(home: Hotel | None = None, **given: object) -> FeedForm:
    wanted = home.state.top_up_l if home is not None and is_a_glass(home.state.top_up_l) else None
    form = FeedForm(**given, data={"litres": wanted})
    form.litres.like(wanted)
    brews = queries.standing_brews(g.session)
    ended = queries.harvested_lately(g.session, 6)
    form.brew.choices = [(0, "none")] + [(b.id, f"{b.vessel.name}, {b.culture.name}") for b in (*brews, *ended)]
    return form


def _draw_form(home: Hotel, **given: object) -> DrawStarterForm:
    form = DrawStarterForm(**given)
    lines = {stay.disc.culture.id: stay.disc.culture.name for stay in home.stays}
    form.culture.choices = list(lines.items())
    return form


def _guests(home: Hotel) -> list[discs.Guest]:
    apart, touched = culture_queries.set_apart(g.session), links.touched(g.session, g.now)
    out = []
    for stay in home.stays:
        disc = stay.disc
        vigour = lineages.vigour_of(g.session, disc.culture).points
        out.append(
            discs.Guest(
                node=("disc", disc.id),
                name=disc.name,
                line=disc.culture.name,
                age_days=age_days(born_at(disc)),
                thickness_mm=disc.thickness_mm,
                diameter_cm=disc.diameter_cm or home.vessel.diameter_cm,
                vigour=vigour[-1].vigour if vigour else 1.0,
                clean=(NodeKind.DISC, disc.id) not in apart | touched,
            )
        )
    return out


def _picture(home: Hotel, guests: list[discs.Guest]) -> Stack:
    level = home.state.level_now_l
    full = (home.level_l + home.discs_l) / home.vessel.usable_l
    words = "level not read" if level is None else units.words(level, "volume", g.units)
    rows = [(x.name, x.thickness_mm or discs.USUAL_MM, x.diameter_cm, x.age_days > OLD, not x.clean) for x in guests]
    return stack(rows, full, words, home.vessel.diameter_cm)


def _hotel_page(number: int, status: int = 200, feed: FeedForm | None = None, draw: DrawStarterForm | None = None) -> Response:
    vessel = queries.get(g.session, Vessel, number)
    if vessel.kind != VesselKind.HOTEL:
        abort(404)
    home = hotels.hotel_of(g.session, vessel, g.now)
    guests = _guests(home)
    wanted = {c.name: c.backups_wanted for c in culture_queries.cultures(g.session)}
    return page(
        "cultures/hotel.html",
        None,
        status,
        home=home,
        guests=guests,
        picture=_picture(home, guests),
        advice=discs.thin(guests, vessel.usable_l, wanted),
        crowded=home.discs_l > discs.DISC_SHARE * vessel.usable_l,
        room_l=discs.DISC_SHARE * vessel.usable_l,
        spare_l=hotel.spare_l(home.level_l, home.discs_l),
        since={("disc", stay.disc_id): stay.since for stay in home.stays},
        feed=feed or _feed_form(home, formdata=None),
        draw=draw or _draw_form(home, formdata=None),
    )


@bp.get("/hotels/<int:number>")
def hotel_page(number: int) -> Response:
    """Show a hotel."""
    return _hotel_page(number)


bp.add_url_rule("/hotels/<int:number>", "hotel", hotel_page)


@bp.post("/hotels/<int:number>/feed")
def feed(number: int) -> Answer:
    """Tend the hotel."""
    form = _feed_form()
    done = tried(
        form,
        keeping.feed_hotel,
        lambda: keeping.FeedHotel(
            vessel_id=number,
            litres=form.litres.data or 0.0,
            of=form.of.data,
            brew_id=form.brew.data or None,
            ph=form.ph.data,
            level_l=form.level_l.data,
            fresh_cover=form.fresh_cover.data,
        ),
    )
    return redirect(url_for(".hotel", number=number), 303) if done else _hotel_page(number, 422, feed=form)


@bp.post("/hotels/<int:number>/draw")
def draw(number: int) -> Answer:
    """Draw starter from the hotel."""
    form = _draw_form(hotels.hotel_of(g.session, queries.get(g.session, Vessel, number), g.now))
    done = tried(
        form,
        keeping.draw_starter,
        lambda: keeping.DrawStarter(
            vessel_id=number, culture_id=form.culture.data, litres=form.draw_l.data, ph=form.draw_ph.data
        ),
        {"litres": "draw_l", "ph": "draw_ph"},
    )
    return redirect(url_for(".starter", number=done.made["lot"]), 303) if done else _hotel_page(number, 422, draw=form)


def _starter_page(number: int, status: int = 200, form: LotForm | None = None) -> Response:
    lot = queries.get(g.session, StarterLot, number)
    days = age_days(lot.ages_since)
    return page(
        "cultures/starter.html",
        None,
        status,
        lot=lot,
        days=days,
        source=source_words(lot),
        condition=condition_words(days, lot.kept_in, lot.doubt),
        lively=liveliness(lot.kind, days, lot.kept_in),
        apart=(NodeKind.LOT, number) in culture_queries.set_apart(g.session),
        lost_l=lot.liquid.went_l(Way.LOST, Way.GIVEN),
        into_brews=[t for t in lot.liquid.outflows if t.how in INTO_A_BREW],
        into_lots=[t for t in lot.liquid.outflows if t.how == Way.MERGED],
        merged=[t for t in lot.liquid.inflows if t.how == Way.MERGED],
        form=form or LotForm(formdata=None, obj=lot),
    )


@bp.get("/starters/<int:number>")
def starter(number: int) -> Response:
    """Show one starter."""
    return _starter_page(number)


@bp.post("/starters/<int:number>")
def tell_starter(number: int) -> Answer:
    """Note where a starter stands and how it is."""
    form, known = LotForm(), queries.get(g.session, StarterLot, number)

    def ask() -> keeping.TellStarter:
        same = form.ph.data is not None and known.ph is not None and abs(form.ph.data - known.ph) < SAME_PH
        return keeping.TellStarter(
            lot_id=number,
            kept_in=form.kept_in.data,
            ph=None if same else form.ph.data,
            instrument=form.instrument.data,
            base_ml=form.base_ml.data,
            base_normality=form.base_normality.data,
            sample_ml=form.sample_ml.data,
            doubt=form.doubt.data or "",
        )

    done = tried(form, keeping.tell_starter, ask)
    return redirect(url_for(".starter", number=number), 303) if done else _starter_page(number, 422, form)


@bp.post("/starters/<int:number>/lose")
def lose(number: int) -> Answer:
    """Take liquid off a lot that was thrown out."""
    try:
        act(keeping.lose_starter, keeping.LoseStarter(lot_id=number))
    except RefusedError as refused:
        abort(422, str(refused))
    return redirect(url_for(".starter", number=number), 303)


@bp.post("/<int:number>/merge")
def merge(number: int) -> Answer:
    """Pour starters of a line together."""
    try:
        done = act(keeping.merge_starters, keeping.MergeStarters(lot_ids=tuple(request.form.getlist("lot", type=number_of))))
    except RefusedError as refused:
        return line_page(number, 422, str(refused))
    return redirect(url_for(".starter", number=done.made["lot"]), 303)


NOT_FOR_DRINKING = "Not for drinking: very sour"


def label_of(kind: str, number: int) -> LabelText:
    """Write the label of a starter or of the hotel."""
    zone = g.household.zone
    if kind == NodeKind.LOT:
        lot = queries.get(g.session, StarterLot, number)
        made = local(lot.made_at, zone)
        acid = f", {ph_word(lot.ph, lot.instrument)}" if lot.ph is not None else ""
        lines = (
            NOT_FOR_DRINKING,
            f"{units.words(lot.left_l, 'volume', g.units)}, {made.day} {made:%b %Y}{acid}",
            f"{'Honey and green tea' if lot.culture.diet == 'jun' else 'Sugar and tea'}: seeds its own kind",
        )
        return LabelText(f"{lot.culture.name}, starter", lines, url_for(".starter", number=number, _external=True))
    home = hotels.hotel_of(g.session, queries.get(g.session, Vessel, number), g.now)
    lines_here = sorted({stay.disc.culture.name for stay in home.stays}) or ["empty"]
    lines = (
        NOT_FOR_DRINKING,
        f"{len(home.stays)} discs: {', '.join(lines_here)}",
        f"Feed about every {home.state.rhythm_days:.0f} days",
    )
    return LabelText(home.vessel.name, lines, url_for(".hotel", number=number, _external=True))


@bp.get("/labels/<any(lot, hotel):kind>/<int:number>")
def label(kind: str, number: int) -> Response:
    """Show the label of a starter or of the hotel."""
    files = url_for(".label", kind=kind, number=number)
    return printing.label_page(label_of(kind, number), named((kind, number)).address, files)


@bp.get("/labels/<any(lot, hotel):kind>/<int:number>.svg")
def label_svg(kind: str, number: int) -> Response:
    """Show that label as a picture."""
    return printing.picture(label_of(kind, number))


@bp.get("/labels/<any(lot, hotel):kind>/<int:number>.pdf")
def label_pdf(kind: str, number: int) -> Response:
    """Show that label on a sheet."""
    return printing.printed(label_of(kind, number), f"label-{kind}-{number}")
