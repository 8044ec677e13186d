"""At hand in the house: a name on the network, a unit that starts it, a wheel that works outside its source."""

import configparser
import os
import re
import shlex
import shutil
import socket
import subprocess
import sys
import sysconfig
import urllib.request
from pathlib import Path

import pytest
from click.testing import CliRunner
from zeroconf import Zeroconf

from kyklos.cli import main
from kyklos.serving import security
from kyklos.serving.announce import NAME, SERVICE, announce
from kyklos.serving.app import create_app

ROOT = Path(__file__).parents[1]
CLEAN = {key: value for key, value in os.environ.items() if key != "PYTHONPATH"}


def test_the_name_is_told_on_the_loopback_and_taken_back():
    """Who asks the network for Kyklos finds its name, address and port; once it stops, nobody does."""
    stop = announce("127.0.0.1", 8017, interfaces=["127.0.0.1"])
    asks = Zeroconf(interfaces=["127.0.0.1"])
    try:
        found = asks.get_service_info(SERVICE, f"Kyklos.{SERVICE}", timeout=5000)
        assert (found.server, found.port, [socket.inet_ntoa(one) for one in found.addresses]) == (f"{NAME}.", 8017, ["127.0.0.1"])
        stop()
        again = Zeroconf(interfaces=["127.0.0.1"])
        assert again.get_service_info(SERVICE, f"Kyklos.{SERVICE}", timeout=700) is None
        again.close()
    finally:
        asks.close()


def test_it_answers_to_its_name_only_where_it_was_announced(demo, clock):
    """By kyklos.local a page is given where that name was asked for, and by no other name."""
    for named, status in (("", 421), (NAME, 303)):
        app = create_app(demo, clock, "s", KYKLOS_SHARED=True, KYKLOS_NAMED=named, KYKLOS_PASSWORD="x", TESTING=True)
        client = app.test_client()
        assert client.get("/", base_url=f"http://{NAME}:8017").status_code == status
        assert client.get("/", base_url="http://elsewhere.local:8017").status_code == 421
    assert security.HEADERS["X-Frame-Options"] == "DENY"


def test_announcing_needs_a_network_to_be_heard_on(tmp_path):
    """On this machine alone it is refused in a sentence."""
    said = CliRunner().invoke(main, ["serve", "--announce", "--folder", str(tmp_path)])
    assert said.exit_code != 0
    assert "nobody hears it" in said.output


def test_the_unit_starts_the_very_command():
    """What systemd would run is this Kyklos, with the options given, quoted where they have to be."""
    said = CliRunner().invoke(main, ["unit", "--host", "0.0.0.0", "--folder", "/home/me/My brews"])
    read = configparser.ConfigParser(interpolation=None)
    read.optionxform = str
    read.read_string(said.output)
    command = shlex.split(read["Service"]["ExecStart"])
    assert command[1:] == ["serve", "--host", "0.0.0.0", "--folder", "/home/me/My brews"]
    assert Path(command[0]).is_absolute()
    assert read["Install"]["WantedBy"] == "default.target"


def test_settings_show_the_address_to_scan(demo, clock):
    """Where others can reach it, settings show the address as words and as a code; on this machine alone they do not."""
    app = create_app(demo, clock, "s", TESTING=True, WTF_CSRF_ENABLED=False)
    assert "On a phone in the house" not in app.test_client().get("/settings/").text
    app.config["KYKLOS_ADDRESS"] = "https://192.168.7.7:8017/"
    page = app.test_client().get("/settings/").text
    assert "https://192.168.7.7:8017/" in page
    assert "A code that opens" in page


@pytest.fixture(scope="module")
def installed(tmp_path_factory):
    """The wheel, built and installed into an environment that holds nothing else of ours."""
    folder = tmp_path_factory.mktemp("wheel")
    source = folder / "source"
    shutil.copytree(ROOT / "src", source / "src", ignore=shutil.ignore_patterns("*.egg-info", "__pycache__"))
    for name in ("pyproject.toml", "README.md", "LICENSE"):
        if (ROOT / name).exists():
            shutil.copy(ROOT / name, source / name)
    pip = [sys.executable, "-m", "pip", "-q", "--disable-pip-version-check", "--no-cache-dir"]
    subprocess.run([*pip, "wheel", "--no-deps", "--no-build-isolation", "--no-index", "-w", str(folder), str(source)], check=True, capture_output=True)
    (wheel,) = folder.glob("kyklos-*.whl")
    subprocess.run([sys.executable, "-m", "venv", "--without-pip", str(folder / "house")], check=True)
    python = folder / "house" / "bin" / "python"
    subprocess.run([*pip, "--python", str(python), "install", "--no-deps", "--no-index", str(wheel)], check=True, capture_output=True, env=CLEAN)
    within = next((folder / "house" / "lib").glob("python*/site-packages"))
    (within / "what-it-needs.pth").write_text(sysconfig.get_paths()["purelib"] + "\n")  # libraries, and not the source beside them
    return folder / "house" / "bin" / "kyklos"


def test_the_wheel_serves_a_page_with_its_styles(installed, tmp_path):
    """Installed outside the source, it serves the sample with styles, fonts and scripts of its own."""
    environment = CLEAN | {"XDG_CACHE_HOME": str(tmp_path)}
    where = subprocess.run([installed.parent / "python", "-c", "import kyklos; print(kyklos.__file__)"], cwd=tmp_path, env=environment, capture_output=True, text=True, check=True)
    assert str(installed.parent.parent) in where.stdout
    served = subprocess.Popen([installed, "demo", "--port", "0", "--instruments", "0"], cwd=tmp_path, env=environment, stdout=subprocess.PIPE, text=True)
    try:
        address = next(found[1] for line in served.stdout if (found := re.search(r"Kyklos is at (\S+/)", line)))
        with urllib.request.urlopen(address) as answer:
            page = answer.read().decode()
        things = re.findall(r'(?:href|src)="(/static/[^"]+)"', page)
        assert len(things) > 8
        for thing in things:
            with urllib.request.urlopen(address.rstrip("/") + thing.replace("&amp;", "&")) as answer:
                assert answer.status == 200
    finally:
        served.terminate()
        served.wait(20)
