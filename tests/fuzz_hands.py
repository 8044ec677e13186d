"""Strange requests from eight hands at once, with the collector of cycles at work all the time: nothing falls over.

A fault in what Python itself is written in ends the process; so each round is a process of its own. Run by hand:
`PYTHONPATH=. python tests/fuzz_hands.py [rounds]`; `make bench` does.
"""

import gc
import os
import random
import subprocess
import sys
import tempfile
import threading
from types import SimpleNamespace

from kyklos.demo.sample import unpacked
from tests.fuzz_routes import House, forms_of, one

HANDS, EACH = 8, 250
BUSY = 503  #: Somebody else was writing for too long: an honest answer when eight write at once.


def round_of(seed):
    """Send them; gives what was answered with a fault."""
    gc.set_threshold(200, 5, 5)
    wrong = []
    with tempfile.TemporaryDirectory() as folder:
        house = House(folder, unpacked())
        rules = [rule for rule in house.app.url_map.iter_rules() if rule.endpoint != "static"]
        forms = forms_of(house.client)
        house.fresh()

        def hand(number):
            chance = random.Random(f"{seed} {number}")
            own = SimpleNamespace(app=house.app, client=house.app.test_client())
            for _ in range(EACH):
                request, status = one(own, rules, forms, chance)
                if status >= 500 and status != BUSY:
                    wrong.append((status, str(request)[:300]))

        hands = [threading.Thread(target=hand, args=(number,)) for number in range(HANDS)]
        for each in hands:
            each.start()
        for each in hands:
            each.join()
        wrong += [(0, fault[-600:]) for fault in house.faults.found]
        house.database.close()
    return wrong


def main(rounds):
    """Run each round in a process of its own; gives how many went wrong."""
    wrong = 0
    for seed in range(rounds):
        ended = subprocess.run([sys.executable, "-X", "faulthandler", __file__, "round", str(seed)], env={**os.environ, "PYTHONMALLOC": "debug"}, check=False)  # fmt: skip
        print(f"round {seed}: {'well' if ended.returncode == 0 else f'ended with {ended.returncode}'}", flush=True)
        wrong += ended.returncode != 0
    return wrong


if __name__ == "__main__":
    if sys.argv[1:2] == ["round"]:
        FOUND = round_of(int(sys.argv[2]))
        for found in FOUND[:10]:
            print(*found, sep="\n")
        sys.exit(bool(FOUND))
    sys.exit(bool(main(int(sys.argv[1]) if sys.argv[1:] else 10)))
