"""A package read once more: silent where nothing is wrong, and finding each fault that is planted."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import date
from decimal import Decimal
from typing import Any

import pytest
from quillcore.assembly import HandChange, Package, PackageDocument
from quillcore.facts import Act, Entry, Ledger, Source, load_catalog
from quillcore.facts.keys import PartyKey, Side, own_key
from quillcore.facts.wording import formula_of, read_wording
from quillcore.packs.reading import read_pack
from quillcore.proofreading import Agreed, Came, Expected, Newer, Proof, Remark, RemarkWeight, proofread
from quillcore.values import EMPTY, KINDS, Fault

from tests.core.small import demo_pack, pack_files, package, small_form

TODAY = date(2027, 3, 1)
CATALOG = load_catalog()
BUYERS = [
    {
        "given": "Amara",
        "family": "Okafor",
        "email": "amara@post.example",
        "mailing_address": "1 Eddy Lane, Ashgrove, CW 09921",
    },
    {
        "given": "Chidi",
        "family": "Okafor",
        "email": "chidi@post.example",
        "mailing_address": "1 Eddy Lane, Ashgrove, CW 09921",
    },
]
SELLERS = [
    {
        "given": "Lena",
        "family": "Voss",
        "email": "lena@post.example",
        "mailing_address": "12 Alder Street, Ashgrove, CW 09921",
    }
]
FACTS = {
    "property.street_number": "12",
    "property.street_name": "Alder",
    "property.street_suffix": "Street",
    "property.city": "Ashgrove",
    "property.county": "Juniper",
    "property.state": "CW",
    "property.postal_code": "09921",
    "property.parcel_number": "3-0412-0077",
    "property.legal_description": "Lot 4, Block 2, Millrace Landing",
    "property.category": "single-family",
    "property.year_built": "1962",
    "property.living_area": "2,150",
    "property.occupancy": "owner",
    "property.association": "no",
    "property.water": "public",
    "property.sewer": "public",
    "property.flood_zone": "no",
    "tax.owners": "VOSS LENA",
    "tax.annual": "3,412.40",
    "tax.year": "2026",
    "terms.purchase_price": "412,500",
    "terms.deposit_percent": "1",
    "terms.deposit_due_days": "3",
    "terms.down_payment_percent": "20",
    "terms.loan_type": "conventional",
    "terms.loan_years": "30",
    "terms.rate_cap": "7.25",
    "terms.financing_days": "30",
    "terms.loan_application_days": "5",
    "terms.appraisal": "yes",
    "terms.appraisal_days": "21",
    "terms.inspection": "yes",
    "terms.inspection_days": "10",
    "terms.seller_concessions": "0",
    "terms.sale_contingency": "no",
    "terms.backup": "no",
    "terms.possession": "at closing",
    "terms.offer_date": "2027-03-01",
    "deal.agreement_date": "2027-03-01",
    "terms.expiry_date": "2027-03-04",
    "terms.closing_date": "2027-04-15",
    "representation.agency": "buyer only",
    "representation.begins": "2027-02-01",
    "representation.ends": "2027-08-01",
    "buyer_agent.name": "Ines Marrow",
    "buyer_agent.email": "ines@firm.example",
    "listing_agent.name": "Marguerite Oyelaran",
    "listing_agent.email": "marguerite@other.example",
}
LEASE = {
    **{key: text for key, text in FACTS.items() if key.startswith(("property.", "tax."))},
    "lease.start": "2027-04-01",
    "property.year_built": "1996",
    "lease.months": "12",
    "lease.rent": "1,850",
    "lease.security_deposit": "1,850",
    "lease.due_day": "1",
    "lease.pets": "no",
    "buyer_agent.name": "Ines Marrow",
    "listing_agent.name": "Marguerite Oyelaran",
}
NUMBERS = ("101", "510", "301", "401", "503")


def written(kind: str, options: tuple[str, ...]) -> Any:
    """Something that any blank of that kind may say."""
    if options:
        return options[0]
    text = {
        "money": "100",
        "percent": "1",
        "integer": "1",
        "number": "1",
        "date": "2027-03-15",
        "time": "5pm",
    }
    text |= {"year": "2001", "phone": "5555550123", "email": "a@post.example", "yes_no": "no", "area": "900"}
    read = KINDS[kind].read(text.get(kind, "As agreed between them"))
    assert not isinstance(read, Fault), (kind, read)
    return read


class Case:
    """A package with everything answered, but for what a test plants."""

    def __init__(self, side: Side = Side.BUYING, numbers: tuple[str, ...] = NUMBERS) -> None:
        self.side, self.numbers = side, list(numbers)
        self.facts: dict[str, str] = dict(LEASE if side.is_lease else FACTS)
        self.ours, self.theirs = [dict(p) for p in BUYERS], [dict(p) for p in SELLERS]
        self.sources: dict[tuple[str, Source], str] = {}
        self.own: dict[str, tuple[str, str]] = {}
        self.more: dict[str, Any] = {}

    def package(self) -> Package:
        ledger, order = Ledger(CATALOG, self.side), 0
        said: dict[str, Any] = {}
        for group, parties in ((self.side.clients, self.ours), (self.side.others, self.theirs)):
            ids = [f"{group.one}{n}" for n in range(len(parties))]
            said[group] = ",".join(ids)
            said |= {
                str(PartyKey(i, f)): text for i, p in zip(ids, parties, strict=True) for f, text in p.items()
            }
        entries = [
            (key, Source.TYPED, CATALOG[key].kind, text) for key, text in {**self.facts, **said}.items()
        ]
        entries += [(key, source, CATALOG[key].kind, text) for (key, source), text in self.sources.items()]
        entries += [(key, Source.TYPED, kind, text) for key, (kind, text) in self.own.items()]
        for key, source, kind, text in entries:
            order += 1
            value = KINDS[kind].read(text, () if own_key(key) else CATALOG[key].options)
            assert not isinstance(value, Fault), (key, value)
            ledger.add(Entry(key, Act.STATE, order, source, value))
        documents = [
            PackageDocument(f"d{n}{number}", demo_pack().forms[number])
            for n, number in enumerate(self.numbers)
        ]
        package = Package(documents, ledger, demo_pack().sheet.setting())
        return self.answered(package, order)

    def answered(self, package: Package, order: int) -> Package:
        """What is still open gets an answer that nobody remarks on."""
        planted = {*self.facts, *self.more.get("open", ())}
        for _ in range(3):
            for blank in package.blanks():
                if blank.state != "open" or blank.key in planted:
                    continue
                order += 1
                stored = package.sheet.ledger.stored_key(blank.key)
                assert stored is not None, blank.key
                value = EMPTY if blank.kind in ("long_text",) else written(blank.kind, blank.options)
                package.sheet.ledger.add(Entry(stored, Act.STATE, order, Source.TYPED, value))
                package.sheet.refresh([stored])
        return package

    def rules(self, weight: RemarkWeight | None = None) -> set[str]:
        proof = Proof(
            self.package(),
            TODAY,
            self.more.get("expected", ()),
            self.more.get("retired", {}),
            demo_pack().forms,
        )
        return {r.rule for r in proofread(proof) if weight is None or r.weight is weight}


def test_a_clean_package_is_passed_over_in_silence() -> None:
    assert Case().rules() == set()


def test_what_was_agreed_on_and_what_the_deal_says_are_compared() -> None:
    package = Case().package()
    price = package.sheet.held("terms.purchase_price").value
    assert isinstance(price, Decimal)

    def rules(*agreed: Agreed) -> list[str]:
        return [r.message for r in proofread(Proof(package, TODAY, agreed=agreed)) if "differ" in r.rule]

    old = Agreed("terms.purchase_price", price - 1000, "Counter-offer 1")
    assert rules(Agreed("terms.purchase_price", price, "Counter-offer 1")) == []
    assert rules(old, Agreed("terms.purchase_price", price, "Counter-offer 2")) == [], "the newest counts"
    assert len(rules(old)) == 1 and "Counter-offer 1, agreed on, says $" in rules(old)[0]
    assert rules(Agreed("terms.purchase_price", EMPTY, "Amendment 1"))[0].endswith(f"${price:,.2f}.")
    assert rules(Agreed("terms.possession_date", EMPTY, "Amendment 1")) == []


def test_a_clean_lease_is_passed_over_in_silence() -> None:
    assert Case(Side.RENTING, ("101", "601")).rules() == set()


def facts(**said: str) -> Mapping[str, str]:
    return {key.replace("__", "."): text for key, text in said.items()}


PLANTED: list[tuple[str, Mapping[str, str]]] = [
    ("order", facts(terms__expiry_date="2027-02-20")),
    ("order", facts(terms__acceptance_date="2027-04-20")),
    ("order", facts(representation__ends="2027-01-01")),
    ("accepted late", facts(terms__acceptance_date="2027-03-08")),
    (
        "past",
        facts(
            terms__closing_date="2027-02-26", terms__offer_date="2027-02-01", terms__expiry_date="2027-02-02"
        ),
    ),
    ("closed day", facts(terms__closing_date="2027-04-17")),
    ("closed day", facts(terms__closing_date="2027-05-31")),
    ("far off", facts(terms__closing_date="2029-04-16")),
    ("parts", facts(terms__balance_due="10,000")),
    ("beyond the price", facts(terms__deposit_amount="500,000")),
    ("price", facts(terms__purchase_price="412")),
    ("loan", facts(terms__loan_amount="200,000", terms__down_payment="82,500")),
    ("unusual", facts(terms__deposit_amount="82,500")),
    ("unusual", facts(terms__rate_cap="72.5")),
    ("unusual", facts(terms__loan_years="300")),
    ("unusual", facts(listing__price="900,000")),
    ("cash", facts(terms__loan_type="cash", terms__loan_amount="330,000")),
    ("down payment", facts(terms__down_payment_percent="1")),
    ("year built", facts(property__year_built="2092")),
    ("negative", facts(terms__seller_concessions="-500")),
    ("percent", facts(terms__deposit_percent="105")),
    ("stand-in", facts(property__legal_description="TBD")),
    ("stand-in", facts(terms__additional_terms="Seller leaves the ???")),
    ("words", facts(terms__purchase_price_words="Forty-One Thousand and 00/100 Dollars")),
    ("no box", facts(representation__agency="seller only")),
    ("called for", facts(terms__backup="yes")),
    ("called for", facts(terms__sale_contingency="yes")),
    ("called for", facts(property__association="yes")),
    ("called for", facts(property__flood_zone="yes")),
    ("called for", facts(property__water="well")),
    ("called for", facts(terms__loan_type="FHA")),
    ("called for", facts(terms__loan_type="seller carry")),
    ("called for", facts(terms__possession="after closing")),
    ("out of place", facts(property__year_built="1999")),
    ("out of place", facts(terms__loan_type="cash")),
    ("wrong kind", facts(property__category="condominium")),
    ("one agent", facts(listing_agent__name="Ines Marrow")),
    ("owner", facts(tax__owners="DELACROIX EDWIN")),
    ("owner missing", facts(tax__owners="VOSS LENA & VOSS HENRIK")),
    ("owner unnamed", facts(tax__owners="VOSS LENA ET UX")),
]


@pytest.mark.parametrize(("rule", "said"), PLANTED, ids=[f"{r} {next(iter(s))}" for r, s in PLANTED])
def test_a_planted_fault_is_found(rule: str, said: Mapping[str, str]) -> None:
    case = Case()
    for key, text in said.items():
        pair = CATALOG[key].pair
        case.facts.pop(pair or "", None)
        case.facts[key] = text
    assert rule in case.rules()


def people(case: Case, **changes: Any) -> set[str]:
    for name, value in changes.items():
        setattr(case, name, value)
    return case.rules()


def test_people_who_can_not_sign_are_found() -> None:
    assert "nobody" in people(Case(), theirs=[])
    assert "no e-mail" in people(Case(), ours=[{"given": "Amara", "family": "Okafor"}])
    same = [{**BUYERS[0]}, {**BUYERS[1], "email": BUYERS[0]["email"]}]
    assert "one e-mail" in people(Case(), ours=same)
    assert "agent's e-mail" in people(Case(), ours=[{**BUYERS[0], "email": "ines@firm.example"}])
    assert "both sides" in people(Case(), theirs=[{**BUYERS[0], "email": "other@post.example"}])
    assert "entity" in people(
        Case(), ours=[{"entity_name": "Ridgeline Holdings LLC", "kind": "entity", "email": "r@post.example"}]
    )
    assert "name" in people(Case(), ours=[{**BUYERS[0], "family": "Buyer 1"}])
    assert "twice" in people(Case(), ours=[BUYERS[0], {**BUYERS[0], "email": "second@post.example"}])
    four = [
        {**BUYERS[0], "given": g, "email": f"{g.lower()}@post.example"}
        for g in ("Ada", "Bo", "Cy", "Di", "Ed")
    ]
    assert "more signers" in people(Case(), ours=four)


def test_an_entity_with_its_signer_and_a_trustee_on_the_deed_are_passed_over() -> None:
    case = Case()
    case.facts["tax.owners"] = "VOSS FAMILY TRUST"
    trust = {
        "entity_name": "Voss Family Trust",
        "kind": "entity",
        "signer": "Lena Voss",
        "capacity": "trustee",
    }
    assert people(case, theirs=[{**trust, "email": "lena@post.example"}]) == set()


def test_an_open_blank_is_said_once_whatever_the_number_of_forms() -> None:
    case = Case()
    del case.facts["terms.offer_date"]
    case.more["open"] = ["terms.offer_date"]
    proof = Proof(case.package(), TODAY)
    assert [r.message for r in proofread(proof) if r.rule == "open"] == ["Offer date: no answer yet."]


def test_what_a_document_says_otherwise_is_told() -> None:
    case = Case()
    blanks = case.package().blanks()
    price = next(b for b in blanks if b.key == "terms.purchase_price" and b.document == "d2301")
    case.own = {price.own_key: ("money", "400,000")}
    assert "only here" in case.rules()


def test_papers_of_a_package_are_told() -> None:
    case = Case()
    case.more["expected"] = [Expected("Proof of funds", "buyer")]
    assert case.rules() == {"expected"}
    assert "form twice" in people(Case(), numbers=[*NUMBERS, "510"])
    assert "two agreements" in people(Case(), numbers=[*NUMBERS, "303"])
    assert "representation" in people(Case(), numbers=["301", "401", "503"])
    case = Case()
    case.more["retired"] = {"d2301": date(2027, 2, 1)}
    assert case.rules() == {"retired"}


def test_an_expected_paper_counts_for_a_form_that_is_called_for() -> None:
    case = Case(numbers=("101", "510", "301", "401"))
    assert "called for" in case.rules()
    case.more["expected"] = [Expected("503 Lead-based paint disclosure", "seller")]
    assert "called for" not in case.rules()


def test_sources_that_differ_and_what_goes_on_elsewhere_are_told() -> None:
    case = Case()
    for key, listing, roll in (("property.year_built", "1962", "1958"),):
        del case.facts[key]
        case.sources = {(key, Source.LISTING): listing, (key, Source.ROLL): roll}
    assert "undecided" in case.rules()
    case = Case()
    case.facts["property.legal_description"] = "Lot 4, Block 2, Millrace Landing, and the part of Lot 5 " * 30
    assert "continued" in case.rules()


@pytest.mark.parametrize(
    ("rule", "said"),
    [
        ("rent", facts(lease__rent="0")),
        ("due day", facts(lease__due_day="45")),
        ("pets", facts(lease__pet_rent="40")),
        ("unusual", facts(lease__security_deposit="9,000")),
        ("unusual", facts(lease__months="300")),
        ("order", facts(lease__end="2027-03-01", lease__months="")),
        ("called for", facts(lease__pets="yes")),
        ("called for", facts(property__year_built="1961")),
    ],
)
def test_a_lease_is_read_too(rule: str, said: Mapping[str, str]) -> None:
    case = Case(Side.RENTING, ("101", "601"))
    assert rule not in case.rules()
    for key, text in said.items():
        if text:
            case.facts[key] = text
        else:
            case.facts.pop(key, None)
            case.more["open"] = [key]
    assert rule in case.rules()


REMARKING = """<remark when='form.nights > 60 and terms.possession != "at closing"' at="nights"
says="That is a long stay." mend="Shorten it." weight="should">
<p>Stays <blank id="nights" kind="integer" label="Nights"> nights.</p>"""


@pytest.mark.parametrize(
    ("nights", "possession", "found"),
    [
        (90, "after closing", True),
        (60, "after closing", False),
        (90, "at closing", False),
        (None, "at closing", False),
    ],
)
def test_a_form_remarks_itself_on_what_it_knows(nights: int | None, possession: str, found: bool) -> None:
    said: dict[str, Any] = {"terms.possession": possession}
    if nights is not None:
        said["doc.d1.nights"] = Decimal(nights)
    remarks = [
        r
        for r in proofread(Proof(package(small_form(REMARKING), said=said), TODAY))
        if r.rule == "form's own"
    ]
    assert [(r.weight, r.message, r.mend, r.field) for r in remarks] == (
        [(RemarkWeight.SHOULD, "900: That is a long stay.", "Shorten it.", "nights")] if found else []
    )


@pytest.mark.parametrize(
    ("before", "after", "place"),
    [
        ('at="nights"', 'at="days"', "remark 1"),
        ("form.nights > 60", "form.nights >", "remark 1, when"),
        ("form.nights > 60", "form.days > 60", "remark 1, when"),
        ("form.nights > 60", "form.nights", "remark 1, when"),
    ],
)
def test_a_remark_that_can_not_be_is_a_fault_of_the_pack(before: str, after: str, place: str) -> None:
    found = read_pack(pack_files(REMARKING.replace(before, after)))
    assert isinstance(found, list) and any(place in (f.place or "") for f in found)


def test_the_same_is_never_said_twice_and_what_weighs_comes_first() -> None:
    case = Case()
    case.facts |= {"terms.purchase_price": "412", "terms.backup": "yes", "terms.closing_date": "2027-04-17"}
    found = proofread(Proof(case.package(), TODAY))
    assert len({(r.rule, r.key, r.message) for r in found}) == len(found)
    order = [RemarkWeight.MUST, RemarkWeight.SHOULD, RemarkWeight.LOOK]
    assert [r.weight for r in found] == sorted((r.weight for r in found), key=order.index)


def test_a_mend_is_one_change() -> None:
    case = Case()
    case.facts["terms.closing_date"] = "2027-04-17"
    [remark] = [r for r in proofread(Proof(case.package(), TODAY)) if r.rule == "closed day"]
    assert remark.does is not None and (remark.does.key, remark.does.text) == (
        "terms.closing_date",
        "2027-04-19",
    )
    case.facts["terms.closing_date"] = remark.does.text
    assert case.rules() == set()


CALLED = [
    ("401", {"terms.loan_type": "conventional"}, {"terms.loan_type": "cash"}),
    ("403", {"terms.loan_type": "VA"}, {"terms.loan_type": "conventional"}),
    ("405", {"terms.loan_type": "seller carry"}, {"terms.loan_type": "cash"}),
    ("407", {"terms.loan_type": "assumption"}, {"terms.loan_type": "cash"}),
    ("412", {"terms.sale_contingency": "yes"}, {"terms.sale_contingency": "no"}),
    ("326", {"terms.backup": "yes"}, {"terms.backup": "no"}),
    ("420", {"property.association": "yes"}, {"property.association": "no"}),
    ("430", {"terms.possession": "after closing"}, {"terms.possession": "at closing"}),
    ("503", {"property.year_built": "1961"}, {"property.year_built": "1985"}),
    ("505", {"property.flood_zone": "yes"}, {"property.flood_zone": "no"}),
    ("507", {"property.sewer": "septic"}, {"property.sewer": "public sewer", "property.water": "public"}),
    ("104", {"representation.agency": "both with consent"}, {"representation.agency": "buyer only"}),
]


def called(number: str, said: Mapping[str, str], numbers: tuple[str, ...]) -> set[str]:
    """What is remarked on a form's being there or not."""
    case = Case(numbers=numbers)
    case.facts = {k: v for k, v in {**case.facts, **said}.items() if v}
    proof = Proof(case.package(), TODAY, available=demo_pack().forms)
    return {r.rule for r in proofread(proof) if r.does and number in (r.does.says.split()[1], "")}


@pytest.mark.parametrize(("number", "yes", "no"), CALLED, ids=[n for n, _, _ in CALLED])
def test_a_form_says_itself_when_it_is_called_for(
    number: str, yes: Mapping[str, str], no: Mapping[str, str]
) -> None:
    with_it = tuple(dict.fromkeys([*NUMBERS, number]))
    without = tuple(n for n in NUMBERS if n != number)
    assert called(number, yes, without) == {"called for"}
    assert called(number, yes, with_it) == set()
    assert called(number, no, with_it) == {"out of place"}
    assert called(number, no, without) == set()


def test_nothing_of_a_form_that_does_not_apply_is_open() -> None:
    case = Case(numbers=("301", "401"))
    case.facts["terms.loan_type"] = "cash"
    package = case.package()
    document = next(d for d in package.documents if d.form.edition.number == "401")
    blanks = list(package.blanks([document]))
    assert not [b for b in blanks if b.state == "open"]
    assert any(b.quiet == "This form does not apply: the loan isn’t conventional." for b in blanks)


def test_the_boxes_of_addenda_follow_the_package() -> None:
    package = Case(numbers=("301", "401", "503")).package()
    boxes = {b.field.id: b.marked for b in package.blanks() if b.field.id.startswith("add-")}
    assert {name for name, is_marked in boxes.items() if is_marked} == {"add-conventional", "add-lead"}
    expected = Package(package.documents[:1], package.sheet.ledger, expected=["503 from the seller"])
    lead = next(b for b in expected.blanks() if b.field.id == "add-lead")
    assert lead.marked, "what is still to come counts"


TERMS = "terms.additional_terms"


def clause_in(case: Case, wording: str, **newer: Newer) -> list[Remark]:
    """What is remarked on clauses in a package with one of them, put there as version 1."""
    package = case.package()
    parts = read_wording(wording, CATALOG)
    assert not isinstance(parts, Fault)
    package.sheet.ledger.add(Entry(TERMS, Act.FORMULA, 999, Source.TYPED, None, formula_of(parts), "c-1.1"))
    remarks = proofread(Proof(package, TODAY, available=demo_pack().forms, newer=newer))
    assert not [r for r in remarks if r.rule == "stand-in"], "a gap is said once"
    return [r for r in remarks if r.rule.startswith("clause ")]


def test_a_clause_that_names_what_is_not_known() -> None:
    assert clause_in(Case(), "Price {terms.purchase_price}.") == []
    [remark] = clause_in(Case(), "Sold by {terms.sale_by}, at the latest {terms.sale_by}.")
    assert (remark.rule, remark.weight, remark.key) == ("clause gap", RemarkWeight.MUST, TERMS)
    assert "buyer's home sold by" in remark.message.lower() and remark.document


def test_a_clause_that_was_changed_since() -> None:
    was = "Price {terms.purchase_price}."
    newer = {"c-1.1": Newer("Price", was, "At {terms.purchase_price}, no less.", "c-1.2")}
    [remark] = clause_in(Case(), f"Before. {was} Behind.", **newer)
    assert remark.rule == "clause changed" and remark.does is not None
    assert remark.does.text == "Before. At {terms.purchase_price}, no less. Behind."
    assert remark.does.clause == "c-1.2"
    [typed_over] = clause_in(Case(), "Price, in words, {terms.purchase_price}.", **newer)
    assert typed_over.does is None, "what was typed over is compared by hand"
    assert clause_in(Case(), was) == []


def test_a_form_that_came_with_blanks_open() -> None:
    def said(*labels: str) -> list[str]:
        came = [Came("Lead-Based Paint Disclosure", "d9", labels)]
        remarks = proofread(Proof(Case().package(), TODAY, available=demo_pack().forms, came=came))
        return [r.message for r in remarks if r.rule == "came open"]

    assert said() == []
    assert said("Known lead") == ["Lead-Based Paint Disclosure came with 1 unanswered: Known lead."]
    assert said(*"abcdef") == ["Lead-Based Paint Disclosure came with 6 unanswered: a, b, c, d and 2 more."]


def test_words_struck_out_by_hand_are_told_with_whose_initials_they_want() -> None:
    case = Case()
    package = case.package()
    change = HandChange(
        "x", 1, ((72.0, 700.0, 200.0, 710.0),), "Seller will pay", "Buyer pays", (72.0, 640.0)
    )
    document = replace(package.documents[0], by_hand=(change,))
    ledger = package.sheet.ledger
    changed = Package([document, *package.documents[1:]], ledger, package.sheet.setting)
    [remark] = [r for r in proofread(Proof(changed, TODAY)) if r.rule == "changed by hand"]
    assert (
        remark.weight is RemarkWeight.LOOK
        and "“Seller will pay” struck out and “Buyer pays”" in remark.message
    )
    assert "AO" in remark.message and "CO" in remark.message
    alone = Package([document], Ledger(CATALOG, ledger.side), package.sheet.setting)
    [nobody] = [r for r in proofread(Proof(alone, TODAY)) if r.rule == "changed by hand"]
    assert nobody.weight is RemarkWeight.MUST
    aside = Package([replace(document, set_aside=True)], ledger, package.sheet.setting)
    assert not [r for r in proofread(Proof(aside, TODAY)) if r.rule == "changed by hand"]
