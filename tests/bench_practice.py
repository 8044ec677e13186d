"""A hundred seasons of the practice kitchen: who follows Kyklos drinks more and wastes less than one who does anything, in at least ninety.

    python tests/bench_practice.py [seasons]        fails outside; also how many days a second run on one core
"""

import random
import sys
import time

from kyklos.core.practice import counsel
from kyklos.core.practice.moves import WAIT, RefusedMoveError, offered, play
from kyklos.core.practice.season import begin
from kyklos.core.practice.world import DAYS

SEASONS, WANTED, DAYS_A_SECOND = 100, 0.9, 30


def follow(seed):
    """Do what Kyklos says; gives what it came to."""
    season = begin(seed)
    while not season.over:
        season = play(season, counsel.counsel(season).letter)
    return season.counted


def anything(seed):
    """Do anything that is offered."""
    chance, season = random.Random(seed), begin(seed)
    while not season.over:
        try:
            season = play(season, chance.choice([move.letter for move in offered(season)] + [WAIT] * 3))
        except RefusedMoveError:
            season = play(season, WAIT)
    return season.counted


def main(seasons):
    """Play, print, and say whether it is as wanted."""
    started, season = time.process_time(), begin(0)
    while not season.over:
        season = play(season, WAIT)
    pace = DAYS / (time.process_time() - started)
    pairs = [(follow(seed), anything(seed)) for seed in range(seasons)]
    better = sum(mine.drunk > other.drunk and mine.wasted < other.wasted for mine, other in pairs)
    unsafe = sum(mine.unsafe for mine, _ in pairs)
    for name, of in (("follows Kyklos", 0), ("does anything", 1)):
        drunk, wasted, harmed = (sum(getattr(pair[of], what) for pair in pairs) / seasons for what in ("drunk", "wasted", "unsafe"))
        print(f"{name}: {drunk:.1f} L drunk, {wasted:.1f} L wasted, {harmed:.1f} bottles unsafe a season")
    print(f"better in {better} of {seasons}; {unsafe} bottles unsafe for who follows; {pace:.0f} days a second")
    return 0 if better >= WANTED * seasons and unsafe == 0 and pace >= DAYS_A_SECOND else 1


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else SEASONS))
