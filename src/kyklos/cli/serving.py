"""Serving a household: the made-up sample, or one's own."""

from __future__ import annotations

import contextlib
import gc
import secrets
import signal
import socket
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from ..clock import running_from
from .words import BACKUPS, FOLDER, fail, folder_of, sentences

if TYPE_CHECKING:
    from ..store.file.database import Database


def _collects_later() -> None:
    """Look for no garbage until it serves, for a start throws little away; a start that fails looks for it again."""
    gc.disable()
    click.get_current_context().call_on_close(gc.enable)


def _serve(app: Any, host: str, port: int, certificate: tuple[Path, Path] | None = None, beside: Callable[[str], Callable[[], None]] | None = None) -> None:
    """Serve until interrupted, on a port that is free. `beside` starts something that knows the address, and gives what stops it."""
    from .. import serving
    from ..serving.sign_in import knows

    try:
        server = serving.make(app, host, port, certificate, str(app.config.get("KYKLOS_PROXY", "")), knows(app))
    except OSError as problem:
        reason = problem.strerror or str(problem)
        fail(f"Port {port} is taken; try --port 0 for a free one ({reason}).")
    signal.signal(signal.SIGTERM, lambda *_: server.stop())
    learner, keeper = app.extensions["kyklos learner"], app.extensions["kyklos keeper"]
    learner.start()
    keeper.start()
    shown = _own_address() if host in {"0.0.0.0", "::"} else host
    address = f"{'https' if certificate else 'http'}://{shown}:{server.port}/"
    click.echo(f"Kyklos is at {address}  (stop it with Ctrl-C)")
    if certificate is not None:
        click.echo(f"Its certificate's fingerprint, to compare with what the browser shows: {serving.fingerprint(certificate[0])}")
        authority = certificate[0].parent / serving.AUTHORITY
        if authority.exists():
            click.echo(f"Its authority's, to compare before a phone trusts it: {serving.fingerprint(authority)}")
    if not is_local(host):
        app.config["KYKLOS_ADDRESS"] = address
        _show_code(address)
    silent = _announced(app, shown, server.port, certificate is not None)
    stop_beside = beside(address.rstrip("/")) if beside is not None else None
    sys.stdout.flush()
    gc.freeze()  # what a start made stays; looking through it again and again would hold up pages
    gc.enable()
    with contextlib.suppress(KeyboardInterrupt):
        serving.run(server)
    if stop_beside is not None:
        stop_beside()
    silent()
    keeper.stop()
    learner.stop()


def _announced(app: Any, address: str, port: int, https: bool) -> Callable[[], None]:
    """Tell the house's network the name, where that was asked for; gives what takes it back."""
    from ..serving.announce import NAME, announce

    if app.config.get("KYKLOS_NAMED") != NAME:
        return lambda: None
    try:
        stop = announce(address, port, https=https)
    except OSError as problem:
        click.echo(f"The network does not take the name {NAME} ({problem.strerror or problem}); the address works as it is.")
        return lambda: None
    click.echo(f"On the house's network it is also {'https' if https else 'http'}://{NAME}:{port}/")
    return stop


def is_local(host: str) -> bool:
    """Return whether a host name is this machine's own."""
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


def _cache() -> Path:
    """Return the folder for what can be made again."""
    import platformdirs

    folder = Path(platformdirs.user_cache_dir("kyklos", appauthor=False))
    folder.mkdir(parents=True, exist_ok=True)
    return folder


@click.command()
@click.option("--port", default=8017, show_default=True, help="0 picks a free one.")
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--pace", default=1.0, show_default=True, type=click.FloatRange(0.1, 5000), help="How fast its time runs, and its instruments'.")
@click.option("--instruments", "standins", default=8018, show_default=True, help="Port of its stand-ins' page; 0 picks a free one.")
def demo(port: int, host: str, pace: float, standins: int) -> None:
    """Fill a sample household in a temporary place and serve it."""
    _collects_later()
    if not is_local(host):
        fail("--host: the sample household answers on this machine only; `kyklos serve` can answer others.")
    from ..demo.day import DEMO_NOW
    from ..demo.sample import unpack
    from ..serving.app import create_app
    from ..store.file.database import Database

    with tempfile.TemporaryDirectory(prefix="kyklos-demo-") as folder:
        path = Path(folder) / "kyklos.db"
        unpack(path)
        database = Database(path)
        click.echo(
            "A made-up household, standing on a fixed day. Nothing of it is kept; `kyklos serve` keeps your own."
        )
        app = create_app(database, running_from(DEMO_NOW, pace), secrets.token_hex(32), KYKLOS_TEMPLATES=_cache())
        _serve(app, host, port, beside=_stand_ins(app, database, standins, pace))
        database.close()


def _stand_ins(app: Any, database: Database, port: int, pace: float) -> Callable[[str], Callable[[], None]]:
    """Make what starts the sample household's instruments: stand-ins that are paired already."""

    def start(address: str) -> Callable[[], None]:
        from ..actions.pairing import give_token
        from ..demo.instruments import STAND_INS
        from ..instruments.bench import StandInBench
        from ..instruments.page import run
        from ..instruments.speaking import Speaker, over_http

        clock = app.extensions["kyklos"][1]
        bench = StandInBench(seed=7, now_s=clock().timestamp(), pace=pace)
        with database.writer() as session:
            for name, device in STAND_INS.items():
                bench.lines[name].token = give_token(session, device)
        speaker = Speaker(bench, over_http(address))
        try:
            running = run(bench, speaker, address, port)
        except OSError:
            running = run(bench, speaker, address, 0)
        app.config["KYKLOS_STANDINS"] = running.address
        click.echo(f"Its instruments, to try with, are at {running.address}")
        return running.stop

    return start


@click.command()
@click.option("--port", default=8017, show_default=True, help="0 picks a free one.")
@click.option("--host", default="127.0.0.1", show_default=True)
@FOLDER
@BACKUPS
@click.option("--https", is_flag=True, help="With a certificate of its own; its fingerprint is shown.")
@click.option("--certificate", type=click.Path(path_type=Path, exists=True), default=None, help="Yours, for https.")
@click.option("--key", type=click.Path(path_type=Path, exists=True), default=None, help="Its key.")
@click.option("--proxy", default="", help="Address of a reverse proxy whose word on its clients is believed.")
@click.option("--announce", is_flag=True, help="Tell the house's network the name kyklos.local; with --host.")
@click.option("--new", is_flag=True, help="Begin an empty household where one was lost; what is left of it is kept.")
def serve(
    port: int,
    host: str,
    folder: Path | None,
    backups: Path | None,
    https: bool,
    certificate: Path | None,
    key: Path | None,
    proxy: str,
    announce: bool,
    new: bool,
) -> None:
    """Keep a household's own data, in the platform's data folder."""
    _collects_later()
    from ..serving.announce import NAME
    from ..serving.app import create_app
    from ..serving.security import secret_in
    from ..serving.sign_in import password_in
    from ..store.file import keeping
    from ..store.file.own import clear_litter

    folder = folder_of(folder)
    with sentences("The household cannot be served"):
        shared, password = not is_local(host) or bool(proxy), password_in(folder)
        if shared and not password:
            fail("--host: set a password first, with `kyklos password`; other devices are asked for it.")
        if announce and is_local(host):
            fail("--announce: name a --host too, like 0.0.0.0; on this machine alone nobody hears it.")
        if (certificate is None) != (key is None):
            fail("--certificate and --key go together.")
        with keeping.taken(folder):
            clear_litter(folder, keeping.folder_of(folder / "kyklos.db", backups))
            database = _opened(folder, backups, new)
            pair = _certificate(folder, (host, NAME) if announce else (host,), https, certificate, key)
            click.echo(f"Your household is kept in {folder}")
            app = create_app(
                database,
                secret=secret_in(folder),
                KYKLOS_SHARED=shared,
                KYKLOS_FOLDER=folder,
                KYKLOS_PROXY=proxy,
                KYKLOS_NAMED=NAME if announce else "",
                KYKLOS_TEMPLATES=_cache(),
            )
            _serve(app, host, port, pair)
            database.close()


def _opened(folder: Path, backups: Path | None, new: bool) -> Database:
    """Open a household's file and bring it to today's layout; an empty one is begun where none was, or by word."""
    from ..store.file.database import Database, begin_anew

    database = Database(folder / "kyklos.db", backups)
    if new:
        if aside := begin_anew(database.path, database.backups):
            click.echo(f"What was there is kept: {aside}")
    elif trouble := database.trouble():
        fail(trouble)
    database.migrate()
    return database


def _certificate(
    folder: Path, names: tuple[str, ...], https: bool, certificate: Path | None, key: Path | None
) -> tuple[Path, Path] | None:
    """Return the certificate to serve with; one of its own is made where it is wanted, and anew where it no longer fits."""
    from .. import serving

    if certificate is not None and key is not None:
        return certificate, key
    if not https:
        return None
    name, own = socket.gethostname(), folder / "certificate.pem"
    before = serving.fingerprint(own) if own.exists() else ""
    pair = serving.own_certificate(folder, ("localhost", "127.0.0.1", name, f"{name}.local", _own_address(), *_named(names)))
    if before and serving.fingerprint(pair[0]) != before:
        click.echo("The certificate was made anew, for a new address or a new year: each device is asked once more.")
    return pair


def _named(names: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(name for name in names if name not in {"0.0.0.0", "::"})
