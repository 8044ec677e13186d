"""Nothing acknowledged is lost: twenty clients write while the server is killed again and again, and in the middle no file may grow.

Half-way, for ten seconds, the system refuses the server each write beyond the first page of a file, as a full disk would. Figures are printed.

Run by hand: `python tests/durability.py [seconds] [kills] [clients]`. Not part of the usual run.
"""

import json
import os
import resource
import signal
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
from contextlib import closing
from pathlib import Path

FULL_S = 10.0  #: How long no file may grow. [s]


def start(folder, port):
    """Start a server; gives it once it answers."""
    told = [sys.executable, "-m", "kyklos", "serve", "--folder", str(folder), "--port", str(port)]
    server = subprocess.Popen(told, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
    for _ in range(600):
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{port}/settings/", timeout=2).read(1)
            return server
        except (OSError, urllib.error.URLError):
            if server.poll() is not None:
                raise SystemExit(f"it did not start: {server.stdout.read()}") from None
            time.sleep(0.05)
    raise SystemExit("it did not answer")


class Writer(threading.Thread):
    """Writes places by the form, one after the other, and notes which were acknowledged."""

    def __init__(self, number, port, over, full):
        super().__init__(daemon=True)
        self.number, self.port, self.over, self.full = number, port, over, full
        self.acknowledged, self.refused, self.slowest = [], {}, 0.0

    def run(self):
        opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(), NoRedirect())
        count, token = 0, ""
        while not self.over.is_set():
            name = f"Place {self.number}-{count}"
            try:
                if not token:
                    page = opener.open(f"http://127.0.0.1:{self.port}/vessels/new", timeout=20).read().decode()
                    token = page.split('name="csrf_token" value="')[1].split('"')[0]
                body = {
                    "csrf_token": token, "name": name, "kind": "jar", "nominal_l": "4", "usable_l": "3", "diameter_cm": "15",
                    "material": "glass", "place": "0", "new_place": name, "new_place_c": "20",
                }  # fmt: skip
                began = time.monotonic()
                data = "&".join(f"{key}={urllib.request.quote(str(value))}" for key, value in body.items()).encode()
                status = opener.open(f"http://127.0.0.1:{self.port}/vessels/new", data, timeout=30).status
                self.slowest = max(self.slowest, time.monotonic() - began)
            except urllib.error.HTTPError as problem:
                status = problem.code
                self.slowest = max(self.slowest, time.monotonic() - began)
            except (OSError, urllib.error.URLError, IndexError):
                status, token = 0, ""
            if status == 303:
                self.acknowledged.append(name)
            else:
                status = f"{status}, nothing may grow" if self.full.is_set() else str(status)
                self.refused[status] = self.refused.get(status, 0) + 1
                time.sleep(0.05)
            count += 1


class NoRedirect(urllib.request.HTTPRedirectHandler):
    """Takes a redirect for an answer."""

    def redirect_request(self, *_):
        return None


def main(seconds, kills_wished, clients):
    """Write, kill, write on; then hold what is there against what was acknowledged."""
    with tempfile.TemporaryDirectory() as made:
        folder, port = Path(made), 8917
        server, over, full = start(folder, port), threading.Event(), threading.Event()
        writers = [Writer(number, port, over, full) for number in range(clients)]
        for writer in writers:
            writer.start()
        began, kills, filled = time.monotonic(), 0, False
        while (gone := time.monotonic() - began) < seconds:
            if not filled and gone > seconds / 2:
                filled = True
                full.set()
                _, hard = resource.prlimit(server.pid, resource.RLIMIT_FSIZE)
                resource.prlimit(server.pid, resource.RLIMIT_FSIZE, (4096, hard))
                time.sleep(FULL_S)
                resource.prlimit(server.pid, resource.RLIMIT_FSIZE, (hard, hard))
                time.sleep(0.5)
                full.clear()
            elif kills < kills_wished and gone > (kills + 1) * seconds / (kills_wished + 1):
                os.kill(server.pid, signal.SIGKILL)
                server.wait()
                kills += 1
                server = start(folder, port)
            time.sleep(0.1)
        over.set()
        for writer in writers:
            writer.join(40)
        server.terminate()
        server.wait(20)
        with closing(sqlite3.connect(folder / "kyklos.db")) as file:
            there = {row[0] for row in file.execute("SELECT name FROM vessel")}
            doubled = file.execute("SELECT count(*) - count(DISTINCT name) FROM vessel").fetchone()[0]
            whole = file.execute("PRAGMA integrity_check").fetchone()[0]
        told = [name for writer in writers for name in writer.acknowledged]
        refused = {}
        for writer in writers:
            for status, count in writer.refused.items():
                refused[status] = refused.get(status, 0) + count
        lost = [name for name in told if name not in there]
        figures = {
            "seconds": round(time.monotonic() - began), "kills": kills, "clients": clients, "acknowledged": len(told),
            "lost": len(lost), "written twice": doubled, "answers that were none": refused, "integrity": whole,
            "slowest write [s]": round(max(writer.slowest for writer in writers), 2),
        }  # fmt: skip
        print(json.dumps(figures, indent=1))
        return 1 if lost or whole != "ok" or doubled or refused.get("503") or any(key.startswith("500") for key in refused) else 0


if __name__ == "__main__":
    sys.exit(main(*(int(told) for told in (*sys.argv[1:4], *("300", "20", "20")[len(sys.argv) - 1 :]))))
