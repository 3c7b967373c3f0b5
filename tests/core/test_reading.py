"""Any PDF as a form: what is found on it, what it probably asks for, and what never gets in."""

from __future__ import annotations

import io
import json
import subprocess
import sys
import zlib
from collections.abc import Callable

import pikepdf
import pytest
from pikepdf import Array, Dictionary, Name, String
from quillcore.cli import main
from quillcore.papers.reading import as_json, read_form
from quillcore.papers.suggesting import Evidence, alike, candidates, suggest_spot
from quillcore.sandbox import PDF, run_limited
from quillcore.values import Fault
from reportlab.lib.pagesizes import letter
from reportlab.pdfgen import canvas

from tests.core.foreign import blank_pdf, captioned_form, field_zoo, lined_form, mended, saved, widget


def read(content: bytes) -> dict:
    found = read_form(content)
    assert not isinstance(found, Fault), found
    return as_json(found)


def refused(content: bytes) -> Fault:
    found = read_form(content)
    assert isinstance(found, Fault)
    return found


# What is found


@pytest.mark.parametrize(
    ("lines", "title"),
    [
        (
            [(12, "OFFICE CHECKLIST"), (12, "Buyer name: gypsy"), (12, "Purchase price, if any")],
            "OFFICE CHECKLIST",
        ),
        ([(9, "Marrow & Finch, a brokerage"), (16, "NOTICE"), (12, "To whom it may apply, (any)")], "NOTICE"),
        ([(28, "A yard leased to a buyer"), (12, "Page")], "A yard leased to a buyer"),
        ([(12, "sum or sea"), (12, "Proof of funds"), (12, "given by (party)")], "sum or sea"),
    ],
)
def test_a_paper_is_called_what_its_first_of_the_largest_lines_says(lines: list[tuple[int, str]], title: str):
    out = io.BytesIO()
    page = canvas.Canvas(out, pagesize=letter)
    for n, (size, text) in enumerate(lines):
        page.setFont("Helvetica", size)
        page.drawString(72, 740 - 40 * n, text)
    page.save()
    found = read_form(out.getvalue())
    assert not isinstance(found, Fault) and found.title == title


def test_every_sort_of_field_is_found_once_and_push_buttons_are_left_out():
    fields = {f["name"]: f for f in read(field_zoo())["fields"]}
    assert {name: f["kind"] for name, f in fields.items()} == {
        "plain": "text",
        "notes": "long_text",
        "zip": "text",
        "agree": "check",
        "loan": "one_of",
        "pick": "choice",
        "sig": "signature",
        "outer.1": "text",
        "outer.2": "text",
    }
    assert fields["plain"]["rect"] == [72, 700, 272, 716]
    assert fields["plain"]["required"] and fields["plain"]["suggested"]["fact"] == "buyers.names"
    assert (fields["zip"]["comb"], fields["zip"]["max_length"]) == (True, 5)
    assert fields["loan"]["options"] == ["Cash", "FHA", "VA"] and fields["loan"]["value"] == "FHA"
    assert [p["option"] for p in fields["loan"]["places"]] == ["Cash", "FHA", "VA"]
    assert fields["pick"]["options"] == ["a", "b"]
    assert fields["sig"]["page"] == 2


def test_one_name_in_two_places_is_one_field():
    pdf = blank_pdf(2)
    parent = pdf.make_indirect(Dictionary(FT=Name.Tx, T=String("address"), Kids=Array()))
    for page in (0, 1):
        kid = widget(pdf, page, (72, 700, 272, 716))
        kid.Parent = parent
        parent.Kids.append(kid)
    pdf.Root.AcroForm.Fields.append(parent)
    pdf.Root.AcroForm.Fields.append(widget(pdf, 0, (72, 600, 272, 616), FT=Name.Tx, T=String("address")))
    fields = read(saved(pdf))["fields"]
    assert len(fields) == 1
    assert [p["page"] for p in fields[0]["places"]] == [1, 2, 1]


def test_a_widget_that_the_field_tree_forgot_is_found_all_the_same():
    pdf = blank_pdf()
    widget(pdf, 0, (72, 700, 272, 716), FT=Name.Tx, T=String("stray"))
    assert [f["name"] for f in read(saved(pdf))["fields"]] == ["stray"]
    del pdf.Root["/AcroForm"]
    assert [f["name"] for f in read(saved(pdf))["fields"]] == ["stray"]


@pytest.mark.parametrize(
    ("turn", "seen"),
    [
        (0, (10, 30, 110, 50)),
        (90, (30, 482, 50, 582)),
        (180, (482, 722, 582, 742)),
        (270, (722, 10, 742, 110)),
    ],
)
def test_a_rotated_or_cropped_page_is_turned_upright_and_its_blanks_with_it(turn, seen):
    pdf = blank_pdf()
    page = pdf.pages[0].obj
    page.MediaBox, page.CropBox = Array([0, 0, 700, 900]), Array([20, 10, 612, 782])
    page.Rotate = turn
    pdf.Root.AcroForm.Fields.append(
        widget(pdf, 0, (130, 60, 30, 40), FT=Name.Tx, T=String("x"))
    )  # corners the wrong way round
    found = read_form(saved(pdf))
    assert not isinstance(found, Fault)
    place = found.fields[0].places[0]
    assert place.rect == (30, 40, 130, 60)
    assert place.seen == pytest.approx(seen)
    assert found.sizes[0] == ((592, 772) if turn in (0, 180) else (772, 592))
    with pikepdf.open(io.BytesIO(found.clean)) as clean:
        assert "/Rotate" not in clean.pages[0].obj


def test_a_flat_pdf_has_no_blanks_and_keeps_its_pages():
    pdf = blank_pdf(3)
    del pdf.Root["/AcroForm"]
    assert read(saved(pdf)) == {"pages": 3, "fields": [], "removed": []}


def test_the_hybrid_half_of_an_xfa_form_is_read_and_the_other_half_said():
    content = mended(
        lined_form([("Buyer", "a")]),
        lambda pdf: pdf.Root.AcroForm.__setitem__("/XFA", pdf.make_stream(b"<xdp/>")),
    )
    found = read(content)
    assert len(found["fields"]) == 1
    assert found["removed"] == ["XFA form"]


def test_an_owner_lock_is_opened_and_a_password_is_asked_for_in_words():
    pdf = pikepdf.open(io.BytesIO(lined_form([("Seller", "a")])))
    assert read(saved(pdf, encryption=pikepdf.Encryption(owner="secret", user="")))["removed"] == [
        "owner's lock"
    ]
    assert "password" in refused(saved(pdf, encryption=pikepdf.Encryption(owner="o", user="u"))).message


def test_the_command_line_prints_json_or_fails_with_a_sentence(tmp_path, capsys):
    good, bad = tmp_path / "good.pdf", tmp_path / "bad.pdf"
    good.write_bytes(lined_form([("Purchase price $", "p")]))
    bad.write_bytes(b"%PDF-1.7 nothing more")
    assert main(["form", "read", str(good), "--clean", str(tmp_path / "clean.pdf")]) == 0
    assert json.loads(capsys.readouterr().out)["fields"][0]["suggested"]["fact"] == "terms.purchase_price"
    assert (tmp_path / "clean.pdf").read_bytes().startswith(b"%PDF")
    with pytest.raises(SystemExit) as stop:
        main(["form", "read", str(bad)])
    assert stop.value.code == 2
    assert "bad.pdf" in capsys.readouterr().err


# What never gets in


def _acting() -> bytes:
    def arm(pdf: pikepdf.Pdf) -> None:
        js = Dictionary(S=Name.JavaScript, JS=String("app.alert(1)"))
        pdf.Root.OpenAction = Dictionary(S=Name.Launch, F=String("calc.exe"), Next=js)
        pdf.Root.Names = Dictionary(
            JavaScript=Dictionary(Names=Array([String("x"), js])), EmbeddedFiles=Dictionary(Names=Array())
        )
        page = pdf.pages[0].obj
        page.AA = Dictionary(O=js)
        page.Annots[0].A = Dictionary(S=Name.SubmitForm, F=String("http://nowhere.example"))
        page.Annots.append(
            Dictionary(
                Type=Name.Annot,
                Subtype=Name.Link,
                Rect=Array([0, 0, 9, 9]),
                A=Dictionary(S=Name.URI, URI=String("http://x.example")),
            )
        )

    return mended(lined_form([("Buyer", "a"), ("Seller", "b")]), arm)


def test_scripts_and_actions_are_told_and_none_survives():
    found = read_form(_acting())
    assert not isinstance(found, Fault)
    assert set(found.removed) == {"attached file", "form sending", "launch action", "script", "web link"}
    with pikepdf.open(io.BytesIO(found.clean)) as clean:
        everything = b"".join(repr(o).encode() for o in clean.objects)
        assert not {"/Names", "/OpenAction", "/AcroForm", "/AA"} & set(clean.Root.keys())
    for word in (b"JavaScript", b"Launch", b"SubmitForm", b"URI", b"app.alert", b"calc.exe"):
        assert word not in everything


def _bomb() -> bytes:
    pdf = blank_pdf()
    packed = zlib.compress(b"0 " * 150_000_000, 9)
    pdf.pages[0].obj.Contents = pikepdf.Stream(pdf, packed, Filter=Name.FlateDecode)
    return saved(pdf, stream_decode_level=pikepdf.StreamDecodeLevel.none, compress_streams=False)


def _kid_loop() -> bytes:
    pdf = blank_pdf()
    a = pdf.make_indirect(Dictionary(T=String("a"), Kids=Array()))
    b = pdf.make_indirect(Dictionary(T=String("b"), Parent=a, Kids=Array([a])))
    a.Kids.append(b)
    a.Parent = b
    pdf.Root.AcroForm.Fields.append(a)
    w = widget(pdf, 0, (1, 1, 50, 20), FT=Name.Tx, T=String("w"))
    w.Parent = a
    return saved(pdf)


def _page_loop() -> bytes:
    return (
        b"%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj\n2 0 obj<</Type/Pages/Count 9/Kids[2 0 R 3 0"
        b" R]>>endobj\n3 0 obj<</Type/Pages/Count 9/Kids[2 0 R]/Parent 2 0 R>>endobj\ntrailer<</Root 1 0"
        b" R>>\n"
    )


def _odd_values() -> bytes:
    pdf = blank_pdf()
    for n, rect in enumerate(([1, 2, 3], [String("a"), 1, 2, 3], [1e300, 0, 1, 1], [10, 10, 60, 30])):
        made = widget(
            pdf,
            0,
            (0, 0, 1, 1),
            FT=Name.Tx,
            T=String(f"f{n}"),
            Ff=String("no"),
            MaxLen=Array(),
            TU=5,
            V=Dictionary(),
        )
        made.Rect = Array(rect)
        pdf.Root.AcroForm.Fields.append(made)
    pdf.Root.AcroForm.Fields.append(7)
    pdf.pages[0].obj.Annots.append(String("what"))
    pdf.pages[0].obj.MediaBox = Array([0, 0])
    pdf.pages[0].obj.Rotate = String("x")
    return saved(pdf)


WHOLE = lined_form([("Buyer", "a"), ("Seller", "b"), ("Price", "c")])
HOSTILE: dict[str, Callable[[], bytes]] = {
    "cut in half": lambda: WHOLE[: len(WHOLE) // 2],
    "without its end": lambda: WHOLE[:-200],
    "rubbish after the head": lambda: b"%PDF-1.7\n" + bytes(range(256)) * 50,
    "a zip by a different name": lambda: b"PK\x03\x04" + b"\0" * 500,
    "empty": lambda: b"",
    "no page": lambda: saved(pikepdf.new()),
    "pages in a ring": _page_loop,
    "fields in a ring": _kid_loop,
    "unpacks without end": _bomb,
    "odd values": _odd_values,
    "deep arrays": lambda: (
        b"%PDF-1.4\n1 0 obj" + b"[" * 100_000 + b"]" * 100_000 + b"endobj\ntrailer<</Root 1 0 R>>"
    ),
    "bytes flipped": lambda: bytes(b ^ (0x5A if n % 97 == 13 else 0) for n, b in enumerate(WHOLE)),
}


@pytest.mark.parametrize("what", HOSTILE)
def test_a_broken_or_hostile_file_is_refused_in_a_sentence_or_read_clean(what):
    found = read_form(HOSTILE[what]())
    if isinstance(found, Fault):
        assert found.message.endswith(".") and found.mend
    else:
        assert found.pages >= 1
        assert not isinstance(read_form(found.clean), Fault)


def test_what_is_cut_off_at_the_end_is_recovered_with_all_its_fields():
    assert len(read(HOSTILE["without its end"]())["fields"]) == 3


def test_odd_values_cost_only_themselves():
    assert [f["name"] for f in read(HOSTILE["odd values"]())["fields"]] == ["f3"]


def test_the_file_that_unpacks_without_end_is_stopped_by_a_bound():
    said = refused(HOSTILE["unpacks without end"]()).message
    assert "unpacked" in said or "memory" in said


def test_the_child_stops_at_its_bound_of_memory_and_one_that_ends_itself_is_told():
    hoard = run_limited("tests.core.busy:hoarding", b"")
    assert isinstance(hoard, Fault) and "memory" in hoard.message
    assert isinstance(run_limited("tests.core.busy:ending", b""), Fault)
    assert isinstance(read_form(b"%PDF-" + b" " * PDF.most_bytes), Fault)


def test_reading_does_not_load_what_serves_people():
    code = (
        "import sys, quillcore.papers.reading; sys.exit(any(m.split('.')[0] in ('django', 'weasyprint') for m"
        " in sys.modules))"
    )
    assert subprocess.run([sys.executable, "-c", code], check=False).returncode == 0


# What is suggested: forms by others, with the fact that each blank asks for

PLAIN = [
    ("Purchaser(s):", "Text1", "buyers.names"),
    ("Vendor:", "Text2", "sellers.names"),
    ("Premises known as:", "Text3", "property.one_line"),
    ("Tax ID / APN:", "Text4", "property.parcel_number"),
    ("Total sale price: $", "Text5", "terms.purchase_price"),
    ("Earnest money: $", "Text6", "terms.deposit_amount"),
    ("Settlement on or before:", "Text7", "terms.closing_date"),
    ("Mortgage amount: $", "Text8", "terms.loan_amount"),
    ("This offer expires on:", "Text9", "terms.expiry_date"),
    ("Listing agent:", "Text10", "listing_agent.name"),
    ("Listing brokerage:", "Text11", "listing_agent.firm"),
    ("Buyer's agent:", "Text12", "buyer_agent.name"),
    ("Agent's phone:", "Text13", "buyer_agent.phone"),
    ("Legal description:", "Text14", "property.legal_description"),
    ("County:", "Text15", "property.county"),
    ("Year built:", "Text16", "property.year_built"),
    ("Date of acceptance:", "Text17", "terms.acceptance_date"),
    ("Maximum interest rate:", "Text18", "terms.rate_cap"),
    ("Owner's telephone:", "Text19", "sellers.1.phone"),
    ("Purchaser e-mail:", "Text20", "buyers.1.email"),
]
NAMED = [
    ("", "BuyerName_1", "buyers.1.name"),
    ("", "buyer_2_name", "buyers.2.name"),
    ("", "SellerName", "sellers.names"),
    ("", "PropertyStreetAddress", "property.street_line"),
    ("", "prop_city", "property.city"),
    ("", "ZipCode", "property.postal_code"),
    ("", "PurchasePrice", "terms.purchase_price"),
    ("", "closing_dt", "terms.closing_date"),
    ("", "listAgentLicNo", "listing_agent.licence"),
    ("", "BuyerBrokerageFirm", "buyer_agent.firm"),
    ("", "seller.email", "sellers.1.email"),
    ("", "topmostSubform[0].Page1[0].OfferDate[0]", "terms.offer_date"),
]
CAPTIONED = [
    ("Name of Lessee", "f1", "tenants.names"),
    ("Name of Lessor", "f2", "landlords.names"),
    ("Address of rental property", "f3", "property.one_line"),
    ("Monthly rent", "f4", "lease.rent"),
    ("Security deposit", "f5", "lease.security_deposit"),
    ("Lease start date", "f6", "lease.start"),
    ("Lease end date", "f7", "lease.end"),
    ("Lessee e-mail", "f8", "tenants.1.email"),
    ("Late fee", "f9", "lease.late_fee"),
    ("Parcel no.", "f10", "property.parcel_number"),
]


@pytest.mark.parametrize(
    ("form", "rows"),
    [(lined_form, PLAIN), (lined_form, NAMED), (captioned_form, CAPTIONED)],
    ids=["printed labels", "field names", "captions"],
)
def test_at_least_eight_of_ten_common_facts_are_suggested_right(form, rows):
    fields = {f["name"]: f["suggested"] for f in read(form(rows))["fields"]}
    wrong = [
        (name, want, fields[name])
        for _, name, want in rows
        if not fields[name] or fields[name]["fact"] != want
    ]
    assert len(wrong) <= 0.2 * len(rows), wrong
    assert all(0.5 <= s["confidence"] < 1 for s in fields.values() if s)


@pytest.mark.parametrize(
    ("evidence", "spot"),
    [
        (Evidence(left="Buyer's signature"), ("buyer.1", "signature")),
        (Evidence(name="Seller2Initials"), ("seller.2", "initials")),
        (Evidence(tooltip="Date signed by tenant"), ("tenant.1", "date")),
        (Evidence(kind="signature", name="sig", below="Listing agent"), ("listing_agent", "signature")),
        (Evidence(kind="signature", name="sig"), ("", "signature")),
        (Evidence(left="Purchase price"), None),
    ],
)
def test_sign_spots_are_suggested_with_who_signs(evidence, spot):
    assert suggest_spot(evidence) == spot


def test_choices_are_known_by_what_can_be_chosen_and_nonsense_by_nothing():
    assert (
        candidates(Evidence(kind="one_of", options=("Cash", "Conventional", "FHA", "VA")))[0].fact
        == "terms.loan_type"
    )
    assert candidates(Evidence(name="qzx", left="Frobnicate the widget")) == []


@pytest.mark.parametrize(
    ("fact", "near"),
    [
        ("buyers.names", ["buyers.1.name", "sellers.names", "buyer_agent.name"]),
        ("buyer_agent.phone", ["listing_agent.phone", "buyers.1.phone"]),
        ("sellers.1.email", ["buyers.1.email", "listing_agent.email"]),
        ("terms.purchase_price", ["listing.price"]),
        ("lease.rent", ["lease.security_deposit"]),
    ],
)
def test_a_wrong_suggestion_has_the_right_one_at_hand(fact, near):
    assert alike(fact) == near


def test_a_file_with_thousands_of_fields_is_read_whole_and_in_time():
    pdf = blank_pdf(40)
    for n in range(6000):
        left, bottom = 20 + (n % 10) * 56, 20 + (n // 10 % 15) * 50
        pdf.Root.AcroForm.Fields.append(
            widget(
                pdf,
                n // 150,
                (left, bottom, left + 50, bottom + 12),
                FT=Name.Tx,
                T=String(f"Buyer {n} street no {n * 7}"),
            )
        )
    assert len(read(saved(pdf))["fields"]) == 6000
