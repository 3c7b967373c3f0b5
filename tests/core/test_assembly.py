"""The package on paper: what is filled where, what is open, what does not fit; and templates merged
into it."""

from __future__ import annotations

import json
import subprocess
import sys
from datetime import date
from decimal import Decimal
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.assembly import Blank, assemble
from quillcore.cli import main
from quillcore.facts import Act, Entry, Source
from quillcore.pdf import Frame, fit
from quillcore.pdf.typeface import width
from quillcore.templates import TemplateContent, merge, read_template
from quillcore.values import EMPTY, Value
from quillcore.values.scripts import SETTABLE

from tests.core.small import BUILT, CATALOG, OFFER, demo_pack, ledger, package, people, small_form


def words(pdf: bytes, tmp_path: Path) -> str:
    path = tmp_path / "out.pdf"
    path.write_bytes(pdf)
    return subprocess.run(
        ["pdftotext", "-layout", str(path), "-"], capture_output=True, text=True, check=True
    ).stdout


def state(blanks: list[Blank]) -> dict[str, str]:
    return {b.field.id: b.state for b in blanks}


def test_an_independent_reader_finds_every_value_in_its_place(tmp_path: Path) -> None:
    made = assemble(package(demo_pack().forms["301"]), "Offer")
    text = " ".join(words(made.pdf, tmp_path).split())
    assert "Price. Buyer will pay $ 412,500.00" in text
    assert "( Four Hundred Twelve Thousand Five Hundred and 00/100 Dollars )" in text
    assert "1.1 Buyer. Ana Ruiz and Łukasz Nguyễn" in text
    assert "(c) Loan proceeds under Section 5 $ 330,000.00" in text
    assert "(d) Balance, in good funds at Closing $ 78,375.00" in text


def test_states_of_blanks() -> None:
    form = small_form(
        '<p><blank id="price" fact="terms.purchase_price"> <blank id="city" fact="property.city"> <blank'
        ' id="unit" fact="property.unit" optional><blank id="hoa" fact="property.association_name"'
        ' relevant="property.association"> <blank id="known" kind="text" who="seller.1"><pick id="cash"'
        ' fact="terms.loan_type" value="cash"> a <pick id="conv" fact="terms.loan_type" value="conventional">'
        ' b<pick id="d1" group="deed" value="general"> c <pick id="d2" group="deed" value="special"> d<blank'
        ' id="sum" formula="terms.purchase_price + coalesce(form.extra, 0)" kind="money"> <blank id="extra"'
        ' kind="money" optional></p><sign role="buyer.1" kind="signature">'
    )
    found = package(form)
    blanks = {b.field.id: b for b in found.blanks()}
    assert state(list(blanks.values())) == {
        "price": "filled",
        "city": "open",
        "unit": "optional",
        "hoa": "idle",
        "known": "theirs",
        "cash": "filled",
        "conv": "filled",
        "d1": "open",
        "d2": "optional",
        "sum": "filled",
        "extra": "optional",
        "signature-buyer.1": "sign",
    }
    assert (blanks["cash"].marked, blanks["conv"].marked) == (False, True)
    assert blanks["sum"].text == "412,500.00"
    found.sheet.ledger.add(Entry("property.association", Act.STATE, 99, Source.TYPED, True))
    found.sheet.ledger.add(Entry("doc.d1.extra", Act.STATE, 100, Source.TYPED, Decimal(500)))
    moved = {
        b.field.id: b for b in found.affected(found.sheet.refresh(["property.association", "doc.d1.extra"]))
    }
    assert {k: b.state for k, b in moved.items()} == {"hoa": "open", "sum": "filled", "extra": "filled"}
    assert moved["sum"].text == "413,000.00"


def of_one(body: str, **said: Value) -> dict[str, Blank]:
    """The blanks of a small form in an offer, where facts (``a__b`` for a.b) say something else."""
    offer = OFFER | {key.replace("__", "."): value for key, value in said.items()}
    return {b.field.id: b for b in package(small_form(body), said=offer).blanks()}


LOAN = (
    '<when holds=\'terms.loan_type != "cash"\'><p><blank id="loan" fact="terms.loan_amount" otherwise="none">'
    ' <blank id="years" fact="terms.loan_years"><pick id="buyer" fact="terms.appraisal" value="yes"> yes'
    ' <blank id="days" fact="terms.appraisal_days" relevant="terms.appraisal"></p>'
    '<sign role="buyer.1" kind="signature"></when><p><blank id="price" fact="terms.purchase_price"></p>'
)


def test_what_does_not_apply_prints_nothing_whatever_its_fact_holds(tmp_path: Path) -> None:
    known = {"terms__loan_years": Decimal(30), "terms__appraisal": True, "terms__appraisal_days": Decimal(9)}
    loan = of_one(LOAN, **known)
    assert [loan[name].text for name in ("loan", "years", "days")] == ["330,000.00", "30", "9"]
    assert (loan["buyer"].marked, loan["signature-buyer.1"].state) == (True, "sign")
    cash = of_one(LOAN, **known, terms__loan_type="cash")
    assert state(list(cash.values())) == {
        "loan": "idle",
        "years": "idle",
        "buyer": "idle",
        "days": "idle",
        "signature-buyer.1": "idle",
        "price": "filled",
    }
    assert [cash[name].text for name in ("loan", "years", "days")] == ["none", "", ""]
    assert cash["years"].quiet == "Does not apply here, where “Loan” is cash."
    assert not cash["buyer"].marked
    made = assemble(package(small_form(LOAN), said=OFFER | {"terms.loan_type": "cash"}), "x")
    assert "330,000" not in words(made.pdf, tmp_path)


def test_what_cannot_be_told_yet_prints_what_is_known() -> None:
    said = {key: value for key, value in OFFER.items() if key != "terms.loan_type"}
    found = package(small_form(LOAN), said={**said, "terms.loan_years": Decimal(30)})
    blanks = {b.field.id: b for b in found.blanks()}
    assert (blanks["years"].text, blanks["loan"].state, blanks["loan"].quiet) == ("30", "idle", "")


def test_a_condition_moves_what_it_decides() -> None:
    found = package(small_form(LOAN), said={**OFFER, "terms.loan_years": Decimal(30)})
    found.sheet.ledger.add(Entry("terms.loan_type", Act.STATE, 99, Source.TYPED, "cash"))
    moved = {b.field.id for b in found.affected(found.sheet.refresh(["terms.loan_type"]))}
    assert moved >= {"loan", "years", "buyer", "days", "signature-buyer.1"} and "price" not in moved


BOXES = (
    '<p><pick id="only" fact="representation.agency" value="buyer only"> a'
    ' <pick id="none" fact="representation.agency" value="neither"> b'
    ' <check id="lone" fact="property.association"> c</p>'
)


def test_a_group_is_answered_only_when_one_of_its_boxes_is_marked() -> None:
    wrong = of_one(BOXES, representation__agency="seller only", property__association=False)
    assert state(list(wrong.values())) == {"only": "open", "none": "optional", "lone": "filled"}
    assert wrong["only"].fault is not None and "has no such box" in wrong["only"].fault.message
    assert wrong["none"].fault is None, "said once"
    for value in ("neither", EMPTY):
        right = of_one(BOXES, representation__agency=value)
        assert right["only"].state == "filled" and right["only"].fault is None


def test_a_template_with_an_answer_that_its_form_has_no_box_for_is_refused() -> None:
    form = small_form(BOXES)
    content = {"name": "T", "side": "buying", "documents": [{"section": "A", "form": "900"}]}
    for text, is_right in (("seller only", False), ("neither", True)):
        read = read_template(
            {**content, "answers": {"representation.agency": text}}, {"900": form}, CATALOG, "t"
        )
        assert isinstance(read, TemplateContent) is is_right, read
        if not isinstance(read, TemplateContent):
            assert read[0].place == "t, answers, representation.agency"


def test_days_that_cannot_be_before_others_are_called_into_question() -> None:
    body = '<p><blank id="ends" fact="listing.expiry_date"> <blank id="begins" fact="listing.list_date"></p>'
    days = {"listing.list_date": date(2027, 3, 1), "listing.expiry_date": date(2027, 2, 1)}
    found = package(small_form(body), said={**OFFER, **days})
    ends = next(iter(found.blanks()))
    assert (
        ends.fault is not None and ends.fault.message == "Expiration date is before list date, March 1, 2027."
    )
    found.sheet.ledger.add(Entry("listing.list_date", Act.STATE, 99, Source.TYPED, date(2027, 1, 1)))
    moved = {b.field.id: b for b in found.affected(found.sheet.refresh(["listing.list_date"]))}
    assert moved["ends"].fault is None, "it follows the other day"


def test_a_percent_in_a_condition_is_a_hundredth_as_in_any_formula() -> None:
    form = small_form(
        '<p><blank id="a" kind="text" relevant="terms.seller_concessions > terms.purchase_price * 3%"></p>'
    )
    states = [
        state(list(package(form, said={**OFFER, "terms.seller_concessions": Decimal(c)}).blanks()))["a"]
        for c in (12000, 13000)
    ]
    assert states == ["idle", "open"], "three percent of 412,500 is 12,375"


def test_only_here_differs_in_one_place_and_can_rejoin() -> None:
    form = small_form('<p><blank id="a" fact="property.city"> <blank id="b" fact="property.city"></p>')
    found = package(form, said={"property.city": "Tern Harbor", "doc.d1.b": "the Harbor"})
    a, b = found.blanks()
    assert (a.text, a.only_here) == ("Tern Harbor", False)
    assert (b.text, b.only_here) == ("the Harbor", True)
    found.sheet.ledger.add(Entry("doc.d1.b", Act.CLEAR, 9, Source.TYPED))
    found.sheet.refresh(["doc.d1.b"])
    assert [x.text for x in found.blanks()] == ["Tern Harbor", "Tern Harbor"]


def test_intentionally_empty_prints_the_forms_own_word() -> None:
    form = small_form(
        '<p><blank id="a" fact="terms.additional_terms" empty="Not applicable"> <blank id="b"'
        ' kind="text"></p>'
    )
    a, b = package(form, said={"terms.additional_terms": EMPTY, "doc.d1.b": EMPTY}).blanks()
    assert (a.text, b.text, a.state) == ("Not applicable", "None", "filled")


def test_a_change_fits_only_the_blanks_that_depend_on_it() -> None:
    found = package(*[demo_pack().forms["301"]] * 5)
    assert sum(1 for _ in found.blanks()) > 1000
    found.fitted = 0
    found.sheet.evaluated.clear()
    moved = found.affected(found.sheet.refresh(["terms.rate_cap"]))
    assert {b.meaning.fact for b in moved} == {"terms.rate_cap", "terms.monthly_payment"}
    assert len(moved) == 10
    assert found.sheet.evaluated == ["terms.monthly_payment"]
    assert found.fitted == 0, "neither has a value yet"
    found.sheet.ledger.add(Entry("terms.rate_cap", Act.STATE, 99, Source.TYPED, Decimal("6.5")))
    found.affected(found.sheet.refresh(["terms.rate_cap"]))
    assert found.fitted == 5, "the rate on each copy; the payment still waits for the years"


def test_what_does_not_fit_goes_whole_to_a_continuation_page(tmp_path: Path) -> None:
    long = "The seller will leave the piano and the garden bench. " * 60
    found = package(demo_pack().forms["301"], said={**OFFER, "terms.additional_terms": long.strip()})
    made = assemble(found, "Offer")
    text = " ".join(words(made.pdf, tmp_path).split())
    assert made.pages == 9
    assert "see continuation 1" in text
    assert "Continuation 1: Additional terms (page 7)" in text
    assert text.count("garden bench") == 60


def test_a_name_too_long_for_its_line_is_kept_whole(tmp_path: Path) -> None:
    name = "Maximiliana " * 14
    form = small_form('<p><blank id="a" fact="title.company" width="30"></p>')
    made = assemble(package(form, said={"title.company": name.strip()}), "x")
    assert "".join(words(made.pdf, tmp_path).split()).count("Maximiliana") == 14


def test_the_same_package_gives_the_same_bytes() -> None:
    assert (
        assemble(package(demo_pack().forms["101"]), "x").pdf
        == assemble(package(demo_pack().forms["101"]), "x").pdf
    )


TEXT = st.text(st.sampled_from(sorted(SETTABLE)), min_size=1, max_size=200).map(
    lambda t: " ".join(t.split()) or "x"
)


@given(TEXT, st.integers(20, 400), st.integers(1, 5))
def test_set_text_lies_within_its_blank(text: str, wide: int, lines: int) -> None:
    frame = Frame(100, 200, 100 + wide, 200 + 13 * lines, lines)
    fitted = fit(text, frame)
    if fitted.overflow:
        assert fitted.lines == ()
        return
    assert len(fitted.lines) <= lines
    assert "".join("".join(line.text for line in fitted.lines).split()) == "".join(text.split()), (
        "nothing is lost"
    )
    for line in fitted.lines:
        assert line.x >= 100
        assert line.x + width(line.text, fitted.size) <= 100 + wide + 0.1
        assert 200 <= line.y <= 200 + 13 * lines


def test_money_stands_on_the_right_and_small_numbers_in_the_middle() -> None:
    right = fit("5.00", Frame(0, 0, 100, 13, align="right")).lines[0]
    middle = fit("5", Frame(0, 0, 100, 13, align="center")).lines[0]
    assert right.x + width("5.00", 10) == pytest.approx(98.5, abs=0.02)
    assert middle.x == pytest.approx((100 - width("5", 10)) / 2, abs=0.02)


def home() -> TemplateContent:
    template = read_template(demo_pack().templates["buying-home"], demo_pack().forms, CATALOG, "buying-home")
    assert isinstance(template, TemplateContent)
    return template


def test_applying_a_template_replaces_nothing_typed_and_twice_adds_nothing() -> None:
    made = ledger({"terms.closing_days": Decimal(60)})
    first = merge(home(), made, demo_pack().forms, {}, 100)
    for entry in first.entries:
        made.add(entry)
    assert first.kept == ("terms.closing_days",)
    assert made.in_force("terms.closing_days").value == Decimal(60)  # type: ignore[union-attr]
    assert made.in_force("terms.loan_type").value == "conventional"  # type: ignore[union-attr]
    assert "7 documents" in first.sentence()
    assert "1 kept as you had it" in first.sentence()
    present = {d.form or d.expected or "": [code] for code, d in first.documents}
    second = merge(home(), made, demo_pack().forms, present, 500)
    assert (second.documents, second.entries) == ((), ())


def test_standing_answers_for_single_blanks_reach_their_documents() -> None:
    merged = merge(home(), ledger({}), demo_pack().forms, {}, 1, {"301": "offer"})
    keys = {e.key: e.value for e in merged.entries}
    assert keys["doc.offer.deed"] == "general warranty deed"
    assert keys["doc.offer.commitment-days"] == Decimal(7)


def test_the_command_line_assembles_a_package(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    facts = {
        "terms.purchase_price": "412.5k",
        "buyers": [{"given": "Ana", "family": "Ruiz"}],
        "sellers.1.name": "Voss Family Trust",
    }
    (tmp_path / "facts.json").write_text(json.dumps(facts))
    (tmp_path / "listing.json").write_text(
        json.dumps(
            {"StreetNumber": "214", "StreetName": "Alder", "City": "Tern Harbor", "StateOrProvince": "CW"}
        )
    )
    (tmp_path / "roll.json").write_text(json.dumps({"parcel": "3-0412-0077", "legal": "Lot 1, Block 2"}))
    template = BUILT / "templates" / "buying-home.yaml"
    out = tmp_path / "out.pdf"
    command = [
        "assemble",
        "--pack",
        str(BUILT),
        "--template",
        str(template),
        "--facts",
        str(tmp_path / "facts.json"),
        "--listing",
        str(tmp_path / "listing.json"),
    ]
    assert (
        main(
            [
                *command,
                "--roll",
                str(tmp_path / "roll.json"),
                "-o",
                str(out),
                "--report",
                str(tmp_path / "report.json"),
            ]
        )
        == 0
    )
    assert json.loads(capsys.readouterr().out)["pages"] == 15
    text = " ".join(words(out.read_bytes(), tmp_path).split())
    for said in ("214 Alder, Tern Harbor, CW", "3-0412-0077", "Seller. Voss Family Trust", "Lot 1, Block 2"):
        assert said in text
    report = json.loads((tmp_path / "report.json").read_text())
    assert report["expected"] == ["Proof of funds", "Loan approval letter"]
    assert {
        "document": "form301",
        "field": "year-built",
        "page": 1,
        "key": "property.year_built",
        "waits_for": ["property.year_built"],
    } in report["open"]


def test_the_command_line_says_what_is_wrong_with_facts(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    (tmp_path / "facts.json").write_text('{"terms.purchase_price": "abc", "no.such": 1}')
    with pytest.raises(SystemExit):
        main(["calc", "1", "--facts", str(tmp_path / "facts.json")])
    said = capsys.readouterr().err
    assert "terms.purchase_price: “abc” isn't an amount." in said
    assert "There is no fact “no.such”." in said


def test_the_core_loads_no_django() -> None:
    code = (
        "import sys, quillcore.cli; sys.exit(any(n.split('.')[0] in ('django', 'rest_framework') for n in"
        " sys.modules))"
    )
    assert subprocess.run([sys.executable, "-c", code], check=False).returncode == 0


def test_more_parties_than_one_are_named_on_every_form(tmp_path: Path) -> None:
    said = {**OFFER, **people("buyers", ("Ana", "Ruiz"), ("Bo", "Falk"), ("Cy", "Haddad"))}
    text = " ".join(
        words(assemble(package(*demo_pack().forms.values(), said=said), "x").pdf, tmp_path).split()
    )
    blanks = sum(
        m.fact in ("buyers.names", "client.names")
        for f in demo_pack().forms.values()
        for m in f.mapping.meanings
    )
    assert text.count("Ana Ruiz, Bo Falk, and Cy Haddad") == blanks + text.count("Continuation 1 of") // 2
