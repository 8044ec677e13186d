"""Small wrong changes, one at a time, to the rules that matter: does a test of the core notice? Run by `make mutants`.

Each change turns a comparison, an operator, a number, a condition or a choice of the smaller and larger. A change that no
test notices is printed, to be read by a person: some change nothing that can be seen.
"""

from __future__ import annotations

import ast
import random
import shutil
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).parents[1]
MODULES = ("bottle", "ferment", "acids", "starters", "safety", "due", "forecast", "trace", "liquid", "batch")
SLOW = ("test_schedule.py", "test_quick_line.py", "test_saying.py")  #: Of other modules.
SWAPS: dict[type, type] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.And: ast.Or, ast.Or: ast.And,
    ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In,
}  # fmt: skip
NAMES = {"min": "max", "max": "min", "minimum": "maximum", "maximum": "minimum", "any": "all", "all": "any"}
MOST_SECONDS = 240


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
    text = (ROOT / f"src/kyklos/core/{module}.py").read_text()
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


def first_tests(module: str) -> list[str]:
    """Order the core's tests so that those most likely to notice come first."""
    files = sorted(p for p in (ROOT / "tests/core").glob("test_*.py") if p.name not in SLOW)
    named = [p for p in files if f"core.{module} " in p.read_text() or f"core.{module}\n" in p.read_text()]
    return [str(p.relative_to(ROOT)) for p in (*named, *(p for p in files if p not in named))]


def noticed(folder: Path, module: str, text: str) -> bool:
    """Run the core's tests on a change; returns whether one failed."""
    path = folder / f"src/kyklos/core/{module}.py"
    kept = path.read_text()
    path.write_text(text)
    command = [
        sys.executable,
        "-m",
        "pytest",
        "-x",
        "-q",
        "-p",
        "no:cacheprovider",
        "-p",
        "no:xdist",
        "-m",
        "not alone",
    ]
    command += ["--hypothesis-seed=1", *first_tests(module), f"src/kyklos/core/{module}.py"]
    environment = {"PYTHONPATH": f"{folder}/src:{folder}/tests", "PATH": "/usr/bin:/bin", "OPENBLAS_NUM_THREADS": "1"}
    try:
        done = subprocess.run(
            command, cwd=folder, env=environment, capture_output=True, timeout=MOST_SECONDS, check=False
        )
        return done.returncode != 0
    except subprocess.TimeoutExpired:
        return True
    finally:
        path.write_text(kept)


def main() -> None:
    """Try so many changes in all (120 unless told), two at a time."""
    count, seed = int(sys.argv[1]) if len(sys.argv) > 1 else 120, int(sys.argv[2]) if len(sys.argv) > 2 else 7
    modules = sys.argv[3].split(",") if len(sys.argv) > 3 else MODULES
    rng, start = random.Random(seed), time.monotonic()
    drawn = [m for module in modules for m in mutants(module, -(-count // len(modules)), rng)]
    with tempfile.TemporaryDirectory() as place:
        folders = [Path(place) / str(n) for n in range(2)]
        for folder in folders:
            for part in ("src", "tests", "pyproject.toml"):
                source = ROOT / part
                copy = shutil.copytree if source.is_dir() else shutil.copy
                folder.mkdir(exist_ok=True)
                copy(source, folder / part)
        free = list(folders)

        def tried(one: tuple[str, str, str]) -> tuple[str, bool]:
            folder = free.pop()
            try:
                found = noticed(folder, one[0], one[2])
            finally:
                free.append(folder)
            print(("killed   " if found else "SURVIVED ") + one[1], flush=True)
            return one[1], found

        with ThreadPoolExecutor(2) as pool:
            results = list(pool.map(tried, drawn))
    killed = sum(found for _, found in results)
    print(f"{killed} of {len(results)} changes noticed in {time.monotonic() - start:.0f} s")


if __name__ == "__main__":
    main()
