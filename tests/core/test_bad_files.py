"""Files that can't be right: a sentence each, status 2, nothing written."""

from __future__ import annotations

import json
import shutil
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

import pytest
import yaml
from hypothesis import given
from hypothesis import strategies as st
from quillcore.cli import main
from quillcore.packs.manifest import Pack
from quillcore.packs.reading import read_pack
from quillcore.values import Fault
from quillcore.values.structured import read_json, read_yaml

from tests.core.small import BUILT, SHEET, pack_files

BLANK = "<p><blank id='a' kind='text'></p>"


def rates(**said: Any) -> Callable[[dict[str, Any]], None]:
    return lambda sheet: sheet.update(rates={**sheet["rates"], **said})


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (rates(title_brackets=[["100", "5.75"]]), "for the rest"),
        (rates(title_brackets=[["400", "5"], ["100", "3"], [None, "1"]]), "above the one before"),
        (rates(title_brackets=[[None, "-1"]]), "below 0"),
        (rates(transfer_tax=["-1", "500"]), "transfer tax"),
        (rates(transfer_tax=["1", "0"]), "transfer tax"),
        (rates(transfer_tax=["NaN", "500"]), "finite"),
        (lambda sheet: sheet.update(time_zone="Mars/Olympus"), "no time zone"),
        (lambda sheet: sheet.update(holidays={"2026-02-30": "X"}), "date"),
    ],
)
def test_a_packs_sheet_that_cannot_be_is_refused(change: Callable[[dict[str, Any]], None], said: str) -> None:
    files = pack_files(BLANK)
    sheet = {**SHEET, "forms": ["900"]}
    change(sheet)
    read = read_pack({**files, "pack.yaml": yaml.safe_dump(sheet).encode()})
    assert isinstance(read, list) and any(said in str(fault) for fault in read), read


def test_a_form_for_a_kind_of_property_that_there_is_not_is_refused() -> None:
    files = pack_files(BLANK)
    name = "forms/900/edition.yaml"
    edition = {**yaml.safe_load(files[name]), "kinds": ["castle"]}
    read = read_pack({**files, name: yaml.safe_dump(edition).encode()})
    assert not isinstance(read, Pack) and "no property of kind “castle”" in str(read[0])


def test_a_name_that_stands_twice_is_refused_wherever_it_stands() -> None:
    for content in (b"a: 1\nb: 2\na: 3\n", b"x:\n  - {k: 1, k: 2}\n"):
        found = read_yaml(content)
        assert (
            isinstance(found, Fault) and "is there twice" in found.message and found.place.startswith("line")
        )
    assert isinstance(read_json('[{"k": 1, "k": 2}]'), Fault)
    assert read_json('[{"k": 1}, {"k": 2}]') == [{"k": 1}, {"k": 2}]


@pytest.mark.parametrize(
    "content",
    [
        b"a: !!bool maybe\n",
        b"a: !!timestamp soon\n",
        b"a: !!int ''\n",
        b"a: !!set {x}\n",
        b"a: !!python/name:os.system\n",
        b"!!map [1]\n",
        b"? [a]\n: 1\n",
        b"<<: {a: 1}\n",
        b"=: 1\n",
        b"a: 2026-02-30\n",
        b"a: " + b"9" * 5000 + b"\n",
        b"--- 1\n--- 2\n",
        b"null: 1\n~: 2\n",
        b"1: a\ntrue: b\n",
        b"a: &x 1\nb: *x\n",
        b"- " * 5000,
        b"[" * 5000,
        b"\xff\xfe\x00",
    ],
)
def test_yaml_that_means_nothing_of_ours_is_told(content: bytes) -> None:
    assert isinstance(read_yaml(content), Fault)


def test_yaml_says_what_it_looks_like() -> None:
    said = b"{a: 12, b: '12', c: yes, d: ~, e: , f: 2026-01-31, g: !!str 12, h: 1.5, i: [x, 1:30], '1': y}"
    assert read_yaml(said) == {
        "a": 12,
        "b": "12",
        "c": True,
        "d": None,
        "e": None,
        "f": date(2026, 1, 31),
        "g": "12",
        "h": 1.5,
        "i": ["x", 90],
        "1": "y",
    }
    assert read_yaml(b"") is None and read_yaml(b"x") == "x"


PARTS = ["\n  ", ": ", "!!bool ", "2026-", *"ab1-?:,[]{}!&*|>'\"#~\n "]


@given(st.lists(st.sampled_from(PARTS)))
def test_no_yaml_raises(parts: list[str]) -> None:
    read_yaml("".join(parts).encode())


HOME_FORMS = ["101", "301", "401", "503", "510", "601"]
"""Those for buying a home, and one that isn't in its package."""


@pytest.fixture(scope="module")
def home(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A pack with these forms alone, which is read many times as fast as the whole."""
    folder = tmp_path_factory.mktemp("home")
    sheet = yaml.safe_load((BUILT / "pack.yaml").read_text())
    (folder / "pack.yaml").write_text(yaml.safe_dump({**sheet, "forms": HOME_FORMS}))
    for number in HOME_FORMS:
        shutil.copytree(BUILT / "forms" / number, folder / "forms" / number)
    return folder


def assembled(facts: str, pack: Path, folder: Path, capsys: pytest.CaptureFixture[str]) -> tuple[int, str]:
    (folder / "facts.json").write_text(facts)
    out = folder / "out.pdf"
    template = BUILT / "templates" / "buying-home.yaml"
    words = ["assemble", "--pack", pack, "--template", template, "--facts", folder / "facts.json", "-o", out]
    try:
        status = main([str(word) for word in words])
    except SystemExit as ended:
        status = int(ended.code or 0)
    assert out.exists() is (status == 0)
    return status, capsys.readouterr().err


@pytest.mark.parametrize(
    ("facts", "said"),
    [
        ("[1, 2]", "an object of facts"),
        ('{"buyers": "Amara"}', "buyers: This is a list of parties."),
        ('{"buyers": [{"given": ["a"]}]}', "buyers.1.given: A fact is a text"),
        ('{"terms.purchase_price": null}', "A fact is a text"),
        ('{"terms.purchase_price": "1", "terms.purchase_price": "2"}', "is there twice"),
        ('{"terms.purchase_price": "-5"}', "can't be less"),
        ('{"301.nothing": "x"}', "no blank “nothing”"),
        ('{"601.keys": "2"}', "no blank “keys” of a form 601 here"),
        ('{"503.known": "known"}', "Only seller 1 may answer"),
        ('{"301.vesting": "by the sword"}', "isn't one of the choices"),
    ],
)
def test_facts_that_cannot_be_end_in_a_sentence(
    facts: str, said: str, home: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    status, told = assembled(facts, home, tmp_path, capsys)
    assert status == 2 and said in told


def test_a_forms_own_blanks_are_filled_by_number_and_field(
    home: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    facts = {"301.vesting": "joint tenants", "301.disclosure-days": "9"}
    status, _ = assembled(json.dumps(facts), home, tmp_path, capsys)
    assert status == 0
