"""The server: https where wanted, so many connections an address, and nobody who sends half a request holds the house up."""

from __future__ import annotations

import contextlib
import ipaddress
import os
import socket
import ssl
import threading
import time
from collections import Counter
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from cheroot import server, wsgi
from cheroot.ssl.builtin import BuiltinSSLAdapter
from cheroot.workers import threadpool

THREADS = 32
PER_ADDRESS = 20  #: Connections of one address at once; a browser takes six or eight.
HEAD_SECONDS, BODY_SECONDS = 10.0, 300.0  #: A request's head, and all of it, must be there by then. [s]
SILENT_SECONDS = 8  #: Nothing was heard for so long: it is dropped. [s]
HEAD_BYTES = 32_768
LASTS_DAYS = 3650  #: A certificate of one's own. [d]
LOOK_EVERY = 1.0  #: [s]


class _Connection(server.HTTPConnection):
    """A connection that knows since when it is read from, and that is counted once."""

    reading_since: float | None = None
    head_done = False
    counted = ""
    gone: Callable[[_Connection], None] | None = None

    def communicate(self) -> Any:
        """Serve one request; from now on it is watched."""
        self.reading_since, self.head_done = time.monotonic(), False
        try:
            return super().communicate()  # type: ignore[no-untyped-call]
        finally:
            self.reading_since = None

    def close(self) -> None:
        """Close it, and let another one of its address in."""
        super().close()
        if self.gone is not None:
            self.gone(self)

    def cut(self) -> None:
        """Drop it at once, from outside."""
        with contextlib.suppress(OSError):
            self.socket.shutdown(socket.SHUT_RDWR)


class _Request(server.HTTPRequest):
    """A request that tells its connection when its head is there."""

    def parse_request(self) -> None:
        """Read the head."""
        super().parse_request()
        self.conn.head_done = True


_Connection.RequestHandlerClass = _Request


class _Pool(threadpool.ThreadPool):
    """Threads that do not keep a program alive that ended."""

    def _spawn_worker(self) -> Any:
        worker = threadpool.WorkerThread(self.server)  # type: ignore[no-untyped-call]
        worker.daemon = True
        worker.start()
        return worker


class HouseServer(wsgi.Server):
    """Serves a household."""

    ConnectionClass = _Connection

    def __init__(self, address: tuple[str, int], app: Any) -> None:
        """Make one; `prepare` binds it, `serve` runs it."""
        super().__init__(
            address, app, numthreads=THREADS, server_name="Kyklos", request_queue_size=128, timeout=SILENT_SECONDS, shutdown_timeout=2
        )
        self.requests = _Pool(self, min=THREADS)
        self.max_request_header_size = HEAD_BYTES
        self._open: set[_Connection] = set()
        self._count: Counter[str] = Counter()
        self._guard = threading.Lock()

    def process_conn(self, conn: Any) -> None:
        """Let a connection in, unless its address has too many already."""
        if not conn.counted:
            who = str(getattr(conn, "remote_addr", "") or "?")
            with self._guard:
                if self._count[who] >= PER_ADDRESS:
                    conn.cut()
                    conn.close()
                    return
                self._count[who] += 1
                self._open.add(conn)
            conn.counted, conn.gone = who, self._gone
        super().process_conn(conn)

    def _gone(self, conn: _Connection) -> None:
        with self._guard:
            if conn in self._open:
                self._open.discard(conn)
                self._count[conn.counted] -= 1
                if self._count[conn.counted] <= 0:
                    del self._count[conn.counted]

    def watch(self, stop: threading.Event) -> None:
        """Drop whoever sends half a request and no more."""
        while not stop.wait(LOOK_EVERY):
            now = time.monotonic()
            with self._guard:
                late = [conn for conn in self._open if _late(conn, now)]
            for conn in late:
                conn.cut()

    def error_log(self, msg: str = "", level: int = 20, traceback: bool = False) -> None:
        """Keep quiet about clients that went away."""

    @property
    def port(self) -> int:
        """The port it answers on."""
        return int(self.bind_addr[1])


def _late(conn: _Connection, now: float) -> bool:
    since = conn.reading_since
    return since is not None and now - since > (BODY_SECONDS if conn.head_done else HEAD_SECONDS)


class _Tls(BuiltinSSLAdapter):
    """Shakes hands in the thread that serves, so that a slow hand holds up nobody else."""

    def wrap(self, sock: Any) -> tuple[Any, dict[str, Any]]:
        """Wrap a socket; the handshake comes with the first read."""
        return self.context.wrap_socket(sock, server_side=True, do_handshake_on_connect=False), {"wsgi.url_scheme": "https"}


def make(app: Any, host: str, port: int, certificate: tuple[Path, Path] | None = None) -> HouseServer:
    """Make a server and bind it.

    Args:
        app: The application.
        host, port: Where it answers; port 0 takes a free one.
        certificate: Certificate and key, for https.
    """
    made = HouseServer((host, port), app)
    if certificate is not None:
        made.ssl_adapter = _Tls(str(certificate[0]), str(certificate[1]))
        made.ssl_adapter.context.minimum_version = ssl.TLSVersion.TLSv1_2
    made.prepare()
    return made


def run(made: HouseServer) -> None:
    """Serve until interrupted."""
    stop = threading.Event()
    threading.Thread(target=made.watch, args=(stop,), daemon=True, name="slow requests").start()
    try:
        made.serve()
    finally:
        stop.set()
        made.stop()


def own_certificate(folder: Path, names: tuple[str, ...]) -> tuple[Path, Path]:
    """Make a certificate of the household's own, once; readable by its owner only.

    Args:
        folder: The household's.
        names: Host names and addresses under which it answers.
    """
    certificate, key = folder / "certificate.pem", folder / "certificate-key.pem"
    if certificate.exists() and key.exists():
        return certificate, key
    from cryptography import x509
    from cryptography.hazmat.primitives import hashes, serialization
    from cryptography.hazmat.primitives.asymmetric import ec
    from cryptography.x509.oid import NameOID

    secret = ec.generate_private_key(ec.SECP256R1())
    subject = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Kyklos household")])
    now = datetime.now(UTC)
    made = (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(subject)
        .public_key(secret.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=LASTS_DAYS))
        .add_extension(x509.SubjectAlternativeName([_name(name) for name in dict.fromkeys(names)]), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .sign(secret, hashes.SHA256())
    )
    _write(key, secret.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()))
    _write(certificate, made.public_bytes(serialization.Encoding.PEM))
    return certificate, key


def _name(text: str) -> Any:
    from cryptography import x509

    try:
        return x509.IPAddress(ipaddress.ip_address(text))
    except ValueError:
        return x509.DNSName(text)


def _write(path: Path, content: bytes) -> None:
    with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as file:
        file.write(content)


def fingerprint(certificate: Path) -> str:
    """Return a certificate's fingerprint, as browsers show it: SHA-256, in pairs."""
    import hashlib

    body = ssl.PEM_cert_to_DER_cert(certificate.read_text("ascii"))
    digest = hashlib.sha256(body).hexdigest().upper()
    return ":".join(digest[i : i + 2] for i in range(0, len(digest), 2))
