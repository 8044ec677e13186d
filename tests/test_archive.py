"""A household moves house as an open archive: export, import, export again are equal; what does not hold together changes nothing."""

import csv
import hashlib
import io
import json
import re
import shutil
import sqlite3
import zipfile
from contextlib import closing

import pytest
from click.testing import CliRunner

from kyklos.cli import main
from kyklos.exchange import archive
from kyklos.store import keeping


def kyklos(*told):
    """Run the command line."""
    return CliRunner().invoke(main, [str(part) for part in told])


def held(path):
    """What an archive holds, but for when it was written."""
    with zipfile.ZipFile(path) as file:
        manifest = json.loads(file.read("manifest.json"))
        manifest.pop("written_at")
        return manifest, {name: file.read(name) for name in file.namelist() if name != "manifest.json"}


@pytest.fixture
def moved(demo_file, tmp_path):
    """The sample household's archive."""
    folder = tmp_path / "old"
    folder.mkdir()
    shutil.copy(demo_file, folder / "kyklos.db")
    assert kyklos("export", tmp_path / "house.zip", "--folder", folder).exit_code == 0
    return tmp_path / "house.zip"


def test_export_import_export_is_equal(moved, tmp_path):
    """Every record, every photo and every spreadsheet is the same after the move; a second import changes nothing."""
    new = tmp_path / "new"
    out = kyklos("import", moved, "--folder", new)
    assert out.exit_code == 0, out.output
    assert kyklos("export", tmp_path / "again.zip", "--folder", new).exit_code == 0
    assert held(moved) == held(tmp_path / "again.zip")
    before = keeping.listed(new / "backups")
    assert "nothing was changed" in kyklos("import", moved, "--folder", new).output
    assert keeping.listed(new / "backups") == before
    assert kyklos("check", "--folder", new).exit_code == 0


def test_spreadsheets_beside_it_are_read_by_others(moved):
    """CSV of readings, tastings, brews, bottles and transfers, with headings; no cell begins with what a spreadsheet reckons."""
    with zipfile.ZipFile(moved) as file:
        for name in archive.CSV_FILES:
            rows = list(csv.reader(io.StringIO(file.read(f"csv/{name}.csv").decode())))
            assert len(rows) > 3, name
            assert all(len(row) == len(rows[0]) for row in rows)
            assert not any(cell[:1] in "=@" for row in rows for cell in row if cell)


def test_other_records_are_never_mixed_in(moved, demo_file, tmp_path):
    """A household with records refuses, names the ways, and keeps its own; told to replace, it backs up first."""
    mine = tmp_path / "mine"
    mine.mkdir()
    shutil.copy(demo_file, mine / "kyklos.db")
    with closing(sqlite3.connect(mine / "kyklos.db")) as file, file:
        file.execute("UPDATE vessel SET name = 'Mine' WHERE id = 1")
    out = kyklos("import", moved, "--folder", mine)
    assert out.exit_code == 2
    assert "--replace" in out.stderr
    assert kyklos("import", moved, "--folder", mine, "--replace").exit_code == 0
    (kept,) = (one for one in keeping.listed(mine / "backups") if one.why == "before-import")
    with closing(sqlite3.connect(kept.path)) as file:
        assert file.execute("SELECT name FROM vessel WHERE id = 1").fetchone() == ("Mine",)


def rewritten(path, change):
    """Write an archive anew with its files changed."""
    with zipfile.ZipFile(path) as file:
        files = {name: file.read(name) for name in file.namelist()}
    change(files)
    with zipfile.ZipFile(path, "w") as file:
        for name, content in files.items():
            file.writestr(name, content)


def manifest_with(**more):
    """Change the manifest."""

    def change(files):
        files["manifest.json"] = json.dumps({**json.loads(files["manifest.json"]), **more}).encode()

    return change


@pytest.mark.parametrize(
    "change",
    [
        lambda files: files.pop("manifest.json"),
        lambda files: files.update({"manifest.json": b"[" * 100_000}),
        lambda files: files.update({"tables/brew.jsonl": b"{}\n"}),
        lambda files: files.pop("tables/vessel.jsonl"),
        lambda files: files.pop(next(name for name in files if name.startswith("photos/"))),
        manifest_with(format="songs"),
        manifest_with(version=99),
        manifest_with(layout="9999"),
        manifest_with(files=[]),
        manifest_with(files={"tables/brew.jsonl": {"sha256": 5}}),
    ],
)
def test_what_does_not_hold_together_changes_nothing(moved, tmp_path, change):
    """A manifest, table or photo that is missing, changed or newer: one sentence, and the empty household stays empty."""
    rewritten(moved, change)
    new = tmp_path / "new"
    out = kyklos("import", moved, "--folder", new)
    assert out.exit_code == 2, out.output
    assert len(out.stderr.strip().splitlines()) == 1
    assert archive.is_empty(new / "kyklos.db")


def test_a_text_is_no_archive(tmp_path):
    """Whatever is no zip is said to be none."""
    (tmp_path / "letter.txt").write_text("Dear all,")
    out = kyklos("import", tmp_path / "letter.txt", "--folder", tmp_path / "new")
    assert out.exit_code == 2
    assert "no archive" in out.stderr


def test_a_line_end_within_a_note_is_no_end_of_a_record(demo_file, tmp_path):
    """Notes with the line ends of other alphabets and systems (next line, line and paragraph separator) come through whole."""
    odd = "one\u2028two\u2029three\x85four\x0bfive"
    folder = tmp_path / "old"
    folder.mkdir()
    shutil.copy(demo_file, folder / "kyklos.db")
    with closing(sqlite3.connect(folder / "kyklos.db")) as file, file:
        file.execute("UPDATE culture SET story = ? WHERE id = 1", (odd,))
    assert kyklos("export", tmp_path / "house.zip", "--folder", folder).exit_code == 0
    out = kyklos("import", tmp_path / "house.zip", "--folder", tmp_path / "new")
    assert out.exit_code == 0, out.output
    with closing(sqlite3.connect(tmp_path / "new" / "kyklos.db")) as file:
        assert file.execute("SELECT story FROM culture WHERE id = 1").fetchone() == (odd,)


@pytest.mark.parametrize("story", [b'"\\ud800"', b'"\xff"', b'9e999'])
def test_letters_that_no_file_can_hold_are_refused_in_a_sentence(moved, tmp_path, story):
    """Half a letter, or bytes that are none, change nothing, and the checksum fits."""
    with zipfile.ZipFile(moved) as file:
        content = {name: file.read(name) for name in file.namelist()}
    name = "tables/culture.jsonl"
    content[name] = re.sub(rb'"story":"[^"]*"', lambda _: b'"story":' + story, content[name], count=1)
    manifest = json.loads(content["manifest.json"])
    manifest["files"][name]["sha256"] = hashlib.sha256(content[name]).hexdigest()
    content["manifest.json"] = json.dumps(manifest).encode()
    with zipfile.ZipFile(tmp_path / "odd.zip", "w") as file:
        for one, body in content.items():
            file.writestr(one, body)
    out = kyklos("import", tmp_path / "odd.zip", "--folder", tmp_path / "new")
    assert out.exception is None or isinstance(out.exception, SystemExit)
    assert out.exit_code == 0 if story == b"9e999" else "Nothing was changed" in out.output
