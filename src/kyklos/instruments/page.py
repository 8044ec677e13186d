"""The stand-ins' own page: dip the meter, pull the probe out, unplug the mat, put things on the scale; and how each is paired."""

from __future__ import annotations

import threading
import time
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from flask import Flask, Response, abort, jsonify, redirect, render_template, request, url_for
from werkzeug.serving import BaseWSGIServer, make_server
from werkzeug.wrappers import Response as Answer

from .bench import KINDS, StandInBench
from .physics import THINGS
from .speaking import Speaker

LOCAL = {"127.0.0.1", "localhost", "[::1]"}
SHARED = Path(__file__).parents[1] / "web" / "static"  #: Letters and marks of the house.
GLASSES = (("rinse", "rinse water"), ("7", "buffer 7"), ("4", "buffer 4"), ("jar", "brew in the jar"))
HELD = {"cap": "in its cap", "dry": "left dry", **dict(GLASSES)}
FAULTS = {
    "meter": (("older", "a year older"), ("dirty", "dirty"), ("clean", "clean it"), ("cold", "cold buffers"), ("swapped", "swap the buffers"), ("battery", "low battery"), ("new", "as new")),
    "crock": (("fallen", "probe falls out"), ("unplugged", "unplug the mat"), ("cold filling", "a cold filling")),
    "scale": (("drifting", "it drifts"),),
}  # fmt: skip
TICK_S, SPEAKS_EVERY_S, KEPT_EVERY_S = 0.5, 1.0, 20.0
POLICY = "default-src 'self'; img-src 'self' data:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"


def create_page(bench: StandInBench, speaker: Speaker, kyklos: str) -> Flask:
    """Make the page.

    Args:
        bench: Whose stand-ins it handles.
        speaker: Their voice.
        kyklos: Where Kyklos answers, for a link.
    """
    app = Flask("kyklos.instruments", template_folder="templates", static_folder="static")

    @app.before_request
    def own_hand_only() -> None:
        host = request.host.rsplit(":", 1)[0]
        origin = request.headers.get("Origin")
        if host not in LOCAL or (origin is not None and urlsplit(origin).netloc != request.host):
            abort(403)

    @app.after_request
    def headers(response: Response) -> Response:
        response.headers |= {"Content-Security-Policy": POLICY, "X-Content-Type-Options": "nosniff", "Cache-Control": "no-store", "Referrer-Policy": "same-origin"}
        return response

    @app.get("/")
    def show() -> str:
        return render_template("bench.html", bench=bench, glasses=GLASSES, held=HELD, faults=FAULTS, things=THINGS, kinds=KINDS, live=live_of(bench), kyklos=kyklos, is_on=_is_on, days=_days(bench))

    @app.get("/live")
    def live() -> Response:
        return jsonify(live_of(bench))

    @app.post("/do")
    def act() -> Answer:
        given = request.form
        if (what := given.get("hold")) is not None:
            bench.hold(what)
        elif (fault := given.get("fault")) is not None:
            bench.fault(fault)
        elif (thing := given.get("weigh")) is not None:
            bench.weigh(thing, THINGS)
        elif (name := given.get("pair")) in KINDS:
            speaker.pair(str(name))
        return redirect(url_for("show"), 303)

    @app.get("/house/<path:name>")
    def house(name: str) -> Answer:
        from flask import send_from_directory

        return send_from_directory(SHARED, name)

    return app


def _days(bench: StandInBench) -> list[tuple[str, float, float]]:
    """Return the outlook as its picture shows it: the day's name, coldest, warmest. [degC]"""
    return [(datetime.fromtimestamp(at_s, UTC).strftime("%a"), low, high) for at_s, low, high in bench.days_ahead()]


def _is_on(bench: StandInBench, fault: str) -> bool:
    """Return whether a fault that stays is there now."""
    return {
        "cold": bool(bench.meter.cold_c), "swapped": bench.meter.swapped, "battery": bench.meter.battery < 0.1, "dirty": bench.meter.dirt > 0.5, "fallen": bench.probe.fallen_out,
        "unplugged": not bench.crock.plugged, "drifting": bench.scale.drifting,
    }.get(fault, False)  # fmt: skip


def live_of(bench: StandInBench) -> dict[str, Any]:
    """Return what everything shows right now, in words."""
    with bench.lock:
        meter, crock = bench.meter, bench.crock
        shown = meter.reads(bench.lot) if meter.on else None
        settled = abs(meter.shown_mv - meter.true_mv(bench.room, bench.jar_ph(), 24.0)) < 1.0
        return {
            "ph": f"{shown['ph']:.2f}" if shown else "off",
            "meter": f"{'stands still' if settled else 'settling'}, {meter.sensor_c:.1f} °C" if shown else HELD[meter.held_in],
            "probe": f"{bench.probe.reads(bench.lot)['celsius']:.1f} °C",
            "crock": f"{crock.celsius:.1f} °C",
            "mat": "unplugged" if not crock.plugged else "warms" if crock.on else "rests",
            "set": "off" if crock.set_c is None else f"set to {crock.set_c:.1f} °C",
            "grams": f"{bench.scale.grams():.0f} g",
            "room": f"{bench.room:.1f} °C",
            "outdoors": f"{bench.weather.celsius(bench.now_s):.1f} °C",
            **{f"line-{name}": _line_words(bench, name) for name in KINDS},
            **{f"code-{name}": line.code for name, line in bench.lines.items()},
        }


def _line_words(bench: StandInBench, name: str) -> str:
    line = bench.lines[name]
    if line.code:
        return "shows this code; say yes in Kyklos, under Instruments"
    if not line.token:
        return line.says or ("was ended in Kyklos" if line.ended else "not paired")
    paired = {"mat": "paired, asks how warm", "weather": f"paired, {line.sent} outlooks sent"}
    return line.says or paired.get(name, f"paired, {line.sent} readings sent")


class Running:
    """The stand-ins at work: their time runs, they speak, and their page answers."""

    def __init__(self, bench: StandInBench, speaker: Speaker, server: BaseWSGIServer, state: Path | None) -> None:
        """Take what is to run; `start` begins."""
        self.bench, self.speaker, self.server, self._state = bench, speaker, server, state
        self._stop = threading.Event()
        self._threads: list[threading.Thread] = []

    @property
    def address(self) -> str:
        """Where their page is."""
        return f"http://127.0.0.1:{self.server.port}/"

    def start(self) -> None:
        """Let their time run."""
        for work in (self.server.serve_forever, self._live, self._speak):
            thread = threading.Thread(target=work, daemon=True)
            thread.start()
            self._threads.append(thread)

    def stop(self) -> None:
        """Stop, and keep their hidden truth."""
        self._stop.set()
        self.server.shutdown()
        if self._state is not None:
            self.bench.keep(self._state)

    def _live(self) -> None:
        last, kept = time.monotonic(), time.monotonic()
        while not self._stop.wait(TICK_S):
            now = time.monotonic()
            self.bench.wait(min(now - last, 5.0) * self.bench.pace)
            last = now
            if self._state is not None and now - kept > KEPT_EVERY_S:
                self.bench.keep(self._state)
                kept = now

    def _speak(self) -> None:
        while not self._stop.wait(SPEAKS_EVERY_S):
            self.speaker.once()


def run(bench: StandInBench, speaker: Speaker, kyklos: str, port: int, state: Path | None = None) -> Running:
    """Start the stand-ins.

    Args:
        bench: They.
        speaker: Their voice.
        kyklos: Where Kyklos answers.
        port: Of their page; 0 takes a free one.
        state: Where their hidden truth is kept; None: nowhere.

    Raises:
        OSError: If the port is taken.
    """
    import logging

    logging.getLogger("werkzeug").setLevel(logging.ERROR)
    running = Running(bench, speaker, make_server("127.0.0.1", port, create_page(bench, speaker, kyklos), threaded=True), state)
    running.start()
    return running
