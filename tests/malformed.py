"""Malformed documents and lines, by the ten thousand: each is read, or answered with an error of ours.

Run by hand: `python tests/malformed.py [how many] [seed]`.
"""

import hashlib
import json
import random
import re
import shutil
import sys
import tempfile
import zipfile
from datetime import UTC, datetime
from pathlib import Path
from unittest import mock
from zoneinfo import ZoneInfo

from kyklos.core.base.errors import KyklosError
from kyklos.core.bottles import ingredients, park
from kyklos.core.calc import CALCULATIONS, answer
from kyklos.core.sheets import logger_file
from kyklos.core.sheets.spreadsheet import SheetAsk
from kyklos.core.sheets.spreadsheet import read as read_sheet
from kyklos.exchange import archive, documents, packing, passport, workbook
from kyklos.store.file.database import Database
from kyklos.store.records import Culture, Household, Place

PASSPORT = {
    "format": "kyklos-culture-passport", "version": 1, "name": "Bora", "diet": "sugar", "origin": "bought", "begun_on": "2026-01-01",
    "written_on": "2027-01-01", "story": "From a bottle.", "care": "", "last_reading": {"ph": 3.1, "on": "2026-12-30"}, "vigour": 1.1,
    "things": [
        {"key": "brew-1", "kind": "brew", "on": "2026-02-01", "honey_share": 0.0, "tea": "black"},
        {"key": "disc-2", "kind": "disc", "on": "2026-02-10", "honey_share": None, "tea": ""},
    ],
    "links": [{"from": "brew-1", "to": "disc-2", "on": "2026-02-10"}],
}  # fmt: skip
TABLE = "Date,Time,Temp (°C)\n" + "\n".join(f"2027-02-{d:02d},{h:02d}:30,{20 + h / 10}" for d in range(1, 4) for h in range(0, 24, 6))
LINE = "12 swing-top 500 mL, 6 beer bottles 12 oz and 2 mason jars"
SHEET = "Batch #,Jar,Started,Date,pH,Temp (F),Taste,Bottled,Bottles,Size (oz),Notes\n1,Tall,2027-01-02,2027-01-05,3.8,72,a bit sweet,2027-01-12,6,16,ok\n2,Tall,1/13/2027,1/20/2027,\"3,4\",70,,,,,\n"
DOCUMENTS = [json.loads(found) for found in re.findall(r"```json\n(.*?)```", (Path(__file__).parents[1] / "docs" / "formats.md").read_text(), re.S) if "culture-passport" not in found]
STRANGE = ["\x00", "\r", "\n", "9" * 50, "9" * 6000, "-", "é", "\ud7ff", "{", "]", '"', ",", ";", "\t", "NaN", "1e999", "null", "true", "٣", "🫙", "../", "%s", "${x}", "<script>", " " * 50]  # fmt: skip


def spoilt(text, chance):
    """A text with some pieces cut out, doubled, swapped, or strange ones put in."""
    for _ in range(chance.randint(1, 6)):
        at = chance.randint(0, max(0, len(text)))
        way = chance.randint(0, 3)
        if way == 0:
            text = text[:at] + text[at + chance.randint(1, 12) :]
        elif way == 1:
            text = text[:at] + chance.choice(STRANGE) + text[at:]
        elif way == 2:
            text = text[:at] + text[max(0, at - 20) : at] + text[at:]
        else:
            text = text[:at] + chance.choice(STRANGE) + text[at + 1 :]
    return text


def twisted(value, chance):
    """A value with one part of it replaced by something else."""
    if isinstance(value, dict) and value and chance.random() < 0.85:
        key = chance.choice(list(value))
        return {**value, key: twisted(value[key], chance)} if chance.random() < 0.9 else {k: v for k, v in value.items() if k != key}
    if isinstance(value, list) and value and chance.random() < 0.8:
        at = chance.randrange(len(value))
        return [*value[:at], twisted(value[at], chance), *value[at + 1 :]]
    return chance.choice([None, "", " ", 0, -1, 10**400, 1e308, [], {}, [[]], True, "2027-13-45", "x" * 5000, "\x00", 0.5, {"a": 1}, "brew-1"])


def malformed_document(chance):
    """One of the documents in the docs, its text spoilt or a part of it twisted."""
    example = chance.choice(DOCUMENTS)
    text = json.dumps(twisted(example, chance)) if chance.random() < 0.5 else spoilt(json.dumps(example), chance)
    return text.encode("utf-8", "surrogatepass")


def questions(chance):
    """A question to the core, spoilt."""
    name = chance.choice(list(CALCULATIONS))
    told = {key.name: 1 if key.required else key.default for key in CALCULATIONS[name].keys}
    told = {key: value for key, value in told.items() if not hasattr(value, "forms")}
    return name, twisted(told, chance)


class Archives:
    """Archives of a household of one, spoilt: each value, each table, the manifest, or the bytes of the file."""

    def __init__(self, folder):
        """Make the whole one, and a file of today's layout without records."""
        self.folder, self.bare, self.whole = Path(folder), Path(folder) / "bare.db", Path(folder) / "whole.zip"
        home = Path(folder) / "home.db"
        database = Database(home)
        database.migrate()
        with database.writer() as session, session.begin():
            session.add(Household())
            session.add(Culture(name="Bora", started_at=datetime(2027, 1, 1, tzinfo=UTC), passport=PASSPORT))
            session.add(Place(name="Shelf", celsius=21.0))
        database.close()
        packing.export(home, self.whole)
        archive._bare(self.bare, archive.look(self.whole)[0].layout)
        with zipfile.ZipFile(self.whole) as file:
            self.files = {name: file.read(name) for name in file.namelist()}

    def read(self, chance):
        """Read one that was spoilt; what is taken is whole."""
        files, path = dict(self.files), self.folder / "spoilt.zip"
        name = chance.choice(["manifest.json", *[key for key in files if key.startswith("tables/") and files[key]]])
        text = files[name].decode()
        files[name] = (spoilt(text, chance) if chance.random() < 0.4 else self.twisted_lines(text, chance)).encode("utf-8", "surrogatepass")
        if name != "manifest.json" and chance.random() < 0.9:  # else the checksum tells
            manifest = json.loads(files["manifest.json"])
            manifest["files"][name]["sha256"] = hashlib.sha256(files[name]).hexdigest()
            files["manifest.json"] = json.dumps(manifest).encode()
        with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as file:
            for key, content in files.items():
                file.writestr(key, content)
        if chance.random() < 0.1:
            raw = bytearray(path.read_bytes())
            raw[chance.randrange(len(raw))] ^= 1 << chance.randrange(8)
            path.write_bytes(bytes(raw))
        made = self.folder / "unpacked.db"
        for end in ("", "-wal", "-shm"):
            Path(f"{made}{end}").unlink(missing_ok=True)
        with mock.patch.object(archive, "_bare", lambda made, layout: shutil.copy(self.bare, made)):  # quicker; put back for other tests
            archive.unpack(path, self.folder)

    @staticmethod
    def twisted_lines(text, chance):
        """A table or manifest with one value replaced."""
        lines = text.strip().split("\n") if text[:2] != "{\n" else [text]
        at = chance.randrange(len(lines))
        lines[at] = json.dumps(twisted(json.loads(lines[at]), chance))
        return "\n".join(lines) + "\n"


def one(chance, archives):
    """Try one; anything but an error of ours is a fault."""
    kind = chance.choices(range(9), (80, 80, 80, 40, 20, 10, 5, 80, 40))[0]
    try:
        if kind == 0:
            passport.read(spoilt(json.dumps(PASSPORT), chance).encode("utf-8", "surrogatepass"))
        elif kind == 1:
            passport.read(json.dumps(twisted(PASSPORT, chance)).encode("utf-8", "surrogatepass"))
        elif kind == 2:
            logger_file.read(spoilt(TABLE, chance), ZoneInfo("Europe/Paris"), chance.random() < 0.5)
        elif kind == 3:
            park.read_line(spoilt(LINE, chance))
        elif kind == 4:
            ingredients.doubts(spoilt("coconut milk with stevia", chance))
        elif kind == 5:
            answer(*questions(chance))
        elif kind == 6:
            archives.read(chance)
        elif kind == 7:
            documents.read(malformed_document(chance))
        else:
            tables = workbook.tables_of(spoilt(SHEET, chance).encode("utf-8", "surrogatepass"))
            read_sheet(tables, SheetAsk(), UTC, datetime(2027, 3, 1, tzinfo=UTC))
    except KyklosError:
        pass


def run(many, chance):
    """Try so many; gives how many were tried."""
    with tempfile.TemporaryDirectory() as folder:
        archives = Archives(folder)
        for _ in range(many):
            one(chance, archives)
    return many


if __name__ == "__main__":
    MANY, SEED = (int(told) for told in (*sys.argv[1:3], *("100000", "20270301")[len(sys.argv) - 1 :]))
    print(f"{run(MANY, random.Random(SEED))} tried with seed {SEED}: no fault")
