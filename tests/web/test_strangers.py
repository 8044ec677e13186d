"""Strangers in the house's network: sessions end at once, guessing is slowed and never locks the owner out, nobody holds the house up."""

import re
import time
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kyklos.serving.app import create_app
from kyklos.serving.clients import client_of
from kyklos.serving.security import HEADERS
from kyklos.serving.sign_in import write_password
from kyklos.serving.sign_ins import FREE_HOUSE, FREE_TRIES, LONGEST_WAIT, Patience, SignIns, file_in
from kyklos.web.kit.addresses import within

AWAY = {"REMOTE_ADDR": "192.168.1.7"}
RIGHT = {"password": "sour jar seven"}


@pytest.fixture
def folder(tmp_path):
    """A household's folder with its password."""
    write_password(tmp_path, RIGHT["password"])
    return tmp_path


@pytest.fixture
def house(demo, clock, folder):
    """The sample household, answering other devices; made anew it is the same server after a restart."""

    def made(**more):
        told = {"TESTING": True, "WTF_CSRF_ENABLED": False, "KYKLOS_SHARED": True, "KYKLOS_FOLDER": folder, **more}
        return create_app(demo, clock, "x", **told)

    return made


def device(app, address="192.168.1.7"):
    """A device that is signed in."""
    client = app.test_client()
    client.environ_base["REMOTE_ADDR"] = address
    assert client.post("/sign-in", data=RIGHT).status_code == 303
    return client


def test_signing_out_ends_a_copied_cookie_at_once(house):
    """What was copied from the device before is worth nothing after it signed out."""
    app = house()
    mine = device(app)
    thief = app.test_client()
    thief.set_cookie("session", mine.get_cookie("session").value)
    assert thief.get("/").status_code == 200
    mine.post("/sign-out")
    assert thief.get("/").status_code == 303


def test_a_new_password_ends_every_session_in_a_running_server(house, folder):
    """Set by another program, it counts at once; the old one is refused."""
    app = house()
    mine = device(app)
    time.sleep(0.02)
    write_password(folder, "another jar eight")
    assert mine.get("/").status_code == 303
    assert app.test_client().post("/sign-in", data=RIGHT, environ_base=AWAY).status_code == 422
    assert app.test_client().post("/sign-in", data={"password": "another jar eight"}).status_code == 303


def test_devices_are_listed_and_each_can_be_ended(house):
    """By name and last use, this one marked; ending one signs it out at once, also after a restart."""
    app = house()
    mine = device(app)
    other = app.test_client()
    other.post("/sign-in", data=RIGHT, headers={"User-Agent": "Mozilla/5.0 (iPhone) Safari/600"}, environ_base=AWAY)
    page = mine.get("/settings/").text
    assert "Safari on a phone" in page
    assert "this one" in page
    keys = re.findall(r"/sign-ins/([0-9a-f]{64})/end", page)
    assert len(keys) == 2
    again = house().test_client()
    again.set_cookie("session", other.get_cookie("session").value)
    assert again.get("/").status_code == 200
    for key in keys:
        if "Safari" in page.split(key)[1][:400]:
            mine.post(f"/sign-ins/{key}/end")
    assert other.get("/").status_code == 303
    assert again.get("/").status_code == 303
    assert mine.get("/").status_code == 200


def test_guessing_is_slowed_over_a_restart_and_the_owner_never_waits(house, clock):
    """After a few wrong ones an address waits, also after a restart; 127.0.0.1 never; the right one works after the wait."""
    app = house()
    client = app.test_client()
    for _ in range(FREE_TRIES + 1):
        client.post("/sign-in", data={"password": "guess"}, environ_base=AWAY)
    assert client.post("/sign-in", data=RIGHT, environ_base=AWAY).status_code == 429
    again = house().test_client()
    assert again.post("/sign-in", data=RIGHT, environ_base=AWAY).status_code == 429
    assert again.post("/sign-in", data=RIGHT, environ_base={"REMOTE_ADDR": "127.0.0.1"}).status_code == 303
    clock.now += timedelta(seconds=30)
    assert house().test_client().post("/sign-in", data=RIGHT, environ_base=AWAY).status_code == 303


def test_many_addresses_together_are_slowed_and_shut_nobody_out(clock):
    """Whoever guessed once waits for the house too; an address without failures never does; a day later all is forgotten."""
    patience = Patience()
    for number in range(60):
        patience.wrong(f"10.0.0.{number}", clock())
    assert patience.wait("10.0.0.1", clock()) > timedelta(0)
    assert patience.wait("10.0.1.1", clock()) == timedelta(0)
    assert patience.wait("10.0.0.1", clock() + timedelta(days=2)) == timedelta(0)


def test_a_device_that_was_here_and_a_right_password_always_get_in(house):
    """While 20 strangers guess, and its own address is one of theirs: the known device signs in, and so does who never guessed."""
    app = house()
    mine = device(app)
    mine.post("/sign-out")
    for number in range(FREE_HOUSE + FREE_TRIES):
        for address in (f"192.168.9.{number}", "192.168.1.7"):
            app.test_client().post("/sign-in", data={"password": "guess"}, environ_base={"REMOTE_ADDR": address})
    assert app.test_client().post("/sign-in", data=RIGHT, environ_base=AWAY).status_code == 429
    assert mine.post("/sign-in", data=RIGHT).status_code == 303
    assert app.test_client().post("/sign-in", data=RIGHT, environ_base={"REMOTE_ADDR": "192.168.1.200"}).status_code == 303
    again = house().test_client()
    again.set_cookie("kyklos-met", mine.get_cookie("kyklos-met", path="/sign-in").value, path="/sign-in")
    assert again.get("/", environ_base=AWAY).status_code == 303  # it is no right in itself


def test_a_known_device_that_guesses_waits_for_itself(house):
    """Its cookie opens no door to guessing."""
    app = house()
    mine = device(app)
    for _ in range(FREE_TRIES + 1):
        mine.post("/sign-in", data={"password": "guess"})
    assert mine.post("/sign-in", data=RIGHT).status_code == 429
    assert app.test_client().post("/sign-in", data=RIGHT, environ_base=AWAY).status_code == 303


def test_a_proxy_that_names_nobody_is_not_the_houses_own_keyboard(house):
    """Behind a proxy on this machine that tells no client, wrong passwords still make one wait."""
    client = house(KYKLOS_PROXY="127.0.0.1").test_client()
    for _ in range(FREE_TRIES + 1):
        client.post("/sign-in", data={"password": "guess"})
    assert client.post("/sign-in", data=RIGHT).status_code == 429


@given(st.lists(st.floats(-400, 400), min_size=1, max_size=30))
@settings(max_examples=50, deadline=None)
def test_no_clock_makes_a_wait_longer_than_the_longest(clock_jumps):
    """However the clock is set, forth or back by years, nobody waits longer than the longest, and waits never go below nothing."""
    from datetime import UTC, datetime

    patience, now = Patience(), datetime(2027, 3, 1, tzinfo=UTC)
    for days in clock_jumps:
        patience.wrong("who", now + timedelta(days=days))
        for later in (-300, 0, 300):
            assert timedelta(0) <= patience.wait("who", now + timedelta(days=days + later)) <= LONGEST_WAIT


def test_a_declared_proxys_word_is_believed_and_nobody_elses(house):
    """The client that the proxy names is slowed; who only pretends is known by its own address."""
    app = house(KYKLOS_PROXY="10.0.0.9")
    client = app.test_client()
    for _ in range(FREE_TRIES + 1):
        told = {"X-Forwarded-For": "1.2.3.4, 192.168.1.50"}
        client.post("/sign-in", data={"password": "guess"}, headers=told, environ_base={"REMOTE_ADDR": "10.0.0.9"})
    waits = {"headers": {"X-Forwarded-For": "192.168.1.50"}, "environ_base": {"REMOTE_ADDR": "10.0.0.9"}}
    assert client.post("/sign-in", data=RIGHT, **waits).status_code == 429
    pretends = {"headers": {"X-Forwarded-For": "127.0.0.1"}, "environ_base": {"REMOTE_ADDR": "6.6.6.6"}}
    assert client_of("6.6.6.6", "127.0.0.1", "10.0.0.9") == "6.6.6.6"
    assert client.post("/sign-in", data=RIGHT, **pretends).status_code == 303


def test_sign_ins_of_an_older_version_still_hold(tmp_path):
    """Whoever was signed in before the file got its new name is signed in after."""
    now = datetime(2027, 3, 1, tzinfo=UTC)
    token = SignIns(tmp_path / "devices.json").sign_in("Firefox/1 Linux", "a", now)
    assert SignIns(file_in(tmp_path)).knows(token, "a", now, timedelta(days=31))
    assert [p.name for p in tmp_path.glob("*s.json")] == ["sign-ins.json"]


def test_devices_of_a_damaged_file_are_none(tmp_path):
    """A file that cannot be read signs nobody in, and is written anew."""
    (tmp_path / "sign-ins.json").write_text("{not json")
    devices = SignIns(tmp_path / "sign-ins.json")
    from datetime import UTC, datetime

    now = datetime(2027, 3, 1, tzinfo=UTC)
    assert not devices.knows("x", "a", now, timedelta(days=31))
    token = devices.sign_in("Firefox/1 Linux", "a", now)
    assert SignIns(tmp_path / "sign-ins.json").knows(token, "a", now, timedelta(days=31))
    assert not SignIns(tmp_path / "sign-ins.json").knows(token, "a", now + timedelta(days=32), timedelta(days=31))


ADDRESSES = ["//[::1", "//evil.example/", "/\\evil", "\\\\evil", "http://evil/", "/a\r\nSet-Cookie: x=1", "/\tevil", "/%0d%0aX: y", "/x y", "javascript:alert(1)", "/\x00", "", "?a", "/ü", "/" * 3000]  # fmt: skip


@pytest.mark.parametrize("wanted", ADDRESSES)
def test_going_on_leads_only_within_the_house_and_never_fails(house, demo_client, wanted):
    """Whatever `next` and `back` say, the answer is right, leads to a page of this house, and the record is kept once."""
    answer = house().test_client().post("/sign-in", data={**RIGHT, "next": wanted}, environ_base=AWAY)
    assert answer.status_code == 303
    assert re.fullmatch(r"/(?![/\\])[!-~]*", answer.location)
    answer = demo_client.post("/quick/", data={"line": "jar two 3.44", "back": wanted})
    assert answer.status_code == 303
    assert re.fullmatch(r"/(?![/\\])[!-~]*", answer.location)


@given(st.text(max_size=60))
def test_any_text_leads_home_or_to_a_plain_address(text):
    """No text at all leads elsewhere."""
    assert re.fullmatch(r"/(?![/\\])[!-~]*", within(text, "/"))


def test_every_kind_of_answer_has_its_headers(house):
    """Pages, refusals, redirects, missing pages, static files and their errors: each is closed to other origins."""
    app = house()
    mine = device(app)
    answers = {
        "page": mine.get("/"),
        "missing": mine.get("/nothing/here"),
        "refused": mine.post("/vessels/new", data={}),
        "redirect": app.test_client().get("/", environ_base=AWAY),
        "stranger": app.test_client().post("/brews/7/look", environ_base=AWAY),
        "elsewhere": app.test_client().get("/", headers={"Host": "evil.example"}),
        "static": mine.get("/static/css/kyklos.css"),
        "no static": mine.get("/static/css/nothing.css"),
        "sign in": app.test_client().get("/sign-in", environ_base=AWAY),
    }
    for kind, answer in answers.items():
        for name in HEADERS:
            assert name in answer.headers, (kind, name)
        assert "immutable" in answer.headers["Cache-Control"] if kind == "static" else "no-store" in answer.headers["Cache-Control"], kind
    assert answers["page"].headers["Cross-Origin-Resource-Policy"] == "same-origin"
