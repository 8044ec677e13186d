"""Looking after a household's file: backup, restoring, checking, moving house, the password."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from .words import BACKUPS, FOLDER, fail, folder_of, household_in, sentences


@click.command()
@click.argument("file", type=click.Path(path_type=Path), required=False)
@FOLDER
@BACKUPS
def backup(file: Path | None, folder: Path | None, backups: Path | None) -> None:
    """Copy the household whole into FILE, photos and all, also while it is used; without FILE beside the others."""
    from ..store.file import keeping

    household = household_in(folder_of(folder), backups)
    with sentences("No backup was made"):
        if file is None:
            made = keeping.make(household, keeping.folder_of(household, backups), "by-hand").path
        elif file.exists():
            fail(f"{file} exists already; nothing was written over it.")
        else:
            keeping.back_up(household, file)
            made = file
    click.echo(f"Backed up and checked: {made} ({made.stat().st_size / 1e6:.1f} MB)")


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@FOLDER
@BACKUPS
def restore(file: Path, folder: Path | None, backups: Path | None) -> None:
    """Put the backup FILE in the household's place; what is there now is backed up first."""
    from ..store.file import keeping
    from ..store.file.database import Database, layouts

    folder = folder_of(folder)
    household = folder / "kyklos.db"
    with sentences(f"{file.name} was not restored"), keeping.taken(folder):
        before = keeping.restore(file, household, keeping.folder_of(household, backups), layouts())
        if before is not None:
            click.echo(f"What was there is kept: {before.path}")
    with sentences(f"{file.name} is in place, but was not brought to today's layout"), keeping.taken(folder):
        database = Database(household, backups)
        database.migrate()
        database.close()
    click.echo(f"Restored from {file}.")


@click.command()
@FOLDER
@BACKUPS
def check(folder: Path | None, backups: Path | None) -> None:
    """Look whether the household is whole: its file, its records, its volumes, its photos."""
    from ..store.file import keeping
    from ..store.file.checking import findings
    from ..store.file.own import clear_litter

    folder = folder_of(folder)
    household = household_in(folder, backups)
    with sentences("The household cannot be looked at"):
        gone = clear_litter(folder, keeping.folder_of(household, backups))
        found = findings(household)
    if gone:
        click.echo(f"Removed {len(gone)} half-written {'file' if len(gone) == 1 else 'files'} that a killed program left.")
    for line in found.fine:
        click.echo(line)
    for line in found.wrong:
        click.echo(line, err=True)
    sys.exit(1 if found.wrong else 0)


@click.command(name="export")
@click.argument("file", type=click.Path(path_type=Path))
@FOLDER
@BACKUPS
def export_(file: Path, folder: Path | None, backups: Path | None) -> None:
    """Write the whole household into FILE as an open archive, with CSV beside it; also while it is used."""
    from ..exchange import packing

    household = household_in(folder_of(folder), backups)
    if file.exists():
        fail(f"{file} exists already; nothing was written over it.")
    with sentences("No archive was written"):
        content = packing.export(household, file)
    click.echo(f"{content.rows} records and {content.photos} photos written to {file}")


@click.command(name="import")
@click.argument("file", type=click.Path(path_type=Path))
@FOLDER
@BACKUPS
@click.option("--replace", is_flag=True, help="In the place of what is there, or was lost; what is there is backed up first.")
def import_(file: Path, folder: Path | None, backups: Path | None, replace: bool) -> None:
    """Read an archive FILE into an empty household."""
    from ..exchange import archive
    from ..store.file import keeping
    from ..store.file.database import trouble_of

    folder = folder_of(folder)
    household = folder / "kyklos.db"
    kept = keeping.folder_of(household, backups)
    with sentences(f"{file.name} was not brought in"), keeping.taken(folder):
        if not replace and (trouble := trouble_of(household, kept)):
            fail(trouble)
        how, content = archive.bring_in(file, household, kept, replace=replace)
    if how == "same":
        click.echo("The household holds all of it already; nothing was changed.")
    else:
        click.echo(f"{content.rows} records and {content.photos} photos of {content.household or 'a household'} brought in.")


@click.command()
@FOLDER
@click.password_option(help="Asked for when not given.")
def password(folder: Path | None, password: str) -> None:
    """Set the password that other devices are asked for."""
    from ..serving.sign_in import problem_with, write_password

    if wrong := problem_with(password):
        fail(wrong)
    with sentences("The password was not set, the old one holds"):
        write_password(folder_of(folder), password)
    click.echo("Set. Devices signed in before are asked again. Now: kyklos serve --host 0.0.0.0")
