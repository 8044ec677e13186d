"""The sample household as the scenario fills it, packed, so that a first start need not live through half a year of actions.

    python -m kyklos.demo.sample        packs it anew, when the scenario or what it writes is another one; a test holds the two together
"""

from __future__ import annotations

import gzip
import tempfile
from pathlib import Path

from ..store.file.database import Database
from ..store.file.keeping import back_up

PACKED = Path(__file__).with_name("sample.db.gz")


def unpack(path: Path) -> None:
    """Write the sample household to a path where nothing stands."""
    path.write_bytes(gzip.decompress(PACKED.read_bytes()))


def unpacked() -> Path:
    """Return the path of a sample household in a temporary folder of its own."""
    path = Path(tempfile.mkdtemp(prefix="kyklos-sample-")) / "kyklos.db"
    unpack(path)
    return path


def lived(path: Path) -> None:
    """Fill a file by every action of the scenario; takes a while."""
    from .household import fill

    database = Database(path)
    database.migrate()
    fill(database)
    database.close()


def pack() -> None:
    """Fill a household and keep it packed."""
    with tempfile.TemporaryDirectory() as folder:
        lived(Path(folder) / "kyklos.db")
        back_up(Path(folder) / "kyklos.db", Path(folder) / "whole.db")
        PACKED.write_bytes(gzip.compress((Path(folder) / "whole.db").read_bytes(), mtime=0))


if __name__ == "__main__":
    pack()
