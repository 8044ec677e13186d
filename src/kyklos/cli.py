"""The command line: try the sample household, keep your own, ask the core."""

from __future__ import annotations

import contextlib
import hashlib
import json
import secrets
import shutil
import signal
import socket
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from . import __version__
from .clock import running_from

if TYPE_CHECKING:
    from .store.database import Database


@click.group()
@click.version_option(__version__)
def main() -> None:
    """Kyklos: a kitchen companion for people who brew kombucha and jun at home."""


def _refuse_constant(name: str) -> float:
    raise ValueError(f"{name} is not a number")


def _question(text: str) -> Any:
    try:
        return json.loads(text, parse_constant=_refuse_constant)
    except (ValueError, RecursionError) as problem:
        raise SystemExit(_fail(f"standard input is not JSON: {problem}")) from problem


def _fail(sentence: str) -> int:
    click.echo(" ".join(sentence.split()), err=True)
    return 2


@main.command()
@click.argument("name")
def calc(name: str) -> None:
    """Answer NAME for the JSON object, or list of them, on standard input. NAME `list` prints what there is."""
    from .core.calc import CalcError, answer, listing

    if name == "list":
        click.echo(json.dumps(listing(), indent=1, ensure_ascii=False))
        return
    question = _question(sys.stdin.read())
    try:
        click.echo(json.dumps(answer(name, question), allow_nan=False))
    except CalcError as problem:
        sys.exit(_fail(str(problem)))


def _serve(app: Any, host: str, port: int, certificate: tuple[Path, Path] | None = None) -> None:
    """Serve until interrupted, on a port that is free."""
    from .web import serving

    try:
        server = serving.make(app, host, port, certificate)
    except OSError as problem:
        reason = problem.strerror or str(problem)
        raise SystemExit(_fail(f"Port {port} is taken; try --port 0 for a free one ({reason}).")) from problem
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    learner, keeper = app.extensions["kyklos learner"], app.extensions["kyklos keeper"]
    learner.start()
    keeper.start()
    shown = _own_address() if host in {"0.0.0.0", "::"} else host
    address = f"{'https' if certificate else 'http'}://{shown}:{server.port}/"
    click.echo(f"Kyklos is at {address}  (stop it with Ctrl-C)")
    if certificate is not None:
        click.echo(f"Its certificate's fingerprint, to compare with what the browser shows: {serving.fingerprint(certificate[0])}")
    if not _is_local(host):
        _show_code(address)
    sys.stdout.flush()
    with contextlib.suppress(KeyboardInterrupt, SystemExit):
        serving.run(server)
    keeper.stop()
    learner.stop()


def _is_local(host: str) -> bool:
    return host in {"127.0.0.1", "localhost", "::1"}


def _own_address() -> str:
    """Find the address under which other devices see this machine; nothing is sent."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(("10.255.255.255", 1))
            return str(probe.getsockname()[0])
        except OSError:
            return "127.0.0.1"


def _show_code(address: str) -> None:
    """Print an address and its QR code, for a phone in the kitchen."""
    import segno

    click.echo(f"For a phone in the same house: {address}")
    segno.make(address, error="l", micro=False).terminal(sys.stdout, compact=True)


def _folder(given: Path | None) -> Path:
    import platformdirs

    folder = given or Path(platformdirs.user_data_dir("kyklos", appauthor=False))
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    except OSError as problem:
        sys.exit(_fail(f"{folder} cannot be made or opened ({problem.strerror}). Nothing was changed."))
    return folder


def _cache() -> Path:
    """Return the folder for what can be made again."""
    import platformdirs

    folder = Path(platformdirs.user_cache_dir("kyklos", appauthor=False))
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def sample_file() -> Path:
    """Return the sample household's file, filled once for this state of the program and kept where caches are."""
    from .store.database import Database
    from .store.keeping import back_up

    here = Path(__file__).parent
    state = sorted((str(path.relative_to(here)), path.stat().st_mtime_ns) for path in here.rglob("*.[pt][yo]*"))
    name = hashlib.sha256(repr((__version__, state)).encode()).hexdigest()[:16]
    folder = _cache()
    path = folder / f"sample-{name}.db"
    if path.exists():
        return path
    from .demo.household import fill

    for older in folder.glob("sample-*.db*"):
        older.unlink(missing_ok=True)
    with tempfile.TemporaryDirectory(dir=folder) as made:
        database = Database(Path(made) / "sample.db")
        database.migrate()
        fill(database)
        database.close()
        back_up(Path(made) / "sample.db", Path(made) / "whole.db")
        (Path(made) / "whole.db").replace(path)
    return path


@main.command()
@click.option("--port", default=8017, show_default=True, help="0 picks a free one.")
@click.option("--host", default="127.0.0.1", show_default=True)
def demo(port: int, host: str) -> None:
    """Fill a sample household in a temporary place and serve it."""
    if not _is_local(host):
        sys.exit(_fail("--host: the sample household answers on this machine only; `kyklos serve` can answer others."))
    from .demo.day import DEMO_NOW
    from .store.database import Database
    from .web.app import create_app

    with tempfile.TemporaryDirectory(prefix="kyklos-demo-") as folder:
        path = Path(folder) / "kyklos.db"
        shutil.copy(sample_file(), path)
        database = Database(path)
        click.echo(
            "A made-up household, standing on a fixed day. Nothing of it is kept; `kyklos serve` keeps your own."
        )
        app = create_app(database, running_from(DEMO_NOW), secrets.token_hex(32), KYKLOS_TEMPLATES=_cache())
        _serve(app, host, port)
        database.close()


FOLDER = click.option(
    "--folder", type=click.Path(path_type=Path), default=None, help="Where the household's data is kept."
)
BACKUPS = click.option(
    "--backups", type=click.Path(path_type=Path), default=None, help="Where backups lie; beside the household unless told."
)


@main.command()
@click.option("--port", default=8017, show_default=True, help="0 picks a free one.")
@click.option("--host", default="127.0.0.1", show_default=True)
@FOLDER
@BACKUPS
@click.option("--https", is_flag=True, help="With a certificate of its own; its fingerprint is shown.")
@click.option("--certificate", type=click.Path(path_type=Path, exists=True), default=None, help="Yours, for https.")
@click.option("--key", type=click.Path(path_type=Path, exists=True), default=None, help="Its key.")
@click.option("--proxy", default="", help="Address of a reverse proxy whose word on its clients is believed.")
def serve(
    port: int,
    host: str,
    folder: Path | None,
    backups: Path | None,
    https: bool,
    certificate: Path | None,
    key: Path | None,
    proxy: str,
) -> None:
    """Keep a household's own data, in the platform's data folder."""
    from .store import keeping
    from .web.app import create_app
    from .web.security import secret_in
    from .web.sign_in import password_in

    folder = _folder(folder)
    shared, password = not _is_local(host) or bool(proxy), password_in(folder)
    if shared and not password:
        sys.exit(_fail("--host: set a password first, with `kyklos password`; other devices are asked for it."))
    if (certificate is None) != (key is None):
        sys.exit(_fail("--certificate and --key go together."))
    told = _certificate(folder, host, https, certificate, key)
    try:
        with keeping.taken(folder), _opened(folder, backups) as database:
            click.echo(f"Your household is kept in {folder}")
            app = create_app(
                database,
                secret=secret_in(folder),
                KYKLOS_SHARED=shared,
                KYKLOS_FOLDER=folder,
                KYKLOS_PROXY=proxy,
                KYKLOS_TEMPLATES=_cache(),
                SESSION_COOKIE_SECURE=told is not None,
            )
            _serve(app, host, port, told)
    except keeping.KeepingError as problem:
        sys.exit(_fail(str(problem)))


def _certificate(
    folder: Path, host: str, https: bool, certificate: Path | None, key: Path | None
) -> tuple[Path, Path] | None:
    """Return the certificate to serve with, made once where one of its own is wanted."""
    from .web import serving

    if certificate is not None and key is not None:
        return certificate, key
    if not https:
        return None
    name = socket.gethostname()
    return serving.own_certificate(folder, ("localhost", "127.0.0.1", name, f"{name}.local", _own_address(), *_named(host)))


def _named(host: str) -> tuple[str, ...]:
    return () if host in {"0.0.0.0", "::"} else (host,)


@contextlib.contextmanager
def _opened(folder: Path, backups: Path | None = None) -> Iterator[Database]:
    """Open a household's file and bring it to today's layout; what speaks against it ends with one sentence."""
    import sqlite3

    from sqlalchemy.exc import DBAPIError

    from .core.errors import KyklosError
    from .store.database import Database

    database = Database(folder / "kyklos.db", backups)
    try:
        if trouble := database.trouble():
            sys.exit(_fail(trouble))
        database.migrate()
    except (KyklosError, DBAPIError, sqlite3.Error, OSError) as problem:
        told = str(getattr(problem, "orig", None) or problem)
        sys.exit(_fail(told if isinstance(problem, KyklosError) else f"The household cannot be opened: {told}. Nothing was changed."))
    try:
        yield database
    finally:
        database.close()


@main.command()
@click.argument("file", type=click.Path(path_type=Path), required=False)
@FOLDER
@BACKUPS
def backup(file: Path | None, folder: Path | None, backups: Path | None) -> None:
    """Copy the household whole into FILE, photos and all, also while it is used; without FILE beside the others."""
    from .store import keeping

    folder = _folder(folder)
    household = folder / "kyklos.db"
    if not household.exists():
        sys.exit(_fail(f"There is no household in {folder} yet."))
    try:
        if file is None:
            made = keeping.make(household, keeping.folder_of(household, backups), "by-hand").path
        elif file.exists():
            sys.exit(_fail(f"{file} exists already; nothing was written over it."))
        else:
            keeping.back_up(household, file)
            made = file
    except keeping.KeepingError as problem:
        sys.exit(_fail(str(problem)))
    click.echo(f"Backed up and checked: {made} ({made.stat().st_size / 1e6:.1f} MB)")


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@FOLDER
@BACKUPS
def restore(file: Path, folder: Path | None, backups: Path | None) -> None:
    """Put the backup FILE in the household's place; what is there now is backed up first."""
    from .store import keeping
    from .store.database import layouts

    folder = _folder(folder)
    household = folder / "kyklos.db"
    try:
        with keeping.taken(folder):
            before = keeping.restore(file, household, keeping.folder_of(household, backups), layouts())
    except keeping.KeepingError as problem:
        sys.exit(_fail(str(problem)))
    if before is not None:
        click.echo(f"What was there is kept: {before.path}")
    with _opened(folder, backups):
        click.echo(f"Restored from {file}.")


@main.command()
@FOLDER
def check(folder: Path | None) -> None:
    """Look whether the household is whole: its file, its records, its volumes, its photos."""
    from .store.checking import findings

    folder = _folder(folder)
    if not (folder / "kyklos.db").exists():
        sys.exit(_fail(f"There is no household in {folder} yet."))
    found = findings(folder / "kyklos.db")
    for line in found.told:
        click.echo(line)
    for line in found.wrong:
        click.echo(line, err=True)
    sys.exit(1 if found.wrong else 0)


@main.command(name="export")
@click.argument("file", type=click.Path(path_type=Path))
@FOLDER
def export_(file: Path, folder: Path | None) -> None:
    """Write the whole household into FILE as an open archive, with CSV beside it."""
    from .exchange import archive

    folder = _folder(folder)
    if not (folder / "kyklos.db").exists():
        sys.exit(_fail(f"There is no household in {folder} yet."))
    if file.exists():
        sys.exit(_fail(f"{file} exists already; nothing was written over it."))
    with _opened(folder):
        try:
            told = archive.export(folder / "kyklos.db", file)
        except archive.ArchiveError as problem:
            sys.exit(_fail(str(problem)))
    click.echo(f"{told.rows} records and {told.photos} photos written to {file}")


@main.command(name="import")
@click.argument("file", type=click.Path(path_type=Path))
@FOLDER
@BACKUPS
@click.option("--replace", is_flag=True, help="In the place of what is there, which is backed up first.")
def import_(file: Path, folder: Path | None, backups: Path | None, replace: bool) -> None:
    """Read an archive FILE into an empty household."""
    from .core.errors import KyklosError
    from .exchange import archive
    from .store import keeping

    folder = _folder(folder)
    household = folder / "kyklos.db"
    try:
        with keeping.taken(folder):
            with _opened(folder, backups):
                pass
            how, told = archive.bring_in(file, household, keeping.folder_of(household, backups), replace=replace)
    except KyklosError as problem:
        sys.exit(_fail(str(problem)))
    if how == "same":
        click.echo("The household holds all of it already; nothing was changed.")
    else:
        click.echo(f"{told.rows} records and {told.photos} photos of {told.household or 'a household'} brought in.")


@main.command()
@FOLDER
@click.password_option(help="Asked for when not given.")
def password(folder: Path | None, password: str) -> None:
    """Set the password that other devices are asked for."""
    from .web.sign_in import LEAST_LETTERS, write_password

    if len(password) < LEAST_LETTERS:
        sys.exit(_fail(f"The password needs at least {LEAST_LETTERS} letters."))
    write_password(_folder(folder), password)
    click.echo("Set. Devices signed in before are asked again. Now: kyklos serve --host 0.0.0.0")
