"""Four readers beside a writer: how long pages wait. Run by `make bench`; fails outside.

The sample household is served as it is to anybody. Each reader opens a page, looks at it for a second, and opens the next one; somebody logs
a reading every few seconds. Each page's own time is what it takes after such a write while nobody else asks.
"""

import random
import statistics
import sys
import tempfile
import threading
import time
from pathlib import Path
from urllib.request import urlopen

sys.path.insert(0, str(Path(__file__).parent.parent))

from kyklos import serving
from kyklos.clock import fixed_clock
from kyklos.demo.day import DEMO_NOW
from kyklos.demo.sample import unpack
from kyklos.serving.app import create_app
from kyklos.store.file.database import Database
from tests.bench_pages import touch

PLACES = ("/", "/brew-day/", "/vessels/", "/cultures/", "/cellar/", "/almanac/", "/brews/7", "/brews/10", "/notebook/", "/day-book/", "/flavours/", "/supply/list")
READERS, LOOKS_S, WRITES_S, LASTS_S = 4, 1.0, 4.0, 60.0
MOST = 2.0  #: Times its own time, for the page in the middle: a short one beside long ones waits for its turn.


def asked(address):
    """How long a page takes. [s]"""
    began = time.perf_counter()
    urlopen(address).read()
    return time.perf_counter() - began


def alone(database, base):
    """Each page's own time after a write. [s]"""
    out = {}
    for path in PLACES:
        asked(base + path)
        found = []
        for _ in range(3):
            touch(database, DEMO_NOW)
            found.append(asked(base + path))
        out[path] = sorted(found)[1]
    return out


def beside(database, base):
    """Times of each page while four read and one writes. [s]"""
    found, over = [], threading.Event()

    def read(seed):
        rng = random.Random(seed)
        while not over.wait(rng.uniform(0.5, 1.5) * LOOKS_S):
            path = rng.choice(PLACES)
            found.append((path, asked(base + path)))

    def write():
        while not over.wait(WRITES_S):
            touch(database, DEMO_NOW)

    threads = [threading.Thread(target=read, args=(seed,)) for seed in range(READERS)] + [threading.Thread(target=write)]
    for one in threads:
        one.start()
    time.sleep(LASTS_S)
    over.set()
    for one in threads:
        one.join()
    return found


def main():
    """Print what was measured; 1 when a page waited too long."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "kyklos.db"
        unpack(path)
        database = Database(path)
        app = create_app(database, fixed_clock(DEMO_NOW), "readers")
        server = serving.make(app, "127.0.0.1", 0)
        app.extensions["kyklos learner"].start()
        thread = threading.Thread(target=serving.run, args=(server,), daemon=True)
        thread.start()
        base = f"http://127.0.0.1:{server.port}"
        own = alone(database, base)
        found = beside(database, base)
        server.stop()
        thread.join(5)
        app.extensions["kyklos learner"].stop()
    ratios = sorted(spent / own[path] for path, spent in found)
    middle, most = statistics.median(ratios), ratios[int(0.9 * (len(ratios) - 1))]
    print(f"{len(found)} pages, {len(found) / LASTS_S:.1f} a second. Against its own time the page in the middle took {middle:.2f}, nine in ten at most {most:.2f}, the slowest {ratios[-1]:.2f}.")
    for path in PLACES:
        times = sorted(spent for page, spent in found if page == path)
        print(f"  {path:12} alone {own[path] * 1000:4.0f} ms, beside the others {statistics.median(times) * 1000:4.0f}, at most {times[-1] * 1000:4.0f} ms")
    return 1 if middle > MOST else 0


if __name__ == "__main__":
    sys.exit(main())
