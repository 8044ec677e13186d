"""Asking the core by name."""

from __future__ import annotations

import json
import sys
from typing import Any

import click

from .words import fail


def _refuse_constant(name: str) -> float:
    raise ValueError(f"{name} is not a number")


def _question(text: str) -> Any:
    try:
        return json.loads(text, parse_constant=_refuse_constant)
    except (ValueError, RecursionError) as problem:
        fail(f"standard input is not JSON: {problem}")


@click.command()
@click.argument("name")
def calc(name: str) -> None:
    """Answer NAME for the JSON object, or list of them, on standard input. NAME `list` prints what there is."""
    from ..core.calc import CalcError, answer, listing

    if name == "list":
        click.echo(json.dumps(listing(), indent=1, ensure_ascii=False))
        return
    question = _question(sys.stdin.read())
    try:
        click.echo(json.dumps(answer(name, question), allow_nan=False))
    except CalcError as problem:
        fail(str(problem))
