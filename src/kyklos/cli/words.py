"""How a command ends when something is wrong: with one sentence on standard error, and status 2."""

from __future__ import annotations

import sqlite3
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import NoReturn

import click

FOLDER = click.option(
    "--folder", type=click.Path(path_type=Path), default=None, help="Where the household's data is kept."
)
BACKUPS = click.option(
    "--backups", type=click.Path(path_type=Path), default=None, help="Where backups lie; beside the household unless told."
)


def fail(sentence: str) -> NoReturn:
    """End with a sentence."""
    click.echo(" ".join(sentence.split()), err=True)
    sys.exit(2)


@contextmanager
def sentences(what: str) -> Iterator[None]:
    """Turn what the disk, the system or the household's file said into one sentence.

    Args:
        what: What could not be done, as the sentence begins: "The household cannot be opened".
    """
    from sqlalchemy.exc import DBAPIError

    from ..core.base import KyklosError
    from ..store.file.trouble import words_of

    try:
        yield
    except KyklosError as problem:
        fail(str(problem))
    except DBAPIError as problem:
        fail(f"{what}: {words_of(problem.orig or problem)}. Nothing was changed.")
    except (OSError, sqlite3.Error) as problem:
        fail(f"{what}: {words_of(problem)}. Nothing was changed.")


def folder_of(given: Path | None) -> Path:
    """Return the household's folder, made where it is not there yet."""
    import platformdirs

    from ..store.file.own import own_folder

    folder = given or Path(platformdirs.user_data_dir("kyklos", appauthor=False))
    with sentences(f"{folder} cannot be made or opened"):
        own_folder(folder)
    return folder


def household_in(folder: Path, backups: Path | None) -> Path:
    """Return the household's file, or end with what speaks against using it."""
    from ..store.file import keeping
    from ..store.file.database import trouble_of

    path = folder / "kyklos.db"
    with sentences("The household cannot be looked at"):
        if trouble := trouble_of(path, keeping.folder_of(path, backups)):
            fail(trouble)
        if not path.exists():
            fail(f"There is no household in {folder} yet.")
    return path
