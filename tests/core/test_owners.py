"""Owner lines as counties write them, and the parties that they suggest."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.cli import main
from quillcore.facts.owners import read_owners

# On the roll; the suggested names, "?" where the agent is asked, "(…)" for a capacity.
LINES = [
    ("OKAFOR AMARA J & CHIDI", ["Amara J Okafor", "Chidi Okafor"]),
    ("PARK MIN SEO & KIM DAE HYUN", ["Min Seo Park", "Dae Hyun Kim?"]),
    ("MCALLISTER ROBERT ET UX", ["Robert McAllister", "?"]),
    ("VOSS LENA TR", ["Lena Voss (trustee)?"]),
    ("VOSS LENA TRUSTEE", ["Lena Voss (trustee)?"]),
    ("VOSS FAMILY TRUST", ["Voss Family Trust?"]),
    ("RIDGELINE HOLDINGS LLC", ["Ridgeline Holdings LLC"]),
    ("EST OF DELACROIX PAUL", ["Estate of Paul Delacroix?"]),
    ("DELACROIX PAUL ESTATE", ["Estate of Paul Delacroix?"]),
    ("O'BRIEN-TATE JUNE M JR", ["June M O'Brien-Tate Jr"]),
    ("VAN DER MEER PIETER", ["Pieter van der Meer?"]),
    ("DE LA CRUZ MARIA & JUAN", ["Maria de la Cruz?", "Juan de la Cruz?"]),
    ("SMITH JOHN & MARY ANN", ["John Smith", "Mary Ann Smith?"]),
    ("BRANNIGAN SEAN & FENWICK CLARA", ["Sean Brannigan", "Clara Fenwick?"]),
    ("DOE JOHN A JR & JANE B", ["John A Doe Jr", "Jane B Doe"]),
    ("DOE JOHN & DOE JANE", ["John Doe", "Jane Doe"]),
    ("DOE JOHN AND JANE DOE", ["John Doe", "Jane Doe"]),
    ("DOE JOHN ETAL", ["John Doe", "?"]),
    ("SMITH, JOHN Q", ["John Q Smith"]),
    ("SMITH JR JOHN", ["John Smith Jr"]),
    ("SMITH & JONES LLC", ["Smith & Jones LLC"]),
    ("VOSS LENA & RIDGELINE HOLDINGS LLC", ["Lena Voss", "Ridgeline Holdings LLC"]),
    ("BLUE HERON RENTALS L L C", ["Blue Heron Rentals LLC"]),
    ("TERN POINT PARTNERS LP", ["Tern Point Partners LP"]),
    ("KETTLE STREET HOMES INC", ["Kettle Street Homes Inc"]),
    ("FIRST BANK OF CALLOWAY", ["First Bank of Calloway"]),
    ("CITY OF PORT LINDEN", ["City of Port Linden"]),
    ("VOSS LIVING TR", ["Voss Living Trust?"]),
    ("VOSS LENA TR & PARK MIN SEO", ["Lena Voss (trustee)?", "Min Seo Park?"]),
    ("VOSS LENA & PAUL TRS", ["Lena Voss (trustee)?", "Paul Voss (trustee)?"]),
    ("VOSS LENA TRUSTEE OF THE VOSS FAMILY TRUST", ["Lena Voss (trustee of Voss Family Trust)"]),
    ("HADDAD OMAR 1/2 INT & GUPTA PRIYA 1/2 INT", ["Omar Haddad", "Priya Gupta?"]),
    ("OKAFOR CHIDI & AMARA H/W JTWROS", ["Chidi Okafor", "Amara Okafor"]),
    ("NGUYEN THANH C/O TIDEWATER HOMES", ["Thanh Nguyen"]),
    ("SAARINEN AINO LIFE ESTATE", ["Aino Saarinen?"]),
    ("LEE", ["Lee?"]),
    ("MACDONALD IAN; WRAY TOMAS", ["Ian MacDonald", "Tomas Wray"]),
    ("", []),
]


@pytest.mark.parametrize(("line", "parties"), LINES)
def test_owner_lines_suggest_parties(line: str, parties: list[str]) -> None:
    found = [
        f"{o.name}{f' ({o.capacity})' if o.capacity else ''}{'?' if o.ask else ''}" for o in read_owners(line)
    ]
    assert found == parties


WORD = st.sampled_from(
    [
        "VOSS",
        "LENA",
        "PAUL",
        "&",
        "AND",
        "TR",
        "TRUSTEE",
        "JR",
        "LLC",
        "TRUST",
        "ET",
        "UX",
        "ETAL",
        "VAN",
        "DER",
        "MEER",
        "EST",
        "OF",
        ",",
        ";",
        "O'NEIL",
        "1/2",
        "C/O",
        "-",
        "%",
        "JT",
    ]
)


@given(st.lists(WORD, max_size=9).map(" ".join) | st.text(max_size=60))
def test_whatever_a_county_writes_nobody_is_invented(line: str) -> None:
    known = "".join(c for c in line.upper() if c.isalnum())
    for owner in read_owners(line):
        assert 0 <= owner.confidence <= 1
        assert owner.ask or owner.confidence > 0.9, "who is unsure asks"
        for part in (owner.given, owner.middle, owner.family):
            for word in part.upper().replace("-", " ").replace("'", "").split():
                assert "".join(c for c in word if c.isalnum()) in known


def test_the_command_line_reads_owner_lines(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["names", "O'BRIEN-TATE JUNE M JR"]) == 0
    assert json.loads(capsys.readouterr().out) == [
        {
            "kind": "person",
            "given": "June",
            "middle": "M",
            "family": "O'Brien-Tate",
            "suffix": "Jr",
            "name": "June M O'Brien-Tate Jr",
            "capacity": None,
            "confidence": 0.95,
            "ask": None,
        }
    ]


@pytest.mark.parametrize(
    "line, said",
    [
        (
            "SMITH JOHN A TR OF THE SMITH FAMILY TRUST",
            [("John A Smith", "trustee of Smith Family Trust", False)],
        ),
        ("SMITH FAMILY TR OF 2003", [("Smith Family Trust of 2003", "", True)]),
        (
            "SMITH FAMILY REV LVG TRUST DTD 1/2/2003",
            [("Smith Family Revocable Living Trust dated 1/2/2003", "", True)],
        ),
        ("SMITH MARY ESTATE OF", [("Estate of Mary Smith", "", True)]),
        ("SMITH JOHN A (DECEASED)", [("Estate of John A Smith", "", True)]),
        ("SMITH JOHN A HEIRS OF", [("Heirs of John A Smith", "", True)]),
        ("HEIRS OF SMITH JOHN", [("Heirs of John Smith", "", True)]),
        ("O BRIEN PATRICK", [("Patrick O'Brien", "", True)]),
        ("SMITH JOHN CUST SMITH AMY UTMA", [("John Smith", "", True)]),
        ("MR & MRS JOHN SMITH", [("John Smith", "", True), ("", "", True)]),
        ("UNKNOWN OWNER", [("", "", True)]),
        ("OWNER UNKNOWN", [("", "", True)]),
    ],
)
def test_more_lines_as_counties_write_them(line: str, said: list[tuple[str, str, bool]]) -> None:
    assert [(o.name, o.capacity, bool(o.ask)) for o in read_owners(line)] == said
