"""What the system or SQLite said when a file could not be used, in words; and whether the file itself is spoilt."""

from __future__ import annotations

import errno
import sqlite3

_SYSTEM = {
    errno.ENOSPC: "the disk is full",
    errno.EDQUOT: "the disk is full",
    errno.EFBIG: "the disk is full",
    errno.EACCES: "this user has no right to it",
    errno.EPERM: "this user has no right to it",
    errno.EROFS: "the disk can only be read",
    errno.EIO: "the disk did not answer",
    errno.ENOENT: "it is not there",
    errno.ENOTDIR: "a file is in the way of a folder",
    errno.EEXIST: "something of that name is there already",
    errno.EISDIR: "a folder is in its way",
}
_SQLITE = {
    sqlite3.SQLITE_FULL: "the disk is full",
    sqlite3.SQLITE_READONLY: "it can only be read",
    sqlite3.SQLITE_PERM: "this user has no right to it",
    sqlite3.SQLITE_BUSY: "another program is using it",
    sqlite3.SQLITE_LOCKED: "another program is using it",
    sqlite3.SQLITE_CANTOPEN: "it cannot be opened",
    sqlite3.SQLITE_IOERR: "the disk did not answer, or is full",
    sqlite3.SQLITE_CORRUPT: "it is damaged",
    sqlite3.SQLITE_NOTADB: "it is no household of Kyklos",
    sqlite3.SQLITE_CONSTRAINT: "a value is missing, doubled or outside its limits",
}
SPOILT = {sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB}


def primary_code(problem: BaseException) -> int:
    """Return the primary result code of SQLite in an error; 0: it has none."""
    return int(getattr(problem, "sqlite_errorcode", 0) or 0) & 0xFF


def is_spoilt(problem: BaseException) -> bool:
    """Return whether an error speaks of the file's content, rather than of disk, rights or another program."""
    return primary_code(problem) in SPOILT


def words_of(problem: BaseException) -> str:
    """Return what an error means, in a few words.

    >>> words_of(OSError(28, "No space left on device"))
    'the disk is full'
    """
    if isinstance(problem, OSError) and problem.errno in _SYSTEM:
        return _SYSTEM[problem.errno]
    if (code := primary_code(problem)) in _SQLITE:
        return _SQLITE[code]
    said = str(getattr(problem, "strerror", None) or problem) or type(problem).__name__
    return said[:1].lower() + said[1:].rstrip(".")
