"""Small files of the household's folder: its owner's alone, written whole or not at all; and what killed programs left behind."""

from __future__ import annotations

import contextlib
import os
import re
import secrets
import shutil
import time
from pathlib import Path

PART = ".part"
SCRATCH, MAKING = "kyklos-import-", "sample-making-"  #: How a folder for an import, or for the sample, begins; the process follows.
OLD_S = 86_400.0  #: What is half written for so long is left over, whoever wrote it. [s]
_PART = re.compile(r"\.(?:.+?)(?:\.(\d+)-[0-9a-f]+)?\.part(?:-journal|-wal|-shm)?")
_SCRATCH = re.compile(rf"(?:{SCRATCH}|{MAKING})(?:(\d+)-)?.*")


def give_to_owner(path: Path) -> None:
    """Give what the system's keeper (root) made to the owner of the folder, who else could not use it."""
    if os.geteuid() == 0:
        owner = path.parent.stat()
        with contextlib.suppress(OSError):  # a disk that knows no owners
            os.chown(path, owner.st_uid, owner.st_gid)


def own_folder(folder: Path) -> None:
    """Make a folder for its owner alone, whatever the umask; one that is there already stays as it is.

    Raises:
        OSError: If it cannot be made.
    """
    if folder.is_dir():
        return
    folder.mkdir(parents=True)
    folder.chmod(0o700)
    give_to_owner(folder)


def part_of(target: Path) -> Path:
    """Name a file for what is half written; its name tells by which process."""
    return target.with_name(f".{target.name}.{os.getpid()}-{secrets.token_hex(4)}{PART}")


def create_part(part: Path) -> int:
    """Make a half-written file of the owner's alone, and open it."""
    number = os.open(part, os.O_RDWR | os.O_CREAT | os.O_EXCL, 0o600)
    os.fchmod(number, 0o600)
    return number


def settle(folder: Path) -> None:
    """Write a folder's own entries down, where the system can."""
    with contextlib.suppress(OSError):
        number = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(number)
        finally:
            os.close(number)


def write_whole(path: Path, content: bytes) -> None:
    """Write a small file whole or not at all, for its owner's eyes only; what was there stays until then.

    Raises:
        OSError: If there is no room or no right; the old content is as it was.
    """
    part = part_of(path)
    try:
        with os.fdopen(create_part(part), "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        give_to_owner(part)
        part.replace(path)
        settle(path.parent)
    finally:
        with contextlib.suppress(OSError):
            part.unlink(missing_ok=True)


def clear_litter(*folders: Path) -> list[Path]:
    """Remove what killed backups and imports left half written; what a living process writes stays.

    Returns: What was removed.
    """
    gone = []
    for folder in dict.fromkeys(folders):
        for path in sorted(folder.iterdir()) if folder.is_dir() else ():
            if _is_litter(path):
                with contextlib.suppress(OSError):
                    shutil.rmtree(path) if path.is_dir() else path.unlink()
                    gone.append(path)
    return gone


def _is_litter(path: Path) -> bool:
    found = _SCRATCH.fullmatch(path.name) if path.is_dir() else _PART.fullmatch(path.name)
    if found is None or path.is_symlink():
        return False
    with contextlib.suppress(OSError):
        if time.time() - path.stat().st_mtime > OLD_S:
            return True
    return found[1] is None or not _runs_elsewhere(int(found[1]))


def _runs_elsewhere(process: int) -> bool:
    """Return whether another living process has a number; this one writes nothing while it clears."""
    if process == os.getpid():
        return False
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except (OSError, OverflowError):
        return True
    return True
