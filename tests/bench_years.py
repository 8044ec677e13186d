"""How quick the house is at twenty years, on one core: `make bench` runs it, and fails outside the limits.

Measured: the sample household's first page at its second start, the first page after a start, the page after a write, and how long a
write holds the lock. How long each place takes is measured in `bench_pages.py`.
"""

import os
import re
import subprocess
import sys
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path
from urllib.request import urlopen

sys.path.insert(0, str(Path(__file__).parent.parent))

from kyklos.actions.brewing import readings
from kyklos.serving.app import create_app
from kyklos.store.file.database import Database
from kyklos.store.records import Brew
from tests.years import NOW, fill_years

LIMITS = {"demo_s": 3.0, "first_s": 1.5, "after_write_ms": 250.0, "lock_ms": 50.0}
BEADS = 1600


def made(folder, name, filler):
    """A household's file."""
    database = Database(Path(folder) / f"{name}.db")
    database.migrate()
    filler(database)
    return database


def years(database):
    """Fill a file with twenty years."""
    with database.writer() as session, session.begin():
        fill_years(session, beads=BEADS)


def timed(run):
    """How long something takes. [ms]"""
    started = time.perf_counter()
    run()
    return (time.perf_counter() - started) * 1000


def first_page(database, now):
    """How long the first page takes after a start, and a client to go on with. [ms]"""
    client = create_app(database, lambda: now, "x", TESTING=True, WTF_CSRF_ENABLED=False).test_client()
    return timed(lambda: client.get("/")), client


def writes(database, client):
    """The page of a brew after a tasting of it, and how long the lock was held. [ms]"""
    with database.reader() as session:
        brew = session.query(Brew).filter_by(status="fermenting").first().id
    spent, held = [], []
    client.get(f"/brews/{brew}")
    for score in (0, 1, -1):
        client.post(f"/brews/{brew}/tasting", data={"taster": 1, "score": score, "view": "brew"})
        spent.append(timed(lambda: client.get(f"/brews/{brew}")))
    for _ in range(3):
        with database.writer() as session:
            ask = readings.LogReading(brew_id=brew, ph=3.4)
            held.append(
                timed(
                    lambda session=session, ask=ask: readings.log_reading(
                        session, ask, datetime.now(UTC).replace(year=2047)
                    )
                )
            )
    return sorted(spent)[1], max(held)


def second_start(folder):
    """The sample household started twice; how long until its first page stands, the second time. [s]"""
    environment = {**os.environ, "XDG_CACHE_HOME": folder, "OPENBLAS_NUM_THREADS": "1"}
    for _ in range(2):
        started = time.perf_counter()
        with subprocess.Popen(
            [sys.executable, "-m", "kyklos", "demo", "--port", "0"], stdout=subprocess.PIPE, text=True, env=environment
        ) as process:
            for line in process.stdout:
                if found := re.search(r"http://\S+", line):
                    break
            urlopen(found.group()).read()
            spent = time.perf_counter() - started
            process.terminate()
    return spent


def main():
    """Print what was measured; 1 when a limit is broken."""
    failed = []
    with tempfile.TemporaryDirectory() as folder:
        demo_s = second_start(folder)
        database = made(folder, "years", years)
        first, client = first_page(database, NOW)
        after, held = writes(database, client)
        print(
            f"\nSample household at its second start: {demo_s:.1f} s. First page at twenty years: {first / 1000:.2f} s."
        )
        print(f"The page of a brew after a tasting of it: {after:.0f} ms. A write holds the lock for {held:.0f} ms.")
    for name, value in (("demo_s", demo_s), ("first_s", first / 1000), ("after_write_ms", after), ("lock_ms", held)):
        if value > LIMITS[name]:
            failed.append(f"{name} is {value:.2f}")
    print("\n" + ("Outside the limits: " + "; ".join(failed) if failed else "Within the limits."))
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
