"""One connection: its requests are read whole by the listening thread, answered by another, and sent by the listening one.

How a request is cut out of what comes is `h11`'s work, which refuses what does not follow the standard.
"""

from __future__ import annotations

import asyncio
import contextlib
import tempfile
from email.utils import formatdate
from typing import IO, TYPE_CHECKING, Any

import h11

from .clients import counted_as
from .gateway import Answered, WholeRequest, as_problem, plain
from .limits import ANSWERED, MEMBER, PER_ADDRESS, STRANGER, RequestLimits

if TYPE_CHECKING:
    from .server import HouseServer

IN_MEMORY = 1_000_000  #: A larger body stands on the disk while it comes. [bytes]
LINGERS_S = 1.0  #: What still comes of a refused request is let pass for so long, so that its answer is read. [s]
FOR_PROGRAMS = b"/devices/v1"  #: Here a program asks, and no person.
TOO_MANY = "Too many connections at once from this address. Close some, then reload."
TOO_LARGE = "That was too much at once."


class Connection(asyncio.Protocol):
    """A connection, from its first letter to its last."""

    transport: asyncio.Transport
    peer = who = ""

    def __init__(self, server: HouseServer) -> None:
        """Wait to be connected."""
        self._server = server
        self._http = h11.Connection(h11.SERVER, max_incomplete_event_size=MEMBER.head_bytes)
        self._request: h11.Request | None = None
        self._body: IO[bytes] | None = None
        self._received = self._length = 0
        self._patience: RequestLimits = STRANGER
        self._deadline: asyncio.TimerHandle | None = None
        self._too_many = self._busy = self._over = self._counted = False
        self._client = ""
        self._drained = asyncio.Event()
        self._drained.set()

    def connection_made(self, transport: Any) -> None:
        """Count it, and give its first request its time."""
        self.transport = transport
        peer = transport.get_extra_info("peername")
        self.peer = str(peer[0]) if peer else ""
        self.who = counted_as(self.peer)
        bound = self._server.open_one(self)
        self._too_many = bound > PER_ADDRESS
        if bound > PER_ADDRESS + ANSWERED:
            self._abort()
            return
        self._patience = MEMBER if self._server.is_members(self.who) else STRANGER
        self._give(self._patience.head_s)

    def connection_lost(self, exc: Exception | None) -> None:
        """Forget a connection that was closed."""
        self._rest()
        self._drained.set()
        if not self._busy:
            self._let_go()
        self._server.close_one(self)

    def pause_writing(self) -> None:
        """Wait: the reader is slow."""
        self._drained.clear()

    def resume_writing(self) -> None:
        """Go on: the reader took what there was."""
        self._drained.set()

    def _give(self, seconds: float) -> None:
        self._rest()
        self._deadline = self._server.loop.call_later(seconds, self._late)

    def _rest(self) -> None:
        if self._deadline is not None:
            self._deadline.cancel()
            self._deadline = None

    def _late(self) -> None:
        self.transport.close() if self._over else self._abort()

    def _abort(self) -> None:
        self.transport.abort()

    def data_received(self, data: bytes) -> None:
        """Read what came."""
        if self._over:
            return
        if self._too_many:
            self._refuse(plain(429, TOO_MANY, Retry_After="2"))
            return
        if self._request is None and not self._busy and self._received == 0:
            self._give(self._patience.head_s)
        self._received += len(data)
        self._http.receive_data(data)
        self._go_on()
        if self._request is None and not self._busy and self._received > self._patience.head_bytes:
            self._refuse(plain(431, TOO_LARGE))

    def eof_received(self) -> bool:
        """Nothing more comes; what is being answered still is."""
        with contextlib.suppress(h11.RemoteProtocolError):
            self._http.receive_data(b"")
        return self._busy

    def _go_on(self) -> None:
        """Take what is there of the request; once all of it is, hand it on."""
        try:
            while not (self._busy or self._over or self.transport.is_closing()):
                event = self._http.next_event()
                if event is h11.NEED_DATA or event is h11.PAUSED:
                    return
                if isinstance(event, h11.Request):
                    self._begin(event)
                elif isinstance(event, h11.Data):
                    self._take(bytes(event.data))
                elif isinstance(event, h11.EndOfMessage):
                    self._hand_on()
                elif isinstance(event, h11.ConnectionClosed):
                    self.transport.close()
        except h11.RemoteProtocolError as problem:
            self._refuse(plain(problem.error_status_hint if problem.error_status_hint != 501 else 400, "This request cannot be read."))

    def _begin(self, request: h11.Request) -> None:
        """Look who asks, and how much is to come."""
        self._request = request
        headers = [(bytes(name), bytes(value)) for name, value in request.headers]
        self._client = self._server.client_of(self.peer, headers)
        if self._server.knows(headers, self._client, self._scheme(headers)):
            self._patience = MEMBER
            self._server.note_member(self.who)
        else:
            self._patience = STRANGER
        if len(request.target) + sum(len(name) + len(value) for name, value in headers) > self._patience.head_bytes:
            self._refuse(plain(431, TOO_LARGE))
            return
        declared = next((int(value) for name, value in headers if name == b"content-length"), 0)
        if declared > self._patience.body_bytes:
            self._refuse(plain(413, TOO_LARGE))
            return
        self._counted = True
        if self._server.ask_one(self._client, self.peer) > PER_ADDRESS:
            self._refuse(plain(429, TOO_MANY, Retry_After="2"))
            return
        if self._patience is MEMBER:
            self._give(MEMBER.body_s)
        self._body = tempfile.SpooledTemporaryFile(IN_MEMORY)  # noqa: SIM115, closed by `_let_go`
        self._length = 0
        if self._http.they_are_waiting_for_100_continue:
            self._write(self._http.send(h11.InformationalResponse(status_code=100, headers=[])))

    def _take(self, data: bytes) -> None:
        self._length += len(data)
        if self._length > self._patience.body_bytes:
            self._refuse(plain(413, TOO_LARGE))
        elif self._body is not None:
            self._body.write(data)

    def _hand_on(self) -> None:
        """Let a thread answer."""
        request, body = self._request, self._body
        if request is None or body is None:
            return
        self._rest()
        self._busy = True
        self.transport.pause_reading()
        body.seek(0)
        headers = [(bytes(name), bytes(value)) for name, value in request.headers]
        asked = WholeRequest(
            request.method.decode("ascii"),
            request.target.decode("latin-1"),
            request.http_version.decode("ascii"),
            headers,
            body,
            self._length,
            self._client,
            self._scheme(headers),
            self._server.address,
        )
        self._server.answer(self, asked, member=self._patience is MEMBER)

    def _scheme(self, headers: list[tuple[bytes, bytes]]) -> str:
        if self.transport.get_extra_info("sslcontext") is not None:
            return "https"
        found = next((value for name, value in headers if name == b"x-forwarded-proto"), b"")
        return "https" if found.strip().lower() == b"https" and self._server.is_proxy(self.peer) else "http"

    def _refuse(self, answered: Answered) -> None:
        """Answer without asking the application, then close."""
        self._rest()
        if self.transport.is_closing() or self._over:
            return
        if self._request is not None and self._request.target.startswith(FOR_PROGRAMS):
            answered = as_problem(answered)
        if self._http.our_state in {h11.IDLE, h11.SEND_RESPONSE}:
            with contextlib.suppress(h11.LocalProtocolError):
                self._send_whole(answered, close=True)
        self._over = True
        self._let_go()
        if self.transport.can_write_eof():
            self.transport.write_eof()
        self._give(LINGERS_S)

    def finish(self, answered: Answered) -> None:
        """Send an answer, and read on."""
        if self.transport.is_closing():
            if answered.file is not None:
                answered.file.close()
            self._let_go()
            return
        self._give(self._patience.idle_s)
        if answered.file is not None and not self._bodiless(answered.status):
            self._server.spawn(self._send_file(answered, answered.file))
            return
        if answered.file is not None:
            answered.file.close()
        try:
            self._send_whole(answered)
        except h11.LocalProtocolError:
            self._abort()
            return
        self._next()

    def _bodiless(self, status: int) -> bool:
        return status in {204, 304} or (self._request is not None and self._request.method == b"HEAD")

    def _head(self, answered: Answered, close: bool) -> bytes:
        headers = [(b"date", formatdate(usegmt=True).encode()), (b"server", b"Kyklos"), *answered.headers]
        known = {name.lower() for name, _ in headers}
        if b"content-length" not in known and answered.file is None and answered.status not in {204, 304}:
            headers.append((b"content-length", str(len(answered.body)).encode()))
        if close:
            headers.append((b"connection", b"close"))
        return self._http.send(h11.Response(status_code=answered.status, headers=headers)) or b""

    def _send_whole(self, answered: Answered, close: bool = False) -> None:
        out = self._head(answered, close)
        if not self._bodiless(answered.status):
            out += self._http.send(h11.Data(data=answered.body)) or b""
        self._write(out + (self._http.send(h11.EndOfMessage()) or b""))

    async def _send_file(self, answered: Answered, file: Any) -> None:
        """Send a file block by block, as fast as its reader takes it; one that takes nothing for a while is dropped."""
        try:
            self._write(self._head(answered, close=False))
            for block in file:
                self._write(self._http.send(h11.Data(data=block)))
                await self._drained.wait()
                if self.transport.is_closing():
                    return
                self._give(self._patience.idle_s)
            self._write(self._http.send(h11.EndOfMessage()))
            self._next()
        except (h11.LocalProtocolError, OSError):
            self._abort()
        finally:
            file.close()

    def _write(self, data: bytes | None) -> None:
        if data:
            self.transport.write(data)

    def _next(self) -> None:
        """Make ready for the next request, or close."""
        self._let_go()
        self._busy, self._request, self._received = False, None, 0
        if self._http.our_state is not h11.DONE or self._http.their_state is not h11.DONE:
            self.transport.close()
            return
        self._http.start_next_cycle()
        self.transport.resume_reading()
        self._go_on()

    def _let_go(self) -> None:
        """Close what was read of a request, and count it no more."""
        if self._body is not None:
            self._body.close()
            self._body = None
        if self._counted:
            self._counted = False
            self._server.answered_one(self._client, self.peer)
