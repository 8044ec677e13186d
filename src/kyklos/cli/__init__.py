"""The command line: try the sample household, keep your own, look after its file, ask the core."""

from __future__ import annotations

import click

from .. import __version__
from .asking import calc
from .house import backup, check, export_, import_, password, restore
from .instruments import instruments
from .serving import demo, serve
from .unit import unit


@click.group()
@click.version_option(__version__)
def main() -> None:
    """Kyklos: a kitchen companion for people who brew kombucha and jun at home."""


for command in (demo, serve, password, backup, restore, check, export_, import_, calc, instruments, unit):
    main.add_command(command)
