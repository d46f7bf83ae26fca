"""Small random faults, and whether a room's own tests notice them: `python -m scripts.mutants store`.

A fault is one operator, number or condition changed in a copy of the sources; the room's tests run against
the copy until one fails. What survives is a line that no test of its room stands for.
"""

from __future__ import annotations

import ast
import os
import random
import re
import shutil
import subprocess
import sys
import tempfile
import time
from argparse import ArgumentParser
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import SimpleQueue

ROOT = Path(__file__).resolve().parents[1]
PACKAGE = ROOT / "src" / "curve_rank"
ROOMS = (
    "arm",
    "catalogue",
    "measure",
    "rating",
    "study",
    "practice",
    "training",
    "house",
    "figures",
    "store",
    "exchange",
    "background",
    "answers",
    "web",
    "cli",
    "interface",
)
LONGEST = 2400
"""A run that takes longer than this counts as noticed: something goes round and round [s]."""
FAILED = re.compile(r"^(?:FAILED|ERROR) (.+?)(?: - .*)?$", re.MULTILINE)
"""The test that failed, or the file that could not be brought in, as a run's summary names it."""
COMPARED: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is,
}  # fmt: skip
COUNTED: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.FloorDiv: ast.Mult,
}  # fmt: skip
NAMED = {"min": "max", "max": "min", "any": "all", "all": "any"}


@dataclass(frozen=True)
class Mutant:
    """One fault: where it stands, and what it changes."""

    room: str
    file: Path
    place: int
    """Which of the file's changeable nodes."""
    line: int
    says: str


def changeable(tree: ast.Module) -> Iterator[ast.AST]:
    """Every node within a function that a fault can change, in one order."""
    functions = [n for n in ast.walk(tree) if isinstance(n, ast.FunctionDef | ast.AsyncFunctionDef)]
    outer = [f for f in functions if not any(f in ast.walk(g) for g in functions if g is not f)]
    for function in outer:
        for statement in function.body:
            for node in ast.walk(statement):
                if _fault_in(node) and not _is_text(statement):
                    yield node


def _is_text(statement: ast.stmt) -> bool:
    return isinstance(statement, ast.Expr) and isinstance(statement.value, ast.Constant)


def _fault_in(node: ast.AST) -> str:
    """What a fault would make of a node, in words; empty where it makes nothing."""
    match node:
        case ast.Compare(ops=[op]) if type(op) in COMPARED:
            return f"{type(op).__name__} becomes {COMPARED[type(op)].__name__}"
        case ast.BinOp(op=op) if type(op) in COUNTED and not isinstance(
            node.left, ast.Constant | ast.JoinedStr
        ):
            return f"{type(op).__name__} becomes {COUNTED[type(op)].__name__}"
        case ast.BoolOp(op=op):
            return "and becomes or" if isinstance(op, ast.And) else "or becomes and"
        case ast.UnaryOp(op=ast.Not()):
            return "not is gone"
        case ast.IfExp():
            return "the other way round"
        case ast.Constant(value=bool(value)):
            return f"{value} becomes {not value}"
        case ast.Constant(value=int() | float() as value) if not isinstance(value, bool):
            return f"{value} becomes {value + 1}"
        case ast.Call(func=ast.Name(id=name)) if name in NAMED:
            return f"{name} becomes {NAMED[name]}"
    return ""


def _change(node: ast.AST) -> None:
    match node:
        case ast.Compare():
            node.ops = [COMPARED[type(node.ops[0])]()]
        case ast.BinOp():
            node.op = COUNTED[type(node.op)]()
        case ast.BoolOp():
            node.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        case ast.UnaryOp():
            node.op, node.operand = ast.Not(), ast.UnaryOp(ast.Not(), node.operand)
        case ast.IfExp():
            node.body, node.orelse = node.orelse, node.body
        case ast.Constant(value=bool()):
            node.value = not node.value
        case ast.Constant(value=int() | float()):
            node.value += 1
        case ast.Call(func=ast.Name()):
            node.func.id = NAMED[node.func.id]


def mutated(source: str, place: int) -> str:
    """A module's text with one of its changeable nodes changed; its comments go."""
    tree = ast.parse(source)
    _change(list(changeable(tree))[place])
    return ast.unparse(ast.fix_missing_locations(tree))


def mutants(room: str, number: int, seed: int) -> list[Mutant]:
    """So many faults of a room, the same for the same seed."""
    every = []
    for file in sorted((PACKAGE / room).rglob("*.py")):
        if "migrations" in file.parts:
            continue
        tree = ast.parse(file.read_text(encoding="utf-8"))
        every += [
            Mutant(room, file.relative_to(PACKAGE), n, getattr(node, "lineno", 0), _fault_in(node))
            for n, node in enumerate(changeable(tree))
        ]
    chosen = random.Random(f"{room} {seed}")
    return chosen.sample(every, min(number, len(every)))


def nearest_first(mutant: Mutant, copy: Path) -> list[str]:
    """The room's tests, those first that bear the module's name or bring it in."""
    room, module = copy / "tests" / mutant.room, mutant.file.with_suffix("")
    named = {f"test_{part}.py" for part in module.parts}
    dotted = ".".join(("curve_rank", *module.parts))
    brought = re.compile(
        rf"{re.escape(dotted)}\b|from {re.escape(dotted.rpartition('.')[0])} import .*\b{module.name}\b"
    )
    every = sorted(room.rglob("test_*.py"))
    near = [file for file in every if file.name in named]
    near += [file for file in every if file not in near and brought.search(file.read_text(encoding="utf-8"))]
    return [*map(str, near), str(room)]


def is_noticed(mutant: Mutant, copy: Path) -> bool:
    """Whether a test of the room fails where the fault stands in a copy of the sources, and only there.

    Raises
    ------
    RuntimeError
        Where that test fails without the fault as well: it says nothing then.
    """
    file = copy / "src" / "curve_rank" / mutant.file
    whole = file.read_text(encoding="utf-8")
    file.write_text(mutated(whole, mutant.place), encoding="utf-8")
    try:
        done = _tests(copy, nearest_first(mutant, copy))
    except subprocess.TimeoutExpired:
        return True
    finally:
        file.write_text(whole, encoding="utf-8")
    if done.returncode == 0:
        return False
    failed = FAILED.search(done.stdout)
    if failed and _tests(copy, [failed[1]]).returncode:
        raise RuntimeError(f"{failed[1]} fails without a fault")
    return True


def _tests(copy: Path, what: list[str]) -> subprocess.CompletedProcess[str]:
    """Some tests of a copy, until one fails."""
    paths = {"PYTHONPATH": str(copy / "src"), "PYTHONDONTWRITEBYTECODE": "1", "CI": "1"}
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-n", "0", "-p", "no:cacheprovider", *what]
    return subprocess.run(
        command,
        cwd=copy,
        env=os.environ | paths,
        capture_output=True,
        text=True,
        timeout=LONGEST,
        check=False,
    )


def main() -> int:
    """Try faults, and say what survived; 0 where at least four in five were noticed."""
    parser = ArgumentParser(description=__doc__)
    parser.add_argument("rooms", nargs="*", metavar="ROOM", help="All where none is named.")
    parser.add_argument("--number", type=int, default=80, help="In all rooms together.")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--jobs", type=int, default=os.cpu_count() or 1)
    asked = parser.parse_args()
    rooms = asked.rooms or list(ROOMS)
    if strange := [room for room in rooms if room not in ROOMS]:
        parser.error(f"No room {', '.join(strange)}; take of {', '.join(ROOMS)}.")
    each = -(-asked.number // len(rooms))
    found = [one for room in rooms for one in mutants(room, each, asked.seed)]
    found = random.Random(asked.seed).sample(found, min(asked.number, len(found)))
    copies: SimpleQueue[Path] = SimpleQueue()
    with tempfile.TemporaryDirectory() as folder:
        for n in range(asked.jobs):
            copies.put(_copy(Path(folder) / str(n)))

        def tried(mutant: Mutant) -> bool:
            copy, began = copies.get(), time.monotonic()
            noticed = is_noticed(mutant, copy)
            copies.put(copy)
            word = "noticed " if noticed else "SURVIVED"
            print(
                f"{word} {mutant.file}:{mutant.line}  {mutant.says}  ({time.monotonic() - began:.0f} s)",
                flush=True,
            )
            return noticed

        with ThreadPoolExecutor(asked.jobs) as pool:
            noticed = list(pool.map(tried, found))
    for room in rooms:
        own = [ok for ok, one in zip(noticed, found, strict=True) if one.room == room]
        print(f"{room:10} {sum(own):3} of {len(own)} noticed")
    print(f"{'all':10} {sum(noticed):3} of {len(noticed)} noticed")
    return int(sum(noticed) < 0.8 * len(noticed))


def _copy(to: Path) -> Path:
    for name in ("src", "tests", "docs", "scripts", "benchmarks"):
        shutil.copytree(ROOT / name, to / name, ignore=shutil.ignore_patterns("__pycache__", "node_modules"))
    for name in ("pyproject.toml", "README.md", "CHANGELOG.md", "Makefile", "MANIFEST.in"):
        shutil.copy(ROOT / name, to / name)
    return to


if __name__ == "__main__":
    sys.exit(main())
