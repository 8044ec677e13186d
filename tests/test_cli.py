"""The command line: demo and serve answer on this machine only; a household's folder is its own."""

import stat

import click
import pytest
from click.testing import CliRunner

from kyklos.cli import main
from kyklos.serving.security import secret_in


@pytest.mark.parametrize("command, sentence", [("demo", "this machine only"), ("serve", "kyklos password")])
def test_another_address_is_refused_with_a_sentence(command, sentence, tmp_path):
    """The sample household never answers other devices, and one's own only once a password was set."""
    more = ["--folder", str(tmp_path)] if command == "serve" else []
    out = CliRunner().invoke(main, [command, "--host", "0.0.0.0", *more])
    assert out.exit_code == 2
    assert sentence in out.stderr


def test_with_a_password_the_house_is_served_and_the_phone_shown_its_way(tmp_path, monkeypatch):
    """A password is kept as a hash for its owner's eyes; then serving elsewhere asks for it and prints a code to scan."""
    served, shown = [], []
    monkeypatch.setattr("kyklos.cli.serving._serve", lambda app, host, port, told: served.append((app, host)))
    folder = ["--folder", str(tmp_path)]
    assert CliRunner().invoke(main, ["password", *folder], input="short\nshort\n").exit_code == 2
    out = CliRunner().invoke(main, ["password", *folder], input="sour jar seven\nsour jar seven\n")
    assert out.exit_code == 0
    assert "sour jar" not in (tmp_path / "password").read_text()
    assert stat.S_IMODE((tmp_path / "password").stat().st_mode) == 0o600
    assert CliRunner().invoke(main, ["serve", "--host", "0.0.0.0", *folder]).exit_code == 0
    app, host = served[0]
    assert host == "0.0.0.0"
    assert app.config["KYKLOS_SHARED"]
    monkeypatch.setattr("click.echo", lambda text="", **_: shown.append(text))
    from kyklos.cli.serving import _show_code

    out = CliRunner().invoke(click.command()(lambda: _show_code("http://192.0.2.7:8017/")))
    assert "http://192.0.2.7:8017/" in shown[0]
    assert len(out.output.splitlines()) > 12


def test_a_households_secret_is_made_once_and_read_by_its_owner_only(tmp_path):
    """The secret stays the same from start to start, and no one else may read it."""
    first = secret_in(tmp_path)
    assert len(first) == 64
    assert secret_in(tmp_path) == first
    assert stat.S_IMODE((tmp_path / "secret").stat().st_mode) == 0o600


def test_serve_keeps_its_data_in_the_folder_it_names(tmp_path, monkeypatch):
    """The household's file and secret stand in the folder, and it opens empty, with its own name."""
    served = []
    monkeypatch.setattr("kyklos.cli.serving._serve", lambda app, host, port, told: served.append((app, host, port)))
    out = CliRunner().invoke(main, ["serve", "--folder", str(tmp_path / "kitchen"), "--port", "0"])
    assert out.exit_code == 0
    assert {"kyklos.db", "secret"} <= {path.name for path in (tmp_path / "kitchen").iterdir()}
    app, host, _ = served[0]
    assert host == "127.0.0.1"
    app.testing = True
