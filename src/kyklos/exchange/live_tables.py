"""Live tables: a household's numbers as they stand, whole or since a moment, row by row, for a spreadsheet or a notebook of code.

Moments are ISO 8601 with their offset, units stand in the names of columns, numbers of rows join the tables. What was struck out is there,
marked. A table is read as it is sent, so that twenty years fill no memory.
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterator, Mapping
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from types import MappingProxyType

from ..store.file import opening
from .packing import RECKONED

AT_ONCE = 400  #: Rows read and sent at once.
CSV, LINES = "csv", "jsonl"
TYPES = {CSV: "text/csv; charset=utf-8", LINES: "application/x-ndjson; charset=utf-8"}
_BREW = "LEFT JOIN brew b ON b.liquid_id = t.liquid_id LEFT JOIN vessel v ON v.id = b.vessel_id LEFT JOIN culture c ON c.id = b.culture_id"
_OF = "b.id AS brew, v.id AS vessel, v.name AS vessel_name, c.id AS culture"


def _at(column: str, name: str = "at") -> str:
    return f"strftime('%Y-%m-%dT%H:%M:%S+00:00', {column}) AS {name}"


@dataclass(frozen=True, slots=True)
class LiveTable:
    """One table: what it says, and how it is asked."""

    name: str
    says: str
    question: str
    written: str = ""  #: The table whose changes tell since when a row is new; empty: its own moment does.
    order: str = "id"


TABLES: Mapping[str, LiveTable] = MappingProxyType({table.name: table for table in (
    LiveTable("readings", "every measurement, by hand or sent", f"""SELECT t.id, {_at('t.at')}, {_OF}, t.ph, t.instrument AS ph_read_by, t.celsius AS temperature_degc,
      t.low_c AS low_degc, t.high_c AS high_degc, t.gravity AS gravity_sg, t.ta_g_per_l AS acidity_g_per_l, t.millivolts AS voltage_mv, t.instrument_id AS instrument,
      t.device_id AS device, t.note, t.struck, t.replaces_id AS replaces FROM reading t {_BREW}""", "reading"),
    LiveTable("temperatures", "the courses of loggers and probes, thinned to what draws the same line", f"""SELECT t.id, {_at("j.value ->> '$[0]', 'unixepoch'")},
      t.brew_id AS brew, b.vessel_id AS vessel, t.place_id AS place, j.value ->> '$[1]' AS temperature_degc, t.name AS source, t.device_id AS device,
      CASE WHEN t.struck THEN 1 ELSE EXISTS (SELECT 1 FROM device_doubt d WHERE d.device_id = t.device_id AND strftime('%s', d.since) <= j.value ->> '$[0]' + 0
        AND strftime('%s', d.until) > j.value ->> '$[0]' + 0) END AS struck
      FROM temperature_log t LEFT JOIN brew b ON b.id = t.brew_id, json_each(t.points) j"""),
    LiveTable("tastings", "what each taster said, from -3 much too sweet to 3 much too sour", f"""SELECT t.id, {_at('t.at')}, {_OF}, w.name AS taster, t.score, t.again, t.note,
      t.struck FROM tasting t JOIN taster w ON w.id = t.taster_id {_BREW}""", "tasting"),
    LiveTable("looks", "what was seen and smelt", f"""SELECT t.id, {_at('t.at')}, {_OF}, t.surface, t.signs, t.smell, t.note, t.struck FROM look t {_BREW}""", "look"),
    LiveTable("brews", "every brew, and what it was started with", f"""SELECT b.id, {_at('b.pitched_at', 'begun_at')}, {_at('b.ended_at', 'ended_at')}, b.id AS brew, v.id AS vessel,
      v.name AS vessel_name, c.id AS culture, c.name AS culture_name, b.status, b.kind, b.tea, b.leaf_g_per_l, b.sugar_g_per_l, b.honey_share, b.alkalinity_meq_per_l,
      b.starter_fraction, b.starter_ph, b.liquid_id AS liquid FROM brew b JOIN vessel v ON v.id = b.vessel_id JOIN culture c ON c.id = b.culture_id""", "brew"),
    LiveTable("transfers", "what was poured from where into where", f"""SELECT t.id, {_at('t.at')}, coalesce(s.id, g.id) AS brew, coalesce(s.vessel_id, g.vessel_id) AS vessel, t.litres, t.how,
      t.source_id AS from_liquid, t.target_id AS into_liquid, s.id AS from_brew, g.id AS into_brew, t.name, t.ph FROM transfer t
      LEFT JOIN brew s ON s.liquid_id = t.source_id LEFT JOIN brew g ON g.liquid_id = t.target_id""", "transfer"),
    LiveTable("additions", "sweet tea, water and vinegar that were put in", f"""SELECT t.id, {_at('t.at')}, {_OF}, t.what, t.name, t.litres, t.grams AS sugar_g, t.honey_share
      FROM addition t {_BREW}""", "addition"),
    LiveTable("bottles", "every bottle, from filling to glass", f"""SELECT x.id, {_at('g.at', 'filled_at')}, {_at('x.gone_at', 'gone_at')}, g.brew_id AS brew, b.vessel_id AS vessel, g.id AS filling,
      coalesce(f.name, g.flavour) AS flavour, g.flavour_g_per_l, g.sugar_g_per_l AS priming_g_per_l, y.kind, y.volume_ml, x.headspace_fraction, x.state, x.left_as,
      x.hiss AS hiss_0_to_4, x.taste FROM bottle x JOIN bottling g ON g.id = x.bottling_id JOIN bottle_type y ON y.id = x.type_id JOIN brew b ON b.id = g.brew_id
      LEFT JOIN flavour f ON f.id = g.flavour_id""", "bottle"),
    LiveTable("scores", "how bottles were liked, 1 to 5", f"""SELECT t.id, {_at('t.at')}, g.brew_id AS brew, b.vessel_id AS vessel, t.bottling_id AS filling, t.bottle_id AS bottle, w.name AS taster,
      t.liked AS liked_1_to_5, t.again, t.word FROM score t JOIN bottling g ON g.id = t.bottling_id JOIN brew b ON b.id = g.brew_id JOIN taster w ON w.id = t.taster_id""", "score"),
    LiveTable("cultures", "the lines, and where each came from", f"""SELECT t.id, {_at('t.started_at', 'begun_at')}, t.name, t.diet, t.origin, t.parent_id AS parent, t.story FROM culture t""", "culture"),
    LiveTable("lessons", "what was learned, and where it comes back", f"""SELECT t.id, {_at('t.at')}, t.text, t.standing, t.applies, t.helped FROM kept_lesson t""", "kept_lesson"),
    LiveTable("forecasts", "each pH reading beside what was foretold of it, as it was made", """SELECT l.brew_id AS brew, b.vessel_id AS vessel, j.value ->> '$[0]' AS day,
      j.value ->> '$[1]' AS ahead_days, j.value ->> '$[2]' AS said_ph, j.value ->> '$[3]' AS low_ph, j.value ->> '$[4]' AS high_ph, j.value ->> '$[5]' AS happened_ph
      FROM lesson l JOIN brew b ON b.id = l.brew_id, json_each(l.tests) j""", order="brew, day"),
)})  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class RowsAsked:
    """Which rows of a table are wanted."""

    since: datetime | None = None  #: Recorded or corrected since; None: all.
    brew: int | None = None
    vessel: int | None = None


def _where(table: LiveTable, asked: RowsAsked, columns: list[str]) -> tuple[str, list[object]]:
    parts: list[str] = []
    given: list[object] = []
    for name, value in (("brew", asked.brew), ("vessel", asked.vessel)):
        if value is not None:
            parts.append(f"q.{name} = ?" if name in columns else "0")
            given += [value] if name in columns else []
    if asked.since is not None:
        moment = asked.since.astimezone(UTC)
        first = next((name for name in ("at", "begun_at", "filled_at") if name in columns), None)
        new = [f"q.{first} >= ?"] if first is not None else []
        given += [moment.isoformat(timespec="seconds")] if first is not None else []
        if table.written:
            new.append("EXISTS (SELECT 1 FROM touched o WHERE o.name = ? AND o.number = q.id AND o.refers = 0 AND o.change_id >= (SELECT coalesce(min(id), 9e18) FROM change WHERE at >= ?))")
            given += [table.written, moment.replace(tzinfo=None).isoformat(sep=" ", timespec="microseconds")]
        parts.append(f"({' OR '.join(new)})" if new else "1")
    return (" WHERE " + " AND ".join(parts) if parts else ""), given


def _plain(value: object) -> object:
    """Keep a cell from being reckoned with by a spreadsheet."""
    return f"'{value}" if isinstance(value, str) and value.startswith(RECKONED) else value


def rows_of(household: Path, table: LiveTable, form: str, asked: RowsAsked) -> Iterator[bytes]:
    """Give a table piece by piece, from one look at the household.

    Args:
        household: Its file, which may be in use; it is only read.
        table: One of TABLES.
        form: csv or jsonl
        asked: Which rows.
    """
    with closing(opening.reading(household)) as connection:
        connection.execute("BEGIN")
        columns = [part[0] for part in connection.execute(f"SELECT * FROM ({table.question}) LIMIT 0").description]
        where, given = _where(table, asked, columns)
        found = connection.execute(f"SELECT * FROM ({table.question}) q{where} ORDER BY {table.order}", given)
        if form == CSV:
            yield _csv_lines([columns])
        while rows := found.fetchmany(AT_ONCE):
            yield _csv_lines([[_plain(cell) for cell in row] for row in rows]) if form == CSV else _json_lines(columns, rows)


def _csv_lines(rows: list[list[object]] | list[list[str]]) -> bytes:
    out = io.StringIO()
    csv.writer(out, lineterminator="\r\n").writerows(rows)
    return out.getvalue().encode()


def _json_lines(columns: list[str], rows: list[tuple[object, ...]]) -> bytes:
    told = (json.dumps(dict(zip(columns, row, strict=True)), ensure_ascii=False, separators=(",", ":")) for row in rows)
    return "".join(f"{line}\n" for line in told).encode()


class RowsFile:
    """A table as a file that is read piece by piece, as fast as its reader takes it."""

    def __init__(self, pieces: Iterator[bytes]) -> None:
        """Take the pieces; none is made before it is asked for."""
        self._pieces, self._rest = pieces, b""

    def read(self, size: int = -1) -> bytes:
        """Return what comes next, so much at most; nothing: that was all."""
        while not self._rest:
            piece = next(self._pieces, None)
            if piece is None:
                return b""
            self._rest = piece
        taken, self._rest = (self._rest, b"") if size < 0 else (self._rest[:size], self._rest[size:])
        return taken

    def close(self) -> None:
        """Stop; what was not asked for is never read."""
        self._pieces.close()  # type: ignore[attr-defined]
