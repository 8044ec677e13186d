"""Settings: units, tasters, time zone, light or dark."""

from __future__ import annotations

from flask import Blueprint, Response, g, redirect, url_for
from werkzeug.wrappers import Response as Answer

from ...actions.base import ConflictError, RefusedError
from ...actions.household import ChangeSettings, change_settings
from ...core.cautions import Situation
from ...store import queries
from ..acting import act
from ..cautioned import heard
from ..render import page
from .forms import SettingsForm

bp = Blueprint("settings", __name__, url_prefix="/settings", template_folder="templates")


@bp.get("/")
def show() -> Response:
    """Show the settings."""
    house = g.household
    names = ", ".join(taster.name for taster in queries.tasters_of(g.session))
    form = SettingsForm(
        name=house.name,
        units=house.units,
        zone=house.zone,
        theme=house.theme,
        tasters=names,
        southern=house.southern,
        reads_ph=house.reads_ph or "",
        power_price=house.power_price,
        glass_l=house.glass_l,
        quiet_from=house.quiet_from,
        quiet_to=house.quiet_to,
        version=house.version,
    )
    return page("settings/show.html", form=form, cautions=heard(Situation(moment="settings")))


@bp.post("/")
def save() -> Answer:
    """Save the settings."""
    form, status = SettingsForm(), 422
    if form.validate_on_submit():
        names = tuple(name.strip() for name in (form.tasters.data or "").split(","))
        ask = ChangeSettings(
            name=form.name.data or "",
            units=form.units.data,
            zone=(form.zone.data or "").strip(),
            theme=form.theme.data,
            tasters=names,
            southern=bool(form.southern.data),
            reads_ph=form.reads_ph.data,
            power_price=form.power_price.data,
            glass_l=form.glass_l.data,
            quiet=(form.quiet_from.data, form.quiet_to.data),
            version=form.version.data,
        )
        try:
            act(change_settings, ask)
            return redirect(url_for(".show"), 303)
        except RefusedError as refused:
            form.take(refused)
        except ConflictError as conflict:
            form.form_errors.append(str(conflict))
            form.version.data, status = g.household.version, 409
    return page("settings/show.html", None, status, form=form, cautions=heard(Situation(moment="settings")))
