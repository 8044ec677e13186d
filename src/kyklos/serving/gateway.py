"""Between a request as it came and the application: what the standard gateway (WSGI) wants, and what comes back."""

from __future__ import annotations

import io
import json
import logging
import sys
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import IO, Any
from urllib.parse import unquote_to_bytes, urlsplit

log = logging.getLogger(__name__)
Headers = Sequence[tuple[bytes, bytes]]


@dataclass(slots=True)
class WholeRequest:
    """A request whose body is there."""

    method: str
    target: str
    version: str
    headers: Headers
    body: IO[bytes]
    length: int
    client: str  #: Address of who asks.
    scheme: str
    server: tuple[str, int]


class FileAnswer:
    """A file that is sent by the listening thread, while no other waits for a slow reader."""

    def __init__(self, file: IO[bytes], block: int = 65_536) -> None:
        """Take an open file; it is closed once it was sent."""
        self.file, self.block = file, block

    def __iter__(self) -> FileAnswer:
        return self

    def __next__(self) -> bytes:
        if data := self.file.read(self.block):
            return data
        raise StopIteration

    def close(self) -> None:
        """Close the file."""
        self.file.close()


@dataclass(slots=True)
class Answered:
    """An answer, whole, or with a file to send."""

    status: int
    headers: list[tuple[bytes, bytes]]
    body: bytes = b""
    file: FileAnswer | None = None


def plain(status: int, sentence: str, **headers: str) -> Answered:
    """Make an answer of one sentence."""
    body = sentence.encode()
    values = {"Content-Type": "text/plain; charset=utf-8", "Content-Length": str(len(body)), **headers}
    return Answered(status, [(key.replace("_", "-").encode(), value.encode()) for key, value in values.items()], body)


def as_problem(answered: Answered) -> Answered:
    """Put a sentence as a problem in JSON, for a program that asks."""
    kept = [(name, value) for name, value in answered.headers if name.lower() not in {b"content-type", b"content-length"}]
    body = json.dumps({"type": "about:blank", "title": "Not possible", "status": answered.status, "detail": answered.body.decode()}).encode()
    told = [(b"Content-Type", b"application/problem+json"), (b"Content-Length", str(len(body)).encode())]
    return Answered(answered.status, [*kept, *told], body)


def environ_of(asked: WholeRequest) -> dict[str, Any]:
    """Put a request as the gateway wants it.

    Raises:
        ValueError: If its address is none.
    """
    parts = urlsplit(asked.target) if not asked.target.startswith("/") else None
    if parts is not None and parts.scheme not in {"http", "https"}:
        raise ValueError("no address")
    target = asked.target if parts is None else f"{parts.path or '/'}?{parts.query}"
    path, _, query = target.partition("?")
    environ: dict[str, Any] = {
        "REQUEST_METHOD": asked.method,
        "SCRIPT_NAME": "",
        "PATH_INFO": unquote_to_bytes(path.partition("#")[0]).decode("latin-1"),
        "QUERY_STRING": query.partition("#")[0],
        "SERVER_PROTOCOL": f"HTTP/{asked.version}",
        "SERVER_NAME": asked.server[0],
        "SERVER_PORT": str(asked.server[1]),
        "REMOTE_ADDR": asked.client,
        "CONTENT_LENGTH": str(asked.length),
        "wsgi.version": (1, 0),
        "wsgi.url_scheme": asked.scheme,
        "wsgi.input": asked.body,
        "wsgi.input_terminated": True,
        "wsgi.errors": sys.stderr,
        "wsgi.multithread": True,
        "wsgi.multiprocess": False,
        "wsgi.run_once": False,
        "wsgi.file_wrapper": FileAnswer,
    }
    for raw, content in asked.headers:
        name, value = raw.decode("ascii").upper(), content.decode("latin-1")
        if "_" in name or name in {"CONTENT-LENGTH", "TRANSFER-ENCODING"}:
            continue
        key = "CONTENT_TYPE" if name == "CONTENT-TYPE" else f"HTTP_{name.replace('-', '_')}"
        joint = "; " if name == "COOKIE" else ", "
        environ[key] = f"{environ[key]}{joint}{value}" if key in environ and key != "CONTENT_TYPE" else value
    return environ


def answer(app: Any, environ: dict[str, Any]) -> Answered:
    """Ask the application; what it cannot answer is a sentence, and is written to the log."""
    values: dict[str, Any] = {}

    def start(status: str, headers: list[tuple[str, str]], _: Any = None) -> Callable[[bytes], object]:
        values.update(status=int(status.split(" ", 1)[0]), headers=headers)
        return io.BytesIO().write

    try:
        result: Iterable[bytes] = app(environ, start)
        headers = [(key.encode("latin-1"), value.encode("latin-1")) for key, value in values["headers"]]
        if isinstance(result, FileAnswer):
            return Answered(values["status"], headers, file=result)
        try:
            return Answered(values["status"], headers, b"".join(result))
        finally:
            getattr(result, "close", lambda: None)()
    except Exception:
        log.exception("A request could not be answered.")
        return plain(500, "Something went wrong in Kyklos itself. Nothing half-done was saved.")
