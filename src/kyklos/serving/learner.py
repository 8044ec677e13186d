"""Who learns what brews taught while the house is served: beside the pages, so that none waits for it."""

from __future__ import annotations

import logging
from threading import Event, Thread

from ..actions import learning
from ..store.file.database import Database

SETTLES_S = 3.0  #: After a start. [s]
log = logging.getLogger(__name__)


class Learner:
    """Learns after each write; in its own thread once it is started, else at once."""

    def __init__(self, database: Database) -> None:
        """Make one that learns at once."""
        self._database = database
        self._woken, self._over = Event(), Event()
        self._thread: Thread | None = None

    def start(self) -> None:
        """Learn in a thread of its own from now on, beginning with what an older version taught."""
        self._woken.set()
        self._thread = Thread(target=self._run, name="learner", daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """Let the thread end after the lesson that it is at."""
        self._over.set()
        self._woken.set()
        if self._thread is not None:
            self._thread.join()

    def nudge(self) -> None:
        """Tell that something was written."""
        if self._thread is None:
            learning.catch_up(self._database)
        else:
            self._woken.set()

    def _run(self) -> None:
        self._over.wait(SETTLES_S)  # the first page comes first
        fresh = True
        while self._woken.wait() and not self._over.is_set():
            self._woken.clear()
            try:
                if fresh:
                    learning.new_rules(self._database)
                    fresh = False
                while not self._over.is_set() and learning.catch_up(self._database, 1):
                    self._over.wait(0.05)  # pages come first
            except Exception:
                log.exception("What brews taught could not be learned; it is tried again after the next write.")
