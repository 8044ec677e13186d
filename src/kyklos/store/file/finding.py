"""The index of words: all that was ever written or named, kept in step with the rows in the same transaction, an undo too.

It is computed from records and is none itself: it can be made anew at any time, and the archive leaves it out.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from sqlalchemy.orm import Session

from ...core.base.facts import SWEETENERS
from ...core.bottles.heard import HISS_WORDS
from ...core.bottles.ingredients import INGREDIENTS
from ...core.bottles.leaving import LEAVINGS
from ...core.judging.observations import OBSERVATIONS
from ...core.liquid.taste import score_word
from ...core.supply.goods import KIND_NAMES, GoodKind

Row = Mapping[str, Any]
RENAMES = frozenset({"vessel", "culture", "flavour", "own_ingredient", "taster", "place", "instrument", "recipe"})  #: Their names stand in what is about others.
AT_ONCE = 200  #: So many rows are read and indexed at once: a large table fills no memory.
MANY = 400  #: So many rows written at once: all is indexed anew.
NEVER = "1970-01-01 00:00:00"


@dataclass(frozen=True, slots=True)
class Words:
    """What is found of one row."""

    at: str
    title: str
    body: str
    about: str  #: The table of the thing that the row is about.
    about_id: int


@dataclass(frozen=True, slots=True)
class _Kind:
    """How one table is indexed: its rows with the names they need, and the words that they tell."""

    select: str
    tell: Callable[[Row], Words | None]


_OF_BREW = "JOIN brew b ON b.liquid_id = t.liquid_id JOIN vessel v ON v.id = b.vessel_id JOIN culture c ON c.id = b.culture_id"
_FILLED = (
    "JOIN bottling g ON g.id = {id} JOIN brew b ON b.id = g.brew_id JOIN vessel v ON v.id = b.vessel_id JOIN culture c ON c.id = b.culture_id "
    "LEFT JOIN flavour f ON f.id = g.flavour_id LEFT JOIN own_ingredient o ON g.flavour = 'own-' || o.id"
)
_NAMES = "v.name AS vessel, c.name AS culture"
_FILLING = f"{_NAMES}, f.name AS kept, o.name AS own, g.flavour AS flavour, g.note AS filling_note, g.id AS filling, b.id AS brew"


def _filling(row: Row) -> str:
    known = INGREDIENTS.get(row["flavour"])
    return str(row["kept"] or row["own"] or (known.name if known is not None else "") or row["filling_note"] or "Plain")


def _join(*parts: Any) -> str:
    return ". ".join(str(part).strip(" .") for part in parts if part not in (None, "", 0) and str(part).strip())


def _seen(keys: Iterable[str]) -> str:
    return ", ".join(OBSERVATIONS[key].name.lower() if key in OBSERVATIONS else key for key in keys if key)


def _brew(row: Row) -> Words:
    plan = json.loads(row["plan"] or "{}")
    sweet = ", ".join(SWEETENERS[key].name.lower() for key, _ in plan.get("card", {}).get("sweeteners", ()) if key in SWEETENERS)
    body = _join(row["kind"], row["base"], f"{row['tea']} tea", sweet or ("honey" if row["honey_share"] else ""), row["status"], row["end_note"], row["place"])
    return Words(row["pitched_at"], f"{row['vessel']}, {row['culture']}", body, "brew", row["id"])


def _look(row: Row) -> Words:
    seen = _seen([row["surface"], *json.loads(row["signs"] or "[]")])
    smell = f"smells of {_seen([row['smell']])}" if row["smell"] else ""
    return Words(row["at"], f"{row['vessel']}: {seen}", _join(smell, row["note"], row["mistaken"], row["culture"]), "brew", row["brew"])


def _tasting(row: Row) -> Words:
    return Words(row["at"], f"{row['vessel']}: {score_word(row['score'])}", _join(row["note"], row["taster"], row["after"], row["culture"]), "brew", row["brew"])


def _reading(row: Row) -> Words | None:
    return Words(row["at"], f"{row['vessel']}, measured", _join(row["note"], row["culture"]), "brew", row["brew"]) if row["note"] else None


def _bottling(row: Row) -> Words:
    return Words(row["at"], f"{_filling(row)}, {row['count']} bottled", _join(row["filling_note"], row["parts"], f"from {row['vessel']}", row["culture"]), "bottling", row["filling"])


def _bottle(row: Row) -> Words | None:
    if row["state"] != "gone":
        return None
    left = LEAVINGS[row["left_as"]].name if row["left_as"] in LEAVINGS else "opened"
    hiss = HISS_WORDS[row["hiss"]] if row["hiss"] is not None else ""
    to = f"to {row['to_whom']}" if row["to_whom"] else ""
    return Words(row["gone_at"] or NEVER, f"{_filling(row)}: {left}", _join(row["taste"], hiss, row["cause"], to, f"from {row['vessel']}"), "bottle", row["id"])


def _score(row: Row) -> Words:
    more = f"next time {row['next_time']}" if row["next_time"] else ""
    return Words(row["at"], f"{_filling(row)}: {row['liked']} of 5", _join(row["word"], row["taster"], more), "bottling", row["filling"])


def _note(row: Row) -> Words:
    title = row["vessel"] or row["named"] or (_filling(row) if row["flavour"] else "") or row["about"]
    return Words(row["at"], f"Note on {title}", _join(row["text"], row["taster"]), row["about"], row["about_id"])


def _named(table: str, *columns: str, at: str = "") -> _Kind:
    """Index a thing by its name and some words of its own."""

    def tell(row: Row) -> Words:
        return Words(row[at] if at and row[at] else NEVER, row["name"], _join(*(row[column] for column in columns)), table, row["id"])

    return _Kind(f"SELECT t.* FROM {table} t WHERE {{where}}", tell)


KINDS: Mapping[str, _Kind] = {
    "brew": _Kind(f"SELECT t.*, {_NAMES}, p.name AS place FROM brew t JOIN vessel v ON v.id = t.vessel_id JOIN culture c ON c.id = t.culture_id "
                  "LEFT JOIN standing s ON s.vessel_id = t.vessel_id AND s.since <= t.pitched_at AND (s.until IS NULL OR s.until > t.pitched_at) "
                  "LEFT JOIN place p ON p.id = s.place_id WHERE {where}", _brew),
    "look": _Kind(f"SELECT t.*, {_NAMES}, b.id AS brew FROM look t {_OF_BREW} WHERE NOT t.struck AND {{where}}", _look),
    "tasting": _Kind(f"SELECT t.*, {_NAMES}, b.id AS brew, w.name AS taster FROM tasting t {_OF_BREW} JOIN taster w ON w.id = t.taster_id "
                     "WHERE NOT t.struck AND {where}", _tasting),
    "reading": _Kind(f"SELECT t.*, {_NAMES}, b.id AS brew FROM reading t {_OF_BREW} WHERE NOT t.struck AND t.note != '' AND {{where}}", _reading),
    "bottling": _Kind(f"SELECT t.*, {_FILLING}, (SELECT count(*) FROM bottle x WHERE x.bottling_id = t.id) AS count, "
                      "(SELECT group_concat(a.name, ', ') FROM addition a WHERE a.liquid_id = t.liquid_id AND a.name != '') AS parts "
                      f"FROM bottling t {_FILLED.format(id='t.id')} WHERE {{where}}", _bottling),
    "bottle": _Kind(f"SELECT t.*, {_FILLING} FROM bottle t {_FILLED.format(id='t.bottling_id')} WHERE {{where}}", _bottle),
    "score": _Kind(f"SELECT t.*, {_FILLING}, w.name AS taster FROM score t {_FILLED.format(id='t.bottling_id')} JOIN taster w ON w.id = t.taster_id "
                   "LEFT JOIN comparison x ON x.id = t.comparison_id WHERE (t.comparison_id IS NULL OR x.revealed_at IS NOT NULL) AND {where}", _score),
    "note": _Kind("SELECT t.*, w.name AS taster, coalesce(bv.name, CASE t.about WHEN 'vessel' THEN v.name END) AS vessel, "
                  "coalesce(cu.name, pl.name, fl.name, re.name, i.name) AS named, g.flavour AS flavour, kf.name AS kept, o.name AS own, g.note AS filling_note "
                  "FROM note t LEFT JOIN taster w ON w.id = t.taster_id "
                  "LEFT JOIN brew b ON t.about = 'brew' AND b.id = t.about_id LEFT JOIN vessel bv ON bv.id = b.vessel_id "
                  "LEFT JOIN vessel v ON t.about = 'vessel' AND v.id = t.about_id LEFT JOIN culture cu ON t.about = 'culture' AND cu.id = t.about_id "
                  "LEFT JOIN place pl ON t.about = 'place' AND pl.id = t.about_id LEFT JOIN flavour fl ON t.about = 'flavour' AND fl.id = t.about_id "
                  "LEFT JOIN recipe re ON t.about = 'recipe' AND re.id = t.about_id LEFT JOIN instrument i ON t.about = 'instrument' AND i.id = t.about_id "
                  "LEFT JOIN bottle bo ON t.about = 'bottle' AND bo.id = t.about_id "
                  "LEFT JOIN bottling g ON g.id = CASE t.about WHEN 'bottling' THEN t.about_id WHEN 'bottle' THEN bo.bottling_id END "
                  "LEFT JOIN flavour kf ON kf.id = g.flavour_id LEFT JOIN own_ingredient o ON g.flavour = 'own-' || o.id WHERE NOT t.struck AND {where}", _note),
    "overrule": _Kind(f"SELECT t.*, {_NAMES} FROM overrule t JOIN brew b ON b.id = t.brew_id JOIN vessel v ON v.id = b.vessel_id "
                      "JOIN culture c ON c.id = b.culture_id WHERE NOT t.struck AND {where}",
                      lambda row: Words(row["at"], f"{row['vessel']}: called {row['word']}", _join(row["reason"], row["culture"]), "brew", row["brew_id"])),
    "gift": _Kind("SELECT t.*, c.name AS culture FROM gift t JOIN culture c ON c.id = t.culture_id WHERE {where}",
                  lambda row: Words(row["at"], f"{row['culture']}: {'given' if row['outward'] else 'received'}", _join(row["who"], row["note"]), "culture", row["culture_id"])),
    "upkeep": _Kind("SELECT t.*, v.name AS vessel FROM upkeep t JOIN vessel v ON v.id = t.vessel_id WHERE {where}",
                    lambda row: Words(row["at"], f"{row['vessel']}: {row['what']}", _join(row["note"]), "vessel", row["vessel_id"])),
    "wished": _Kind("SELECT t.* FROM wished t WHERE t.ended_at IS NULL AND {where}",
                    lambda row: Words(f"{row['day']} 12:00:00", row["kind"].capitalize(), _join(row["words"]), "wished", row["id"])),
    "purchase": _Kind("SELECT t.* FROM purchase t WHERE {where}",
                      lambda row: Words(f"{row['day']} 12:00:00", f"Bought {row['key'].replace('-', ' ')}", KIND_NAMES.get(GoodKind(row["kind"]), ""), "purchase", row["id"])),
    "infusion": _named("infusion", "note", at="began_at"),
    "culture": _named("culture", "story", "origin", "diet", at="started_at"),
    "disc": _named("disc", "ended_as", "ended_note", at="made_at"),
    "vessel": _named("vessel", "kind", "material"),
    "place": _named("place", "kind"),
    "flavour": _named("flavour", "note", at="kept_at"),
    "recipe": _named("recipe", "note", at="made_at"),
    "own_ingredient": _named("own_ingredient", "note", "form"),
    "instrument": _named("instrument", "kind"),
    "experiment": _Kind("SELECT t.* FROM experiment t WHERE {where}",
                        lambda row: Words(row["started_at"], row["question"], _join(row["changed"]), "experiment", row["id"])),
    "kept_lesson": _Kind("SELECT t.* FROM kept_lesson t WHERE t.standing != 'dismissed' AND {where}",
                         lambda row: Words(row["at"], "Lesson", row["text"], "kept_lesson", row["id"])),
}  # fmt: skip
_INSERT = "INSERT INTO found (rowid, title, body, kind, number, at, about, about_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?)"
_PLACE = {table: place for place, table in enumerate(KINDS)}
ROOM = 2**40  #: Rows that a table may have in the index.


def _rowid(table: str, number: int) -> int:
    """Return where a row stands in the index, so that it is found there without looking."""
    return _PLACE[table] * ROOM + number


def follow_words(session: Session, rows: list[list[Any]]) -> None:
    """Bring the index in step with what a change or an undo wrote.

    Args:
        session: That writes, within its transaction.
        rows: Table, number, row before, row after, as the journal keeps them.
    """
    tables = {table for table, _, before, after in rows if before is not None and after is not None}
    if tables & RENAMES or len(rows) > MANY:
        rebuild(session)
        return
    touched = {(table, number) for table, number, _, _ in rows if table in KINDS}
    touched |= {("bottling", row["bottling_id"]) for table, _, before, after in rows if table == "bottle" for row in (before, after) if row}
    touched |= {("score", number) for number in _unveiled(session, rows)}
    for table, number in sorted(touched):
        _index(session, table, number)


def _unveiled(session: Session, rows: list[list[Any]]) -> list[int]:
    """List scores of comparisons whose glasses were named, or veiled again."""
    numbers = [number for table, number, _, _ in rows if table == "comparison"]
    found = (session.connection().exec_driver_sql("SELECT id FROM score WHERE comparison_id = ?", (number,)).scalars() for number in numbers)
    return [number for some in found for number in some]


def _index(session: Session, table: str, number: int) -> None:
    connection = session.connection()
    connection.exec_driver_sql("DELETE FROM found WHERE rowid = ?", (_rowid(table, number),))
    kind = KINDS[table]
    row = connection.exec_driver_sql(kind.select.format(where="t.id = ?"), (number,)).mappings().first()
    if row is not None and (words := kind.tell(dict(row))) is not None:
        connection.exec_driver_sql(_INSERT, (_rowid(table, number), words.title, words.body, table, number, words.at, words.about, words.about_id))


def rebuild(session: Session) -> None:
    """Make the index anew from all rows."""
    connection = session.connection()
    connection.exec_driver_sql("DELETE FROM found")
    for table, kind in KINDS.items():
        found = connection.execution_options(yield_per=AT_ONCE).exec_driver_sql(kind.select.format(where="1")).mappings()
        for some in found.partitions(AT_ONCE):
            told = ((row["id"], kind.tell(dict(row))) for row in some)
            rows = [(_rowid(table, number), words.title, words.body, table, number, words.at, words.about, words.about_id) for number, words in told if words is not None]
            if rows:
                connection.exec_driver_sql(_INSERT, rows)


def is_empty(session: Session) -> bool:
    """Return whether nothing is indexed though there is something to be found."""
    connection = session.connection()
    none = connection.exec_driver_sql("SELECT 1 FROM found LIMIT 1").first() is None
    return none and any(connection.exec_driver_sql(f"SELECT 1 FROM {table} LIMIT 1").first() for table in ("vessel", "culture", "brew"))
