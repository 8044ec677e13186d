"""The server: who may connect, who is a member, and the few threads that answer; members have threads of their own."""

from __future__ import annotations

import asyncio
import contextlib
import logging
import queue
import socket
import ssl
import threading
import time
from collections.abc import Callable, Coroutine
from pathlib import Path
from typing import Any

from .clients import client_of, counted_as
from .connection import Connection
from .gateway import Answered, WholeRequest, answer, environ_of, plain
from .limits import ALL_TOGETHER, ANSWERED, PER_ADDRESS, Counts

THREADS, STRANGERS_THREADS = 12, 3
REMEMBERED_S = 3600.0  #: An address from which a member asked is given a member's time for so long. [s]
MOST_REMEMBERED = 1000
ENDS_S = 2.0  #: What is being answered has so long when the server stops. [s]
HANDSHAKE_S = 5.0  #: [s]
log = logging.getLogger(__name__)
Knows = Callable[[dict[str, str], str, str], bool]


class Workers:
    """Threads that do not keep a program alive that ended."""

    def __init__(self, count: int, name: str) -> None:
        """Start the threads that answer."""
        self._tasks: queue.SimpleQueue[Callable[[], None] | None] = queue.SimpleQueue()
        self._count = count
        for number in range(count):
            threading.Thread(target=self._work, name=f"{name} {number}", daemon=True).start()

    def _work(self) -> None:
        while (task := self._tasks.get()) is not None:
            try:
                task()
            except Exception:
                log.exception("A request was not answered.")

    def do(self, task: Callable[[], None]) -> None:
        """Let the next free thread do something."""
        self._tasks.put(task)

    def end(self) -> None:
        """Let the threads end after what they are at."""
        for _ in range(self._count):
            self._tasks.put(None)


class HouseServer:
    """Serves a household."""

    loop: asyncio.AbstractEventLoop

    def __init__(self, app: Any, bound: socket.socket, tls: ssl.SSLContext | None, proxy: str, knows: Knows) -> None:
        """Make one on a bound socket; `run` serves it."""
        self._app, self._socket, self._tls, self._proxy, self._knows = app, bound, tls, proxy, knows
        self.address: tuple[str, int] = bound.getsockname()[:2]
        self._open: set[Connection] = set()
        self._connections, self._requests = Counts(), Counts()
        self._members: dict[str, float] = {}
        self._tasks: set[asyncio.Task[None]] = set()
        self._stop: asyncio.Event | None = None
        self._stopped = False
        self._ready = threading.Event()

    @property
    def port(self) -> int:
        """The port it answers on."""
        return int(self.address[1])

    async def serve(self) -> None:
        """Serve until it is stopped."""
        self.loop, self._stop = asyncio.get_running_loop(), asyncio.Event()
        self.loop.set_exception_handler(_told)
        self._workers, self._strangers = Workers(THREADS, "member"), Workers(STRANGERS_THREADS, "stranger")
        patience = HANDSHAKE_S if self._tls is not None else None
        listening = await self.loop.create_server(
            lambda: Connection(self), sock=self._socket, backlog=128, ssl=self._tls, ssl_handshake_timeout=patience
        )
        self._ready.set()
        if self._stopped:
            self._stop.set()
        try:
            await self._stop.wait()
        finally:
            listening.close()
            for connection in list(self._open):
                connection.transport.close()
            over = time.monotonic() + ENDS_S
            while self._open and time.monotonic() < over:
                await asyncio.sleep(0.02)
            self._workers.end()
            self._strangers.end()

    def stop(self) -> None:
        """Stop serving, from any thread."""
        self._stopped = True
        if self._stop is not None:
            with contextlib.suppress(RuntimeError):  # it ended already
                self.loop.call_soon_threadsafe(self._stop.set)

    def open_one(self, connection: Connection) -> int:
        """Count a connection; gives how many its address has, a proxy none."""
        self._open.add(connection)
        count = self._connections.add(connection.who)
        if self._connections.total > ALL_TOGETHER:
            return PER_ADDRESS + ANSWERED + 1
        return 0 if self.is_proxy(connection.peer) else count

    def close_one(self, connection: Connection) -> None:
        """Count a connection no more."""
        if connection in self._open:
            self._open.discard(connection)
            self._connections.remove(connection.who)

    def ask_one(self, client: str, peer: str) -> int:
        """Count a request that comes through the proxy; gives how many its client has under way."""
        return self._requests.add(counted_as(client)) if self.is_proxy(peer) else 0

    def answered_one(self, client: str, peer: str) -> None:
        """Count such a request no more."""
        if self.is_proxy(peer):
            self._requests.remove(counted_as(client))

    def is_proxy(self, peer: str) -> bool:
        """Return whether an address is the declared proxy's."""
        return bool(self._proxy) and peer == self._proxy

    def client_of(self, peer: str, headers: list[tuple[bytes, bytes]]) -> str:
        """Return whose connection or request it is: a declared proxy tells, and one that names nobody is somebody."""
        words = ", ".join(value.decode("latin-1") for name, value in headers if name == b"x-forwarded-for")
        return client_of(peer, words, self._proxy)

    def knows(self, headers: list[tuple[bytes, bytes]], client: str, scheme: str) -> bool:
        """Return whether a request is a member's."""
        values = {name.decode("ascii").lower(): value.decode("latin-1") for name, value in headers if name in {b"cookie", b"host", b"authorization"}}
        try:
            return self._knows(values, client, scheme)
        except Exception:
            log.exception("It could not be told who asks; they count as a stranger.")
            return False

    def is_members(self, who: str) -> bool:
        """Return whether a member asked from an address lately."""
        return time.monotonic() - self._members.get(who, float("-inf")) < REMEMBERED_S

    def note_member(self, who: str) -> None:
        """Remember that a member asked from an address."""
        self._members.pop(who, None)
        self._members[who] = time.monotonic()
        while len(self._members) > MOST_REMEMBERED:
            del self._members[next(iter(self._members))]

    def spawn(self, work: Coroutine[Any, Any, None]) -> None:
        """Let the listening thread do something bit by bit."""
        task = self.loop.create_task(work)
        self._tasks.add(task)
        task.add_done_callback(self._tasks.discard)

    def answer(self, connection: Connection, asked: WholeRequest, member: bool) -> None:
        """Let a thread answer a request."""

        def work() -> None:
            answered: Answered
            try:
                answered = answer(self._app, environ_of(asked))
            except ValueError:
                answered = plain(400, "This request cannot be read.")
            with contextlib.suppress(RuntimeError):  # the server ended meanwhile
                self.loop.call_soon_threadsafe(connection.finish, answered)

        (self._workers if member else self._strangers).do(work)


def _told(_: asyncio.AbstractEventLoop, context: dict[str, Any]) -> None:
    """Keep quiet about clients that went away, and about nothing else."""
    problem = context.get("exception")
    if not isinstance(problem, ConnectionError | ssl.SSLError | TimeoutError):
        log.error("%s", context.get("message"), exc_info=problem)


def make(
    app: Any, host: str, port: int, certificate: tuple[Path, Path] | None = None, proxy: str = "", knows: Knows | None = None
) -> HouseServer:
    """Make a server and bind it.

    Args:
        app: The application.
        host, port: Where it answers; port 0 takes a free one.
        certificate: Certificate and key, for https.
        proxy: Address of a declared reverse proxy; empty: there is none.
        knows: Tells by cookie, host and token, client and scheme whether a request is a member's; everybody's unless given.

    Raises:
        OSError: If the port is taken.
    """
    tls = None
    if certificate is not None:
        tls = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        tls.minimum_version = ssl.TLSVersion.TLSv1_2
        tls.load_cert_chain(str(certificate[0]), str(certificate[1]))
    family = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM, flags=socket.AI_PASSIVE)[0][0]
    bound = socket.create_server((host, port), family=family, backlog=128)
    return HouseServer(app, bound, tls, proxy, knows or (lambda *_: True))


def run(made: HouseServer) -> None:
    """Serve until interrupted."""
    asyncio.run(made.serve())
