"""Photos: checked, turned upright, made smaller, and stripped of place and camera data."""

from __future__ import annotations

import hashlib
import json
import subprocess
import sys
import threading
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from ...core.base import KyklosError

MOST_BYTES = 20_000_000
LONGEST_S = 40.0  #: For one picture. [s]
WORKER = Path(__file__).with_name("picture_worker.py")
UNREADABLE = "This file cannot be read as a photo: JPEG, PNG or WebP."


class PictureError(KyklosError):
    """The file is no picture that can be kept."""


@dataclass(frozen=True, slots=True)
class Picture:
    """A picture as it is kept: JPEG of pixels only."""

    large: bytes
    small: bytes
    sha: str
    width: int  #: [px]
    height: int  #: [px]
    taken: datetime | None = None  #: By the camera's own clock, which knows no zone; None: it does not say.


_ONE = threading.Lock()  #: One picture at a time is decoded: several together would not fit.


def prepared(content: bytes) -> Picture:
    """Check a picture, turn it upright and write it anew, so that nothing but its pixels is kept.

    A process of its own decodes it, with little room (`picture_worker.py`), before anything is written: decoding takes its time.

    Raises:
        PictureError: If it is too large, broken, or no JPEG, PNG or WebP.
    """
    if len(content) > MOST_BYTES:
        raise PictureError(f"The photo is larger than {MOST_BYTES // 1_000_000} MB.")
    with _ONE:
        out = _decoded(content)
    line, _, rest = out.partition(b"\n")
    head = json.loads(line)
    large = rest[: head["large"]]
    return Picture(large, rest[head["large"] :], hashlib.sha256(large).hexdigest(), head["width"], head["height"], _moment(head["taken"]))


def _moment(text: str) -> datetime | None:
    """Read a camera's moment; one that is none counts as not told."""
    try:
        return datetime.strptime(text, "%Y:%m:%d %H:%M:%S")
    except ValueError:
        return None


def _decoded(content: bytes) -> bytes:
    try:
        done = subprocess.run([sys.executable, "-I", str(WORKER)], input=content, capture_output=True, timeout=LONGEST_S, check=False)
    except subprocess.TimeoutExpired as problem:
        raise PictureError("The photo took too long to read. Save it smaller.") from problem
    except OSError as problem:
        raise PictureError("The photo could not be read now. Try again, or save it smaller.") from problem
    if done.returncode:
        said = done.stderr.decode("utf-8", "replace").strip().splitlines()
        raise PictureError(said[-1] if done.returncode == 1 and said else UNREADABLE)
    return done.stdout
