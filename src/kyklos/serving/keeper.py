"""Who keeps the household while it is served: a backup a day, a look at the file each week, a word when room runs short."""

from __future__ import annotations

import logging
from datetime import datetime, timedelta
from threading import Event, Thread

from ..clock import Clock
from ..store.file import keeping
from ..store.file.database import Database

SETTLES_S, EVERY_S = 20.0, 600.0  #: After a start, and between looks. [s]
WEEK = timedelta(days=7)
log = logging.getLogger(__name__)


class Keeper:
    """Backs up and looks after a household's file, in its own thread once it is started."""

    def __init__(self, database: Database, clock: Clock) -> None:
        """Make one that does nothing yet."""
        self._database, self._clock = database, clock
        self._over = Event()
        self._thread: Thread | None = None
        self._looked: datetime | None = None
        self.says = ""  #: What is wrong, for every page; empty: nothing.

    def start(self) -> None:
        """Begin."""
        self._thread = Thread(target=self._run, name="keeper", daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """End after the task at hand."""
        self._over.set()
        if self._thread is not None:
            self._thread.join(5)

    def _run(self) -> None:
        wait = SETTLES_S
        while not self._over.wait(wait):
            wait = EVERY_S
            try:
                self.look(self._clock())
            except Exception:
                log.exception("The household's file could not be looked after; it is tried again.")

    def look(self, now: datetime) -> None:
        """Do what is due now."""
        path, folder = self._database.path, self._database.backups
        said = []
        if keeping.due(folder, now):
            try:
                keeping.make(path, folder, keeping.DAILY, now)
            except keeping.KeepingError as problem:
                said.append(str(problem))
        if self._looked is None or now - self._looked >= WEEK:
            self._looked = now
            wrong = keeping.whats_wrong(path)
            if wrong and not wrong.spoilt:
                said.append(f"The household's file could not be looked at: {wrong}. It is tried again next week.")
            elif wrong:
                last = next(iter(keeping.listed(folder)), None)
                back = f" Go back to the backup of {last.at:%-d %B, %H:%M} UTC: stop Kyklos, then kyklos restore {last.path}" if last else ""
                said.append(f"The household's file: {wrong}.{back}")
        free = keeping.free_bytes(path.parent)
        if free < keeping.LEAST_FREE:
            said.append(f"Only {free / 1e6:.0f} MB are free where the household is kept: make room before something is lost.")
        self.says = " ".join(said)
