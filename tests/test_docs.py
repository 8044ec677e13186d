"""The docs are held to the code: commands, links, pictures, calculations, licences."""

import json
import re
import threading
import warnings
from pathlib import Path
from types import SimpleNamespace

import pytest

from kyklos import serving
from kyklos.actions import devices
from kyklos.cli import main
from kyklos.core.calc import CALCULATIONS
from kyklos.demo.household import DEMO_NOW
from kyklos.exchange.device_protocol import description
from kyklos.serving.app import create_app

ROOT = Path(__file__).parents[1]
DOCS = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *sorted((ROOT / "docs").glob("*.md"))]


@pytest.mark.parametrize("path", DOCS, ids=lambda p: p.name)
def test_links_and_pictures_are_there(path):
    """Every relative link leads to a file."""
    for link in re.findall(r"\]\(([^)#]+)\)", path.read_text()):
        assert (path.parent / link).exists(), link


@pytest.mark.parametrize("path", DOCS, ids=lambda p: p.name)
def test_commands_named_in_the_docs_exist(path):
    """Every make target and kyklos command that the docs name is there."""
    targets = set(re.findall(r"^([a-z]+):", (ROOT / "Makefile").read_text(), re.M))
    text = path.read_text()
    assert set(re.findall(r"`make ([a-z]+)`", text)) <= targets
    assert set(re.findall(r"`kyklos ([a-z]+)", text)) <= set(main.commands)


def test_every_calculation_is_in_the_docs():
    """docs/calc.md has a row for each calculation."""
    rows = set(re.findall(r"^\| ([a-z-]+) \|", (ROOT / "docs/calc.md").read_text(), re.M)) - {"name"}
    assert rows == set(CALCULATIONS)


def test_what_ships_has_its_licence_and_version():
    """Each vendored folder and each font stands with a licence, and the versions are those the front end asks for."""
    vendor = ROOT / "src/kyklos/web/static/vendor"
    asked = json.loads((ROOT / "frontend/package.json").read_text())["devDependencies"]
    told = dict(line.split() for line in (vendor / "VERSIONS.txt").read_text().splitlines()[1:])
    assert told == {name: version for name, version in asked.items() if name != "sass"}  # sass only builds
    for folder in (f for f in vendor.iterdir() if f.is_dir()):
        assert list(folder.glob("*LICENSE*")), folder
    families = {
        font.name.split("-")[0].lower()[:6] for font in vendor.glob("fonts/*") if font.suffix in {".ttf", ".woff2"}
    }
    assert families == {text.name.split("-")[0].lower()[:6] for text in vendor.glob("fonts/*LICENSE*")}


def test_requirements_are_hashed_and_name_no_address():
    """Every pinned requirement has hashes; no file of the project's own names an address to install from."""
    for name in ("app", "dev"):
        text = (ROOT / f"requirements/{name}.txt").read_text()
        assert "--hash=sha256:" in text
        assert "://" not in text


def test_files_that_the_architecture_names_are_there():
    """Whoever follows the page finds each file where it says, by its whole way or within the room that the sentence is about."""
    house = ROOT / "src/kyklos"
    named = set(re.findall(r"`([\w/]+\.py)\b", (ROOT / "docs/architecture.md").read_text()))
    rooms = (house, house / "web", house / "serving", ROOT)
    assert len(named) > 40
    assert [name for name in sorted(named) if not any((room / name).exists() for room in rooms)] == []


def test_the_device_protocol_is_described_as_it_is():
    """The description in the docs is the one that the server gives; every call of it is told of."""
    text = (ROOT / "docs/devices.md").read_text()
    told = json.loads(text.rpartition("```json")[2].partition("```")[0])
    assert told == json.loads(json.dumps(description("1"))), "write it anew: python -m kyklos.exchange.device_protocol"


def test_the_thermometer_in_the_docs_works(client, kitchen):
    """The twenty lines of Python pair and send, against a real server; and they are no more than twenty-five."""
    code = (ROOT / "docs/devices.md").read_text().partition("```python\n")[2].partition("```")[0]
    assert len([line for line in code.splitlines() if line.strip()]) <= 22
    server = serving.make(client.application, "127.0.0.1", 0)
    thread = threading.Thread(target=serving.run, args=(server,), daemon=True)
    thread.start()
    shown, names = [], {}
    exec(code, names)
    names |= {"SERVER": f"http://127.0.0.1:{server.port}/devices/v1", "print": lambda *words: shown.append(words[-1])}
    names["time"] = SimpleNamespace(sleep=lambda _: kitchen.do(devices.approve_pairing, devices.ApprovePairing(code=shown[0], place_id=kitchen.place)))
    try:
        told = names["tell"](names["pair"]("Shelf probe"), 24.1)
    finally:
        server.stop()
        thread.join(2)
    assert (told["accepted"], told["refused"]) == (1, [])


def test_the_notebook_of_code_runs_as_it_is_printed(demo, clock, tmp_path, monkeypatch):
    """The very lines of docs/data.md, run against the sample household, draw both plots: pH falls, and warmer brews are there."""
    (code,) = re.findall(r"```python\n(.*?)```", (ROOT / "docs/data.md").read_text(), re.S)
    clock.now = DEMO_NOW
    server = serving.make(create_app(demo, clock, "docs"), "127.0.0.1", 0)
    running = threading.Thread(target=serving.run, args=(server,), daemon=True)
    running.start()
    monkeypatch.chdir(tmp_path)
    assert "http://127.0.0.1:8017" in code
    known = {}
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # of libraries that are not ours
        exec(code.replace("http://127.0.0.1:8017", f"http://127.0.0.1:{server.port}"), known)
    server.stop()
    running.join(5)
    left, right = known["figure"].axes
    curves = [line for line in left.get_lines() if len(line.get_xdata()) > 2]
    assert len(curves) >= 5
    assert all(line.get_ydata()[-1] < line.get_ydata()[0] for line in curves if line.get_xdata()[0] < 1)
    assert len(right.collections[0].get_offsets()) >= 4
    assert (tmp_path / "kyklos.png").stat().st_size > 10_000
