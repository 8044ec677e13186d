"""Settings: units, tasters, time zone, light or dark."""

from __future__ import annotations

from flask import Blueprint, Response, abort, current_app, flash, g, redirect, send_file, url_for
from werkzeug.wrappers import Response as Answer

from ....actions.base import ConflictError, RefusedError
from ....actions.household import ChangeSettings, change_settings
from ....core.base.kinds import Occasion
from ....core.judging import Situation
from ....store.file import keeping
from ....store.read import queries
from ...kit import printing
from ...kit.acting import act
from ...kit.cautioned import heard
from ...kit.render import page
from .forms import SettingsForm

BACKUPS_SHOWN = 30
bp = Blueprint("settings", __name__, url_prefix="/settings", template_folder="templates")


@bp.get("/")
def show() -> Response:
    """Show the settings."""
    return _page(_form())


def _form() -> SettingsForm:
    house = g.household
    return SettingsForm(
        name=house.name,
        units=house.units,
        zone=house.zone,
        theme=house.theme,
        tasters=tuple(taster.name for taster in queries.tasters_of(g.session)),
        southern=house.southern,
        reads_ph=house.reads_ph or "",
        power_price=house.power_price,
        glass_l=house.glass_l,
        quiet_from=house.quiet_from,
        quiet_to=house.quiet_to,
        version=house.version,
    )


def _page(form: SettingsForm, status: int = 200, wrong: str = "") -> Response:
    database, _ = current_app.extensions["kyklos"]
    address = str(current_app.config.get("KYKLOS_ADDRESS", ""))
    return page(
        "settings/show.html",
        None,
        status,
        form=form,
        cautions=heard(Situation(moment=Occasion.SETTINGS)),
        backups=keeping.listed(database.backups, g.now)[:BACKUPS_SHOWN],
        backups_folder=database.backups,
        backup_wrong=wrong,
        kept=not g.household.sample,
        phone_address=address,
        phone_code=printing.code_path(address) if address else None,
    )


@bp.post("/backup")
def back_up() -> Answer:
    """Make a backup now."""
    database, _ = current_app.extensions["kyklos"]
    try:
        made = keeping.make(database.path, database.backups, "by-hand", g.now)
    except keeping.KeepingError as problem:
        return _page(_form(), 503, str(problem))
    flash(f"Backed up and checked: {made.path.name}", "say")
    return redirect(url_for(".show") + "#backups", 303)


@bp.get("/backup/<name>")
def fetch_backup(name: str) -> Answer:
    """Show a backup, to be kept elsewhere."""
    database, _ = current_app.extensions["kyklos"]
    found = next((one for one in keeping.listed(database.backups) if one.path.name == name), None)
    if found is None:
        abort(404)
    return send_file(found.path, as_attachment=True, download_name=name, mimetype="application/vnd.sqlite3")


@bp.post("/")
def save() -> Answer:
    """Save the settings."""
    form, status = SettingsForm(), 422
    if form.validate_on_submit():
        ask = ChangeSettings(
            name=form.name.data or "",
            units=form.units.data,
            zone=form.zone.data or "",
            theme=form.theme.data,
            tasters=form.tasters.data or (),
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
    return _page(form, status)
