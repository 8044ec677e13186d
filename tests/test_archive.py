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
from kyklos.exchange import archive, packing
from kyklos.store.file import keeping


def kyklos(*told):
    """Run the command line."""
    return CliRunner().invoke(main, [str(part) for part in told])


def held(path):
    """What an archive holds, but for when it was written."""
    with zipfile.ZipFile(path) as file:
        manifest = json.loads(file.read("manifest.json"))
        manifest.pop("written_at")
        return manifest, {name: file.read(name) for name in file.namelist() if name != "manifest.json"}


@pytest.fixture(scope="session")
def written_once(demo_file, tmp_path_factory):
    """The sample household's archive, written once."""
    folder = tmp_path_factory.mktemp("archive")
    shutil.copy(demo_file, folder / "kyklos.db")
    assert kyklos("export", folder / "house.zip", "--folder", folder).exit_code == 0
    return folder / "house.zip"


@pytest.fixture
def moved(written_once, tmp_path):
    """A copy of it."""
    return shutil.copy(written_once, tmp_path / "house.zip")


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


def test_an_index_of_words_is_left_out_and_hinders_nothing(demo_file, tmp_path):
    """A household with a full-text index is exported as one without: what is computed from records is no record."""
    path = tmp_path / "indexed.db"
    path.write_bytes(demo_file.read_bytes())
    with closing(sqlite3.connect(path)) as connection:
        connection.executescript("CREATE VIRTUAL TABLE word USING fts5(said); INSERT INTO word VALUES ('damson')")
    packing.export(path, tmp_path / "with.zip")
    packing.export(demo_file, tmp_path / "without.zip")
    assert held(tmp_path / "with.zip") == held(tmp_path / "without.zip")


def test_spreadsheets_beside_it_are_read_by_others(moved):
    """CSV of readings, tastings, brews, bottles and transfers, with headings; no cell begins with what a spreadsheet reckons."""
    with zipfile.ZipFile(moved) as file:
        for name in packing.CSV_FILES:
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
    """A manifest, table or photo that is missing, changed or newer: one sentence, and nothing is begun or left over."""
    rewritten(moved, change)
    refused(moved, tmp_path / "new")


def refused(path, new):
    """An import that is refused whole, in one sentence."""
    out = kyklos("import", path, "--folder", new)
    assert out.exit_code == 2, out.output
    assert len(out.stderr.strip().splitlines()) == 1
    assert "Nothing was changed" in out.stderr
    assert [one.name for one in new.iterdir()] == ["serving.lock"]


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


def tampered(path, table, change):
    """Change the records of a table so that every checksum is right."""

    def rewrite(files):
        name = f"tables/{table}.jsonl"
        rows = [json.loads(line) for line in files[name].decode().split("\n") if line]
        files[name] = "".join(f"{row if isinstance(row, str) else json.dumps(row)}\n" for row in change(rows)).encode()
        manifest = json.loads(files["manifest.json"])
        manifest["files"][name]["sha256"] = hashlib.sha256(files[name]).hexdigest()
        files["manifest.json"] = json.dumps(manifest).encode()

    rewritten(path, rewrite)


def first(**more):
    """Change the first record."""
    return lambda rows: [{**rows[0], **more}, *rows[1:]]


@pytest.mark.parametrize(
    ("table", "change"),
    [
        ("household", first(zone="Nowhere/Land")),
        ("household", first(units="furlongs")),
        ("household", first(theme="pink")),
        ("household", first(name="Our\r\nkitchen")),
        ("household", first(name=None)),
        ("household", first(quiet_from=99)),
        ("household", lambda rows: []),
        ("household", lambda rows: [*rows, {**rows[0], "id": 2}]),
        ("place", first(celsius="warm")),
        ("place", first(celsius=1e9)),
        ("place", lambda rows: [json.dumps(rows[0]).replace(str(rows[0]["celsius"]), "1e999"), *rows[1:]]),
        ("place", lambda rows: [json.dumps(rows[0]).replace(str(rows[0]["celsius"]), "NaN"), *rows[1:]]),
        ("place", first(kind="attic")),
        ("vessel", first(kind="barrel")),
        ("vessel", first(version=10**30)),
        ("culture", first(diet="milk")),
        ("culture", first(started_at="yesterday")),
        ("culture", first(started_at="0001-01-01 00:00:00")),
        ("culture", first(passport='{"name": 5}')),
        ("brew", first(tea="gravel 1.0")),
        ("brew", first(status="asleep")),
        ("brew", first(plan="[1, 2]")),
        ("brew", first(facts='{"done": 5}')),
        ("brew", first(sugar_g_per_l=-5)),
        ("brew", first(vessel_id=9999)),
        ("reading", first(ph=77)),
        ("reading", first(instrument="nose")),
        ("bottling", first(start="[1, 2, 3]")),
        ("bottle", first(hiss=9)),
        ("tasting", first(score=50)),
        ("look", first(signs='["unicorn"]')),
        ("look", first(surface="lava")),
        ("temperature_log", lambda rows: [{**dict.fromkeys(("brew_id", "place_id")), "id": 1}]),
        ("recipe", lambda rows: [{"id": 1, "name": "x", "note": "", "card": '{"tea": 5}', "made_at": "2027-01-01 00:00:00", "version": 1}]),
        ("change", first(rows='[["place"]]')),
        ("photo_content", first(large="not a picture")),
        ("wished", first(kind="feast")),
        ("purchase", first(kind="gold")),
        ("kept_lesson", first(evidence='[["brew"]]')),
        ("kept_lesson", first(standing="asleep")),
        ("experiment", first(arms="[1]")),
        ("experiment", first(sheets="[[1, 2, 3]]")),
        ("experiment", first(triangles="[[1, 0, 7]]")),
        ("care_done", first(what="moon")),
    ],
)  # fmt: skip
def test_values_that_nobody_could_type_are_refused_whole(moved, tmp_path, table, change):
    """Every checksum is right and one value is not: kinds, zones, units, numbers, letters, packed documents."""
    tampered(moved, table, change)
    refused(moved, tmp_path / "new")


def spoilt_entry(files_of):
    """Write over what stands in an entry of the zip, without telling its own checksum."""
    raw = bytearray(files_of.read_bytes())
    at = zipfile.ZipFile(files_of).getinfo("tables/brew.jsonl").header_offset + 60
    raw[at : at + 40] = b"\x5a" * 40
    files_of.write_bytes(bytes(raw))


def locked_entry(files_of):
    """Mark an entry as encrypted."""
    raw = bytearray(files_of.read_bytes())
    at = raw.rindex(b"tables/brew.jsonl") - 46
    raw[at + 8] |= 1
    raw[zipfile.ZipFile(files_of).getinfo("tables/brew.jsonl").header_offset + 6] |= 1
    files_of.write_bytes(bytes(raw))


@pytest.mark.parametrize("spoil", [spoilt_entry, locked_entry, lambda path: path.write_bytes(path.read_bytes()[:20_000])])
def test_a_damaged_or_locked_entry_is_told(moved, tmp_path, spoil):
    """What cannot be unpacked is said to be broken."""
    spoil(moved)
    refused(moved, tmp_path / "new")


def test_no_table_is_no_household(moved, tmp_path):
    """A manifest that lists nothing holds nothing."""
    rewritten(moved, manifest_with(files={}))
    refused(moved, tmp_path / "new")


def test_what_needs_more_room_than_there_is_is_refused_before(moved, tmp_path, monkeypatch):
    """How much it comes to unpacked is held against the free room."""
    monkeypatch.setattr(keeping, "free_bytes", lambda _: 1000)
    refused(moved, tmp_path / "new")


def test_a_large_table_is_read_row_by_row(moved, tmp_path):
    """A table of 60 MB takes less than 40 MB of memory more than an empty one."""
    import tracemalloc

    note = {"about": "brew", "about_id": 1, "taster_id": None, "at": "2027-01-01 00:00:00", "text": "x" * 19_000, "struck": 0, "struck_at": None}
    tampered(moved, "note", lambda rows: [*rows, *({"id": 1000 + n, **note} for n in range(3000))])
    tracemalloc.start()
    archive.unpack(moved, tmp_path)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert peak < 40e6


def test_an_import_brings_back_a_lost_household_only_by_word(moved, demo_file, tmp_path):
    """Where the household is gone and its secret is not, it is told; with --replace the archive takes its place."""
    home = tmp_path / "home"
    home.mkdir()
    (home / "secret").write_text("a" * 64)
    out = kyklos("import", moved, "--folder", home)
    assert out.exit_code == 2
    assert "is gone" in out.stderr
    assert kyklos("import", moved, "--folder", home, "--replace").exit_code == 0
    assert kyklos("check", "--folder", home).exit_code == 0


def test_empty_cells_stay_empty(moved):
    """No cell of a spreadsheet is a lone apostrophe."""
    with zipfile.ZipFile(moved) as file:
        cells = [cell for name in packing.CSV_FILES for row in csv.reader(io.StringIO(file.read(f"csv/{name}.csv").decode())) for cell in row]
    assert "" in cells
    assert "'" not in cells


@pytest.mark.parametrize("story", [b'"\\ud800"', b'"\xff"', b"9e999"])
def test_letters_that_no_file_can_hold_are_refused_in_a_sentence(moved, tmp_path, story):
    """Half a letter, bytes that are none, a number where words belong: nothing changes, and the checksum fits."""

    def change(files):
        name = "tables/culture.jsonl"
        files[name] = re.sub(rb'"story":"[^"]*"', lambda _: b'"story":' + story, files[name], count=1)
        manifest = json.loads(files["manifest.json"])
        manifest["files"][name]["sha256"] = hashlib.sha256(files[name]).hexdigest()
        files["manifest.json"] = json.dumps(manifest).encode()

    rewritten(moved, change)
    refused(moved, tmp_path / "new")
