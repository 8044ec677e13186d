"""How quick a start, a first page and the page after a write are, on one core: `make bench` runs it, and fails outside the limits.

Each household is served by a process of its own, as after a start, with what Python compiled before. Every time is held against the
machine's pace just then (`pace.py`): a quiet machine is not assumed. How long each place takes is measured in `bench_pages.py`.
"""

import gc
import json
import os
import re
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from urllib.request import urlopen

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests import pace

#: What is measured, in which unit, and the most that it may be on a common machine.
LIMITS = {
    "import": ("s of CPU", 1.0),
    "first start": ("s of CPU", 8.0),
    "second start": ("s", 2.0),
    "young first page": ("s", 0.5),
    "old first page": ("s", 0.6),
    "older first page": ("s", 0.7),
    "crowded first page": ("s", 1.0),
    **{f"{name} {what}": ("ms", 120.0) for name in ("old", "older", "crowded") for what in ("round after a tasting", "brew after a tasting")},
    "old lock": ("ms", 50.0),
    "cellar of 400 bottles": ("ms", 60.0),
    "size of it": ("kB", 200.0),
}
FEW = 3  #: Each thing is done so often; the middle counts.


def middle(values):
    """The middle one."""
    return sorted(values)[len(values) // 2]


def timed(run):
    """How long something takes. [ms]"""
    started = time.perf_counter()
    run()
    return (time.perf_counter() - started) * 1000


def household(folder, name):
    """Write a household's file, if it is not there."""
    from kyklos.store.file.database import Database
    from tests.bench_pages import HOUSEHOLDS

    path = Path(folder) / f"{name}.db"
    if not path.exists():
        database = Database(path)
        database.migrate()
        HOUSEHOLDS[name][1](database)
        database.close()
    return path


def child(name, path):
    """In a process of its own: the first page after a start, pages after a tasting, how long a write holds the lock."""
    gc.disable()
    before = time.process_time()
    from kyklos.serving.app import create_app

    imported = time.process_time() - before
    from kyklos.actions.brewing import readings
    from kyklos.store.file.database import Database
    from kyklos.store.records import Brew
    from tests.years import NOW

    database = Database(Path(path))
    before = time.process_time()
    client = create_app(database, lambda: NOW, "x", TESTING=True, WTF_CSRF_ENABLED=False, KYKLOS_TEMPLATES=Path(path).parent).test_client()
    imported += time.process_time() - before
    gc.freeze()  # as a start does
    gc.enable()
    slower = pace.slower()
    out = {"import": imported, "first page": timed(lambda: client.get("/")) / 1000}
    with database.reader() as session:
        brew = session.query(Brew).filter_by(status="fermenting").first().id
    for what, address in (("round", "/"), ("brew", f"/brews/{brew}")):
        client.get(address)
        spent = []
        for score in (0, 1, -1):
            client.post(f"/brews/{brew}/tasting", data={"taster": 1, "score": score, "view": "brew"})
            spent.append(timed(lambda address=address: client.get(address)))
        out[f"{what} after a tasting"] = middle(spent)
    held = []
    for _ in range(FEW):
        with database.writer() as session:
            held.append(timed(lambda session=session: readings.log_reading(session, readings.LogReading(brew_id=brew, ph=3.4), NOW)))
    out["lock"] = max(held)
    if name == "crowded":
        size = len(client.get("/cellar/").data)
        spent = []
        for score in (0, 1, -1):
            client.post(f"/brews/{brew}/tasting", data={"taster": 1, "score": score, "view": "brew"})
            spent.append(timed(lambda: client.get("/cellar/")))
        out |= {"cellar": middle(spent), "size": size / 1000}
    slower = (slower + pace.slower()) / 2
    print(json.dumps({what: [value, value if what == "size" else value / slower] for what, value in out.items()}))


def environment(folder):
    """What a process of its own is started with: it finds what Python compiled before, as an installed one does."""
    kept = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
    root = Path(__file__).parent.parent
    return {**kept, "XDG_CACHE_HOME": folder, "PYTHONPYCACHEPREFIX": f"{folder}/compiled", "OPENBLAS_NUM_THREADS": "1", "PYTHONPATH": f"{root / 'src'}:{root}"}


def in_a_process(folder, name):
    """What a household's own process measured, the middle of a few: on a common machine, and here."""
    path = household(folder, name)
    found = []
    for _ in range(FEW + 1):
        copy = path.with_suffix(".copy.db")
        copy.write_bytes(path.read_bytes())
        answer = subprocess.run([sys.executable, __file__, "child", name, str(copy)], capture_output=True, text=True, check=True, env=environment(folder))
        found.append(json.loads(answer.stdout.splitlines()[-1]))
    return {what: middle([tuple(reversed(one[what])) for one in found[1:]]) for what in found[0]}


def started(folder):
    """Start the sample household, and ask for its first page. Returns how long it took and how much work it was, each on a common machine and here. [s, s of CPU]"""
    slower = pace.slower()
    begun = time.perf_counter()
    with subprocess.Popen([sys.executable, "-m", "kyklos", "demo", "--port", "0", "--instruments", "0"], stdout=subprocess.PIPE, text=True, env=environment(folder)) as process:
        for line in process.stdout:
            if found := re.search(r"http://\S+", line):
                break
        urlopen(found.group()).read()
        spent = time.perf_counter() - begun
        times = Path(f"/proc/{process.pid}/stat").read_text().rsplit(")", 1)[1].split()
        process.terminate()
    worked = (int(times[11]) + int(times[12])) / os.sysconf("SC_CLK_TCK")
    slower = (slower + pace.slower()) / 2
    return (spent / slower, spent), (worked / slower, worked)


def measured():
    """Measure everything. Returns what was found, by name: on a common machine, and here."""
    names = {"import": "import", "cellar": "cellar of 400 bottles", "size": "size of it"}
    with tempfile.TemporaryDirectory() as folder:
        found = {"first start": started(folder)[1], "second start": middle([started(folder)[0] for _ in range(FEW)])}
        for name in ("young", "old", "older", "crowded"):
            found |= {names.get(what, f"{name} {what}"): value for what, value in in_a_process(folder, name).items()}
    return found


def main():
    """Print what was measured; 1 when a limit is broken."""
    found, failed = measured(), []
    print("\n| | here | on a common machine | at most |\n|---|--:|--:|--:|")
    for name, (unit, most) in LIMITS.items():
        usual, here = found[name]
        print(f"| {name}, {unit} | {here:.3g} | {usual:.3g} | {most:g} |")
        if usual > most:
            failed.append(f"{name} is {usual:.3g} {unit}, not {most:g}")
    print("\n" + ("Outside the limits: " + "; ".join(failed) if failed else "Within the limits."))
    return 1 if failed else 0


if __name__ == "__main__":
    if sys.argv[1:2] == ["child"]:
        child(*sys.argv[2:])
    else:
        sys.exit(main())
