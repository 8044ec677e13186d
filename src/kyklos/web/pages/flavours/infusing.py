"""A jar that takes flavour: set up, tasted, strained, then bottled or drunk."""

from __future__ import annotations

from typing import Any

from flask import Response, g, redirect, request, url_for
from werkzeug.datastructures import MultiDict
from werkzeug.wrappers import Response as Answer
from wtforms import BooleanField, StringField

from ....actions.base import RefusedError
from ....actions.bottles import infusing
from ....actions.bottles.filling import why_not
from ....actions.bottles.harvest import starter_comes_first
from ....core.base.kinds import FlavourMoment, Occasion
from ....core.bottles.flavouring import may_close
from ....core.bottles.infusing import COVERS, USUAL_H
from ....core.judging import Situation
from ....core.liquid.pouring import LEAST_L
from ....reckon.bottles import infusions
from ....reckon.bottles.harvests import to_set_aside_l
from ....store.read import ingredients, queries
from ....store.records import Flavour, Infusion
from ...kit.acting import act, tried
from ...kit.cautioned import heard
from ...kit.fields import ChoiceField, KitchenForm, QuantityField
from ...kit.numbers import number_of
from ...kit.render import page
from . import editing
from .routes import bp, brew_of, sorted_choices

A_JAR_L = 1.0  #: Offered first. [L]


class JarForm(KitchenForm):
    """A jar to be set up."""

    name = StringField("Name on the jar")
    litres = QuantityField("Brew that goes in", kind="volume")
    hours = QuantityField("Hours", hint="Half a day to three days; taste it on the way.")
    cover = ChoiceField("Covered with", default="cloth", choices=list(COVERS.items()))
    cold = BooleanField("Into the fridge")


class TasteForm(KitchenForm):
    """A jar tasted."""

    more_hours = QuantityField("Some hours more", required=False)
    ph = QuantityField("pH, if measured", required=False)
    word = StringField("How it tasted")


class StrainForm(KitchenForm):
    """A jar strained."""

    strained_l = QuantityField("Came through the strainer", kind="volume", required=False, hint="Empty: as reckoned.")


def _setup(number: int, sent: MultiDict[str, str], form: JarForm, status: int = 200, **more: Any) -> Response:
    brew = brew_of(number)
    edited = editing.read(sent, form.litres.data or A_JAR_L)
    kept = [row for row in ingredients.flavours(g.session) if any(p.moment == FlavourMoment.INFUSION for p in row.parts)]
    return page(
        "flavours/infuse.html",
        None,
        status,
        brew=brew,
        form=form,
        edited=edited,
        kept=kept,
        choices=sorted_choices(),
        why_not=why_not(g.session, brew, g.now) if brew.alive else f"This brew ended already ({brew.status}).",
        starter_first=starter_comes_first(brew) if brew.alive else "",
        aside_l=to_set_aside_l(g.session, brew, g.now),
        flavour_id=request.values.get("flavour", type=number_of),
        cautions=heard(Situation(moment=Occasion.HARVEST, heated=False, unrated_bottles=True)),
        **{"problems": {}, **more},
    )


def _from_kept(flavour: Flavour, jar_l: float) -> MultiDict[str, str]:
    """Write what of a flavour goes into a jar of so much brew. [L]"""
    return MultiDict(editing.rows_typed([p for p in flavour.parts if p.moment == "infusion"], jar_l))


@bp.get("/brews/<int:number>/infuse")
def infuse(number: int) -> Response:
    """Set up a jar."""
    brew = brew_of(number)
    flavour = g.session.get(Flavour, request.args.get("flavour", 0, type=number_of))
    jar_l = round(min(A_JAR_L, max(0.2, brew.left_l)), 1)
    sent = _from_kept(flavour, jar_l) if flavour is not None else request.args
    hours = flavour.hours if flavour is not None and flavour.hours else USUAL_H["room"]
    form = JarForm(
        formdata=None,
        data={"litres": jar_l, "hours": hours, "name": flavour.name if flavour else ""},
    )
    return _setup(number, sent, form)


@bp.post("/brews/<int:number>/infuse")
def start(number: int) -> Answer:
    """Put brew and flavour into a jar."""
    form = JarForm()
    edited = editing.read(request.form, form.litres.data or A_JAR_L)
    if edited.wrong or not form.validate():
        return _setup(number, request.form, form, 422, problems=edited.wrong)
    ask = infusing.StartInfusion(
        brew_id=number,
        litres=form.litres.data,
        parts=edited.parts,
        name=form.name.data or "",
        hours=form.hours.data,
        cover=form.cover.data,
        cold=form.cold.data,
        flavour_id=request.form.get("flavour", type=number_of),
    )
    try:
        done = act(infusing.start_infusion, ask)
    except RefusedError as refused:
        form.take(refused)
        found = {p.field: p.message for p in refused.problems if p.field.startswith(("ingredient-", "g_per_l-"))}
        return _setup(number, request.form, form, 422, problems=found)
    return redirect(url_for("flavours.jar", number=done.made["infusion"]), 303)


def _jar(number: int, status: int = 200, **forms: KitchenForm) -> Response:
    infusion = queries.get(g.session, Infusion, number)
    stands = infusions.stands(g.session, infusion, g.now)
    forms.setdefault("taste", TasteForm(formdata=None))
    forms.setdefault("strain", StrainForm(formdata=None, data={"strained_l": round(stands.out.strained_l, 2)}))
    measured = infusion.ph_after
    return page(
        "flavours/jar.html",
        None,
        status,
        infusion=infusion,
        stands=stands,
        closes=may_close(infusions.began_at_ph(infusion), stands.out.liquid.ph, stands.parts, measured),
        covers=COVERS,
        left=infusion.liquid.litres if infusion.liquid.litres > LEAST_L else 0.0,
        cautions=heard(Situation(moment=Occasion.HARVEST, heated=False, flavours=tuple(p.what.key for p in stands.parts))),
        **forms,
    )


@bp.get("/infusions/<int:number>")
def jar(number: int) -> Response:
    """Show a jar."""
    return _jar(number)


@bp.post("/infusions/<int:number>/taste")
def taste(number: int) -> Answer:
    """Taste a jar."""
    form = TasteForm()
    done = tried(
        form,
        infusing.taste_infusion,
        lambda: infusing.TasteInfusion(
            infusion_id=number, more_hours=form.more_hours.data or 0.0, ph=form.ph.data, word=form.word.data or ""
        ),
    )
    return redirect(url_for("flavours.jar", number=number), 303) if done is not None else _jar(number, form.status, taste=form)


@bp.post("/infusions/<int:number>/strain")
def strain(number: int) -> Answer:
    """Strain a jar."""
    form = StrainForm()
    done = tried(
        form, infusing.strain_infusion, lambda: infusing.StrainInfusion(infusion_id=number, strained_l=form.strained_l.data)
    )
    return redirect(url_for("flavours.jar", number=number), 303) if done is not None else _jar(number, form.status, strain=form)


@bp.post("/infusions/<int:number>/end")
def end(number: int) -> Answer:
    """Empty a jar."""
    act(infusing.end_infusion, infusing.EndInfusion(infusion_id=number, drunk=request.form.get("how") != "out"))
    return redirect(url_for("round.show"), 303)


