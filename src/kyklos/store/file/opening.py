"""The one door to a household's file: SQLite opens it here, and nothing else in the program does.

On POSIX a program that opens a file by hand and closes it drops every lock it holds on that file, SQLite's too. Another program that
then closes the file takes the log away, and what is written next is lost. So nothing but SQLite may open it while it is served.
"""

from __future__ import annotations

import os
import shutil
import sqlite3
import threading
from pathlib import Path
from urllib.parse import quote

from ...core.base import KyklosError
from .own import give_to_owner

BESIDE = ("-wal", "-shm")  #: What SQLite keeps beside a file in use.
LOST = (
    "The household's file was moved, replaced or deleted while Kyklos runs: this was not saved. Stop Kyklos, put the file back or restore "
    "a backup (kyklos restore), then start it again."
)
Identity = tuple[tuple[int, int], ...]


class StorageError(KyklosError):
    """A household's file cannot be used: with a sentence that says what is safe and what to do next."""


class LostFileError(StorageError):
    """The file that was opened is no longer the file at its path."""

    def __init__(self) -> None:
        super().__init__(LOST)


def beside(path: Path, end: str) -> Path:
    """Return the path of what stands beside a file, like its log."""
    return path.with_name(f"{path.name}{end}")


def connect(path: Path, mode: str, timeout: float = 10.0, **more: str) -> sqlite3.Connection:
    """Open a file by SQLite; transactions are begun by hand.

    Args:
        path: Never made by opening it, unless the mode says so.
        mode: `ro` read only, `rw` to write, `rwc` to make it too.
        timeout: How long to wait for others. [s]
        more: Further words of SQLite's address.
    """
    words = "&".join(f"{key}={value}" for key, value in {"mode": mode, **more}.items())
    return sqlite3.connect(
        f"file:{quote(str(path.absolute()))}?{words}", uri=True, timeout=timeout, isolation_level=None, check_same_thread=False
    )


def reading(path: Path, timeout: float = 10.0) -> sqlite3.Connection:
    """Open a file to read it, also while it is served."""
    return connect(path, "ro", timeout)


def reading_untouched(path: Path) -> sqlite3.Connection:
    """Open a file that nobody serves, such as a backup, so that nothing is written beside it either."""
    log = beside(path, "-wal")
    still = not log.exists() or log.stat().st_size == 0
    return connect(path, "ro", immutable="1") if still else connect(path, "ro")


def create(path: Path) -> None:
    """Make an empty file for a household that begins, readable by its owner only.

    Raises:
        FileExistsError: If something is there already.
    """
    number = os.open(path, os.O_RDWR | os.O_CREAT | os.O_EXCL, 0o600)
    os.fchmod(number, 0o600)
    os.close(number)
    give_to_owner(path)


def copy_as_it_is(path: Path, target: Path) -> None:
    """Copy a damaged file with its log, byte for byte, while nobody serves it."""
    for end in ("", *BESIDE):
        if (source := beside(path, end)).exists():
            copy = beside(target, end)
            shutil.copyfile(source, copy)
            copy.chmod(0o600)
            give_to_owner(copy)


class Hold:
    """Keeps a file open as long as it is served, and knows whether it is still the one at its path.

    One connection stays open and holds SQLite's shared lock, so that no other program takes the log away.
    """

    def __init__(self, path: Path) -> None:
        """Make one that holds nothing yet."""
        self._path = path
        self._anchor: sqlite3.Connection | None = None
        self._opened: Identity = ()
        self._guard = threading.Lock()

    def take(self) -> None:
        """Hold the file from now on; held already, nothing happens.

        Raises:
            LostFileError: If another file stands in its place.
        """
        with self._guard:
            if self._anchor is None:
                anchor = connect(self._path, "rw")
                anchor.execute("PRAGMA journal_mode=WAL")
                anchor.execute("SELECT count(*) FROM sqlite_master").fetchone()
                self._anchor, self._opened = anchor, self._there()
        self.check()

    def check(self) -> None:
        """Pass while the file that was opened, its log included, is the one at the path.

        Raises:
            LostFileError: If it was moved, replaced or deleted.
        """
        if self._anchor is not None and self._there() != self._opened:
            raise LostFileError

    def lost(self) -> bool:
        """Return whether another file, or none, is at the path now."""
        return self._anchor is not None and self._there() != self._opened

    def release(self) -> None:
        """Let go of the file."""
        with self._guard:
            if self._anchor is not None:
                self._anchor.close()
            self._anchor, self._opened = None, ()

    def _there(self) -> Identity:
        """Return device and inode of the file, its log and its index; none of what is missing."""
        out = []
        for end in ("", *BESIDE):
            try:
                status = os.stat(f"{self._path}{end}")
            except OSError:
                continue
            out.append((status.st_dev, status.st_ino))
        return tuple(out)
