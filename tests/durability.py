"""Nothing acknowledged is lost: clients write while the server is killed again and again, and others do what they may beside it.

All the while a backup is made each ten seconds, an export each thirty, and another program opens and closes the file each second. In the
middle the disk is full for ten seconds; later the file is deleted under the server, which then acknowledges nothing; put back, all goes on.
At the end each backup is restored, each once as the oldest. Figures are printed; the script fails outside its limits.

Run by hand: `python tests/durability.py [seconds] [kills] [clients]`. It lends itself a small disk where the system lets it.
"""

import contextlib
import json
import os
import secrets
import shutil
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

sys.path.insert(0, str(Path(__file__).parent.parent))
from tests.store.test_beside_the_server import LOCKS, PASSES_BY

PORT, DISK = 8917, "400m"
FULL_S, GONE_S = 10.0, 5.0  #: How long the disk is full, and the file gone. [s]


class House:
    """A household that is served, killed and started again."""

    def __init__(self, folder):
        self.folder, self.file = folder, folder / "kyklos.db"
        self.server, self.since = None, 0.0
        self.start()

    def start(self):
        """Start a server; returns once it answers."""
        told = [sys.executable, "-m", "kyklos", "serve", "--folder", str(self.folder), "--port", str(PORT)]
        self.server = subprocess.Popen(told, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
        for _ in range(1200):
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{PORT}/settings/", timeout=2).read(1)
                self.since = time.monotonic()
                return
            except (OSError, urllib.error.URLError):
                if self.server.poll() is not None:
                    raise SystemExit(f"it did not start: {self.server.stdout.read()}") from None
                time.sleep(0.05)
        raise SystemExit("it did not answer")

    def kill(self):
        """Kill it at once."""
        self.since = 0.0
        os.kill(self.server.pid, signal.SIGKILL)
        self.server.wait()

    def run(self, *words):
        """Run a command on the household; gives its status and what it said."""
        out = subprocess.run([sys.executable, "-m", "kyklos", *map(str, words), "--folder", str(self.folder)], capture_output=True, text=True)
        return out.returncode, (out.stdout + out.stderr).strip()


class NoRedirect(urllib.request.HTTPRedirectHandler):
    """Takes a redirect for an answer."""

    def redirect_request(self, *_):
        return None


class Writer(threading.Thread):
    """Writes places by the form; what gets no answer is sent again under the same key, as a browser does."""

    def __init__(self, number, over, state):
        super().__init__(daemon=True)
        self.number, self.over, self.state = number, over, state
        self.acknowledged, self.refused, self.slowest, self.while_gone = [], {}, 0.0, []

    def run(self):
        opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(), NoRedirect())
        count, token, key = 0, "", secrets.token_hex(8)
        while not self.over.is_set():
            name, status = f"Place {self.number}-{count}", 0
            began, gone = time.monotonic(), self.state["gone"]
            try:
                if not token:
                    page = opener.open(f"http://127.0.0.1:{PORT}/vessels/new", timeout=20).read().decode()
                    token = page.split('name="csrf_token" value="')[1].split('"')[0]
                body = {
                    "csrf_token": token, "once": key, "name": name, "kind": "jar", "nominal_l": "4", "usable_l": "3", "diameter_cm": "15",
                    "material": "glass", "place": "0", "new_place": name, "new_place_c": "20",
                }  # fmt: skip
                data = "&".join(f"{field}={urllib.request.quote(str(value))}" for field, value in body.items()).encode()
                status = opener.open(f"http://127.0.0.1:{PORT}/vessels/new", data, timeout=30).status
            except urllib.error.HTTPError as problem:
                status = problem.code
            except (OSError, urllib.error.URLError, IndexError):
                token = ""
            if status:
                self.slowest = max(self.slowest, time.monotonic() - began)
            if status == 303:
                self.acknowledged.append(name)
                if gone and self.state["gone"]:
                    self.while_gone.append(name)
            else:
                told = f"{status}{self.state['why']}"
                self.refused[told] = self.refused.get(told, 0) + 1
                time.sleep(0.05)
            if status not in {0, 429, 503}:
                count, key = count + 1, secrets.token_hex(8)


def beside(house, over, state, figures):
    """Do, beside the server, what others may do: back up, export, open and close the file; and look at its locks."""
    number = 0
    while not over.wait(1.0):
        number += 1
        if state["gone"]:
            continue
        since = house.since
        with contextlib.suppress(subprocess.CalledProcessError):
            subprocess.run([sys.executable, "-c", PASSES_BY, str(house.file)], check=True, capture_output=True)
            figures["passed by"] += 1
        if number % 10 == 0:
            status, said = house.run("backup")
            figures["backups" if status == 0 else "backups refused"] += 1
            if status and "full" not in said:
                figures["faults"].append(said[:200])
        if number % 30 == 0:
            status, said = house.run("export", house.folder.parent / f"house-{number}.zip")
            figures["exports" if status == 0 else "exports refused"] += 1
            for old in house.folder.parent.glob("house-*.zip"):
                old.unlink()
        if since and house.since == since and time.monotonic() - since > 3 and not state["gone"]:
            out = subprocess.run([sys.executable, "-c", LOCKS, str(house.file)], capture_output=True, text=True)
            if house.since == since and not state["why"]:
                figures["locks looked at"] += 1
                if out.stdout.strip() != "[True, True]":
                    figures["locks missing"] += 1
                    figures["faults"].append(f"{out.stdout} {out.stderr[-200:]}")


def fill(disk, state):
    """Let the disk be full for a while."""
    state["why"] = ", the disk was full"
    filler = disk / "filler"
    with contextlib.suppress(OSError), filler.open("wb", buffering=0) as file:
        while True:
            file.write(b"x" * 65_536)
    time.sleep(FULL_S)
    filler.unlink()
    time.sleep(0.5)
    state["why"] = ""


def delete(house, state):
    """Delete the file under the server for a while, then put it back."""
    kept = {end: house.folder.parent / f"kept{end}" for end in ("", "-wal")}
    for end, path in kept.items():
        os.link(f"{house.file}{end}", path)
    state["why"] = ", the file was gone"
    for end in ("", "-wal", "-shm"):
        Path(f"{house.file}{end}").unlink()
    time.sleep(0.3)  # what was on its way is answered
    state["gone"] = True
    time.sleep(GONE_S)
    house.kill()
    state.update(gone=False, why="")
    for end, path in kept.items():
        path.rename(f"{house.file}{end}")
    house.start()


def restored(house):
    """Restore each backup, each once as the oldest; gives how many, and what went wrong."""
    from kyklos.store.file import keeping

    count, wrong = 0, []
    while listed := [one for one in keeping.listed(house.folder / "backups") if one.why != "before-restore"]:
        oldest = listed[-1].path
        for newer in [one.path for one in keeping.listed(house.folder / "backups") if one.why == "before-restore"]:
            newer.unlink()
        before = oldest.read_bytes()
        status, said = house.run("restore", oldest)
        with closing(sqlite3.connect(oldest)) as a, closing(sqlite3.connect(house.file)) as b:
            same = [file.execute("SELECT name FROM vessel ORDER BY id").fetchall() for file in (a, b)]
        if status or same[0] != same[1] or oldest.read_bytes() != before:
            wrong.append(said[:200])
        oldest.unlink()
        count += 1
    return count, wrong


def main(seconds, kills_wished, clients):
    """Write, kill, fill, delete, write on; then hold what is there against what was acknowledged."""
    with tempfile.TemporaryDirectory() as made:
        disk = Path(made)
        lent = subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={DISK}", "tmpfs", made], capture_output=True).returncode == 0
        house = House(disk / "home")
        over, state = threading.Event(), {"gone": False, "why": ""}
        figures = dict.fromkeys(("passed by", "backups", "backups refused", "exports", "exports refused", "locks looked at", "locks missing"), 0)
        figures["faults"] = []
        writers = [Writer(number, over, state) for number in range(clients)]
        other = threading.Thread(target=beside, args=(house, over, state, figures), daemon=True)
        for thread in (*writers, other):
            thread.start()
        began, kills = time.monotonic(), 0
        events = sorted([*((n + 1) * seconds / (kills_wished + 1) for n in range(kills_wished))])
        halfway, late = [seconds / 2] if lent else [], [seconds * 0.8]
        while (gone := time.monotonic() - began) < seconds:
            if halfway and gone > halfway[0]:
                halfway.clear()
                fill(disk, state)
            elif late and gone > late[0]:
                late.clear()
                delete(house, state)
            elif events and gone > events[0]:
                events.pop(0)
                house.kill()
                kills += 1
                house.start()
            time.sleep(0.1)
        over.set()
        for thread in (*writers, other):
            thread.join(60)
        house.server.terminate()
        house.server.wait(20)
        with closing(sqlite3.connect(house.file)) as file:
            there = {row[0] for row in file.execute("SELECT name FROM vessel")}
            doubled = file.execute("SELECT count(*) - count(DISTINCT name) FROM vessel").fetchone()[0]
            whole = file.execute("PRAGMA integrity_check").fetchone()[0]
        told = [name for writer in writers for name in writer.acknowledged]
        refused = {}
        for writer in writers:
            for status, count in writer.refused.items():
                refused[status] = refused.get(status, 0) + count
        lost = [name for name in told if name not in there]
        count, wrong = restored(house)
        figures |= {
            "seconds": round(time.monotonic() - began), "kills": kills, "clients": clients, "a disk of its own": lent,
            "acknowledged": len(told), "lost": len(lost), "written twice": doubled, "integrity": whole,
            "acknowledged while the file was gone": sum(len(writer.while_gone) for writer in writers),
            "answers that were none": refused, "slowest write [s]": round(max(writer.slowest for writer in writers), 2),
            "restored": count, "restores that failed": wrong,
        }  # fmt: skip
        print(json.dumps(figures, indent=1))
        if lent:
            shutil.rmtree(disk / "home", ignore_errors=True)
            subprocess.run(["umount", "-l", made], check=False)
        bad = lost or doubled or whole != "ok" or wrong or figures["locks missing"] or figures["faults"]
        return 1 if bad or figures["acknowledged while the file was gone"] or any(key in {"500", "503"} for key in refused) else 0


if __name__ == "__main__":
    if "--inside" not in sys.argv and subprocess.run(["unshare", "-rm", "true"], capture_output=True).returncode == 0:
        os.execvp("unshare", ["unshare", "-rm", sys.executable, *sys.argv, "--inside"])
    ASKED = [int(word) for word in sys.argv[1:4] if word.isdigit()]
    sys.exit(main(*ASKED, *(600, 20, 20)[len(ASKED) :]))
