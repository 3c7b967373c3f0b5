"""``python -m ops.figures``: print the figures of the tree's shape, all of them held at 0.

Circles of imports between modules, class names that stand twice, long files and long functions; of the web
circles and long files (its long functions are the linter's).  Generated modules and migrations don't count.
"""

from __future__ import annotations

import ast
import os
import re
from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from pathlib import Path

import grimp

ROOT = Path(__file__).resolve().parents[1]
FLOORS = ("core/quillcore", "server/goodquill")
MOST_LINES, MOST_OF_A_FUNCTION = 500, 60
GENERATED = {"wire.py"}
FRAMEWORKS_OWN = {"Command", "Migration", "Meta"}
"""Class names that Django looks for."""


def modules() -> Iterator[Path]:
    """Yield the modules that people write."""
    for floor in FLOORS:
        for path in sorted((ROOT / floor).rglob("*.py")):
            if "migrations" not in path.parts and path.name not in GENERATED:
                yield path


def circles(imports: Mapping[str, Iterable[str]]) -> list[list[str]]:
    """Return the groups of modules that import each other, directly or by others."""
    reached = {name: _reached_from(name, imports) for name in imports}
    groups = {
        frozenset(other for other in reached[name] if name in reached[other])
        for name in imports
        if name in reached[name]
    }
    return sorted(sorted(group) for group in groups)


def _reached_from(start: str, imports: Mapping[str, Iterable[str]]) -> set[str]:
    seen: set[str] = set()
    waiting = list(imports[start])
    while waiting:
        name = waiting.pop()
        if name not in seen:
            seen.add(name)
            waiting += imports[name]
    return seen


def import_graph() -> dict[str, set[str]]:
    """Return what each module imports, packages' own modules apart."""
    graph = grimp.build_graph("quillcore", "goodquill", cache_dir=None, exclude_type_checking_imports=True)
    return {name: set(graph.find_modules_directly_imported_by(name)) for name in graph.modules}


WEB = ROOT / "web" / "src"
_IMPORTED = re.compile(r"^(?:import|export)(?!\s+type\b)[^;]*?from '(\.[^']+)'", re.MULTILINE)


def web_graph() -> dict[str, set[str]]:
    """Return which of the web's modules each imports; imports of types alone don't count."""
    graph = {}
    for path in (path for path in WEB.rglob("*.ts*") if not path.name.endswith(".d.ts")):
        targets = (Path(os.path.normpath(path.parent / name)) for name in _IMPORTED.findall(path.read_text()))
        files = (target.with_name(target.name + end) for target in targets for end in (".ts", ".tsx"))
        graph[_named(path)] = {_named(file) for file in files if file.exists()}
    return graph


def _named(path: Path) -> str:
    return str(path.relative_to(ROOT))


def main() -> None:
    """Print the figures; exits with 1 where one is beyond its bound."""
    classes: dict[str, list[str]] = defaultdict(list)
    long_files, long_functions = [], []
    for path in modules():
        text, named = path.read_text(encoding="utf-8"), _named(path)
        if (lines := text.count("\n")) > MOST_LINES:
            long_files.append(f"{named}: {lines} lines")
        for node in ast.walk(ast.parse(text)):
            if isinstance(node, ast.ClassDef) and node.name not in FRAMEWORKS_OWN:
                classes[node.name].append(named)
            if isinstance(node, ast.FunctionDef) and node.end_lineno is not None:
                length = node.end_lineno - node.lineno + 1
                if length > MOST_OF_A_FUNCTION:
                    long_functions.append(f"{named}: {node.name}, {length} lines")
    web = web_graph()
    for named in web:
        if (lines := (ROOT / named).read_text().count("\n")) > MOST_LINES:
            long_files.append(f"{named}: {lines} lines")
    twice = [f"{name}: {', '.join(where)}" for name, where in sorted(classes.items()) if len(where) > 1]
    round_about = [" – ".join(group) for group in circles(import_graph() | web)]
    for title, found in (
        ("circles of imports", round_about),
        ("class names that stand twice", twice),
        (f"files over {MOST_LINES} lines", long_files),
        (f"functions over {MOST_OF_A_FUNCTION} lines", long_functions),
    ):
        print(f"{title}: {len(found)} (at most 0)")
        for one in found:
            print(f"    {one}")
    raise SystemExit(1 if round_about or twice or long_files or long_functions else 0)


if __name__ == "__main__":
    main()
