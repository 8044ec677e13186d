"""Searching: the things in which words stand, the likeliest first, with their day and the words around."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import text
from sqlalchemy.orm import Session

from ...core.notebook.days import DaySpan
from ...core.notebook.terms import Sought, near

MARK = ("\x02", "\x03")  #: Around each word that was found.
TITLE_WEIGHT = 3.0  #: A word in the title counts so much against one in the body. [-]
FEW = 12  #: Words around what was found.
FORGIVEN_WORDS = 20_000  #: Of so many known words those one letter away are looked for.
GROUPS: dict[str, tuple[str, ...]] = {
    "brews": ("brew", "look", "tasting", "reading", "overrule"),
    "bottles": ("bottling", "bottle", "score", "infusion"),
    "notes": ("note",),
    "lessons": ("kept_lesson", "experiment"),
    "things": ("culture", "disc", "vessel", "place", "flavour", "recipe", "own_ingredient", "instrument", "gift", "upkeep", "wished", "purchase"),
}


@dataclass(frozen=True, slots=True)
class Hit:
    """Something that was found."""

    kind: str  #: Its table.
    number: int
    at: datetime | None  #: None: a thing without a day.
    title: str  #: With marks around what was found.
    words: str  #: The words around.
    about: str
    about_id: int


@dataclass(frozen=True, slots=True)
class Hits:
    """What was found, and how it was looked for."""

    rows: tuple[Hit, ...]
    count: int
    by_group: dict[str, int]
    forgiven: tuple[str, ...] = ()  #: Words that were looked for instead of a misspelt one.
    loose: bool = False  #: Not all words stand in it.


def _quoted(word: str, prefix: bool) -> str:
    return '"' + word.replace('"', '""') + '"' + ("*" if prefix else "")


def _known(session: Session, word: str) -> bool:
    return session.execute(text("SELECT 1 FROM found WHERE found MATCH :word LIMIT 1"), {"word": _quoted(word, False)}).first() is not None


def _forgive(session: Session, word: str) -> list[str]:
    """List the words one letter away from one that stands nowhere. Known words are kept by their stems."""
    rows = session.execute(text("SELECT term FROM found_words WHERE length(term) BETWEEN :low AND :high LIMIT :most"),
                           {"low": len(word) - 3, "high": len(word) + 1, "most": FORGIVEN_WORDS}).scalars().all()  # fmt: skip
    stems = [word, *(word.removesuffix(end) for end in ("s", "es", "ed", "ing", "y") if word.endswith(end))]
    return list(dict.fromkeys(found for stem in stems for found in near(stem, rows)))[:6]


def _match(groups: Sequence[Sequence[str]], open_end: bool, joiner: str) -> str:
    parts = [" OR ".join(_quoted(word, open_end and number == len(groups) - 1 and place == 0) for place, word in enumerate(group)) for number, group in enumerate(groups)]
    return f" {joiner} ".join(f"({part})" for part in parts)


def _where(sought_span: DaySpan | None, group: str) -> tuple[str, dict[str, str]]:
    sql, given = "", {}
    if sought_span is not None:
        sql += " AND at >= :first AND at < :last"
        given = {"first": sought_span.first.isoformat(), "last": f"{sought_span.last.isoformat()} 24"}
    if group in GROUPS:
        sql += f" AND kind IN ({', '.join(repr(kind) for kind in GROUPS[group])})"
    return sql, given


def search(session: Session, sought: Sought, group: str = "", most: int = 30) -> Hits:
    """Find what was ever written or named.

    Args:
        session: Of the household.
        sought: What is searched for.
        group: A key of GROUPS; all unless given.
        most: So many are given.
    """
    groups, forgiven = [list(words) for words in sought.words], list[str]()
    for number, words in enumerate(groups):
        last = sought.open_end and number == len(groups) - 1
        if not any(_known(session, word) for word in words) and not (last and _begins(session, words[0])):
            found = _forgive(session, words[0])
            groups[number], forgiven = [*words, *found], [*forgiven, *found]
    if not groups:
        return _by_day(session, sought, group, most)
    for joiner in ("AND", "OR"):
        hits = _found(session, _match(groups, sought.open_end, joiner), " ".join(words[0] for words in sought.words), sought.span, group, most)
        if hits.count or len(groups) == 1:
            break
    return Hits(hits.rows, hits.count, hits.by_group, tuple(forgiven), loose=joiner == "OR" and hits.count > 0)


def _begins(session: Session, word: str) -> bool:
    return session.execute(text("SELECT 1 FROM found WHERE found MATCH :word LIMIT 1"), {"word": _quoted(word, True)}).first() is not None


def _found(session: Session, match: str, whole: str, span: DaySpan | None, group: str, most: int) -> Hits:
    where, given = _where(span, group)
    order = f"lower(title) = :whole DESC, bm25(found, {TITLE_WEIGHT}, 1.0), at DESC"  # a thing of that very name first
    snippet = f"snippet(found, 1, '{MARK[0]}', '{MARK[1]}', '…', {FEW})"
    sql = f"SELECT kind, number, at, highlight(found, 0, '{MARK[0]}', '{MARK[1]}') AS title, {snippet} AS words, about, about_id FROM found WHERE found MATCH :match{where} ORDER BY {order} LIMIT :most"
    rows = session.execute(text(sql), {"match": match, "whole": whole, "most": most, **given}).all()
    every, more = _where(span, "")
    counts = {str(kind): int(count) for kind, count in session.execute(text(f"SELECT kind, count(*) FROM found WHERE found MATCH :match{every} GROUP BY kind"), {"match": match, **more})}
    return _hits([tuple(row) for row in rows], counts, group)


def _by_day(session: Session, sought: Sought, group: str, most: int) -> Hits:
    """List what was of some days, where no words but days were said."""
    if sought.span is None:
        return Hits((), 0, {})
    where, given = _where(sought.span, group)
    rows = session.execute(text(f"SELECT kind, number, at, title, substr(body, 1, 90) AS words, about, about_id FROM found WHERE 1{where} ORDER BY at DESC LIMIT :most"), {"most": most, **given}).all()
    every, more = _where(sought.span, "")
    counts = {str(kind): int(count) for kind, count in session.execute(text(f"SELECT kind, count(*) FROM found WHERE 1{every} GROUP BY kind"), more)}
    return _hits([tuple(row) for row in rows], counts, group)


def _hits(rows: Sequence[tuple[str, int, str, str, str, str, int]], counts: dict[str, int], group: str) -> Hits:
    by_group = {name: sum(counts.get(kind, 0) for kind in kinds) for name, kinds in GROUPS.items()}
    out = tuple(Hit(kind, int(number), _moment(at), title, words, about, int(about_id)) for kind, number, at, title, words, about, about_id in rows)
    return Hits(out, by_group[group] if group in by_group else sum(by_group.values()), by_group)


def _moment(at: str) -> datetime | None:
    return None if at.startswith("1970") else datetime.fromisoformat(at).replace(tzinfo=UTC)
