"""The command line: demo and serve answer on this machine only; a household's folder is its own."""

import stat

import pytest
from click.testing import CliRunner

from kyklos.cli import main
from kyklos.web.security import secret_in


@pytest.mark.parametrize("command", ["demo", "serve"])
def test_another_address_is_refused_with_a_sentence(command):
    """Serving on another address needs a password, which cannot be set yet: refused, with status 2."""
    out = CliRunner().invoke(main, [command, "--host", "0.0.0.0"])
    assert out.exit_code == 2
    assert "password" in out.stderr


def test_a_households_secret_is_made_once_and_read_by_its_owner_only(tmp_path):
    """The secret stays the same from start to start, and no one else may read it."""
    first = secret_in(tmp_path)
    assert len(first) == 64
    assert secret_in(tmp_path) == first
    assert stat.S_IMODE((tmp_path / "secret").stat().st_mode) == 0o600


def test_serve_keeps_its_data_in_the_folder_it_names(tmp_path, monkeypatch):
    """The household's file and secret stand in the folder, and it opens empty, with its own name."""
    served = []
    monkeypatch.setattr("kyklos.cli._serve", lambda app, host, port: served.append((app, host, port)))
    out = CliRunner().invoke(main, ["serve", "--folder", str(tmp_path / "kitchen"), "--port", "0"])
    assert out.exit_code == 0
    assert {"kyklos.db", "secret"} <= {path.name for path in (tmp_path / "kitchen").iterdir()}
    app, host, _ = served[0]
    assert host == "127.0.0.1"
    app.testing = True
