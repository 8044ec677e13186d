"""How a stand-in speaks to Kyklos: by the device protocol alone, over HTTP, like any device.

A device that keeps no time of its own sets its clock by what Kyklos answers; what was not acknowledged is sent again, by the same ids.
"""

from __future__ import annotations

import json
import ssl
import urllib.error
import urllib.request
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any, NamedTuple

from .bench import KINDS, StandInBench, StandInLine

MOST_AT_ONCE = 500
PATIENCE_S = 5.0
UNREACHED = "Kyklos does not answer. Is it running?"


class Told(NamedTuple):
    """What Kyklos answered."""

    status: int
    body: dict[str, Any]
    headers: Mapping[str, str]


Send = Callable[[str, str, dict[str, Any] | None, dict[str, str]], Told]


def over_http(server: str) -> Send:
    """Make what sends a request to a running Kyklos.

    Args:
        server: Its address, as http://127.0.0.1:8017

    Returns: A function of method, path, body and headers; it answers status 0 where nobody is reached.
    """
    context = ssl.create_default_context() if server.startswith("https") else None

    def send(method: str, path: str, body: dict[str, Any] | None, headers: dict[str, str]) -> Told:
        data = None if body is None else json.dumps(body).encode()
        told = {"Content-Type": "application/json", **headers} if data is not None else headers
        asked = urllib.request.Request(f"{server.rstrip('/')}/devices/v1{path}", data, told, method=method)
        try:
            with urllib.request.urlopen(asked, timeout=PATIENCE_S, context=context) as answer:
                return Told(answer.status, _json(answer.read()), dict(answer.headers))
        except urllib.error.HTTPError as problem:
            return Told(problem.code, _json(problem.read()), dict(problem.headers))
        except (OSError, ValueError):
            return Told(0, {}, {})

    return send


def _json(raw: bytes) -> dict[str, Any]:
    try:
        found = json.loads(raw)
    except ValueError:
        return {}
    return found if isinstance(found, dict) else {}


def _moment(at_s: float) -> str:
    return datetime.fromtimestamp(at_s, UTC).isoformat()


@dataclass
class Speaker:
    """The voice of all stand-ins on a bench."""

    bench: StandInBench
    send: Send
    ahead_s: float = 0.0  #: By how much Kyklos' clock is ahead of the bench's. [s]
    tag: str = field(default="", repr=False)

    def pair(self, name: str) -> None:
        """Ask to be paired; the code is shown until a person says yes."""
        line = self.bench.lines[name]
        called, kind = KINDS[name]
        told = self.send("POST", "/pair", {"name": called, "kind": kind, "serial": f"stand-in {self.bench.seed}"}, {})
        if told.status == 201:
            line.pairing, line.secret, line.code, line.says, line.token, line.ended = told.body["pairing"], told.body["secret"], told.body["code"], "", "", False
        else:
            line.says = told.body.get("detail", UNREACHED)

    def once(self) -> None:
        """Speak of all that waits: pairings, readings, set points."""
        for name, line in self.bench.lines.items():
            if line.code:
                self._ask(line)
            elif line.token and line.queue:
                self._tell(name, line)
        mat = self.bench.lines["mat"]
        if mat.token and self.bench.asks():
            self._set_point(mat)
        weather = self.bench.lines["weather"]
        if weather.token and self.bench.has_outlook():
            self._outlook(weather)

    def _outlook(self, line: StandInLine) -> None:
        with self.bench.lock:
            now_s = self.bench.now_s
            hours = [{"at": _moment(at_s + self.ahead_s), "celsius": celsius} for at_s, celsius in self.bench.weather.outlook(now_s)]
        told = self.send("POST", "/outlook", {"issued_at": _moment(now_s + self.ahead_s), "hours": hours}, {"Authorization": f"Bearer {line.token}"})
        self._heard(line, told)
        if told.status == 200:
            line.sent, line.says = line.sent + 1, ""

    def _ask(self, line: StandInLine) -> None:
        told = self.send("GET", f"/pair/{line.pairing}", None, {"Authorization": f"Bearer {line.secret}"})
        if told.status == 200:
            line.token, line.code, line.secret = told.body["token"], "", ""
            line.queue.clear()
        elif told.status not in {0, 202}:
            line.code, line.says = "", told.body.get("detail", "It was not paired.")

    def _tell(self, name: str, line: StandInLine) -> None:
        with self.bench.lock:
            waiting = list(line.queue)[:MOST_AT_ONCE]
            now_s = self.bench.now_s
        rows = [{"id": one["id"], "at": _moment(one["at_s"] + self.ahead_s), **{key: value for key, value in one.items() if key not in {"id", "at_s"}}} for one in waiting]
        told = self.send("POST", "/readings", {"sent_at": _moment(now_s + self.ahead_s), "readings": rows}, {"Authorization": f"Bearer {line.token}"})
        self._heard(line, told)
        if told.status != 200:
            return
        self._set_clock(told, now_s)
        with self.bench.lock:
            for _ in waiting:
                if line.queue:
                    line.queue.popleft()
        line.sent += int(told.body.get("accepted", 0))
        refused = told.body.get("refused") or []
        line.says = str(refused[0].get("why", "")) if refused else ""

    def _set_clock(self, told: Told, now_s: float) -> None:
        try:
            self.ahead_s = datetime.fromisoformat(str(told.body.get("server_time", "")).replace("Z", "+00:00")).timestamp() - now_s
        except ValueError:
            return

    def _set_point(self, line: StandInLine) -> None:
        headers = {"Authorization": f"Bearer {line.token}", **({"If-None-Match": self.tag} if self.tag else {})}
        told = self.send("GET", "/setpoint", None, headers)
        self._heard(line, told)
        crock = self.bench.crock
        if told.status in {200, 304}:
            crock.answered_s = self.bench.now_s
        if told.status == 200:
            crock.set_c, crock.hysteresis_k = told.body.get("celsius"), float(told.body.get("hysteresis", 1.0))
            self.tag = next((value for key, value in told.headers.items() if key.lower() == "etag"), "")

    def _heard(self, line: StandInLine, told: Told) -> None:
        if told.status == 401:
            line.token, line.ended = "", True
        if told.status not in {200, 304}:
            line.says = told.body.get("detail", UNREACHED)
