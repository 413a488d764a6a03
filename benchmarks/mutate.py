"""Deliberate faults in rules, reports and analyses, one at a time: which of them does the suite notice?

``./run mutate [--count N] [--seed S] [--room advice]``: a fixed sample of places for a seed; each fault is put into a
copy of the source, the tests of the rooms it can reach are run until one fails, and what nobody noticed is listed.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
CORE = Path("src/stoutlink/core")
ROOMS = ("advice", "reports", "analysis", "study")
TESTS: dict[str, tuple[str, ...]] = {
    "advice": ("advice", "swap", "analysis", "hanging", "cli"),
    "reports": ("drawing", "reports", "cli", "published", "hanging/test_leaves.py", "cycle"),
    "analysis": ("analysis", "swap", "hanging", "cycle", "agreement", "published", "document", "cli"),
    "study": ("study", "cli"),
}
"""Where a fault of a room should be noticed."""
SWAPS: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.Gt, ast.Gt: ast.Lt, ast.LtE: ast.GtE, ast.GtE: ast.LtE, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq, ast.Is: ast.IsNot, ast.IsNot: ast.Is,
}  # fmt: skip
SIGNS: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
}


@dataclass(frozen=True)
class Fault:
    """One place and what is done to it."""

    path: Path
    line: int
    number: int
    what: str


class _Place(ast.NodeTransformer):
    """Counts the places where something can be put wrong, and puts the ``wanted`` one wrong."""

    def __init__(self, wanted: int = -1) -> None:
        self.wanted, self.count = wanted, 0
        self.found: list[tuple[int, str]] = []

    def _here(self, node: ast.AST, what: str) -> bool:
        self.found.append((getattr(node, "lineno", 0), what))
        self.count += 1
        return self.count - 1 == self.wanted

    def visit_Compare(self, node: ast.Compare) -> ast.AST:
        self.generic_visit(node)
        swap = SWAPS.get(type(node.ops[0]))
        if len(node.ops) == 1 and swap is not None and self._here(node, "comparison turned round"):
            return ast.Compare(node.left, [swap()], node.comparators)
        return node

    def visit_IfExp(self, node: ast.IfExp) -> ast.AST:
        self.generic_visit(node)
        if self._here(node, "the two answers of a choice exchanged"):
            return ast.IfExp(node.test, node.orelse, node.body)
        return node

    def visit_BinOp(self, node: ast.BinOp) -> ast.AST:
        self.generic_visit(node)
        other = SIGNS.get(type(node.op))
        words = any(
            isinstance(side, ast.Constant | ast.JoinedStr) and not _number(side) for side in (node.left, node.right)
        )
        if other is not None and not words and self._here(node, f"{type(node.op).__name__} for {other.__name__}"):
            return ast.BinOp(node.left, other(), node.right)
        return node

    def visit_Constant(self, node: ast.Constant) -> ast.AST:
        value = node.value
        if not isinstance(value, int | float) or isinstance(value, bool) or value in (0, 1, -1):
            return node
        return ast.Constant(value * 3) if self._here(node, f"{value} three times as large") else node

    def visit_Yield(self, node: ast.Yield) -> ast.AST:
        self.generic_visit(node)
        if node.value is not None and self._here(node, "a finding not said"):
            return ast.Constant(None)
        return node

    def visit_FormattedValue(self, node: ast.FormattedValue) -> ast.AST:
        node.value = self.visit(node.value)
        return node

    def visit_AnnAssign(self, node: ast.AnnAssign) -> ast.AST:
        if node.value is not None:
            node.value = self.visit(node.value)
        return node

    def visit_arguments(self, node: ast.arguments) -> ast.AST:
        return node


def _number(node: ast.AST) -> bool:
    return isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool)


def faults(rooms: tuple[str, ...]) -> Iterator[Fault]:
    """Every place in some rooms where something can be put wrong."""
    for room in rooms:
        for path in sorted((ROOT / CORE / room).rglob("*.py")):
            look = _Place()
            look.visit(ast.parse(path.read_text(encoding="utf-8")))
            for number, (line, what) in enumerate(look.found):
                yield Fault(path.relative_to(ROOT), line, number, what)


def sample(count: int, seed: int, rooms: tuple[str, ...]) -> list[Fault]:
    """A fixed sample, as many from each room as from the next."""
    rng, out = random.Random(seed), []
    for n, room in enumerate(rooms):
        share = count // len(rooms) + (n < count % len(rooms))
        out += rng.sample(list(faults((room,))), share)
    return out


def copy_of_the_house(folder: Path) -> None:
    """Source, tests and papers as they are now, so that work going on meanwhile does not get in the way."""
    for name in ("src", "tests", "benchmarks", "pyproject.toml", "docs", "run", "README.md", "requirements"):
        source = ROOT / name
        if source.is_dir():
            shutil.copytree(source, folder / name, ignore=shutil.ignore_patterns("__pycache__", "screenshots"))
        else:
            shutil.copy(source, folder / name)


def first_failure(folder: Path, rooms: tuple[str, ...]) -> str | None:
    """The first test of some rooms that fails in a copy; ``None`` when all pass."""
    names = dict.fromkeys(one for room in rooms for one in TESTS[room])
    where = [f"tests/{one}" for one in names if (folder / "tests" / one).exists()]
    done = subprocess.run(
        [sys.executable, "-m", "pytest", "-x", "-q", "-n", "auto", "-p", "no:cacheprovider", "--no-header", *where],
        cwd=folder,
        env={**os.environ, "PYTHONPATH": str(folder / "src"), "QT_QPA_PLATFORM": "offscreen"},
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode == 0:
        return None
    failed = [x for x in done.stdout.splitlines() if x.startswith(("FAILED", "ERROR"))]
    return failed[0] if failed else "the tests could not be run"


def noticed(fault: Fault, folder: Path) -> str | None:
    """The first test that fails with the fault put into the copy; ``None`` when all pass."""
    path = folder / fault.path
    right = path.read_text(encoding="utf-8")
    wrong = ast.fix_missing_locations(_Place(fault.number).visit(ast.parse(right)))
    path.write_text(ast.unparse(wrong), encoding="utf-8")
    try:
        return first_failure(folder, (fault.path.relative_to(CORE).parts[0],))
    finally:
        path.write_text(right, encoding="utf-8")


def main() -> int:
    """Run a sample and list the survivors; exit 1 when there are more than are allowed."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0] if __doc__ else "")
    parser.add_argument("--count", type=int, default=24)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--room", choices=ROOMS, action="append")
    args = parser.parse_args()
    rooms = tuple(args.room or ROOMS)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        copy_of_the_house(folder)
        if (broken := first_failure(folder, rooms)) is not None:
            print(f"The suite fails without any fault put in: {broken}")
            return 2
        return look(sample(args.count, args.seed, rooms), folder)


def look(picked: list[Fault], folder: Path) -> int:
    """Put in one fault after the other, say what noticed it and list the rest."""
    survivors = []
    for n, fault in enumerate(picked, 1):
        by = noticed(fault, folder)
        words = f"{fault.path.relative_to(CORE)}:{fault.line} {fault.what}"
        print(f"{n:3} {'noticed ' if by else 'SURVIVED'} {words}" + (f"  [{by[:90]}]" if by else ""), flush=True)
        if by is None:
            survivors.append(words)
    print(f"{len(picked) - len(survivors)} of {len(picked)} noticed")
    for one in survivors:
        print(f"  survived: {one}")
    return 1 if survivors else 0


if __name__ == "__main__":
    sys.exit(main())
