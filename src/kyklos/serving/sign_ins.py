"""Sign-ins of browsers, and patience with those who guess: kept in small files beside the household, readable by its owner."""

from __future__ import annotations

import contextlib
import hashlib
import json
import secrets
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict, dataclass, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

from ..store.file.own import write_whole

MOST_SIGN_INS = 50  #: The one used longest ago makes room.
MOST_MET = 200  #: Devices that signed in some time.
USED_EVERY = timedelta(minutes=5)  #: So often the last use of a device is written down.
FREE_TRIES, FREE_HOUSE = 5, 20  #: Wrong passwords before the first wait: of one address, of all together.
FIRST_WAIT = timedelta(seconds=10)
LONGEST_WAIT = timedelta(minutes=15)
GROWTH = 1.5  #: Each further wrong one waits so many times longer.
FORGET = timedelta(days=1)
MOST_ADDRESSES = 1000
_BROWSERS = (("Firefox", "Firefox"), ("Edg/", "Edge"), ("Chrome/", "Chrome"), ("Safari/", "Safari"))
_KINDS = (("iPhone", "a phone"), ("iPad", "a tablet"), ("Android", "a phone"), ("Macintosh", "a computer"), ("Windows", "a computer"), ("Linux", "a computer"))  # fmt: skip


class SmallFile:
    """A few facts in one small file: read anew when another program wrote it, written whole or not at all."""

    def __init__(self, path: Path | None) -> None:
        """Keep them at a path; None: in memory only."""
        self._path, self._seen = path, (-1, -1)
        self._facts: dict[str, object] = {}
        self._lock = threading.RLock()

    def _read(self) -> dict[str, object]:
        if self._path is None:
            return self._facts
        try:
            status = self._path.stat()
            if (status.st_mtime_ns, status.st_size) != self._seen:
                facts = json.loads(self._path.read_text("utf-8"))
                self._facts, self._seen = facts if isinstance(facts, dict) else {}, (status.st_mtime_ns, status.st_size)
        except FileNotFoundError:
            self._facts, self._seen = {}, (-1, -1)
        except (OSError, ValueError):
            self._facts = {}
        return self._facts

    @contextmanager
    def changing(self) -> Iterator[dict[str, object]]:
        """Let one caller at a time change the facts."""
        with self._lock:
            facts = dict(self._read())
            yield facts
            self._facts = facts
            if self._path is None:
                return
            with contextlib.suppress(OSError):  # a full disk: they hold until the next start
                write_whole(self._path, json.dumps(facts).encode())
                status = self._path.stat()
                self._seen = (status.st_mtime_ns, status.st_size)

    def facts(self) -> dict[str, object]:
        """Return the facts as they are now."""
        with self._lock:
            return dict(self._read())


@dataclass(frozen=True, slots=True)
class SignIn:
    """A browser that is signed in."""

    key: str  #: A hash of what its cookie carries.
    name: str
    since: str  #: UTC, ISO.
    used: str  #: UTC, ISO.
    address: str

    @property
    def used_at(self) -> datetime:
        """When the sign-in was used last."""
        return datetime.fromisoformat(self.used)


def name_of(agent: str) -> str:
    """Name a device by what its browser says of itself.

    >>> name_of("Mozilla/5.0 (iPhone; CPU) AppleWebKit Version/17 Safari/604")
    'Safari on a phone'
    """
    browser = next((name for mark, name in _BROWSERS if mark in agent), "A browser")
    kind = next((name for mark, name in _KINDS if mark in agent), "a device")
    return f"{browser} on {kind}"


def hashed(token: str) -> str:
    """Return what is kept of a device's token: nobody signs in with it."""
    return hashlib.sha256(token.encode("utf-8", "replace")).hexdigest()


def _used(entry: object) -> str:
    return str(entry.get("used", "")) if isinstance(entry, dict) else ""


FILE, FILE_BEFORE_0_5 = "sign-ins.json", "devices.json"


def file_in(folder: Path) -> Path:
    """Return where a household's sign-ins are kept; a file of the name they had before 0.5.0 takes the new one."""
    path, before = folder / FILE, folder / FILE_BEFORE_0_5
    if before.exists() and not path.exists():
        before.replace(path)
    return path


class SignIns:
    """The browsers that are signed in."""

    def __init__(self, path: Path | None) -> None:
        """Keep them at a path; None: in memory only."""
        self._file = SmallFile(path)
        self._met = SmallFile(path.with_name("met.json") if path is not None else None)

    def _all(self) -> dict[str, SignIn]:
        out = {}
        for key, entry in self._file.facts().items():
            with contextlib.suppress(TypeError, ValueError):
                if isinstance(entry, dict):
                    device = SignIn(**entry)
                    datetime.fromisoformat(device.used)
                    out[key] = device
        return out

    def listed(self) -> list[SignIn]:
        """List the sign-ins, the one used last first."""
        return sorted(self._all().values(), key=lambda one: one.used, reverse=True)

    def sign_in(self, agent: str, address: str, now: datetime) -> str:
        """Sign a device in; gives the token that its cookie carries."""
        token = secrets.token_urlsafe(32)
        moment = now.astimezone(UTC).isoformat()
        device = SignIn(hashed(token), name_of(agent), moment, moment, address[:60])
        with self._file.changing() as facts:
            facts[device.key] = asdict(device)
            for old in sorted(facts, key=lambda key: _used(facts[key]))[:-MOST_SIGN_INS]:
                del facts[old]
        return token

    def knows(self, token: str, address: str, now: datetime, longest: timedelta) -> bool:
        """Return whether a device is signed in still, and note that it was used."""
        device = self._all().get(hashed(token)) if token else None
        if device is None:
            return False
        if now - datetime.fromisoformat(device.since) > longest:
            self.end(device.key)
            return False
        if abs(now - device.used_at) >= USED_EVERY or device.address != address[:60]:
            with self._file.changing() as facts:
                if device.key in facts:
                    facts[device.key] = asdict(replace(device, used=now.astimezone(UTC).isoformat(), address=address[:60]))
        return True

    def meet(self, now: datetime) -> str:
        """Remember that a device signed in; gives what its long cookie carries, which is no right in itself."""
        token = secrets.token_urlsafe(24)
        with self._met.changing() as facts:
            facts[hashed(token)] = now.astimezone(UTC).isoformat()
            for old in sorted(facts, key=lambda key: str(facts[key]))[:-MOST_MET]:
                del facts[old]
        return token

    def met(self, token: str) -> str:
        """Return the key of a device that signed in before; empty: it did not."""
        key = hashed(token) if token else ""
        return key if key in self._met.facts() else ""

    def end(self, key: str) -> bool:
        """End a device's session; False: there was none of that key."""
        with self._file.changing() as facts:
            return facts.pop(key, None) is not None

    def end_all(self) -> None:
        """End every session: the password changed."""
        with self._file.changing() as facts:
            facts.clear()


class Patience:
    """Counts wrong passwords, of each address and of the house as a whole; after a few the waits grow slowly.

    It is kept over a restart. A clock that was set back never makes a wait longer than the longest.
    """

    def __init__(self, path: Path | None = None) -> None:
        """Keep the counts at a path; None: in memory only."""
        self._file = SmallFile(path)

    @staticmethod
    def _told(facts: dict[str, object], who: str, now: datetime) -> tuple[int, datetime]:
        entry = facts.get(who)
        if not isinstance(entry, list) or len(entry) != 2:
            return 0, now
        try:
            moment, count = datetime.fromisoformat(str(entry[1])), max(0, int(entry[0]))
        except (TypeError, ValueError):
            return 0, now
        moment = min(moment, now)  # a clock set back: as if it were now
        return (0, now) if now - moment > FORGET else (count, moment)

    def _left(self, facts: dict[str, object], who: str, free: int, now: datetime) -> timedelta:
        times, last = self._told(facts, who, now)
        if times < free:
            return timedelta(0)
        pause = min(LONGEST_WAIT, FIRST_WAIT * GROWTH ** min(times - free, 40))
        return max(timedelta(0), last + pause - now)

    def wait(self, who: str, now: datetime, stranger: bool = True) -> timedelta:
        """Return how long somebody still waits, for themselves or for the house.

        Args:
            who: An address, or a device that signed in before.
            now: UTC.
            stranger: The house's own wait counts too, unless nothing wrong came from there yet.
        """
        facts = self._file.facts()
        own = self._left(facts, who, FREE_TRIES, now)
        if not stranger or self._told(facts, who, now)[0] == 0:
            return own
        return max(own, self._left(facts, "*", FREE_HOUSE, now))

    def wrong(self, who: str, now: datetime, stranger: bool = True) -> None:
        """Note a wrong password; a stranger's counts for the house too."""
        with self._file.changing() as facts:
            for key in (who, "*") if stranger else (who,):
                times, _ = self._told(facts, key, now)
                facts[key] = [times + 1, now.astimezone(UTC).isoformat()]
            if len(facts) > MOST_ADDRESSES:
                for old in sorted(facts, key=lambda key: str(facts[key]))[: len(facts) - MOST_ADDRESSES]:
                    del facts[old]

    def right(self, who: str) -> None:
        """Forget what an address got wrong before."""
        with self._file.changing() as facts:
            facts.pop(who, None)
