"""``make mutate``: faults made on purpose in rooms of the core, one at a time, and how many the tests see.

Each fault is made in a copy; the tests nearest to the module are run against it, on both processors.  What
they don't see is printed with its line: a test is missing there, or the line says nothing.  ``SAMPLE`` is
how many faults are made of each module (all of them take hours), ``SEED`` which.
"""

from __future__ import annotations

import ast
import copy
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
SAMPLE, SEED = int(os.environ.get("SAMPLE", 12)), int(os.environ.get("SEED", 1))
LEAST = 85
"""Percent that should be seen: what is left are mostly faults that change nothing, as a cache's size."""
NEAREST = {
    "facts/edits.py": "test_edits test_clauses test_pasting",
    "facts/keys.py": "test_keys test_facts test_tasks",
    "facts/ledger.py": "test_facts test_edits test_laws",
    "facts/scopes.py": "test_scopes",
    "facts/comparison.py": "test_facts",
    "facts/parties.py": "test_facts test_formulas",
    "formulas/evaluation.py": "test_formulas test_clauses",
    "formulas/typing.py": "test_formulas test_clauses test_reasons",
    "formulas/sheet.py": "test_formulas test_laws test_facts",
    "templates/merging.py": "test_assembly test_laws test_templates",
    "templates/choosing.py": "test_templates",
    "assembly/blanks.py": "test_assembly test_own_blanks test_office_forms test_questions test_tasks",
    "contacts/model.py": "test_contacts",
    "pdf/background.py": "test_combining test_pdf",
    "pdf/combining.py": "test_combining test_pdf test_output",
    "pdf/interactive.py": "test_combining test_output",
    "pdf/objects.py": "test_combining",
}
_PAIRS = (
    (ast.Eq, ast.NotEq),
    (ast.Lt, ast.LtE),
    (ast.Gt, ast.GtE),
    (ast.In, ast.NotIn),
    (ast.Is, ast.IsNot),
    (ast.And, ast.Or),
    (ast.Add, ast.Sub),
)
_OTHER: dict[type, type] = {a: b for pair in _PAIRS for a, b in (pair, pair[::-1])}


def faults(tree: ast.Module) -> Iterator[tuple[int, str, ast.Module]]:
    """Each fault: its line, what it is, and the module with it."""
    nodes = list(ast.walk(tree))
    for number, node in enumerate(nodes):
        for what in _ways(node):
            made = copy.deepcopy(tree)
            _change(list(ast.walk(made))[number], what)
            yield getattr(node, "lineno", 0), what, made


def _ways(node: ast.AST) -> list[str]:
    if isinstance(node, ast.Compare) and type(node.ops[0]) in _OTHER:
        return ["comparison"]
    if isinstance(node, ast.BoolOp):
        return ["and for or"]
    if isinstance(node, ast.BinOp) and type(node.op) in _OTHER:
        return ["plus for minus"]
    if isinstance(node, (ast.If, ast.IfExp)):
        return ["the other way"]
    if isinstance(node, ast.Return) and node.value is not None and not isinstance(node.value, ast.Constant):
        return ["nothing returned"]
    if isinstance(node, ast.Constant) and type(node.value) is int:
        return ["one more"]
    return ["true for false"] if isinstance(node, ast.Constant) and isinstance(node.value, bool) else []


def _change(node: ast.AST, what: str) -> None:
    if isinstance(node, ast.Compare):
        node.ops[0] = _OTHER[type(node.ops[0])]()
    elif isinstance(node, (ast.BoolOp, ast.BinOp)):
        node.op = _OTHER[type(node.op)]()
    elif isinstance(node, (ast.If, ast.IfExp)):
        node.test = ast.UnaryOp(ast.Not(), node.test)
    elif isinstance(node, ast.Return):
        node.value = ast.Constant(None)
    elif isinstance(node, ast.Constant):
        node.value = node.value + 1 if what == "one more" else not node.value


def is_seen(name: str, made: ast.Module, tests: list[str]) -> bool:
    """Whether the tests fail with the fault in place."""
    with tempfile.TemporaryDirectory() as folder:
        core = Path(folder) / "core"
        shutil.copytree(ROOT / "core", core, ignore=shutil.ignore_patterns("__pycache__"))
        (core / "quillcore" / name).write_text(ast.unparse(ast.fix_missing_locations(made)), encoding="utf-8")
        command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *tests]
        env = {**os.environ, "PYTHONPATH": f"{core}:{ROOT}", "PYTHONDONTWRITEBYTECODE": "1"}
        try:
            return (
                subprocess.run(command, cwd=ROOT, env=env, capture_output=True, timeout=240).returncode != 0
            )
        except subprocess.TimeoutExpired:
            return True  # a fault that never ends is seen


def _fault_seen(name: str, tests: list[str], fault: tuple[int, str, ast.Module]) -> bool:
    return is_seen(name, fault[2], tests)


def main() -> int:
    """Make them, print what wasn't seen, and how many were; 1 where they are too few."""
    seen = made = 0
    chance = random.Random(SEED)
    only = sys.argv[1:] or list(NEAREST)
    for name in only:
        path = ROOT / "core" / "quillcore" / name
        tests = [str(ROOT / "tests" / "core" / f"{t}.py") for t in NEAREST[name].split()]
        every = list(faults(ast.parse(path.read_text(encoding="utf-8"))))
        chosen = chance.sample(every, min(SAMPLE, len(every)))
        with ThreadPoolExecutor(2) as both:
            answers = list(both.map(partial(_fault_seen, name, tests), chosen))
        for (line, what, _), was_seen in zip(chosen, answers, strict=True):
            if not was_seen:
                print(f"  {name}:{line}: {what}", flush=True)
        print(f"{name:28} {sum(answers)} of {len(chosen)} seen ({len(every)} there are)", flush=True)
        seen, made = seen + sum(answers), made + len(chosen)
    share = 100 * seen / max(made, 1)
    print(f"{seen} of {made}: {share:.0f} % (at least {LEAST})")
    return 0 if share >= LEAST else 1


if __name__ == "__main__":
    raise SystemExit(main())
