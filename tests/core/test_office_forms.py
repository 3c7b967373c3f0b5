"""Papers of an office's own, releases that follow each other, choices that depend on each other."""

from __future__ import annotations

import io
from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.assembly import Package, PackageDocument, assemble
from quillcore.facts import Act, Entry, Source
from quillcore.forms.model import Form
from quillcore.forms.printed import printed_on
from quillcore.packs.reading import read_pack
from quillcore.packs.releases import compare_releases, matching
from quillcore.papers.placing import (
    OfficePaper,
    Placed,
    carried,
    make_form,
    on_rules,
    overlaps,
    placed_from,
)
from quillcore.papers.reading import PdfReading, read_form
from quillcore.pdf.renderer import RuledLine
from quillcore.templates import read_template
from reportlab.lib.pagesizes import letter
from reportlab.pdfgen import canvas

from tests.core.foreign import field_zoo, lined_form
from tests.core.small import CATALOG, OFFER, demo_pack, ledger, pack_files, second_pack, small_form

PAPER = OfficePaper(number="951", title="Office paper")


def reading(content: bytes) -> PdfReading:
    found = read_form(content)
    assert isinstance(found, PdfReading), found
    return found


def form_of(found: PdfReading, placed: list[Placed]) -> Form:
    made = make_form(PAPER, placed, found.clean, found.sizes, date(2026, 11, 2))
    assert isinstance(made, Form), made
    return made


# From a fillable PDF to a filled package


def ruled_paper(name: str = "", box: tuple[float, float, float, float] = (70, 598, 430, 662)) -> bytes:
    """A page with three printed lines, 20 points apart, and a field drawn carelessly over them where it has a
    name."""
    out = io.BytesIO()
    page = canvas.Canvas(out, pagesize=letter)
    page.drawString(72, 680, "Other agreements:")
    for at in (640, 620, 600):
        page.line(72, at, 430, at)
    page.rect(72, 500, 200, 40)
    if name:
        left, bottom, right, top = box
        page.acroForm.textfield(
            name=name, x=left, y=bottom, width=right - left, height=top - bottom, fieldFlags="multiline"
        )
    page.save()
    return out.getvalue()


def test_typed_lines_stand_on_the_printed_ones() -> None:
    found = reading(ruled_paper("other"))
    assert [round(rule.at) for rule in found.rules] == [640, 620, 600], "no edge of a box is a rule"
    [placed] = placed_from(found)
    assert (placed.lines, round(placed.rect[1]), round(placed.rect[3])) == (3, 600, 660)
    said = {**OFFER, "doc.d.other": "The seller leaves the piano and both benches in the garden. " * 2}
    package = Package([PackageDocument("d", form_of(found, [placed]))], ledger(said))
    [blank] = package.blanks()
    assert blank.fit is not None
    baselines = [line.y for line in blank.fit.lines]
    assert len(baselines) > 1
    assert all(0 < y - at < 8 for y, at in zip(baselines, (640, 620, 600), strict=False)), baselines


def test_what_is_drawn_by_hand_over_printed_lines_stands_on_them_too() -> None:
    found = reading(ruled_paper())
    drawn = Placed(id="a", page=1, rect=(74, 597, 428, 658), lines=2, kind="long_text")
    form = make_form(PAPER, [drawn], found.clean, found.sizes, date(2026, 11, 2), found.rules)
    assert isinstance(form, Form)
    [field] = form.edition.fields
    assert (field.lines, [round(y) for y in field.rect[1::2]]) == (3, [600, 660])
    elsewhere = drawn.model_copy(update={"rect": (74.0, 300.0, 428.0, 360.0)})
    assert on_rules(elsewhere, found.rules) == elsewhere
    uneven = [RuledLine(1, 72, 430, at) for at in (650, 640, 600)]
    assert on_rules(drawn, uneven) == drawn, "lines that do not go together are no rules"


def test_blanks_stay_where_they_are_when_rules_would_push_them_onto_each_other() -> None:
    rules = [RuledLine(1, 72, 430, 600.0)]
    low, high = (
        Placed(id=n, page=1, rect=(74, bottom, 428, bottom + 14), kind="text")
        for n, bottom in (("a", 597.0), ("b", 611.5))
    )
    form = make_form(PAPER, [low, high], b"", [(612, 792)], date(2026, 11, 2), rules)
    assert not isinstance(form, Form) or {f.rect[1] for f in form.edition.fields} == {597.0, 611.5}


def test_a_form_by_others_becomes_one_of_ours_and_is_filled_like_one(tmp_path):
    found = reading(
        lined_form(
            [
                ("Purchaser(s):", "Text1"),
                ("Sale price: $", "Text2"),
                ("Office file no.", "Text3"),
                ("Buyer's signature", "Text4"),
            ]
        )
    )
    placed = placed_from(found)
    assert [(p.id, p.shape, p.fact, p.role) for p in placed] == [
        ("text1", "text", "buyers.names", ""),
        ("text2", "text", "terms.purchase_price", ""),
        ("text3", "text", "", ""),
        ("text4", "sign", "", "buyer.1"),
    ]
    package = Package([PackageDocument("d", form_of(found, placed))], ledger(OFFER))
    blanks = {b.field.id: b for b in package.blanks()}
    assert (blanks["text1"].text, blanks["text2"].text, blanks["text3"].state) == (
        "Ana Ruiz and Łukasz Nguyễn",
        "412,500.00",
        "optional",
    )
    made = assemble(package, "x")
    assert [s.role for s in made.further if s.sign == "signature"] == ["buyer.2"], (
        "the paper has one line, the deal two buyers"
    )
    assert made.pages == 2


def test_every_sort_of_field_is_proposed_and_groups_keep_their_boxes():
    placed = {p.id: p for p in placed_from(reading(field_zoo()))}
    assert {i: p.shape for i, p in placed.items() if i.startswith("loan")} == dict.fromkeys(
        ("loan-cash", "loan-fha", "loan-va"), "box"
    )
    assert (placed["loan-fha"].value, placed["loan-cash"].value, placed["loan-va"].fact) == (
        "FHA",
        "cash",
        "terms.loan_type",
    )
    assert placed["agree"].value == "" and placed["agree"].group == "agree"
    assert placed["notes"].lines > 1 and placed["sig"].sign == "signature"


def test_an_invisible_or_doubled_field_is_no_second_blank():
    found = reading(lined_form([("A", "one")]))
    field = found.fields[0]
    twin = field.model_copy(update={"name": "twin"})
    speck = field.model_copy(
        update={
            "name": "speck",
            "places": (field.places[0].model_copy(update={"seen": (5.0, 5.0, 5.5, 5.5)}),),
        }
    )
    assert [p.id for p in placed_from(found.model_copy(update={"fields": (field, twin, speck)}))] == ["one"]


def text(i: str, left: float, bottom: float, page: int = 1, **more: object) -> Placed:
    return Placed(id=i, page=page, rect=(left, bottom, left + 100, bottom + 14), **more)


@pytest.mark.parametrize(
    ("placed", "says"),
    [
        ([text("a", 72, 700), text("b", 150, 705)], "lie on each other"),
        ([text("a", 560, 700)], "outside its page"),
        ([text("a", 72, 700, page=2)], "outside its page"),
        ([text("a", 72, 700, fact="terms.prise")], "There is no fact"),
        ([text("a", 72, 700, shape="sign")], "No one is named"),
        ([text("a", 72, 700, shape="sign", role="notary")], "not a role that signs"),
        ([text("a", 72, 700, shape="box")], "no group"),
        ([text("a", 72, 700, shape="box", fact="terms.loan_type", value="barter")], "never “barter”"),
        ([text("a", 72, 700), text("a", 72, 600)], "Two fields have this id"),
        ([text("a", 72, 700, shape="circle")], "Input should be"),
        ([], "no blank yet"),
    ],
)
def test_what_is_placed_wrong_is_said(placed, says):
    found = reading(lined_form([("A", "one")]))
    made = make_form(PAPER, placed, found.clean, found.sizes, date(2026, 11, 2))
    assert isinstance(made, list) and any(says in f.message for f in made), made


def test_blanks_may_touch_but_never_overlap():
    assert (
        overlaps([text("a", 72, 700), text("b", 172, 700), text("c", 72, 714), text("d", 72, 700, page=2)])
        == []
    )


@given(st.lists(st.tuples(st.integers(0, 5), st.integers(0, 40)), unique=True, max_size=12))
def test_law_placed_on_a_grid_nothing_overlaps_and_the_form_is_whole(cells):
    placed = [text(f"b{n}", 10.0 + 100 * (x % 6), 20.0 + 15 * y) for n, (x, y) in enumerate(cells)]
    assert overlaps(placed) == []


def test_the_next_edition_of_a_paper_takes_the_meanings_over_and_says_what_moved():
    first = reading(lined_form([("Purchaser", "a"), ("Something", "b"), ("Gone soon", "c")]))
    placed = [
        p.model_copy(update={"fact": "property.subdivision", "kind": ""}) if p.id == "b" else p
        for p in placed_from(first)
    ]
    second = reading(lined_form([("Purchaser", "a"), ("New line", "n"), ("Something longer", "b")]))
    after, told = carried(form_of(first, placed), placed_from(second))
    meant = {p.id: p.fact for p in after}
    assert meant["b"] == "property.subdivision" and meant["a"] == "buyers.names"
    assert told == {"new": ["n"], "gone": ["c"], "moved": ["b"]}
    assert {p.id: p.confirmed for p in after} == {"a": True, "n": False, "b": True}


# Releases


def test_the_second_release_is_told_apart_from_the_first():
    printed = {
        f.edition_hash: printed_on(f.pdf, f.edition.heights).sentences
        for pack in (demo_pack(), second_pack())
        for f in pack.forms.values()
    }
    changes = {c.number: c for c in compare_releases(demo_pack().forms, second_pack().forms, printed)}
    assert {n: c.what for n, c in changes.items() if c.what != "same"} == {
        "322": "changed",
        "412": "changed",
        "414": "retired",
        "416": "new",
    }
    blanks = {(b.id, b.what) for b in changes["412"].blanks}
    assert {("added", "gone"), ("bridge-yes", "new"), ("periods-now", "moved")} <= blanks
    assert any(line.startswith("+ If it has not closed by then") for line in changes["412"].wording)
    assert changes["301"].blanks == () and changes["301"].wording == ()


def test_a_renamed_blank_is_known_by_its_fact_and_place():
    before = small_form('<p>City <blank id="town" fact="property.city"> and <blank id="own" kind="text"></p>')
    after = small_form(
        '<p>City <blank id="city" fact="property.city"> and <blank id="other" kind="text"></p>'
    )
    assert matching(before, after) == {"city": "town"}


# Choices that depend on each other


def sheet_210(**said: str) -> dict:
    package = Package(
        [PackageDocument("d", demo_pack().forms["210"])],
        ledger({f"property.{k}": v for k, v in said.items()}, "listing"),
    )
    return {b.field.id: b for b in package.blanks()}


def test_what_a_city_may_be_depends_on_the_county_and_each_value_is_explained():
    assert sheet_210()["city"].options == () and sheet_210()["city"].missing == ("property.county",)
    assert sheet_210()["county"].options == ("Juniper", "Stonewater", "Linden")
    blank = sheet_210(county="Stonewater")["city"]
    assert blank.options == ("Harrow Falls", "Quarry Bend", "Unincorporated")
    assert blank.explained["Harrow Falls"] == "County seat on the falls"
    assert sheet_210(county="Juniper", city="Tern Harbor")["neighbourhood"].options == (
        "The Spit",
        "Upper Tern",
    )


def test_a_value_that_the_table_does_not_allow_is_kept_and_called_into_question():
    blank = sheet_210(county="Linden", city="Port Linden")["city"]
    assert (
        blank.text == "Port Linden"
        and "is not one of the choices where county is Linden" in blank.fault.message
    )
    assert sheet_210(county="Juniper", city="Port Linden")["city"].fault is None


def test_changing_the_county_touches_the_city_too():
    made = ledger({"property.county": "Juniper", "property.city": "Port Linden"}, "listing")
    package = Package([PackageDocument("d", demo_pack().forms["210"])], made)
    list(package.blanks())
    made.add(Entry("property.county", Act.STATE, 99, Source.TYPED, "Linden"))
    moved = {b.field.id: b for b in package.affected(package.sheet.refresh(["property.county"]))}
    assert moved["city"].options == ("Ashgrove", "Unincorporated") and moved["city"].fault is not None


def test_a_blank_that_names_a_table_which_is_not_there_is_a_fault():
    files = pack_files('<blank id="x" kind="text">')
    files["forms/900/mapping.yaml"] = b"meanings:\n- {id: x, choices: nowhere}\n"
    found = read_pack(files)
    assert isinstance(found, list) and "no table of choices “nowhere”" in found[0].message


# Money sheets: the figures that people check by hand


def test_the_sheets_work_out_what_an_estimate_says():
    said = {
        "terms.purchase_price": "612500",
        "terms.loan_type": "conventional",
        "terms.down_payment": "212500",
        "terms.rate_cap": "6.25",
        "terms.loan_years": "30",
        "terms.closing_date": "2027-06-15",
        "tax.annual": "4812.36",
        "commission.percent": "5.25",
        "commission.buyer_percent": "2.5",
        "commission.referral_percent": "25",
        "commission.firm_percent": "20",
        "commission.fee": "395",
        "terms.title_payer": "seller",
        "terms.transfer_tax_payer": "seller",
        "terms.escrow_payer": "split equally",
        "estimate.escrow_fee": "900",
        "terms.warranty_payer": "no warranty",
        "estimate.first_payoff": "200000",
        "estimate.first_per_day": "35.10",
        "estimate.payoff_as_of": "2027-06-01",
        "estimate.origination_percent": "1",
        "estimate.insurance_year": "1440",
        "terms.deposit_amount": "6125",
        "property.association": "no",
    }
    made = ledger({})
    for n, (key, value) in enumerate(said.items(), 1):
        made.add(Entry(key, Act.STATE, n, Source.TYPED, made.catalog[key].read(value)))
    made.side = "listing"
    sheet = Package([], made, demo_pack().sheet.setting()).sheet
    figures = {
        "commission.gross": "32156.25",
        "commission.buyer_side": "15312.50",
        "commission.listing_side": "16843.75",
        "commission.referral": "4210.94",
        "commission.after_referral": "12632.81",
        "commission.firm_share": "2526.56",
        "commission.agent_net": "9711.25",
        "estimate.seller_title": "2229.25",
        "estimate.seller_transfer_tax": "1347.50",
        "estimate.tax_proration": "2175.45",
        "estimate.first_interest": "491.40",
        "estimate.monthly_loan": "2462.87",
        "estimate.prepaid_interest": "1095.89",
        "estimate.seller_escrow": "450.00",
        "estimate.buyer_escrow": "450.00",
        "estimate.buyer_title": "0.00",
    }
    assert {key: str(sheet.held(key).value) for key in figures} == figures
    lines = [
        "commission.gross",
        "estimate.first_payoff",
        "estimate.first_interest",
        "estimate.second_interest",
        "estimate.seller_title",
        "estimate.seller_transfer_tax",
        "estimate.seller_escrow",
        "estimate.seller_warranty",
        "estimate.tax_proration",
    ]
    assert sheet.held("estimate.seller_costs").value == sum(sheet.held(k).value for k in lines)
    assert (
        sheet.held("estimate.proceeds").value
        == sheet.held("terms.purchase_price").value - sheet.held("estimate.seller_costs").value
    )


@pytest.mark.parametrize(
    ("said", "gives"),
    [
        (
            {"lease.start": "2027-08-15", "lease.months": "12", "lease.rent": "2150"},
            {"lease.end": "2028-08-14", "lease.total_rent": "25800.00", "lease.prorated_rent": "1179.03"},
        ),
        ({"lease.start": "2027-02-01", "lease.end": "2027-07-31"}, {"lease.months": "6"}),
        (
            {
                "lease.start": "2027-08-15",
                "lease.rent": "2150",
                "lease.security_deposit": "2150",
                "lease.holding_deposit": "500",
            },
            {"lease.move_in_total": "2829.03"},
        ),
    ],
)
def test_a_lease_works_itself_out(said, gives):
    made = ledger({})
    for n, (key, value) in enumerate(said.items(), 1):
        made.add(Entry(key, Act.STATE, n, Source.TYPED, made.catalog[key].read(value)))
    sheet = Package([], made, demo_pack().sheet.setting()).sheet
    assert {key: str(sheet.held(key).value) for key in gives} == gives


def test_an_end_that_is_no_whole_months_is_said():
    made = ledger({"lease.start": date(2027, 2, 1), "lease.end": date(2027, 7, 20)})
    held = Package([], made).sheet.held("lease.months")
    assert held.value is None and "whole months" in held.fault.message


def test_a_template_has_no_standing_answer_where_only_a_party_may_answer():
    data = {
        "name": "x",
        "side": "listing",
        "documents": [{"section": "a", "form": "501"}],
        "blanks": {"501.roof-1": "no"},
    }
    found = read_template(data, demo_pack().forms, CATALOG, "x.yaml")
    assert isinstance(found, list) and "Only seller.1 may answer this" in found[0].message
