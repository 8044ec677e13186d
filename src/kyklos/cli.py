"""The command line: try the sample household, keep your own, ask the core."""

from __future__ import annotations

import contextlib
import json
import secrets
import signal
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
    click.echo(f"Kyklos is at http://{host}:{server.effective_port}/  (stop it with Ctrl-C)")
    sys.stdout.flush()
    with contextlib.suppress(KeyboardInterrupt, SystemExit):
        server.run()
    server.close()


def _host_allowed(host: str) -> None:
    if host not in {"127.0.0.1", "localhost"}:
        sys.exit(
            _fail(
                "--host: Kyklos answers on this machine only (127.0.0.1); other addresses need a password, which this version cannot set."
            )
        )


@main.command()
@click.option("--port", default=8017, show_default=True, help="0 picks a free one.")
@click.option("--host", default="127.0.0.1", show_default=True)
def demo(port: int, host: str) -> None:
    """Fill a sample household in a temporary place and serve it."""
    _host_allowed(host)
    from .demo.household import DEMO_NOW, fill
    from .store.database import Database
    from .web.app import create_app

    with tempfile.TemporaryDirectory(prefix="kyklos-demo-") as folder:
        database = Database(Path(folder) / "kyklos.db")
        database.migrate()
        fill(database)
        click.echo(
            "A made-up household, standing on a fixed day. Nothing of it is kept; `kyklos serve` keeps your own."
        )
        _serve(create_app(database, running_from(DEMO_NOW), secrets.token_hex(32)), host, port)
        database.close()


@main.command()
@click.option("--port", default=8017, show_default=True, help="0 picks a free one.")
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--folder", type=click.Path(path_type=Path), default=None, help="Where the household's data is kept.")
def serve(port: int, host: str, folder: Path | None) -> None:
    """Keep a household's own data, in the platform's data folder."""
    _host_allowed(host)
    import platformdirs

    from .store.database import Database
    from .web.app import create_app
    from .web.security import secret_in

    folder = folder or Path(platformdirs.user_data_dir("kyklos", appauthor=False))
    folder.mkdir(parents=True, exist_ok=True)
    database = Database(folder / "kyklos.db")
    database.migrate()
    click.echo(f"Your household is kept in {folder}")
    _serve(create_app(database, secret=secret_in(folder)), host, port)
    database.close()
