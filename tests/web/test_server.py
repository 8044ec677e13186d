"""The server: who sends slowly or too much holds nobody up, what cannot be read is told, and each answer arrives whole."""

import hashlib
import http.client
import socket
import ssl
import threading
import time
from contextlib import closing, contextmanager
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest
from cryptography import x509

from kyklos import serving
from kyklos.serving import connection as connection_module
from kyklos.serving import limits
from kyklos.serving.sign_in import knows
from tests.pace import slower
from tests.web.test_strangers import RIGHT, device, folder, house  # noqa: F401

QUICK = replace(limits.STRANGER, head_s=1.0, body_s=1.0)


@contextmanager
def running(app, **more):
    """A household on a real socket."""
    server = serving.make(app, "127.0.0.1", 0, knows=knows(app), **more)
    thread = threading.Thread(target=serving.run, args=(server,), daemon=True)
    thread.start()
    assert server._ready.wait(5)
    try:
        yield server
    finally:
        server.stop()
        thread.join(5)
        assert not thread.is_alive()


@pytest.fixture
def app(house):  # noqa: F811
    """The sample household, answering other devices."""
    return house(TESTING=False)


@pytest.fixture
def served(app):
    """It, on a real socket."""
    with running(app) as server:
        yield server


@pytest.fixture
def member(app):
    """What a signed-in device sends along."""
    return {"Cookie": f"session={device(app, '127.0.0.1').get_cookie('session').value}"}


def said(port, text, source="127.0.0.1", timeout=30, wait=0.0):
    """Send something as it is; gives all that comes back."""
    with closing(socket.create_connection(("127.0.0.1", port), timeout=timeout, source_address=(source, 0))) as sock:
        sock.sendall(text if isinstance(text, bytes) else text.encode())
        time.sleep(wait)
        out = b""
        while part := sock.recv(65_536):
            out += part
        return out


GET = "GET /sign-in HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n"


def asked(port, source="127.0.0.1"):
    """Ask for the sign-in page on a fresh connection; gives the first line of the answer."""
    return said(port, GET, source).split(b"\r\n")[0]


@pytest.mark.parametrize("half", ["GET / HTTP/1.1\r\nHost: 127", "POST /sign-in HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 500\r\n\r\npassword="])
def test_sixty_that_send_slowly_hold_nobody_up(served, monkeypatch, half, member):
    """From three addresses, half a head or half a body: members and others are answered at once, and the slow ones are dropped."""
    monkeypatch.setattr(connection_module, "STRANGER", QUICK)
    slow = [socket.create_connection(("127.0.0.1", served.port), source_address=(f"127.0.0.{2 + n % 3}", 0)) for n in range(60)]
    try:
        for sock in slow:
            sock.sendall(half.encode())
        began = time.monotonic()
        for _ in range(3):
            assert b" 200 " in asked(served.port)
        line = http.client.HTTPConnection("127.0.0.1", served.port, timeout=5)
        line.request("GET", "/settings/", headers=member)
        assert line.getresponse().status == 200
        assert time.monotonic() - began < 2.5
        line.close()
        time.sleep(2.0)
        assert len(served._open) <= 1
    finally:
        for sock in slow:
            sock.close()


def test_many_slow_readers_hold_no_thread(served, monkeypatch, member):
    """More members than threads ask for a page and do not read it; the next one is answered at once."""
    lines = []
    for number in range(40):
        sock = socket.create_connection(("127.0.0.1", served.port), source_address=(f"127.0.0.{10 + number % 4}", 0))
        sock.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 1024)
        sock.sendall(f"GET /static/vendor/bootstrap/bootstrap.css HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: {member['Cookie']}\r\n\r\n".encode())
        lines.append(sock)
    began = time.monotonic()
    assert b" 200 " in asked(served.port)
    assert time.monotonic() - began < 3 * max(1.0, slower())
    for sock in lines:
        sock.close()


def test_the_one_too_many_of_an_address_is_told_and_the_others_stay(served):
    """The 21st is answered with what to do, not cut; another address is let in; once one goes the next may come."""
    held = []
    for _ in range(limits.PER_ADDRESS):
        sock = socket.create_connection(("127.0.0.1", served.port), source_address=("127.0.0.9", 0))
        sock.sendall(b"GET /")
        held.append(sock)
        time.sleep(0.01)
    answer = said(served.port, GET, "127.0.0.9")
    assert answer.startswith(b"HTTP/1.1 429 ")
    assert b"Too many connections" in answer
    assert b"Retry-After" in answer
    assert b" 200 " in asked(served.port)
    held.pop().close()
    time.sleep(0.2)
    assert b" 200 " in asked(served.port, "127.0.0.9")
    for sock in held:
        sock.close()


def test_behind_a_proxy_addresses_come_from_it(app):
    """All connections are the proxy's: none is refused for that; a client with too many requests under way is."""
    inside, go_on = threading.Barrier(limits.PER_ADDRESS + 1), threading.Event()

    def slow(environ, start):
        if environ["HTTP_X_FORWARDED_FOR"] == "192.168.1.50":
            inside.wait(10)
            go_on.wait(10)
        start("200 OK", [])
        return [environ["REMOTE_ADDR"].encode()]

    server = serving.make(slow, "127.0.0.1", 0, proxy="127.0.0.1")
    server_threads = serving.server.THREADS
    serving.server.THREADS = limits.PER_ADDRESS + 4
    thread = threading.Thread(target=serving.run, args=(server,), daemon=True)
    thread.start()
    server._ready.wait(5)
    try:
        text = "GET / HTTP/1.1\r\nHost: x\r\nX-Forwarded-For: {}\r\nConnection: close\r\n\r\n"
        held = [threading.Thread(target=said, args=(server.port, text.format("192.168.1.50"))) for _ in range(limits.PER_ADDRESS)]
        for one in held:
            one.start()
        inside.wait(10)
        assert b" 429 " in said(server.port, text.format("192.168.1.50"))
        assert said(server.port, text.format("192.168.1.51")).endswith(b"192.168.1.51")
        go_on.set()
        for one in held:
            one.join(5)
    finally:
        serving.server.THREADS = server_threads
        server.stop()
        thread.join(5)


def test_a_stranger_sends_no_more_than_a_password_and_a_member_a_photo(served, member):
    """More than 8 kB of head or body is refused as soon as it is seen; a member's photo of 3 MB passes the door."""
    assert b" 431 " in said(served.port, "GET /sign-in?" + "x" * 9000 + " HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
    body = "POST /sign-in HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: {}\r\n\r\n"
    assert b" 413 " in said(served.port, body.format(9000))
    chunked = "POST /sign-in HTTP/1.1\r\nHost: 127.0.0.1\r\nTransfer-Encoding: chunked\r\n\r\n" + "3e8\r\n" + "x" * 1000 + "\r\n"
    assert b" 413 " in said(served.port, chunked + ("3e8\r\n" + "x" * 1000 + "\r\n") * 9)
    line = http.client.HTTPConnection("127.0.0.1", served.port, timeout=10)
    line.request("POST", "/brews/7/photos", b"x" * 3_000_000, member)
    assert line.getresponse().status == 422  # it came in, and is no photo
    line.close()


BROKEN = [
    "POST /sign-in HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: chunked\r\n\r\n-1\r\n\r\n",
    "POST /sign-in HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: chunked\r\n\r\nzz\r\n",
    "POST /sign-in HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: gzip, chunked\r\n\r\n0\r\n\r\n",
    "POST /sign-in HTTP/1.1\r\nHost: x\r\nContent-Length: -5\r\n\r\n",
    "POST /sign-in HTTP/1.1\r\nHost: x\r\nContent-Length: 5\r\nContent-Length: 7\r\n\r\n",
    "GET / HTTP/1.1\r\n\r\n",
    "HELO house\r\n\r\n",
    "GET  HTTP/1.1\r\nHost: x\r\n\r\n",
    "\x16\x03\x01\x02\x00\x01\x00\x01\xfc\x03\x03" + "\r\n\r\n",
    "GET ftp://x/ HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n",
]


@pytest.mark.parametrize("text", BROKEN)
def test_what_cannot_be_read_is_told_and_closed(served, text):
    """Malformed chunks, two lengths, no host, another language: 400, and the house goes on."""
    assert said(served.port, text.encode("latin-1")).startswith(b"HTTP/1.1 400 ")
    assert b" 200 " in asked(served.port)


def test_one_connection_serves_many_requests(served, member):
    """One after the other and several sent at once, with and without a body, whole files and none changed."""
    line = http.client.HTTPConnection("127.0.0.1", served.port, timeout=10)
    for path, method, status in (("/", "GET", 200), ("/", "HEAD", 200), ("/here", "GET", 200), ("/nothing", "GET", 404), ("/static/mark.svg", "GET", 200)):
        line.request(method, path, headers=member)
        answer = line.getresponse()
        body = answer.read()
        assert answer.status == status, path
        assert len(body) == (0 if method == "HEAD" else int(answer.headers["Content-Length"])), path
    line.request("GET", "/static/mark.svg", headers={**member, "If-None-Match": answer.headers["ETag"]})
    assert line.getresponse().status == 304
    line.close()
    two = f"GET /here HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: {member['Cookie']}\r\n{{}}\r\n"
    out = said(served.port, two.format("") + two.format("Connection: close\r\n"))
    assert out.count(b"HTTP/1.1 200 ") == 2


def test_expecting_a_word_before_a_body_is_given_it(served):
    """Who asks whether to send gets a yes, and then the answer."""
    text = "POST /sign-in HTTP/1.1\r\nHost: 127.0.0.1\r\nExpect: 100-continue\r\nContent-Length: 3\r\nConnection: close\r\n\r\n"
    with closing(socket.create_connection(("127.0.0.1", served.port), timeout=5)) as sock:
        sock.sendall(text.encode())
        assert b" 100 " in sock.recv(1000)
        sock.sendall(b"a=b")
        assert b"HTTP/1.1 422 " in sock.recv(1000)


def test_a_backup_is_fetched_whole_over_the_socket(served, demo, member):
    """A file of megabytes arrives as it is."""
    from kyklos.store.file import keeping

    made = keeping.make(demo.path, demo.backups, "by-hand", datetime(2027, 3, 1, tzinfo=UTC))
    line = http.client.HTTPConnection("127.0.0.1", served.port, timeout=20)
    line.request("GET", f"/settings/backup/{made.path.name}", headers=member)
    assert hashlib.sha256(line.getresponse().read()).digest() == hashlib.sha256(made.path.read_bytes()).digest()
    line.close()


def test_https_by_a_certificate_of_its_own(app, tmp_path):
    """What is shown in the terminal is what is served; keys are nobody else's; cookies are for https; a hand that is not shaken holds none up."""
    certificate = serving.own_certificate(tmp_path, ("localhost", "127.0.0.1"))
    assert all(path.stat().st_mode & 0o777 == 0o600 for path in certificate)
    with running(app, certificate=certificate) as server:
        trusting = ssl.create_default_context(cafile=str(certificate[0]))
        quiet = socket.create_connection(("127.0.0.1", server.port))  # never shakes hands
        with trusting.wrap_socket(socket.create_connection(("127.0.0.1", server.port), timeout=5), server_hostname="localhost") as sock:
            der = sock.getpeercert(binary_form=True)
            sock.sendall(GET.encode())
            assert b" 200 " in sock.recv(200)
        quiet.close()
    assert serving.fingerprint(certificate[0]).replace(":", "") == hashlib.sha256(der).hexdigest().upper()
    away = {"environ_base": {"REMOTE_ADDR": "192.168.1.7"}}
    cookies = {}
    for scheme in ("https", "http"):
        answer = app.test_client().get("/sign-in", base_url=f"{scheme}://127.0.0.1/", **away)
        cookies[scheme] = " ".join(answer.headers.getlist("Set-Cookie"))
    assert "Secure" in cookies["https"]
    assert "Secure" not in cookies["http"]


def test_who_trusts_the_households_authority_trusts_it_for_a_house_alone(app, tmp_path):
    """Trusted once, it lets this year's and next year's certificate in, by name and by address; a name of the world it may not speak for."""
    names = ("localhost", "127.0.0.1", "kyklos.local")
    certificate = serving.own_certificate(tmp_path, names)
    authority = tmp_path / serving.AUTHORITY
    told = app.test_client()
    app.config["KYKLOS_FOLDER"] = tmp_path
    assert told.get("/authority.pem").data == authority.read_bytes()
    with running(app, certificate=certificate) as server:
        trusting = ssl.create_default_context(cafile=str(authority))
        for name in names:
            with trusting.wrap_socket(socket.create_connection(("127.0.0.1", server.port), timeout=5), server_hostname=name) as sock:
                assert sock.version().startswith("TLS")
    first = serving.fingerprint(authority)
    serving.own_certificate(tmp_path, (*names, "192.168.7.7"), datetime.now(UTC) + timedelta(days=500))
    assert serving.fingerprint(authority) == first
    known = x509.load_pem_x509_certificate(authority.read_bytes())
    constraints = known.extensions.get_extension_for_class(x509.NameConstraints)
    assert constraints.critical
    assert not any(str(one.value) in {"com", "", "0.0.0.0/0"} for one in constraints.value.permitted_subtrees)
    assert (tmp_path / "authority-key.pem").stat().st_mode & 0o777 == 0o600


def test_a_certificate_names_its_use_lives_a_year_and_is_renewed(tmp_path):
    """Server authentication, thirteen months; the same while it fits, a new one for a new address and before it runs out."""
    now = datetime(2027, 3, 1, tzinfo=UTC)
    path, _ = serving.own_certificate(tmp_path, ("localhost", "192.168.1.5"), now)
    known = x509.load_pem_x509_certificate(path.read_bytes())
    uses = known.extensions.get_extension_for_class(x509.ExtendedKeyUsage).value
    assert [use.dotted_string for use in uses] == ["1.3.6.1.5.5.7.3.1"]
    assert known.not_valid_after_utc - known.not_valid_before_utc <= timedelta(days=398)
    first = serving.fingerprint(path)
    serving.own_certificate(tmp_path, ("localhost",), now + timedelta(days=200))
    assert serving.fingerprint(path) == first
    serving.own_certificate(tmp_path, ("localhost", "192.168.1.6"), now)
    second = serving.fingerprint(path)
    assert second != first
    serving.own_certificate(tmp_path, ("localhost", "192.168.1.6"), now + timedelta(days=370))
    assert serving.fingerprint(path) != second
