"""How long every place takes, as a ratio to a bare page of the same stack; run by `make bench`.

    bench_pages.py [HOUSEHOLD...]       demo, young (1 year), old (20), older (100), crowded (15 jars, 400 bottles); demo unless named

Prints for each place its time again, after a reading was written and on the very first look, with the statements after the write and on the
first look, and its size. A quiet machine is not assumed: the bare page is timed beside each place.
"""

import random
import statistics
import sys
import tempfile
import time
from datetime import timedelta
from pathlib import Path
from typing import NamedTuple

from flask import Flask, render_template_string
from sqlalchemy import event, select, text

from kyklos.actions.brewing.readings import LogReading, log_reading
from kyklos.actions.undo import Undo, undo
from kyklos.core.base.kinds import LIVING
from kyklos.demo.household import DEMO_NOW
from kyklos.demo.sample import unpack
from kyklos.serving.app import create_app
from kyklos.store.file.database import Database
from kyklos.store.read import memory
from kyklos.store.records import Brew
from tests.years import NOW, fill_crowded, fill_years

DEMO_PLACES = (
    "/", "/brew-day/", "/brew-day/clock", "/brew-day/recipes", "/vessels/", "/vessels/2", "/cultures/", "/cellar/", "/settings/", "/brews/7",
    "/brews/10", "/brews/7/harvest", "/brews/7/inspect", "/brews/1", "/brews/7/sheet", "/brews/7/measure", "/brews/7/opinion", "/brews/4/trace",
    "/quick/?line=jar+film+sweet+8pm", "/almanac/", "/almanac/away", "/trouble", "/tasters/", "/tasters/hindsight", "/instruments/", "/bin/",
    "/cultures/1", "/cultures/4", "/cultures/bead/brew/7", "/cultures/table", "/cultures/discs/5", "/cultures/hotels/5", "/cultures/starters/3",
    "/cultures/trace/hotel/5", "/cultures/3/conversion", "/cultures/compare", "/cultures/1/passport", "/day-book/", "/brews/7/happened?do=out",
    "/flavours/", "/flavours/1", "/flavours/ingredients", "/brews/7/bottling?chosen=1&flavour=f1&flavour=f3&flavour=plain", "/infusions/1",
    "/cellar/park", "/cellar/ranking", "/cellar/bottles/20", "/cellar/compare", "/supply/", "/supply/list", "/supply/cupboard", "/supply/costs", "/notebook/", "/notebook/?q=plum+gushed", "/notebook/looking-back",
)  # fmt: skip
PLACES = ("/", "/brew-day/", "/vessels/", "/cultures/", "/cellar/", "/almanac/", "/tasters/", "/settings/", "/day-book/", "/cultures/table", "/flavours/", "/supply/", "/supply/list", "/supply/costs", "/notebook/", "/notebook/?q=jar+sour", "/notebook/looking-back")
ROUNDS, LINES = 7, 6
HOUSEHOLDS = {
    "demo": (DEMO_NOW, None, DEMO_PLACES),
    "young": (NOW, lambda database: years(database, 1), PLACES),
    "old": (NOW, lambda database: years(database, 20), PLACES),
    "older": (NOW, lambda database: years(database, 100), PLACES),
    "crowded": (NOW, lambda database: written(database, fill_crowded), PLACES),
}
MOST_RATIO, MOST_MEDIAN = 8.0, 3.0
MOST_STATEMENTS, IN_THE_NAVIGATION = 20, 12
NAVIGATION = {"/", "/brew-day/", "/vessels/", "/cultures/", "/cellar/", "/almanac/"}
GROWS, LEAST_RATIO = 1.5, 8.0  #: Against one year; a place that takes less than so many bare pages is quick enough.


def written(database, filler, **more):
    """Fill a file in one transaction."""
    with database.writer() as session, session.begin():
        filler(session, **more)


def years(database, count):
    """A household of so many years, with as many lines as any other: what grows is its past."""
    written(database, fill_years, beads=80 * count, days=365.0 * count, lines=LINES)


def bare(database):
    """A bare page of the same stack: one question, one small template."""
    app = Flask("bare")

    @app.get("/")
    def show():
        with database.reader() as session:
            count = session.execute(text("SELECT count(*) FROM brew")).scalar()
        return render_template_string("<!doctype html><title>{{ n }}</title><p>{% for i in range(20) %}{{ i }} {% endfor %}</p>", n=count)

    return app.test_client()


def timed(run):
    """How long something takes. [ms]"""
    started = time.perf_counter()
    run()
    return (time.perf_counter() - started) * 1000


def counted(database, run):
    """Statements that something asks, and rows that it loads."""
    found, rows = [], [0]

    def note(*given):
        if given[2] != "BEGIN":
            found.append(given[2])

    def loaded(*_):
        rows[0] += 1

    event.listen(database._reading, "before_cursor_execute", note)
    run()
    event.remove(database._reading, "before_cursor_execute", note)
    return found


def touch(database, now):
    """Write a reading of a brew that stands. Returns the number of the change."""
    with database.reader() as session:
        brew = session.scalars(select(Brew.id).where(Brew.status.in_(LIVING)).order_by(Brew.id)).first()
    with database.writer() as session:
        return log_reading(session, LogReading(brew_id=brew, ph=round(random.uniform(3.2, 3.6), 2), sure=True), now).change_id


def take_back(database, change, now):
    """Take a reading back, so that the household does not grow."""
    with database.writer() as session:
        undo(session, Undo(change), now)


class Seen(NamedTuple):
    """How a place did: times [ms], against the bare page [-], statements, size [bytes]."""

    again: float
    written: float
    first: float
    again_ratio: float
    written_ratio: float
    first_ratio: float
    statements: int
    at_first: int
    size: int


def seen(database, client, plain, clock, path):
    """Time one place."""
    size = len(client.get(path).data)
    client.get(path)  # what is first heard is heard
    again, written_, first, beside = [], [], [], []
    for _ in range(ROUNDS):
        beside.append(timed(lambda: plain.get("/")))
        again.append(timed(lambda: client.get(path)))
        change = touch(database, clock[0])
        written_.append(timed(lambda: client.get(path)))
        take_back(database, change, clock[0])
        clock[0] += timedelta(seconds=1)
        memory.forget()
        database.drop_kept()
        client.application.extensions["kyklos seen"].kept.clear()
        first.append(timed(lambda: client.get(path)))
    touch(database, clock[0])
    statements = len(counted(database, lambda: client.get(path)))
    memory.forget()
    database.drop_kept()
    client.application.extensions["kyklos seen"].kept.clear()
    at_first, base = len(counted(database, lambda: client.get(path))), statistics.median(beside)
    times = min(again), min(written_), min(first)
    return Seen(*times, *(one / base for one in times), statements, at_first, size)


def measured(name, show=True):
    """Time every place of a household. Returns what was seen, by place."""
    now, filler, places = HOUSEHOLDS[name]
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "kyklos.db")
        if filler is None:
            unpack(database.path)
        else:
            database.migrate()
            filler(database)
        clock = [now]
        client, plain = create_app(database, lambda: clock[0], "x", WTF_CSRF_ENABLED=False).test_client(), bare(database)
        first = timed(lambda: client.get("/"))
        out = {path: seen(database, client, plain, clock, path) for path in places}
        database.close()
    if show:
        base = next(iter(out.values()))
        print(f"\n## {name}: first page {first:.0f} ms, bare page {base.again / base.again_ratio:.2f} ms\n")
        print("| place | again, ms | after a write, ms | first, ms | again | after a write | first | statements after a write | at first | kB |")
        print("|---" + "|--:" * 9 + "|")
        for path, one in sorted(out.items(), key=lambda row: -row[1].written_ratio):
            times = " | ".join(f"{value:.1f}" for value in one[:6])
            print(f"| {path[:60]} | {times} | {one.statements} | {one.at_first} | {one.size / 1000:.0f} |")
        for column in ("again_ratio", "written_ratio", "first_ratio"):
            ratios = [getattr(row, column) for row in out.values()]
            print(f"{column}: median {statistics.median(ratios):.1f}, worst {max(ratios):.1f}")
    return out


def outside(found):
    """What lies outside the limits, in words."""
    out = []
    for name, places in found.items():
        again = [row.again_ratio for row in places.values()]
        if name == "demo" and statistics.median(again) > MOST_MEDIAN:
            out.append(f"{name}: the middle place takes {statistics.median(again):.1f} bare pages, not {MOST_MEDIAN:g}")
        for path, one in places.items():
            if name == "demo" and one.again_ratio > MOST_RATIO:
                out.append(f"{name} {path}: {one.again_ratio:.1f} bare pages, not {MOST_RATIO:g}")
            if one.statements > (IN_THE_NAVIGATION if path in NAVIGATION else MOST_STATEMENTS):
                out.append(f"{name} {path}: {one.statements} statements after a write")
            young = found.get("young", {}).get(path)
            if name in {"old", "older"} and young and one.first_ratio > max(GROWS * young.first_ratio, LEAST_RATIO):
                out.append(f"{name} {path}: {one.first_ratio / young.first_ratio:.1f} times as long as at one year")
    return out


if __name__ == "__main__":
    wrong = outside({household: measured(household) for household in sys.argv[1:] or ["demo"]})
    print("\n" + ("Outside the limits:\n" + "\n".join(wrong) if wrong else "Within the limits."))
    sys.exit(1 if wrong else 0)
