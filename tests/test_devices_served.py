"""Devices beside a real server: said yes to from the command line, posting while the server is killed, and nothing lost or twice."""

import json
import os
import signal
import sqlite3
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from contextlib import closing
from datetime import UTC, datetime, timedelta

import pytest
from click.testing import CliRunner

from kyklos.cli import main


class House:
    """A household's server, which can be killed and started again."""

    def __init__(self, folder):
        self.folder, self.url, self.server = folder, "", None
        self.start()

    def start(self):
        """Start it; returns once it says where it is."""
        told = [sys.executable, "-m", "kyklos", "serve", "--folder", str(self.folder), "--port", "0"]
        self.server = subprocess.Popen(told, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
        for line in self.server.stdout:
            if "http://" in line:
                self.url = line.split("http://")[1].split("/")[0]
                return
        raise AssertionError("it did not start")

    def kill(self):
        """Kill it at once."""
        os.kill(self.server.pid, signal.SIGKILL)
        self.server.wait()

    def ask(self, path, body=None, token=""):
        """Send a request as a small device would."""
        told = {"Content-Type": "application/json", "Authorization": f"Bearer {token}"}
        data = None if body is None else json.dumps(body).encode()
        asked = urllib.request.Request(f"http://{self.url}/devices/v1{path}", data, told)
        with urllib.request.urlopen(asked, timeout=10) as answer:
            return json.loads(answer.read())


@pytest.fixture
def house(tmp_path, empty_file):
    """A served household with a jar."""
    folder = tmp_path / "house"
    folder.mkdir(mode=0o700)
    (folder / "kyklos.db").write_bytes(empty_file.read_bytes())
    made = House(folder)
    yield made
    if made.server.poll() is None:
        made.kill()


def run(house, *words):
    """A command of Kyklos for this household."""
    return CliRunner().invoke(main, ["instruments", *words, "--folder", str(house.folder)])


def test_killed_between_posts_nothing_is_lost_and_nothing_counts_twice(house):
    """Paired by the command line beside the running server; three devices post on while it is killed twice; ended, the token is worth nothing."""
    tokens = {}
    for name in ("One", "Two", "Three"):
        begun = house.ask("/pair", {"name": name, "kind": "thermometer"})
        assert begun["code"] in run(house, "list").output
        assert run(house, "approve", begun["code"], "--for", "the cellar").exit_code == 2
        assert "is paired" in run(house, "approve", begun["code"], "--for", "hand").output
        tokens[name] = house.ask(f"/pair/{begun['pairing']}", token=begun["secret"])["token"]
    start, stop, sent, acknowledged = datetime.now(UTC), threading.Event(), {name: [] for name in tokens}, dict.fromkeys(tokens, 0)

    def post(name):
        number = 0
        while not stop.is_set():
            rows = [{"id": f"r{number + n}", "at": (start + timedelta(milliseconds=10 * (number + n))).isoformat(), "celsius": 20 + (number + n) % 7} for n in range(5)]
            body = {"sent_at": datetime.now(UTC).isoformat(), "readings": rows}
            try:
                told = house.ask("/readings", body, tokens[name])
            except (OSError, urllib.error.URLError, ValueError):
                time.sleep(0.05)
                continue  # not acknowledged: sent again by the same ids
            assert told["accepted"] + told["known"] == 5, told
            sent[name] += [row["id"] for row in rows]
            acknowledged[name] += 5
            number += 5

    threads = [threading.Thread(target=post, args=(name,)) for name in tokens]
    for thread in threads:
        thread.start()
    for _ in range(2):
        time.sleep(1.5)
        house.kill()
        house.start()
    time.sleep(1.5)
    stop.set()
    for thread in threads:
        thread.join(15)
    assert all(count > 20 for count in acknowledged.values()), acknowledged
    with closing(sqlite3.connect(f"file:{house.folder / 'kyklos.db'}?mode=ro", uri=True)) as file:
        counts = dict(file.execute("SELECT d.name, count(*) FROM device_reading r JOIN device d ON d.id = r.device_id GROUP BY d.name"))
        known = file.execute("SELECT count(*) FROM known_reading").fetchone()[0]
    for name in tokens:
        assert acknowledged[name] <= counts[name] <= acknowledged[name] + 5, "what came last may have been kept unacknowledged"
    assert known == sum(counts.values())
    assert "20.0 degC" in run(house, "list").output or "degC" in run(house, "list").output
    assert run(house, "end", "Nobody").exit_code == 2
    assert "not paired any more" in run(house, "end", "two").output
    with pytest.raises(urllib.error.HTTPError, match="401"):
        house.ask("/readings", {"sent_at": start.isoformat(), "readings": [{"id": "z", "at": start.isoformat(), "celsius": 20}]}, tokens["Two"])
