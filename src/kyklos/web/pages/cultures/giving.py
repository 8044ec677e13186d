"""Giving and receiving: gifts with their private contact, the passport as document and card, lines that come in."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from typing import Any

from flask import Response, g, make_response, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import RefusedError
from ....actions.cultures import giving
from ....actions.household import ORIGINS
from ....core.base.saying import remarked, spoken
from ....exchange.card import DIETS, PassportCard, card_of
from ....exchange.lines import ReceivePassport, passport_of, receive_passport
from ....exchange.passport import Passport, PassportError, read, schema, written
from ....exchange.strict import LARGEST_BYTES
from ....reckon.cultures import lineages
from ....store.read import queries
from ....store.records import Culture, Gift
from ...kit import printing, units
from ...kit.acting import act, in_units, tried
from ...kit.render import page
from .forms import CultureForm, ReceiveForm
from .place import bp
from .routes import form_page, gift_form, line_page


@bp.post("/<int:number>/gift")
def gift(number: int) -> Answer:
    """Give something away."""
    form = gift_form(queries.get(g.session, Culture, number))
    done = tried(
        form,
        giving.give_away,
        lambda: giving.GiveAway(
            culture_id=number,
            disc_id=form.disc.data or None,
            lot_id=form.lot.data or None,
            litres=form.litres.data,
            who=form.who.data or "",
        ),
    )
    return redirect(url_for(".passport_page", number=number), 303) if done else line_page(number, 422, gift=form)


@bp.post("/<int:number>/receive")
def receive_gift(number: int) -> Answer:
    """Take in a disc or liquid of a line that is kept here."""
    form = ReceiveForm()
    done = tried(
        form,
        giving.receive,
        lambda: giving.Receive(
            culture_id=number,
            disc=form.got_disc.data,
            litres=form.got_l.data,
            ph=form.got_ph.data,
            who=form.from_whom.data or "",
        ),
        {"litres": "got_l", "ph": "got_ph"},
    )
    return redirect(url_for(".line", number=number), 303) if done else line_page(number, 422, got=form)


@bp.post("/gifts/<int:number>/holds")
def holds(number: int) -> Answer:
    """Note whether someone still has what was given."""
    line = queries.get(g.session, Gift, number).culture_id
    act(giving.say_holds, giving.SayHolds(gift_id=number, holds="still" in request.form))
    return redirect(url_for(".line", number=line), 303)


def _passport(number: int) -> tuple[Culture, Passport]:
    culture = queries.get(g.session, Culture, number)
    points = lineages.vigour_of(g.session, culture).points
    vigour = min(max(points[-1].vigour, 0.05), 5.0) if points else None
    return culture, passport_of(g.session, culture, g.now, story="story" in request.args, vigour=vigour)


def _card(number: int) -> tuple[Culture, PassportCard]:
    culture, passport = _passport(number)
    nodes = [("brew", b.id) for b in culture.brews] + [("disc", d.id) for d in culture.discs]
    deep = lineages.generations(g.session)
    generation = max((deep.get(node, 0) for node in nodes), default=0)
    card = card_of(passport, generation, ORIGINS.get(passport.origin, passport.origin))
    return culture, replace(card, care=tuple(spoken(remarked(line), in_units) for line in card.care))


@bp.get("/<int:number>/passport")
def passport_page(number: int) -> Response:
    """Show a line's card, and its passport to take along."""
    culture, card = _card(number)
    path, size = printing.code_path(card.code)
    return page("cultures/passport.html", c=culture, card=card, path=path, size=size)


@bp.get("/<int:number>/passport.json")
def passport(number: int) -> Response:
    """Write a line's passport; its story only if asked for."""
    _, found = _passport(number)
    response = make_response(written(found))
    response.headers["Content-Type"] = "application/json; charset=utf-8"
    response.headers["Content-Disposition"] = f'attachment; filename="passport-{number}.json"'
    return response


@bp.get("/<int:number>/passport.svg")
def passport_svg(number: int) -> Response:
    """Show the card as a picture."""
    _, card = _card(number)
    path, size = printing.code_path(card.code)
    answer = page("cultures/passport.svg", None, card=card, path=path, size=size)
    answer.mimetype = "image/svg+xml"
    return answer


@bp.get("/<int:number>/passport.pdf")
def passport_pdf(number: int) -> Response:
    """Show the card to print, on a quarter of a sheet."""
    _, card = _card(number)
    return printing.pdf(_printed(card), f"passport-{number}")


def _printed(card: PassportCard) -> bytes:
    import io

    from reportlab.lib.pagesizes import A6, landscape
    from reportlab.pdfgen.canvas import Canvas

    body, (wide, high) = io.BytesIO(), landscape(A6)
    canvas: Any = Canvas(body, pagesize=(wide, high), invariant=1, pageCompression=0)
    canvas.setTitle(card.name)
    mm = printing.MM
    edge = 44 * mm
    canvas.rect(4 * mm, 4 * mm, wide - 8 * mm, high - 8 * mm)
    printing.draw_code(canvas, card.code, wide - edge - 9 * mm, high - 9 * mm, edge)
    room, at = wide - edge - 26 * mm, high - 18 * mm
    printing.write(canvas, 10 * mm, at, card.name, "Times-Bold", 24, room)
    for line in card.lines:
        at -= 7 * mm
        printing.write(canvas, 10 * mm, at, line, "Helvetica", 10, room)
    at = 36 * mm
    for line in card.care:
        printing.write(canvas, 10 * mm, at, line, "Times-Roman", 11, wide - 20 * mm)
        at -= 5.4 * mm
    foot = f"Culture passport {card.mark}. Taste decides nothing about safety."
    printing.write(canvas, 10 * mm, 8 * mm, foot, "Helvetica", 7)
    canvas.save()
    return body.getvalue()


@bp.get("/passport.schema.json")
def passport_schema() -> Response:
    """Show the schema of the passport."""
    response = make_response(schema())
    response.headers["Content-Type"] = "application/schema+json; charset=utf-8"
    return response


def _preview(found: Passport) -> Response:
    kinds: Counter[str] = Counter(thing.kind for thing in found.things)
    counts = [(kinds[kind], word) for kind, word in (("brew", "brew"), ("disc", "disc"), ("lot", "starter")) if kinds[kind]]
    return page(
        "cultures/passport_preview.html",
        None,
        found=found,
        text=written(found),
        diet=DIETS[found.diet],
        origin=ORIGINS.get(found.origin, found.origin),
        things=", ".join(f"{count} {word}{'' if count == 1 else 's'}" for count, word in counts),
        typed={name: request.form.get(name, "") for name in ("disc", "litres", "who") if name in request.form},
    )


@bp.post("/passport")
def receive() -> Answer:
    """Show what a passport holds, from a file or from what its code says; or, confirmed, take its line in."""
    file, text = request.files.get("file"), request.form.get("text", "")
    content = file.stream.read(LARGEST_BYTES + 1) if file is not None and file.filename else text.encode()
    try:
        litres = units.parse(request.form["litres"], "volume", g.units) if request.form.get("litres") else None
        found = read(content)
        if request.form.get("confirmed") != "yes":
            return _preview(found)
        ask = ReceivePassport(passport=found, disc="disc" in request.form, litres=litres, who=request.form.get("who", ""))
        done = act(receive_passport, ask)
    except (PassportError, RefusedError, units.NotANumberError) as refused:
        return form_page(CultureForm(formdata=None), 422, str(refused))
    return redirect(url_for(".line", number=done.made["culture"]), 303)
