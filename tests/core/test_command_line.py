"""Commands that read a template over facts, without web or database."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from quillcore.cli import COMMANDS, main

from tests.core.small import ROOT

PACK = ROOT / "packs" / "calloway" / "built"
TEMPLATE = PACK / "templates" / "buying-home.yaml"
SAID = {
    "deal.side": "buying",
    "terms.purchase_price": "412,500",
    "terms.acceptance_date": "2027-05-03",
    "buyers.1.given": "Amara",
}


@pytest.fixture
def facts(tmp_path: Path) -> Path:
    file = tmp_path / "facts.json"
    file.write_text(json.dumps(SAID))
    return file


def told(capsys: pytest.CaptureFixture[str], *arguments: object) -> Any:
    assert main([str(a) for a in arguments]) == 0
    return json.loads(capsys.readouterr().out)


def over(facts: Path) -> list[object]:
    return ["--pack", PACK, "--template", TEMPLATE, "--facts", facts]


@pytest.mark.parametrize("command", COMMANDS)
def test_every_command_says_what_it_takes(command: str, capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(SystemExit) as ended:
        main([command, "--help"])
    assert ended.value.code == 0
    assert f"quill {command}" in capsys.readouterr().out


def test_what_is_due_is_told_with_its_day_or_what_it_waits_for(
    facts: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    dues = {due["what"]: due for due in told(capsys, "schedule", *over(facts))}
    order = dues["Order the inspection"]
    assert (order["who"], order["due"]) == ("own agent", "2027-05-04")
    assert order["why"] == "1 business day after acceptance date (Mon May 3)."
    facts.write_text(json.dumps({k: v for k, v in SAID.items() if k != "terms.acceptance_date"}))
    dues = {due["what"]: due for due in told(capsys, "schedule", *over(facts))}
    order = dues["Order the inspection"]
    assert (order["due"], order["waits_for"]) == (None, ["terms.acceptance_date"])


def test_a_package_is_read_as_on_a_day(facts: Path, capsys: pytest.CaptureFixture[str]) -> None:
    remarks = told(capsys, "proofread", *over(facts), "--today", "2027-05-21")
    assert any(r["message"].startswith("Buyer's agent: no answer yet") for r in remarks)
    weights = [r["weight"] for r in remarks]
    assert weights == sorted(weights, key=["must", "should", "look"].index), "what weighs most first"
    with pytest.raises(SystemExit):
        main([str(a) for a in ("proofread", *over(facts), "--today", "soon")])
    assert "“soon” is not a date" in capsys.readouterr().err


def test_a_templates_questions_are_counted_by_who_answers_them(capsys: pytest.CaptureFixture[str]) -> None:
    counts = told(capsys, "template", "coverage", TEMPLATE, "--pack", PACK)
    blanks = counts.pop("blanks")
    assert blanks == sum(counts.values()) > 100
    assert counts["template"] and counts["ask"]


def test_a_templates_file_is_checked(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert told(capsys, "template", "check", TEMPLATE, "--pack", PACK) == {"faults": []}
    wrong = tmp_path / "wrong.yaml"
    wrong.write_text(TEMPLATE.read_text().replace("terms.closing_days:", "terms.closing_dais:"))
    with pytest.raises(SystemExit) as ended:
        main(["template", "check", str(wrong), "--pack", str(PACK)])
    assert ended.value.code == 2
    assert "closing_dais" in capsys.readouterr().out
