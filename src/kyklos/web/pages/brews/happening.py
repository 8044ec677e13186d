"""Something happened to a brew: taken out, put in, into another jar, joined, moved; and how it began, put right."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC
from typing import Any
from zoneinfo import ZoneInfo

from flask import Response, abort, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import ConflictError, Done, RefusedError
from ....actions.brewing import happenings, put_right
from ....core.base.facts import TEAS
from ....core.base.kinds import VesselKind
from ....core.liquid import teas
from ....reckon.brewing import brew_days
from ....store.read import culture_queries, queries
from ....store.records import Brew
from ...kit.acting import act
from ...kit.fields import KitchenForm
from ...kit.glasses import glasses_of
from ...kit.numbers import decimal_of
from ...kit.render import page
from ...kit.units import words
from .happened_forms import DOUBTS, BeganForm, JoinBrewsForm, MoveForm, OtherJarForm, PutInForm, TakeOutForm
from .routes import bp, brew_of


def _forms(brew: Brew) -> dict[str, KitchenForm]:
    """Make the forms, as they are before anything is typed."""
    seen: dict[str, Any] = {"formdata": None, "version": brew.version}
    forms: dict[str, KitchenForm] = {
        "out": TakeOutForm(prefix="out-", keep_disc=True, **seen),
        "into": PutInForm(prefix="into-", formdata=None),
        "jar": OtherJarForm(prefix="jar-", **seen),
        "join": JoinBrewsForm(prefix="join-", **seen),
        "move": MoveForm(prefix="move-", formdata=None, place=brew.vessel.place.id, heater_c=brew.vessel.heater_c),
    }
    _choices(brew, forms)
    return forms


def _choices(brew: Brew, forms: dict[str, KitchenForm]) -> None:
    lots = [
        (lot.id, f"{lot.culture.name}, {words(lot.left_l, 'volume', g.units)}")
        for lot in brew_days.sound_lots(g.session)
    ]
    full = culture_queries.in_use(g.session)[0]
    free = [v for v in queries.vessels(g.session) if v.kind != VesselKind.HOTEL and v.id not in full]
    others = [b for b in queries.standing_brews(g.session) if b.id != brew.id]
    choices: dict[tuple[str, str], list[tuple[int, str]]] = {
        ("into", "lot"): [*lots, (0, "other starter")],
        ("jar", "vessel"): [(v.id, v.name) for v in free],
        ("join", "into"): [(b.id, f"{b.vessel.name}, {b.culture.name}") for b in others],
        ("move", "place"): [(place.id, place.name) for place in queries.rooms(g.session)],
    }
    for (name, field), pairs in choices.items():
        if name in forms:
            forms[name][field].choices = pairs


def _page(brew: Brew, status: int = 200, **changed: KitchenForm) -> Response:
    return page(
        "brews/happened.html",
        None,
        status,
        brew=brew,
        forms=_forms(brew) | changed,
        glasses=[(name, litres, words(litres, "volume", g.units)) for name, litres in glasses_of(g.household)],
        open=next(iter(changed), request.args.get("do", "")),
    )


@bp.get("/<int:number>/happened")
def happened(number: int) -> Answer:
    """Ask what happened."""
    brew = brew_of(number)
    return _page(brew) if brew.alive else redirect(url_for(".show", number=number), 303)


def _asked(number: int, name: str, form: KitchenForm, run: Callable[..., Done], ask: Callable[[], Any]) -> Answer:
    """Act on one of the forms; what was typed is kept where it does not hold, or another window was quicker."""
    brew = brew_of(number)
    if not brew.alive:
        return redirect(url_for(".show", number=number), 303)
    _choices(brew, {name: form})
    if form.validate_on_submit():
        try:
            act(run, ask())
            return redirect(url_for("round.show") if request.form.get("view") == "round" else url_for(".show", number=number), 303)
        except RefusedError as refused:
            form.take(refused.renamed({"lot_id": "lot", "vessel_id": "vessel"}))
        except ConflictError as conflict:
            form.overtaken(conflict, brew_of(number).version)
    return _page(brew_of(number), form.status, **{name: form})


@bp.post("/<int:number>/happened/glass")
def glass(number: int) -> Answer:
    """Take a glass out in one tap."""
    litres = request.form.get("litres", type=decimal_of)
    if litres not in {size for _, size in glasses_of(g.household)}:
        abort(400, "Choose a size.")
    form = TakeOutForm(prefix="out-", formdata=None, litres=litres, leaves="drunk", keep_disc=True)
    try:
        act(happenings.take_out, happenings.TakeOut(brew_id=number, leaves="drunk", litres=litres))
    except RefusedError as refused:
        form.take(refused)
        return _page(brew_of(number), 422, out=form)
    return redirect(url_for(".show", number=number), 303)


@bp.post("/<int:number>/happened/out")
def take_out(number: int) -> Answer:
    """Take something out, or all."""
    f = TakeOutForm(prefix="out-")

    def ask() -> happenings.TakeOut:
        return happenings.TakeOut(
            brew_id=number, leaves=f.leaves.data, litres=f.litres.data, at=f.at.data, reason=f.reason.data or "",
            keep_disc=f.keep_disc.data, version=f.version.data,
        )  # fmt: skip

    return _asked(number, "out", f, happenings.take_out, ask)


@bp.post("/<int:number>/happened/into")
def put_in(number: int) -> Answer:
    """Put something in."""
    f = PutInForm(prefix="into-")

    def ask() -> happenings.PutIn:
        return happenings.PutIn(
            brew_id=number, enters=f.enters.data, litres=f.litres.data, sugar_g_per_l=f.sugar_g_per_l.data,
            lot_id=f.lot.data or None, ph=f.ph.data, at=f.at.data,
        )  # fmt: skip

    return _asked(number, "into", f, happenings.put_into, ask)


@bp.post("/<int:number>/happened/jar")
def other_jar(number: int) -> Answer:
    """Pour all or a part over into another jar."""
    f = OtherJarForm(prefix="jar-")
    if f.how.data == "part":
        return _asked(
            number, "jar", f, happenings.split,
            lambda: happenings.Split(brew_id=number, vessel_id=f.vessel.data, litres=f.litres.data or 0.0, at=f.at.data),
        )  # fmt: skip
    return _asked(
        number, "jar", f, happenings.pour_over,
        lambda: happenings.PourOver(brew_id=number, vessel_id=f.vessel.data, at=f.at.data, version=f.version.data),
    )  # fmt: skip


@bp.post("/<int:number>/happened/join")
def join(number: int) -> Answer:
    """Pour a brew into another one."""
    f = JoinBrewsForm(prefix="join-")

    def ask() -> happenings.Join:
        return happenings.Join(
            brew_id=number, into_id=f.into.data, at=f.at.data, other_diet=f.other_diet.data, version=f.version.data
        )

    return _asked(number, "join", f, happenings.join, ask)


@bp.post("/<int:number>/happened/move")
def move(number: int) -> Answer:
    """Move the jar somewhere else."""
    f, vessel = MoveForm(prefix="move-"), brew_of(number).vessel_id

    def ask() -> put_right.MoveVessel:
        return put_right.MoveVessel(
            vessel_id=vessel,
            place_id=f.place.data,
            at=f.at.data,
            heater_c=f.heater_c.data,
            heater_off=f.heater_c.data is None,
        )

    return _asked(number, "move", f, put_right.move_vessel, ask)


def _began_form(brew: Brew) -> BeganForm:
    local = brew.pitched_at.astimezone(ZoneInfo(g.household.zone))
    doubt = f"{brew.start_doubt_days:g}"
    form = BeganForm(
        data={
            "start_doubt_days": doubt,
            "litres": brew.started_l,
            "tea": brew.tea,
            "leaf_g_per_l": brew.leaf_g_per_l,
            "sugar_g_per_l": brew.sugar_g_per_l,
            "starter_ph": brew.starter_ph,
            "vessel": brew.vessel_id,
            "version": brew.version,
        }
    )
    if not form.is_submitted():
        form.pitched_at.typed = f"{local:%Y-%m-%dT%H:%M}"
    teas_told, doubts = [(key, tea.name) for key, tea in TEAS.items()], list(DOUBTS)
    if brew.tea not in TEAS:
        teas_told.append((brew.tea, teas.name_of(teas.from_text(brew.tea))))
    if doubt not in dict(DOUBTS):
        doubts.append((doubt, f"within {doubt} days"))
    form.tea.choices, form.start_doubt_days.choices = teas_told, doubts
    form.vessel.choices = [(v.id, v.name) for v in queries.vessels(g.session) if v.kind != VesselKind.HOTEL]
    return form


def _began_page(brew: Brew, form: BeganForm, status: int = 200) -> Response:
    return page("brews/put_right.html", None, status, brew=brew, form=form)


@bp.get("/<int:number>/began")
def began(number: int) -> Response:
    """Ask how a brew began."""
    brew = brew_of(number)
    return _began_page(brew, _began_form(brew))


@bp.post("/<int:number>/began")
def put_began_right(number: int) -> Answer:
    """Put right how a brew began."""
    brew = brew_of(number)
    form = _began_form(brew)
    if form.validate_on_submit():
        try:
            act(
                put_right.correct_brew,
                put_right.CorrectBrew(
                    brew_id=number,
                    pitched_at=form.pitched_at.data or brew.pitched_at.astimezone(UTC),
                    start_doubt_days=float(form.start_doubt_days.data),
                    litres=form.litres.data,
                    tea=form.tea.data,
                    leaf_g_per_l=form.leaf_g_per_l.data,
                    sugar_g_per_l=form.sugar_g_per_l.data,
                    starter_ph=form.starter_ph.data,
                    vessel_id=form.vessel.data,
                    version=form.version.data,
                ),
            )
            return redirect(url_for(".show", number=number), 303)
        except RefusedError as refused:
            form.take(refused.renamed({"vessel_id": "vessel"}))
        except ConflictError as conflict:
            brew = brew_of(number)
            form.overtaken(conflict, brew.version, litres=brew.started_l, tea=brew.tea, vessel=brew.vessel_id)
    return _began_page(brew_of(number), form, form.status)
