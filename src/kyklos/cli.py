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
from pathlib import Path
from typing import Any

import click

from . import __version__
from .clock import running_from


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


def _serve(app: Any, host: str, port: int) -> None:
    """Serve until interrupted, on a port that is free."""
    import logging

    from waitress.server import create_server

    logging.getLogger("waitress").setLevel(logging.ERROR)
    try:
        server = create_server(app, host=host, port=port, threads=8, ident="Kyklos")
    except OSError as problem:
        raise SystemExit(_fail(f"Port {port} is taken; try --port 0 for a free one ({problem.strerror}).")) from problem
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    learner = app.extensions["kyklos learner"]
    learner.start()
    shown = _own_address() if host in {"0.0.0.0", "::"} else host
    click.echo(f"Kyklos is at http://{shown}:{server.effective_port}/  (stop it with Ctrl-C)")
    if not _is_local(host):
        _show_code(f"http://{shown}:{server.effective_port}/")
    sys.stdout.flush()
    with contextlib.suppress(KeyboardInterrupt, SystemExit):
        server.run()
    server.close()
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
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def _cache() -> Path:
    """Return the folder for what can be made again."""
    import platformdirs

    folder = Path(platformdirs.user_cache_dir("kyklos", appauthor=False))
    folder.mkdir(parents=True, exist_ok=True)
    return folder


def sample_file() -> Path:
    """Return the sample household's file, filled once for this state of the program and kept where caches are."""
    from .store.database import Database, back_up

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


@main.command()
@click.option("--port", default=8017, show_default=True, help="0 picks a free one.")
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--folder", type=click.Path(path_type=Path), default=None, help="Where the household's data is kept.")
def serve(port: int, host: str, folder: Path | None) -> None:
    """Keep a household's own data, in the platform's data folder."""
    from .store.database import Database, NewerFileError
    from .web.app import create_app
    from .web.security import secret_in
    from .web.sign_in import password_in

    folder = _folder(folder)
    shared, password = not _is_local(host), password_in(folder)
    if shared and not password:
        sys.exit(_fail("--host: set a password first, with `kyklos password`; other devices are asked for it."))
    database = Database(folder / "kyklos.db")
    try:
        database.migrate()
    except NewerFileError as newer:
        sys.exit(_fail(str(newer)))
    click.echo(f"Your household is kept in {folder}")
    app = create_app(
        database, secret=secret_in(folder), KYKLOS_SHARED=shared, KYKLOS_PASSWORD=password, KYKLOS_TEMPLATES=_cache()
    )
    _serve(app, host, port)
    database.close()


@main.command()
@click.option("--folder", type=click.Path(path_type=Path), default=None, help="Where the household's data is kept.")
@click.password_option(help="Asked for when not given.")
def password(folder: Path | None, password: str) -> None:
    """Set the password that other devices are asked for."""
    from .web.sign_in import LEAST_LETTERS, write_password

    if len(password) < LEAST_LETTERS:
        sys.exit(_fail(f"The password needs at least {LEAST_LETTERS} letters."))
    write_password(_folder(folder), password)
    click.echo("Set. Devices signed in before are asked again. Now: kyklos serve --host 0.0.0.0")
