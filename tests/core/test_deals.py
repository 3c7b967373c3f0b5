"""Whole deals of every kind, assembled and read as a careful reader would: what is printed is true of the
deal, lies in its place, and those sign who have to."""

from __future__ import annotations

import re
import subprocess
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path

import pytest
from quillcore.assembly import Assembled, Package, PackageDocument, assemble
from quillcore.facts import Act, Entry, Ledger, Side, Source
from quillcore.facts.keys import PartyKey
from quillcore.proofreading import Proof, proofread
from quillcore.templates import TemplateContent, merge, read_template
from quillcore.values import Fault, read_answer
from quillcore.values.clock import today

from tests.core.small import CATALOG, demo_pack

HOME = {
    "property.street_number": "214",
    "property.street_name": "Alder",
    "property.street_suffix": "Street",
    "property.city": "Tern Harbor",
    "property.county": "Juniper",
    "property.state": "CW",
    "property.postal_code": "09914",
    "property.parcel_number": "3-0412-0077",
    "property.legal_description": "Lot 1, Block 2, Millrace Landing",
    "property.category": "single-family",
    "property.year_built": "1994",
    "tax.annual": "3,200",
}
LEASE = {"lease.start": "2027-03-01", "lease.months": "12", "lease.rent": "1,850", "lease.pets": "no"}
TWO = ({"given": "Ana", "family": "Ruiz"}, {"given": "Łukasz", "family": "Nguyễn"})
FOUR = (*TWO, {"given": "Cy", "family": "Marsh"}, {"given": "Di", "family": "Okoye"})
TRUST = (
    {
        "kind": "entity",
        "entity_name": "Voss Family Trust",
        "entity_kind": "trust",
        "capacity": "trustee",
        "signer": "Lena Voss",
    },
)


@dataclass(frozen=True)
class Deal:
    template: str
    said: dict[str, str] = field(default_factory=dict)
    ours: tuple[dict[str, str], ...] = TWO
    others: tuple[dict[str, str], ...] = TRUST
    home: dict[str, str] = field(default_factory=lambda: HOME)


PRICE = {"terms.purchase_price": "412,500", "listing.price": "425,000"}
DEALS = {
    "a loan": Deal("buying-home", PRICE),
    "cash, with a loan typed before": Deal(
        "buying-cash",
        {**PRICE, "terms.loan_amount": "330,000", "terms.loan_years": "30", "terms.rate_cap": "7.25"},
    ),
    "an old home": Deal("buying-home", {**PRICE, "property.year_built": "1931"}),
    "a home of unknown age": Deal(
        "buying-home", PRICE, home={k: v for k, v in HOME.items() if "year" not in k}
    ),
    "four buyers": Deal("buying-home", PRICE, ours=FOUR),
    "a trust sells": Deal("listing-home", PRICE, ours=TRUST, others=()),
    "a condominium": Deal(
        "buying-condominium",
        {**PRICE, "property.category": "condominium", "property.unit": "3", "property.association": "yes"},
    ),
    "land": Deal("buying-land", {**PRICE, "property.category": "land"}),
    "land listed": Deal("listing-land", {**PRICE, "property.category": "land"}, others=()),
    "commercial": Deal("buying-commercial", {**PRICE, "property.category": "commercial"}),
    "commercial listed": Deal("listing-commercial", {**PRICE, "property.category": "commercial"}, others=()),
    "a lease": Deal("leasing-out-home", LEASE, ours=TRUST, others=FOUR),
    "a lease of a shop": Deal(
        "leasing-out-commercial", {**LEASE, "property.category": "commercial"}, ours=TRUST, others=FOUR
    ),
    "a lease of land": Deal("leasing-out-land", {**LEASE, "property.category": "land"}, others=TWO),
    "a lease of a condominium": Deal(
        "leasing-out-condominium", {**LEASE, "property.category": "condominium"}
    ),
    "a lease of an old home": Deal("renting-home", {**LEASE, "property.year_built": "1931"}),
}


@cache
def package(name: str) -> Package:
    deal, pack = DEALS[name], demo_pack()
    template = read_template(pack.templates[deal.template], pack.forms, CATALOG, deal.template)
    assert isinstance(template, TemplateContent), template
    ledger, order = Ledger(CATALOG, template.side), 0
    side = Side(template.side)
    for group, parties in ((side.clients, deal.ours), (side.others, deal.others)):
        ids = [f"{group.one}{n}" for n in range(len(parties))]
        ledger.add(Entry(group, Act.STATE, 1, Source.TYPED, ",".join(ids)))
        for one, party in zip(ids, parties, strict=True):
            for part, text in party.items():
                ledger.add(Entry(str(PartyKey(one, part)), Act.STATE, 2, Source.TYPED, text))
    for order, (key, text) in enumerate({**deal.home, **deal.said}.items(), 3):
        value = read_answer(text, CATALOG[key].kind, CATALOG[key].options)
        assert not isinstance(value, Fault), (key, value)
        ledger.add(Entry(key, Act.STATE, order, Source.TYPED, value))
    merged = merge(
        template, ledger, pack.forms, {}, order + 1, {d.form or "": f"f{d.form}" for d in template.documents}
    )
    for entry in merged.entries:
        ledger.add(entry)
    documents = [
        PackageDocument(i, pack.forms[d.form], d.section, d.reserve) for i, d in merged.documents if d.form
    ]
    expected = [d.expected for _, d in merged.documents if d.expected]
    return Package(documents, ledger, pack.sheet.setting(), expected)


@cache
def assembled(name: str) -> Assembled:
    return assemble(package(name), name)


def text_of(name: str, tmp_path: Path) -> str:
    path = tmp_path / "deal.pdf"
    path.write_bytes(assembled(name).pdf)
    done = subprocess.run(
        ["pdftotext", "-layout", str(path), "-"], capture_output=True, text=True, check=True
    )
    return " ".join(done.stdout.split())


@pytest.mark.parametrize("name", DEALS)
def test_every_value_lies_in_its_blank_and_is_no_smaller_than_seven_points(name: str) -> None:
    for blank in package(name).blanks():
        left, bottom, _, top = blank.field.rect
        for line in blank.fit.lines if blank.fit is not None else ():
            assert left - 0.5 <= line.x and bottom - 0.5 <= line.y <= top, (blank.document, blank.field.id)
        is_small = blank.fit is not None and not blank.overflow and blank.fit.size < 7
        assert not is_small, (blank.document, blank.field.id)


@pytest.mark.parametrize("name", DEALS)
def test_nothing_is_printed_that_does_not_apply(name: str) -> None:
    for blank in package(name).blanks():
        if blank.state == "idle" and blank.quiet:
            assert blank.text in ("", blank.meaning.otherwise) and not blank.marked


@pytest.mark.parametrize("name", DEALS)
def test_no_answer_is_without_a_box_and_no_paper_is_for_another_kind(name: str) -> None:
    rules = {r.rule for r in proofread(Proof(package(name), today(), available=demo_pack().forms))}
    assert not rules & {"no box", "wrong kind", "fault"}


@pytest.mark.parametrize("name", DEALS)
def test_every_party_has_a_place_to_sign_and_is_named_there(name: str, tmp_path: Path) -> None:
    found, made = package(name), assembled(name)
    side = found.sheet.ledger.side
    for document in (d for d in found.documents if not d.set_aside):
        meanings = document.form.seen_from(side).mapping.meanings
        lines = {m.role or "" for m in meanings if m.sign == "signature"}
        further = {s.role for s in made.further if s.document == document.id and s.sign == "signature"}
        for group in (side.clients, side.others):
            if f"{group.one}.1" in lines:
                count = len(found.sheet.ledger.parties(group))
                assert {f"{group.one}.{n}" for n in range(1, count + 1)} <= lines | further, document.id
    if TRUST in (DEALS[name].ours, DEALS[name].others):
        assert "Lena Voss, as trustee of the Voss Family Trust" in text_of(name, tmp_path)


def test_cash_carries_no_loan_on_any_page(tmp_path: Path) -> None:
    text = text_of("cash, with a loan typed before", tmp_path)
    assert not re.search(r"330,000|7\.25", text)


def test_the_same_deal_gives_the_same_bytes() -> None:
    for name in ("a loan", "four buyers", "a lease"):
        assert assemble(package(name), name).pdf == assembled(name).pdf


def test_lead_papers_follow_the_year() -> None:
    def called(name: str) -> set[str]:
        remarks = proofread(Proof(package(name), today(), available=demo_pack().forms))
        return {
            f"{r.rule} {r.does.says.split()[1]}"
            for r in remarks
            if r.does and r.does.says[-3:] in "503 607 aside"
        }

    assert "out of place 503" in called("a loan"), "built in 1994"
    for old in ("an old home", "a home of unknown age"):
        assert not {c for c in called(old) if "503" in c}, "it is there, and belongs there"
    assert "called for 607" in called("a lease of an old home")


STEPS = {
    "terms.purchase_price": "399,000",
    "listing.price": "402,000",
    "lease.rent": "1,975",
    "lease.start": "2027-04-15",
    "terms.acceptance_date": "2026-10-05",
    "terms.closing_days": "35",
    "property.year_built": "1951",
    "property.association": "no",
    "terms.loan_type": "VA",
    "representation.fee_basis": "flat",
}


@pytest.mark.parametrize("name", DEALS)
def test_what_a_change_reaches_is_all_that_moved(name: str) -> None:
    """Looking again only at what depends on a change leaves nothing as it was before that is otherwise now,
    standing formulas included."""
    before = package.__wrapped__(name)  # one of its own: the others' stay as they are
    ledger, known = before.sheet.ledger, {(b.document, b.field.id): b for b in before.blanks()}
    entries = [e for e in STEPS.items() if any(e[0] in before.keys_of(d) for d in before.documents)]
    setting = demo_pack().sheet.setting()
    values = [(key, read_answer(text, CATALOG[key].kind, CATALOG[key].options)) for key, text in entries]
    gone = [
        (group, ",".join(ledger.parties(group)[1:])) for group in (ledger.side.clients, ledger.side.others)
    ]
    for order, (key, value) in enumerate([*values, *gone], 10_000):
        assert not isinstance(value, Fault)
        ledger.add(Entry(key, Act.STATE, order, Source.TYPED, value))
        now = Package(before.documents, ledger, setting)
        reached = now.affected(now.sheet.refresh([key]))
        known |= {(b.document, b.field.id): b for b in reached}
        for blank in now.blanks():
            held = known[blank.document, blank.field.id]
            assert (held.text, held.marked, held.state) == (blank.text, blank.marked, blank.state), (
                key,
                blank.key,
            )
