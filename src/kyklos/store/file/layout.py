"""Today's layout in one go: what all migrations leave of an empty file, kept as it stands, so that a new household waits for none of them.

    python -m kyklos.store.file.layout PATH     writes it anew from an empty file that was migrated; a test holds the two together
"""

from __future__ import annotations

import sys
from contextlib import closing
from pathlib import Path

from ..records.base import LAYOUT
from . import opening

TEXT = Path(__file__).with_name("layout.sql")


def text_of(path: Path) -> str:
    """Return the statements that make an empty file like this one."""
    with closing(opening.connect(path, "rw")) as connection:
        made = connection.execute(
            "SELECT sql FROM sqlite_master WHERE sql IS NOT NULL AND (name NOT LIKE 'found!_%' ESCAPE '!' OR name = 'found_words') "
            "ORDER BY type DESC, name"  # what an index of words keeps for itself is made with it
        ).fetchall()
    return "".join(f"{row[0]};\n" for row in made)


def make(path: Path) -> None:
    """Make today's layout in a file that holds nothing yet.

    Raises:
        sqlite3.Error: If it holds something, or cannot be written; it is as it was.
    """
    with closing(opening.connect(path, "rw")) as connection:
        connection.execute("PRAGMA journal_mode=WAL")
        connection.execute("BEGIN IMMEDIATE")
        for statement in TEXT.read_text("utf-8").split(";\n"):
            connection.execute(statement)
        connection.execute("INSERT INTO alembic_version (version_num) VALUES (?)", (LAYOUT,))
        connection.execute("COMMIT")


def is_bare(path: Path) -> bool:
    """Return whether no table stands in a file."""
    with closing(opening.connect(path, "rw")) as connection:
        return connection.execute("SELECT 1 FROM sqlite_master LIMIT 1").fetchone() is None


if __name__ == "__main__":
    TEXT.write_text(text_of(Path(sys.argv[1])), "utf-8")
