"""Instruments from the command line: stand-ins to try with; and yes, list and end for devices, also beside a running server."""

from __future__ import annotations

import contextlib
import secrets
import signal
import threading
import time
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from .words import FOLDER, fail, folder_of, household_in, sentences

if TYPE_CHECKING:
    from ..store.file.database import Database


@click.group(invoke_without_command=True)
@click.option("--server", default="http://127.0.0.1:8017", show_default=True, help="Where Kyklos answers.")
@click.option("--port", default=8018, show_default=True, help="Of their page; 0 picks a free one.")
@click.option("--seed", default=None, type=int, help="Decides what is hidden; a new one unless told.")
@click.option("--pace", default=1.0, show_default=True, type=click.FloatRange(0.01, 10_000), help="How fast their time runs; for a household that runs as fast, like `kyklos demo --pace`.")
@click.option("--state", type=click.Path(path_type=Path, dir_okay=False), default=None, help="Where their hidden truth is kept.")
@click.pass_context
def instruments(context: click.Context, server: str, port: int, seed: int | None, pace: float, state: Path | None) -> None:
    """Start stand-ins for instruments: a pH meter, a probe, a heater mat and a scale, with a page to handle them."""
    if context.invoked_subcommand is not None:
        return
    from ..instruments.bench import StandInBench
    from ..instruments.page import run
    from ..instruments.speaking import Speaker, over_http

    kept = state or _state()
    bench = StandInBench(secrets.randbelow(1_000_000) if seed is None else seed, time.time(), pace)
    if seed is None and bench.take_up(kept):
        bench.now_s, bench.pace = max(bench.now_s, time.time()) if pace == 1.0 else bench.now_s, pace
    try:
        running = run(bench, Speaker(bench, over_http(server)), server.rstrip("/"), port, kept)
    except OSError as problem:
        fail(f"Port {port} is taken; try --port 0 for a free one ({problem.strerror or problem}).")
    click.echo(f"Instruments to try with are at {running.address}  (stop them with Ctrl-C)")
    _until_stopped()
    running.stop()


def _state() -> Path:
    import platformdirs

    folder = Path(platformdirs.user_data_dir("kyklos", appauthor=False))
    folder.mkdir(parents=True, exist_ok=True)
    return folder / "stand-ins.json"


def _until_stopped() -> None:
    stop = threading.Event()
    signal.signal(signal.SIGTERM, lambda *_: stop.set())
    with contextlib.suppress(KeyboardInterrupt):
        while not stop.wait(1.0):
            pass


def _database(folder: Path | None) -> Database:
    """Open a household's file as it is, also while it is served."""
    from ..store.file import keeping
    from ..store.file.database import Database
    from ..store.records.base import LAYOUT

    household = household_in(folder_of(folder), None)
    if keeping.layout_in(household) != LAYOUT:
        fail("The household's file is of another layout: start this Kyklos once, then try again.")
    return Database(household)


def _now() -> datetime:
    return datetime.now(UTC)


@instruments.command()
@click.argument("code")
@click.option("--for", "where", required=True, help="What it stands in or at: a vessel's or place's name, or hand.")
@FOLDER
def approve(code: str, where: str, folder: Path | None) -> None:
    """Pair the device that shows CODE."""
    from ..actions.devices import ApprovePairing, approve_pairing

    with sentences("It was not paired"):
        database = _database(folder)
        vessel, place = _named(database, where)
        with database.writer() as session:
            done = approve_pairing(session, ApprovePairing(code=code, vessel_id=vessel, place_id=place), _now())
        database.close()
    click.echo(done.says)


def _named(database: Database, where: str) -> tuple[int | None, int | None]:
    """Find a vessel or place by its name; neither: the hand."""
    from ..store.read import queries

    wanted = where.strip().casefold()
    if wanted == "hand":
        return None, None
    with database.reader() as session:
        vessels, places = list(queries.vessels(session)), list(queries.places(session))
        found: list[tuple[int | None, int | None]] = [(row.id, None) for row in vessels if row.name.casefold() == wanted]
        found += [(None, row.id) for row in places if row.name.casefold() == wanted]
        names = ", ".join([*(row.name for row in vessels), *(row.name for row in places)])
    if not found:
        fail(f"Nothing here is called {where}. There are: {names}; or hand.")
    return found[0]


@instruments.command(name="list")
@FOLDER
def list_(folder: Path | None) -> None:
    """List the devices that are paired, and those that wait."""
    from ..reckon import devices

    with sentences("The devices cannot be listed"):
        database = _database(folder)
        with database.reader() as session:
            session.context.now = _now()
            live, lines = devices.lives(session), []
            for one in devices.waiting(session, _now()):
                lines.append(f"{one.code}  {one.name} ({one.kind}) waits for a yes")
            for device in devices.paired(session):
                lines.append(f"{device.name} ({device.kind}), {_where(device)}: {_heard(live.get(device.id))}")
        database.close()
    click.echo("\n".join(lines) or "No device is paired, and none waits.")


def _where(device: Any) -> str:
    stands = device.stands
    if stands is None or (stands.vessel is None and stands.place is None):
        return "in the hand"
    return f"in {stands.vessel.name}" if stands.vessel is not None else f"at {stands.place.name}"


def _heard(live: Any) -> str:
    if live is None or live.seen_at is None:
        return "not heard of yet"
    said = [f"{live.celsius:.1f} degC"] if live.celsius is not None else []
    said += [f"pH {live.ph:.2f}"] if live.ph is not None else []
    return ", ".join([*said, f"heard {live.seen_at:%Y-%m-%d %H:%M} UTC"])


@instruments.command()
@click.argument("name")
@FOLDER
def end(name: str, folder: Path | None) -> None:
    """End the device called NAME at once: it may send no more."""
    from ..actions.devices import EndDevice, end_device
    from ..reckon import devices

    with sentences("It was not ended"):
        database = _database(folder)
        with database.reader() as session:
            found = [one.id for one in devices.paired(session) if one.name.casefold() == name.strip().casefold()]
        if not found:
            fail(f"No paired device is called {name}.")
        with database.writer() as session:
            done = end_device(session, EndDevice(device_id=found[0]), _now())
        database.close()
    click.echo(done.says)
