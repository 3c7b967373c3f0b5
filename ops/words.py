"""``python -m ops.words``: print every text that a user can read, with its place; ``--check``: find odd ones.

Out of Python (core, server): sentences and labels, by Python's own parser; no docstrings, no keys.  Out of
the web: by TypeScript's parser (``ops/words.mjs``).  Out of data: questions, labels and help of facts, and
what forms ask and remark.

The check holds the texts against ``ODD``: phrases that strangers read twice, and sentences turned round.
Docstrings of the code are checked for their first words alone: a verb for a function, a noun for the rest.
It proves nothing about a text that it lets pass.
"""

from __future__ import annotations

import argparse
import ast
import html
import json
import re
import subprocess
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import yaml

from ops.figures import modules

ROOT = Path(__file__).resolve().parents[1]
PYTHON = ("core/quillcore", "server/goodquill", "ops/demo.py", "ops/processes.py")
NOT_READ = {"migrations", "wire.py", "schema.py", "prepared.py"}
DATA = (
    "core/quillcore/facts/questions.yaml",
    "core/quillcore/facts/data/*.yaml",
    "core/quillcore/facts/bounds.yaml",
)
FORMS = "packs/*/source/forms/*.html"
ASKED = re.compile(r'\b(?:ask|help|says|mend|because)="([^"]*)"')
MACHINE = re.compile(
    r"SELECT |INSERT |^(?:application|image|text)/|^https?:|^[\w.\-/:#*{}\[\]%()|^$\\?+]+$|<\w+|\(\?"
)

_TURNED = r"^(?:What|Whoever|Whatever)\b[^?]*$"
"""A sentence with a clause as its subject, which is no question."""
ODD: dict[str, str] = {
    r"\bis open\b(?! for)|\bare open\b": "a blank is unanswered, a deal is active",
    r"\bThat were\b|\btoo many tries\b": "Too many attempts.",
    r"\bcan[’']t be (?:read|told|looked through) just now\b": "Couldn't load …. Nothing was lost. Try again.",
    r"\bis like that\b|\bis called that\b": "No matches.",
    r"\bIt has come\b|\bTook (?:up|out)\b|\bNeeded after all\b": "verb and noun: Mark received, Removed …",
    r"\bOn which day\b|\bWhich date does\b|\bIn which (?:city|county|state|year)\b": "When …? What …?",
    r"\bWithin how many\b": "How many days does … have?",
    r"\breckoned\b|\bto be known of\b|\bis below nothing\b": "calculated; can't be negative",
    r"\bThe month (?:before|after)\b": "Previous month, Next month",
    r"\bLook (?:again|at (?:it|them|the \w+) (?:again|once more))\b": "Reload and try again.",
    r"\bset aside\b|\bSet aside\b": "Leave out of this package",
    r"\bdut(?:y|ies)\b|\bDut(?:y|ies)\b": "task, deadline",
    r"\bNobody is\b|\bnobody to be\b|\bSomebody\b": "No one …, Someone …",
    r"\b[Tt]hrow(?:n)? (?:it |this deal |this round )?away\b": "delete, discard",
    r"\bto be mended\b|\bMend it\b": "fix",
    r"\bgo together\b|\bmust go along\b": "Wrong e-mail or password.",
    _TURNED: "who does what",
}
"""Patterns that may not come back, with what to write instead."""
EXCEPTIONS = frozenset(
    {
        "What if",  # a case to be tried, as every spreadsheet has it
        "What if …",
        "What neighborhood is it in?",  # a question
        "What goes here?",
    }
)
"""Texts that a pattern finds and that are right all the same, each with its reason beside it; ten at most."""


CLAUSE = re.compile(r"(?:What|Whoever|Whatever|Whose|Which|Who|That|Where|When|How)\b")
NO_VERB = re.compile(
    r"(?:The|An?|Each|Every|All|Those|Whether|Its|Their|One|Two|Some|None|Nothing|Any|Anything|Everything"
    r"|Everybody|Somebody|Nobody|Both|Only|Just|Another|If|As|Of|For|In|On|By|With|From|To|Once|Likewise)\b"
)
"""First words of docstrings that have to be read twice: a clause as the subject, and a function that says a
thing in place of what it does."""


@dataclass(frozen=True, order=True)
class Text:
    """A text that users read, and where it stands."""

    file: str
    line: int
    text: str


def is_read(text: str) -> bool:
    """Return whether a text looks like words for people."""
    plain = " ".join(text.split())
    if MACHINE.search(plain) or len(plain) > 2_000:
        return False
    words = re.findall(r"[A-Za-z’']{2,}", plain)
    return (len(words) >= 2 and " " in plain) or re.fullmatch(r"[A-Z][a-z’']+[.!?…]?", plain) is not None


def of_python(path: Path) -> Iterator[Text]:
    """Yield a module's texts; what is put into one stands as {…}."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    skipped = {id(n.value) for n in ast.walk(tree) if isinstance(n, ast.Expr)}
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            skipped |= {id(part) for part in ast.walk(node) if part is not node}
    for node in ast.walk(tree):
        if id(node) in skipped:
            continue
        text = ""
        if isinstance(node, ast.JoinedStr):
            text = "".join(str(v.value) if isinstance(v, ast.Constant) else "{…}" for v in node.values)
        elif isinstance(node, ast.Constant) and isinstance(node.value, str):
            text = node.value
        if text and is_read(text):
            yield Text(str(path.relative_to(ROOT)), node.lineno, " ".join(text.split()))


def of_web() -> Iterator[Text]:
    """Yield the web's texts."""
    files = [str(p) for p in sorted((ROOT / "web/src").rglob("*.ts*")) if not p.name.endswith(".d.ts")]
    command = ["node", str(ROOT / "ops" / "words.mjs"), str(ROOT), *files]
    said = subprocess.run(command, capture_output=True, text=True, check=True).stdout
    for row in said.splitlines():
        file, line, text = json.loads(row)
        yield Text(file, line, text)


def of_data(path: Path) -> Iterator[Text]:
    """Yield the texts of a file with facts or questions."""

    def walk(node: yaml.Node) -> Iterator[Text]:
        if isinstance(node, yaml.ScalarNode):
            if is_read(node.value):
                yield Text(
                    str(path.relative_to(ROOT)), node.start_mark.line + 1, " ".join(node.value.split())
                )
        elif isinstance(node, yaml.SequenceNode):
            for child in node.value:
                yield from walk(child)
        elif isinstance(node, yaml.MappingNode):
            for key, child in node.value:
                if getattr(key, "value", "") not in ("formula", "when", "keys", "kinds"):
                    yield from walk(child)

    loaded: Any = yaml.compose(path.read_text(encoding="utf-8"))
    yield from walk(loaded)


def of_form(path: Path) -> Iterator[Text]:
    """Yield what a form's source asks and remarks."""
    for number, line in enumerate(path.read_text(encoding="utf-8").splitlines(), 1):
        for found in ASKED.findall(line):
            if is_read(found):
                yield Text(str(path.relative_to(ROOT)), number, html.unescape(found))


def texts() -> list[Text]:
    """Return all of them, by place."""
    python = [
        p for root in PYTHON for p in ([ROOT / root] if root.endswith(".py") else (ROOT / root).rglob("*.py"))
    ]
    found = {t for p in python if not NOT_READ & {*p.parts} for t in of_python(p)}
    found |= {*of_web()}
    found |= {t for pattern in DATA for p in ROOT.glob(pattern) for t in of_data(p)}
    found |= {t for p in ROOT.glob(FORMS) for t in of_form(p)}
    return sorted(found)


def odd(found: list[Text]) -> Iterator[tuple[Text, str]]:
    """Yield each text that has an odd phrase, with what to write instead."""
    for text in found:
        for pattern, better in ODD.items():
            if re.search(pattern, text.text) and text.text not in EXCEPTIONS:
                yield text, better
                break


def odd_docstrings(path: Path) -> Iterator[tuple[Text, str]]:
    """Yield each docstring of a module that begins with a clause, or a function's without its verb."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    functions = {
        id(node.body[0])
        for node in ast.walk(tree)
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef)
        and not any("property" in ast.unparse(d) for d in node.decorator_list)
    }
    for node in ast.walk(tree):
        if not isinstance(node, ast.Expr) or not isinstance(node.value, ast.Constant):
            continue
        text = " ".join(str(node.value.value).split())
        place = Text(str(path.relative_to(ROOT)), node.lineno, text[:80])
        if CLAUSE.match(text):
            yield place, "begin with a noun: “The documents that …”"
        elif id(node) in functions and NO_VERB.match(text):
            yield place, "begin with a verb: “Return the documents that …”"


def main() -> None:
    """Print, or check; exits with 1 where something is odd."""
    parser = argparse.ArgumentParser(description="Texts that users read")
    parser.add_argument("--check", action="store_true", help="find odd phrases")
    if not parser.parse_args().check:
        for one in texts():
            print(f"{one.file}:{one.line}: {one.text}")
        return
    wrong = list(odd(texts()))
    wrong += [found for path in modules() for found in odd_docstrings(path)]
    for one, better in wrong:
        print(f"{one.file}:{one.line}: {one.text}\n    write: {better}")
    raise SystemExit(1 if wrong else 0)


if __name__ == "__main__":
    main()
