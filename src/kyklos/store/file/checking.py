"""Whether a household is whole: its file, where its records point, volumes that add up, photos that open."""

from __future__ import annotations

import io
import sqlite3
from contextlib import closing
from dataclasses import dataclass, field
from pathlib import Path

from . import keeping, opening
from .database import layouts
from .trouble import words_of

SLACK_L = 0.01  #: Less than nothing by so much is let pass. [L]
SHOWN = 10  #: Of each kind of finding.
LEFT = """
SELECT l.id, l.kind,
  coalesce((SELECT sum(litres) FROM addition WHERE liquid_id = l.id), 0)
  + coalesce((SELECT sum(litres) FROM transfer WHERE target_id = l.id), 0)
  - coalesce((SELECT sum(litres) FROM transfer WHERE source_id = l.id), 0) AS left_l
FROM liquid l
"""


@dataclass(frozen=True, slots=True)
class Findings:
    """What was looked at, and what was found wrong."""

    fine: list[str] = field(default_factory=list)
    wrong: list[str] = field(default_factory=list)


def findings(path: Path) -> Findings:
    """Look at a household's file without writing to it."""
    out = Findings()
    if wrong := keeping.whats_wrong(path):
        out.wrong.append(f"The file: {wrong}.")
        return out
    layout = keeping.layout_in(path)
    if layout not in layouts():
        out.wrong.append(f"Its layout {layout} is of a newer Kyklos: look at it with that version.")
        return out
    out.fine.append("The file is whole, and every record points to one that is there.")
    try:
        with closing(opening.reading(path)) as connection:
            _volumes(connection, out)
            _photos(connection, out)
    except sqlite3.Error as problem:
        out.wrong.append(f"It cannot be read on: {words_of(problem)}.")
    return out


def _volumes(connection: sqlite3.Connection, out: Findings) -> None:
    rows = connection.execute(LEFT).fetchall()
    below = [f"liquid {number} ({kind}): {left:.2f} L" for number, kind, left in rows if left < -SLACK_L]
    if below:
        out.wrong.append(f"Less than nothing is left of {len(below)}: {'; '.join(below[:SHOWN])}.")
    else:
        out.fine.append(f"The volumes of {len(rows)} liquids add up.")


def _photos(connection: sqlite3.Connection, out: Findings) -> None:
    from PIL import Image

    broken, count = [], 0
    columns = [row[1] for row in connection.execute("PRAGMA table_info(photo_content)") if row[2].upper() in {"BLOB", ""}]
    for number, *pictures in connection.execute(f"SELECT id, {', '.join(columns)} FROM photo_content") if columns else ():
        count += 1
        try:
            for content in pictures:
                with Image.open(io.BytesIO(content)) as image:
                    image.verify()
        except Exception:  # whatever a broken picture raises
            broken.append(str(number))
    if broken:
        out.wrong.append(f"{len(broken)} photos do not open: {', '.join(broken[:SHOWN])}.")
    else:
        out.fine.append(f"{count} photos open.")
