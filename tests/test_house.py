"""The house as `docs/architecture.md` draws it: what the import contracts cannot see."""

import ast
import re
from collections import Counter
from functools import cache
from pathlib import Path

import networkx as nx
import pytest

HOUSE = Path(__file__).parents[1] / "src/kyklos"
FILES = sorted(p for p in HOUSE.rglob("*.py") if "versions" not in p.parts)
CORE = [p for p in FILES if p.is_relative_to(HOUSE / "core")]
LONGEST_FILE, LONGEST_FUNCTION = 400, 60


@cache
def trees():
    """What each file says, parsed."""
    return {path: ast.parse(path.read_text("utf-8")) for path in FILES}


def name_of(path):
    """Name a file by its place in the house."""
    return str(path.relative_to(HOUSE))


def asked_of_outside(tree):
    """List what a module calls that depends on more than its arguments: the time, files, the process."""
    outside = {("datetime", "now"), ("date", "today"), ("time", "time"), ("os", "environ"), ("random", "random")}
    for node in ast.walk(tree):
        if isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name) and (node.value.id, node.attr) in outside:
            yield f"{node.value.id}.{node.attr}"
        if isinstance(node, ast.Call) and getattr(node.func, "id", "") == "open":
            yield "open"


def test_the_core_asks_for_no_time_and_no_file():
    """The same question has the same answer at any time and in any place."""
    assert {name_of(p): said for p in CORE if (said := list(asked_of_outside(trees()[p])))} == {}


def test_each_class_has_a_name_of_its_own():
    """A name says whose it is: no two rooms have a class of one name."""
    names = Counter(node.name for tree in trees().values() for node in ast.walk(tree) if isinstance(node, ast.ClassDef))
    assert [name for name, count in names.items() if count > 1] == []


def test_nobody_reaches_for_what_another_module_keeps_to_itself():
    """A name that begins with an underscore is used in its own module only."""
    found = []
    for path, tree in trees().items():
        for node in ast.walk(tree):
            if isinstance(node, ast.ImportFrom) and (node.level or (node.module or "").startswith("kyklos")):
                found += [(name_of(path), a.name) for a in node.names if a.name.startswith("_") and not a.name.startswith("__")]
    assert found == []


def imported_by(path):
    """List the modules of the house that a file imports when it is read in, by their place."""
    place = path.relative_to(HOUSE).with_suffix("").parts
    package = place[:-1]
    for node in trees()[path].body:
        if isinstance(node, ast.ImportFrom) and node.level:
            base = [*package[: len(package) - node.level + 1], *(node.module or "").split(".")]
            base = [part for part in base if part]
            for alias in node.names:
                inner = HOUSE.joinpath(*base, alias.name)
                outer = HOUSE.joinpath(*base)
                for found in (inner.with_suffix(".py"), inner / "__init__.py", outer.with_suffix(".py"), outer / "__init__.py"):
                    if found in trees():
                        yield found
                        break


def test_no_two_modules_need_each_other():
    """Each module can be read before those that use it: imports make no circle."""
    graph = nx.DiGraph((path, other) for path in FILES for other in imported_by(path))
    assert [sorted(map(name_of, circle)) for circle in nx.strongly_connected_components(graph) if len(circle) > 1] == []


def test_every_room_says_what_it_is_for():
    """Each package has a sentence at its door; a wing of the core says what it answers."""
    doors = {p: ast.get_docstring(trees()[p]) or "" for p in FILES if p.name == "__init__.py" and "migrations" not in p.parts}
    assert [name_of(p) for p, says in doors.items() if len(says) < 20] == []
    wings = [p for p in doors if p.parent.parent == HOUSE / "core" and p.parent.name not in {"quick", "calc"}]
    assert len(wings) == 13
    assert [name_of(p) for p in wings if len(doors[p].splitlines()) < 4] == []


@pytest.mark.parametrize("path", FILES, ids=name_of)
def test_no_file_and_no_function_is_too_long_to_read(path):
    """A file is read in one go, and a function on one screen."""
    text = path.read_text("utf-8")
    assert len(text.splitlines()) <= LONGEST_FILE
    for node in ast.walk(trees()[path]):
        if isinstance(node, ast.FunctionDef):
            first = node.body[0]
            told = first.end_lineno - first.lineno + 1 if ast.get_docstring(node) else 0
            assert node.end_lineno - node.lineno + 1 - told <= LONGEST_FUNCTION, node.name


def test_no_template_decides_by_a_number():
    """A limit has a name and stands in the core: a template compares with no fraction, and makes no percentage by itself."""
    rule = re.compile(r"\{[{%][^%}]*(?:[<>]=? *\d*\.\d|\* *100\b|\b100 *\*)[^%}]*[%}]\}")
    found = {name_of(p): rule.findall(p.read_text("utf-8")) for p in sorted((HOUSE / "web").rglob("*.html"))}
    assert {name: lines for name, lines in found.items() if lines} == {}


def test_no_page_asks_the_database_itself():
    """A page asks `store/read` or `reckon`; no question to the database is written in `web/`."""
    asks = re.compile(r"session\.(?:query|execute|scalars?)\(")
    assert [name_of(p) for p in FILES if p.is_relative_to(HOUSE / "web") and asks.search(p.read_text("utf-8"))] == []
