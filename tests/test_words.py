"""The check of words finds what it is for, and lets plain sentences pass."""

from __future__ import annotations

from pathlib import Path

import pytest

from ops import words
from ops.figures import circles, web_graph
from ops.words import Text, odd, odd_docstrings


@pytest.mark.parametrize(
    "text",
    [
        "Additional terms is open. Answer it.",
        "That were too many tries.",
        "What is pressed last counts",
        "On which day does the listing expire?",
        "Nobody is called so",
        "A duty says what is to be done.",
    ],
)
def test_a_turned_sentence_is_found(text: str) -> None:
    assert list(odd([Text("a.py", 1, text)]))


@pytest.mark.parametrize(
    "text",
    ["What is the date of the agreement?", "Too many attempts. Wait 5 minutes and try again.", "What if"],
)
def test_a_plain_sentence_passes(text: str) -> None:
    assert not list(odd([Text("a.py", 1, text)]))


def test_docstrings_begin_with_what_they_are_about(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(words, "ROOT", tmp_path)
    module = tmp_path / "module.py"
    module.write_text(
        '"""What it is."""\n'
        'A = 1\n"""The number of papers."""\n'
        'def b() -> int:\n    """The documents."""\n'
        'def c() -> int:\n    """Return the documents."""\n'
        'class D:\n    """A deal."""\n'
        '    @property\n    def e(self) -> int:\n        """The documents."""\n'
    )
    assert [(text.line, better.split(":")[0]) for text, better in odd_docstrings(module)] == [
        (1, "begin with a noun"),
        (5, "begin with a verb"),
    ]


def test_circles_of_imports_are_found_and_chains_are_not() -> None:
    assert circles({"a": {"b"}, "b": {"c"}, "c": set()}) == []
    assert circles({"a": {"b"}, "b": {"c"}, "c": {"a"}, "d": {"a"}}) == [["a", "b", "c"]]


def test_the_webs_modules_are_part_of_the_figures() -> None:
    graph = web_graph()
    assert "web/src/router.tsx" in graph["web/src/main.tsx"]
    assert "web/src/api/client.ts" in graph["web/src/api/queries.ts"]
