"""Every figure that the core reckons with, by name: constants of its modules and defaults of its values, as they stand when run.

    python tests/figures.py            writes tests/core/reference/figures.json anew: read the difference before it is committed

A figure that decides whether a bottle bursts is changed with two hands: where it stands, and here.
"""

from __future__ import annotations

import ast
import dataclasses
import importlib
import json
import types
from collections.abc import Iterator, Mapping
from enum import Enum
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1] / "src/kyklos/core"
KEPT = Path(__file__).parent / "core/reference/figures.json"


def numbers(value: Any, deep: int = 4) -> Any:
    """Return the numbers in a value, as JSON holds them; None where there are none."""
    if isinstance(value, bool | Enum | str | type) or value is None or deep == 0:
        return None
    if isinstance(value, int | float):
        return float(f"{value:.10g}")
    if isinstance(value, Mapping):
        found = {str(key): numbers(one, deep - 1) for key, one in value.items()}
        return {key: one for key, one in found.items() if one is not None} or None
    if isinstance(value, tuple | list):
        found_ = [numbers(one, deep - 1) for one in value]
        return found_ if any(one is not None for one in found_) else None
    if dataclasses.is_dataclass(value):
        return numbers({f.name: getattr(value, f.name, None) for f in dataclasses.fields(value)}, deep)
    return None


def modules() -> Iterator[types.ModuleType]:
    """Go through the modules of the core."""
    for path in sorted(ROOT.rglob("*.py")):
        if path.name != "__init__.py":
            yield importlib.import_module("kyklos.core." + path.relative_to(ROOT).with_suffix("").as_posix().replace("/", "."))


def named_in(path: Path) -> set[str]:
    """Return what a module names itself; what it imports is another's."""
    made = [node for node in ast.parse(path.read_text()).body if isinstance(node, ast.Assign | ast.AnnAssign)]
    targets = [target for node in made for target in (node.targets if isinstance(node, ast.Assign) else [node.target])]
    return {name.id for target in targets for name in ast.walk(target) if isinstance(name, ast.Name)}


def figures() -> dict[str, dict[str, Any]]:
    """Return the figures of each module: what it names in capitals, and what its values hold unless told otherwise."""
    out = {}
    for module in modules():
        mine: dict[str, Any] = {}
        own = named_in(Path(str(module.__file__)))
        for name, value in vars(module).items():
            if name in own and name.lstrip("_").isupper():
                mine[name] = numbers(value)
            elif isinstance(value, type) and dataclasses.is_dataclass(value) and value.__module__ == module.__name__:
                mine[name] = numbers({f.name: f.default for f in dataclasses.fields(value) if f.default is not dataclasses.MISSING})
        out[module.__name__.removeprefix("kyklos.core.")] = {name: one for name, one in mine.items() if one is not None}
    return {name: mine for name, mine in out.items() if mine}


if __name__ == "__main__":
    KEPT.write_text("{\n" + ",\n".join(f" {json.dumps(name)}: {json.dumps(mine)}" for name, mine in figures().items()) + "\n}\n")
