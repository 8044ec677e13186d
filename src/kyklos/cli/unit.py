"""A unit for systemd, by which a household is served from the moment its owner's machine starts."""

from __future__ import annotations

import shutil
import sys
from pathlib import Path

import click

UNIT = """[Unit]
Description=Kyklos, a household's brews
After=network.target

[Service]
ExecStart={command} serve{more}
Restart=on-failure
RestartSec=5

[Install]
WantedBy=default.target
"""


@click.command(context_settings={"ignore_unknown_options": True})
@click.argument("options", nargs=-1, type=click.UNPROCESSED)
def unit(options: tuple[str, ...]) -> None:
    """Print a systemd user unit; OPTIONS are those of `kyklos serve`."""
    found = shutil.which(sys.argv[0]) or shutil.which("kyklos") or sys.argv[0]
    command = str(Path(found).absolute())
    click.echo(UNIT.format(command=_quoted(command), more="".join(f" {_quoted(one)}" for one in options)), nl=False)


def _quoted(text: str) -> str:
    """Write one word as systemd reads it."""
    text = text.replace("%", "%%")
    return '"' + text.replace("\\", "\\\\").replace('"', '\\"') + '"' if any(letter in text for letter in " \t\"'\\") else text
