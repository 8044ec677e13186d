"""Small wrong changes, one at a time, to the modules of the core: does one of their tests notice? Run by `make mutants`.

    mutants.py [HOW_MANY [SEED [MODULE,MODULE...]]]     a module as in `bottles/share_out`; all of them unless given

The tests that import a module run first, with its own examples; where none of these notices, those of the other floors that the rule serves. Each change turns a comparison, an operator, a number, a condition or a choice of the smaller and larger. A change that no
test notices is printed, to be read by a person: some change nothing that can be seen.
"""

from __future__ import annotations

import ast
import random
import re
import shutil
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).parents[1]
CORE = ROOT / "src/kyklos/core"
TESTS = ("tests/core", "tests/drawing")  #: Those that know no records, so that they are quick.
SWAPS: dict[type, type] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.And: ast.Or, ast.Or: ast.And,
    ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In,
}  # fmt: skip
NAMES = {"min": "max", "max": "min", "minimum": "maximum", "maximum": "minimum", "any": "all", "all": "any"}
ELSEWHERE = ("tests/reckon", "tests/actions", "tests/web")  #: The floors that a rule serves: asked where its own tests notice nothing.
MOST_SECONDS = 300
MOST_SECONDS_ELSEWHERE = 1500
LEAST_NOTICED = 0.9  #: Of the changes that could be seen.
TIMEOUT = "TIMEOUT"
ANSWERS = "tests/core/test_answers_stay.py"  #: Asks every wing, and belongs to each module.


def modules_of_the_core() -> list[str]:
    """List every module of the core that computes or decides something."""
    found = (path.relative_to(CORE).with_suffix("").as_posix() for path in sorted(CORE.rglob("*.py")) if path.name != "__init__.py")
    return [name for name in found if mutants(name, 1, random.Random(0))]


class Places(ast.NodeVisitor):
    """Collects where something can be changed, and how."""

    def __init__(self) -> None:
        """Start with none."""
        self.found: list[tuple[ast.AST, str]] = []

    def visit_AnnAssign(self, node: ast.AnnAssign) -> None:
        """Look at values, not at types."""
        if node.value is not None:
            self.visit(node.value)

    def visit_FunctionDef(self, node: ast.FunctionDef) -> None:
        """Look at what runs, and at defaults; not at types."""
        for part in (*node.args.defaults, *(d for d in node.args.kw_defaults if d), *node.body):
            self.visit(part)

    def generic_visit(self, node: ast.AST) -> None:
        """Note what can be changed here, and look further."""
        if isinstance(node, ast.Compare | ast.BinOp | ast.BoolOp):
            operator = node.ops[0] if isinstance(node, ast.Compare) else node.op
            if type(operator) in SWAPS:
                self.found.append((node, "swap"))
        elif (
            isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool)
        ):
            self.found.append((node, "number"))
        elif isinstance(node, ast.If | ast.IfExp):
            self.found.append((node, "negate"))
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not | ast.USub):
            self.found.append((node, "drop"))
        elif isinstance(node, ast.Call):
            name = getattr(node.func, "id", getattr(node.func, "attr", ""))
            if name in NAMES:
                self.found.append((node, "name"))
        super().generic_visit(node)


def changed(node: ast.AST, how: str) -> None:
    """Change a node in place."""
    if how == "swap" and isinstance(node, ast.Compare):
        node.ops[0] = SWAPS[type(node.ops[0])]()
    elif how == "swap":
        node.op = SWAPS[type(node.op)]()  # type: ignore[attr-defined]
    elif how == "number":
        value = node.value  # type: ignore[attr-defined]
        node.value = value + 1 if isinstance(value, int) else value * 1.15 or 0.1  # type: ignore[attr-defined]
    elif how == "negate":
        node.test = ast.UnaryOp(ast.Not(), node.test)  # type: ignore[attr-defined]
    elif how == "drop":
        node.op = ast.UAdd() if isinstance(node.op, ast.USub) else node.op  # type: ignore[attr-defined]
        if isinstance(node.op, ast.Not):  # type: ignore[attr-defined]
            node.operand = ast.UnaryOp(ast.Not(), node.operand)  # type: ignore[attr-defined]
    else:
        target = node.func  # type: ignore[attr-defined]
        field = "id" if isinstance(target, ast.Name) else "attr"
        setattr(target, field, NAMES[getattr(target, field)])


def mutants(module: str, count: int, rng: random.Random) -> list[tuple[str, str, str]]:
    """Draw changes of a module: its name, what was changed in words, and its text after."""
    text = (CORE / f"{module}.py").read_text()
    places = Places()
    places.visit(ast.parse(text))
    out = []
    for number in sorted(rng.sample(range(len(places.found)), min(count, len(places.found)))):
        tree = ast.parse(text)
        again = Places()
        again.visit(tree)
        node, how = again.found[number]
        line = text.splitlines()[node.lineno - 1].strip()  # type: ignore[attr-defined]
        before = ast.unparse(node).split("\n")[0]
        changed(node, how)
        after = ast.unparse(node).split("\n")[0]
        out.append((module, f"{module}.py:{node.lineno}: {before} -> {after}   in   {line}", ast.unparse(tree)))  # type: ignore[attr-defined]
    return out


def importing(module: str) -> list[Path]:
    """List the tests that import a module, or a name that its wing hands on."""
    wing, _, leaf = module.rpartition("/")
    door = (CORE / wing / "__init__.py").read_text() if wing else ""
    handed_on = ",".join(re.findall(rf"^from \.{leaf} import (.+)$", door, re.M)).split(",")
    wanted = {leaf, *(name.strip() for name in handed_on)}
    dotted = "kyklos.core." + module.replace("/", ".")
    out = []
    for path in sorted(p for folder in TESTS for p in (ROOT / folder).glob("test_*.py")):
        imports = [node for node in ast.walk(ast.parse(path.read_text())) if isinstance(node, ast.ImportFrom) and node.module]
        if any(n.module == dotted or (f"{n.module}.{leaf}" == dotted and {a.name for a in n.names} & wanted) for n in imports):
            out.append(path)
    return out


def tests_of(module: str) -> list[str]:
    """List the tests that belong to a module: those that import it; where none does, those of its neighbours that need it."""
    wing, _, leaf = module.rpartition("/")
    found = importing(module)
    if not found:
        needs = re.compile(rf"^from \.{leaf} import|^from \. import .*\b{leaf}\b", re.M)
        for other in sorted((CORE / wing).glob("*.py")):
            if needs.search(other.read_text()) and other.stem != "__init__":
                found += importing(f"{wing}/{other.stem}")
    return [*(str(p.relative_to(ROOT)) for p in dict.fromkeys(found)), ANSWERS]


def asked(folder: Path, what: list[str], seconds: float) -> str:
    """Run tests in a folder; returns whether they noticed, did not, or took longer than so many seconds."""
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", "-p", "no:xdist", "-m", "not alone and not long"]
    environment = {"PYTHONPATH": f"{folder}/src:{folder}", "PATH": "/usr/bin:/bin", "OPENBLAS_NUM_THREADS": "1"}
    command += ["--hypothesis-seed=1", f"--basetemp={folder}/temporary", *what]
    try:
        done = subprocess.run(command, cwd=folder, env=environment, capture_output=True, timeout=seconds, check=False)
        return "killed" if done.returncode else "SURVIVED"
    except subprocess.TimeoutExpired:
        return TIMEOUT


def tried(folder: Path, module: str, text: str) -> str:
    """Run a module's tests on a change, then those of other floors; returns whether it was killed, and where, survived, or took too long."""
    path, own = folder / f"src/kyklos/core/{module}.py", tests_of(module)
    kept = path.read_text()
    path.write_text(text)
    try:
        found = asked(folder, [*own, f"src/kyklos/core/{module}.py"], MOST_SECONDS)
        if found == "SURVIVED" and asked(folder, list(ELSEWHERE), MOST_SECONDS_ELSEWHERE) == "killed":
            return "elsewhere"
        return found
    finally:
        path.write_text(kept)


def main() -> None:
    """Try so many changes in all (120 unless told), two at a time."""
    count, seed = int(sys.argv[1]) if len(sys.argv) > 1 else 120, int(sys.argv[2]) if len(sys.argv) > 2 else 7
    modules = sys.argv[3].split(",") if len(sys.argv) > 3 else modules_of_the_core()
    rng, start = random.Random(seed), time.monotonic()
    each = -(-count // len(modules))
    drawn = [m for module in modules for m in mutants(module, each, rng)]
    rng.shuffle(drawn)
    drawn = drawn[:count]
    with tempfile.TemporaryDirectory() as place:
        folders = [Path(place) / str(n) for n in range(2)]
        for folder in folders:
            for part in ("src", "tests", "pyproject.toml"):
                source = ROOT / part
                copy = shutil.copytree if source.is_dir() else shutil.copy
                folder.mkdir(exist_ok=True)
                copy(source, folder / part)
        free = list(folders)

        def one_try(one: tuple[str, str, str]) -> str:
            folder = free.pop()
            try:
                found = tried(folder, one[0], one[2])
            finally:
                free.append(folder)
            print(f"{found:10}{one[1]}", flush=True)
            return found

        with ThreadPoolExecutor(2) as pool:
            results = list(pool.map(one_try, drawn))
    killed, elsewhere, late = (results.count(name) for name in ("killed", "elsewhere", TIMEOUT))
    print(f"{killed + elsewhere} of {len(results)} changes noticed, {elsewhere} of them by other floors, {late} took too long, in {time.monotonic() - start:.0f} s")
    print(f"Wanted: {LEAST_NOTICED:.0%} of those that change anything; read the survivors one by one.")


if __name__ == "__main__":
    main()
