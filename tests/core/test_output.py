"""Files that leave: still fillable, as XFDF, one by one; and what other programs read in them."""

from __future__ import annotations

import hashlib
import io
import subprocess
import zipfile

import pikepdf
import pypdf
import pytest
from quillcore.assembly import (
    Package,
    PackageDocument,
    assemble,
    output,
    read_xfdf,
    separate_files,
    write_xfdf,
)
from quillcore.assembly.fieldnames import field_names, option_name
from quillcore.cli import main
from quillcore.forms import Form
from quillcore.papers.reading import read_form
from quillcore.values import Fault

from tests.core.small import BUILT, OFFER, demo_pack, ledger, package, people, small_form

LONG = " ".join(["Seller will repair the roof, the gutters, the porch and the fence."] * 40)


def offer() -> Package:
    return package(
        demo_pack().forms["301"],
        demo_pack().forms["503"],
        said={**OFFER, "property.category": "townhouse", "terms.additional_terms": LONG},
    )


def shown(given: Package) -> dict[str, str]:
    """What the blanks say, by the names that files give them."""
    names = field_names(given.documents)
    out = {}
    for b in given.blanks():
        name = names[b.document][b.field.id]
        if b.field.shape == "box" and b.marked:
            out[name] = option_name(b.meaning.value)
        elif b.field.shape == "text" and b.text:
            out[name] = b.text
    return out


def swollen(form: Form, size: int) -> Form:
    """The form with so many bytes more in its pages, and so of another name."""
    pdf = pikepdf.open(io.BytesIO(form.pdf))
    pdf.pages[0].Resources.Filler = pdf.make_stream(bytes(size))
    out = io.BytesIO()
    pdf.save(out, compress_streams=False)
    edition = form.edition.model_copy(update={"page_content": hashlib.sha256(out.getvalue()).hexdigest()})
    return Form(edition, form.mapping, out.getvalue())


def test_forms_are_kept_taken_apart_as_far_as_there_is_room() -> None:
    forms = [swollen(demo_pack().forms[n], output.MOST_KEPT * 2 // 5) for n in ("101", "503", "510")]
    first, *others = (output.background_of(form) for form in forms)
    assert [output.background_of(form) for form in forms[1:]] == others, "those are still there"
    assert output.background_of(forms[0]) is not first, "the one asked for longest ago went"


def test_a_fillable_package_read_back_has_the_same_values():
    given = offer()
    found = read_form(assemble(given, "Offer", fillable=True).pdf)
    assert not isinstance(found, Fault)
    assert {f.name: f.value for f in found.fields if f.value} == shown(given)
    assert {f.name.split(".")[0] for f in found.fields} == {"301", "503"}
    kinds = {f.name: f.kind for f in found.fields}
    assert (
        kinds["301.price"],
        kinds["301.legal"],
        kinds["301.property-category"],
        kinds["301.signature-buyer-1"],
    ) == (
        "text",
        "long_text",
        "one_of",
        "signature",
    )


def test_other_programs_see_the_values_of_a_fillable_file(tmp_path):
    content = assemble(offer(), "Offer", fillable=True).pdf
    reader = pypdf.PdfReader(io.BytesIO(content))
    fields = reader.get_fields()
    assert fields["301.price"]["/V"] == "412,500.00"
    assert fields["301.property-category"]["/V"] == "/townhouse"
    assert (
        fields["301.price-words"].get("/Ff") is None and fields["301.transfer-tax"]["/Ff"] == 1
    )  # what the form works out isn't typed over
    path = tmp_path / "fillable.pdf"
    path.write_bytes(content)
    text = subprocess.run(
        ["pdftotext", "-layout", str(path), "-"], capture_output=True, text=True, check=True
    ).stdout
    assert "$ 412,500.00" in " ".join(text.split())  # the appearance, drawn where the form has the blank
    assert "Łukasz Nguyễn" in text


def test_xfdf_read_back_has_the_same_values():
    given = offer()
    assert read_xfdf(write_xfdf(given, "Offer.pdf")) == shown(given)


def test_a_second_copy_of_a_form_has_names_of_its_own():
    form = small_form('<blank id="a.b" kind="text"> <blank id="a-b" kind="text">')
    names = field_names([PackageDocument("x", form), PackageDocument("y", form)])
    assert names == {
        "x": {"a.b": "900.a-b", "a-b": "900.a-b-"},
        "y": {"a.b": "900-2.a-b", "a-b": "900-2.a-b-"},
    }


@pytest.mark.parametrize(
    "content",
    [
        b"",
        b"<xfdf>",
        b"<a/>",
        b"\xff\xfe",
        (
            b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/passwd">]><xfdf'
            b' xmlns="http://ns.adobe.com/xfdf/"><fields><field'
            b' name="x"><value>&a;</value></field></fields></xfdf>'
        ),
        b'<!DOCTYPE l [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><xfdf>&b;</xfdf>',
    ],
)
def test_what_isnt_plain_xfdf_is_refused(content):
    found = read_xfdf(content)
    assert isinstance(found, Fault) and found.mend


def test_separate_files_are_the_documents_in_order():
    with zipfile.ZipFile(io.BytesIO(separate_files(offer()))) as archive:
        names = archive.namelist()
        assert names == [
            "01 301 Residential Purchase Agreement.pdf",
            "02 503 Lead-Based Paint Disclosure.pdf",
        ]
        with pikepdf.open(io.BytesIO(archive.read(names[1]))) as second:
            assert len(second.pages) == 2 and "/AcroForm" not in second.Root
    assert separate_files(offer()) == separate_files(offer())


def test_page_labels_say_form_and_page():
    reader = pypdf.PdfReader(io.BytesIO(assemble(offer(), "Offer").pdf))
    assert reader.page_labels[0] == "301, page 1" and reader.page_labels[7] == "301, page 8"
    assert reader.page_labels[8] == "301, continuation 1" and reader.page_labels[9] == "503, page 1"


def test_more_parties_than_lines_sign_on_a_continuation_page(tmp_path):
    crowd = people("buyers", ("Ana", "Ruiz"), ("Bo", "Lind"), ("Cy", "Marsh"), ("Di", "Okoye"))
    made = assemble(package(demo_pack().forms["301"], said={**OFFER, **crowd}), "Offer")
    assert [(s.role, s.sign, s.page) for s in made.further] == [
        *((f"buyer.{n}", sign, 9) for n in (3, 4) for sign in ("signature", "date", "initials")),
        ("buyer.1", "initials", 9),
        ("buyer.2", "initials", 9),
    ]
    path = tmp_path / "out.pdf"
    path.write_bytes(made.pdf)
    text = subprocess.run(
        ["pdftotext", "-f", "9", "-l", "9", str(path), "-"], capture_output=True, text=True, check=True
    ).stdout
    assert "Buyer 3: Cy Marsh" in text and "Buyer 4: Di Okoye" in text
    assert "Residential Purchase Agreement" in text and "Form 301" in text, "the masthead"
    assert "Calloway Association" in text and text.count("Continuation 1 of 1") == 2, "and the foot"
    assert "Buyer: Ana Ruiz, Bo Lind, Cy Marsh, and Di Okoye" in text, "it says to which paper it belongs"
    assert not assemble(package(demo_pack().forms["301"]), "Offer").further


def test_forty_further_signers_take_as_many_pages_as_they_need():
    crowd = people("sellers", *[("Ann", f"Number{n}") for n in range(40)])
    made = assemble(package(demo_pack().forms["301"], said=crowd), "Offer")
    assert len({s.role for s in made.further if s.sign == "signature"}) == 38
    boxes = [(s.page, s.rect) for s in made.further]
    assert len(set(boxes)) == len(boxes) and all(r[1] >= 42 for _, r in boxes)
    assert made.pages == len(pypdf.PdfReader(io.BytesIO(made.pdf)).pages) == max(s.page for s in made.further)


def test_a_form_speaks_of_the_client_and_each_side_reads_its_own():
    form = small_form(
        '<p><blank id="who" fact="client.names"> <blank id="firm" fact="own_agent.firm" relevant=\'deal.side'
        ' = "listing"\'></p><sign role="client.1" kind="signature"><sign role="own_agent"'
        ' kind="signature"><sign role="own_broker" kind="signature">'
    )
    for side, group, agent in (
        ("buying", "buyers", "buyer"),
        ("listing", "sellers", "listing"),
        ("renting", "tenants", "buyer"),
    ):
        given = Package([PackageDocument("d", form)], ledger(people(group, ("Ana", "Ruiz")), side))
        blanks = {b.field.id: b for b in given.blanks()}
        assert blanks["who"].text == "Ana Ruiz" and blanks["who"].key == f"{group}.names"
        assert blanks["firm"].key == f"{agent}_agent.firm"
        assert blanks["firm"].state == ("open" if side == "listing" else "idle")
        assert [b.meaning.role for b in blanks.values() if b.state == "sign"] == [
            f"{group[:-1]}.1",
            f"{agent}_agent",
            f"{agent}_broker",
        ]


def test_the_command_line_writes_a_fillable_package_and_its_answers(tmp_path):
    facts = tmp_path / "facts.json"
    facts.write_text('{"terms.purchase_price": "412.5k", "buyers": [{"given": "Ana", "family": "Ruiz"}]}')
    out, answers = tmp_path / "package.pdf", tmp_path / "answers.xfdf"
    template = BUILT / "templates" / "buying-home.yaml"
    given = [
        "assemble",
        "--pack",
        str(BUILT),
        "--template",
        str(template),
        "--facts",
        str(facts),
        "-o",
        str(out),
        "--fillable",
        "--xfdf",
        str(answers),
    ]
    assert main(given) == 0
    assert pypdf.PdfReader(out).get_fields()["301.price"]["/V"] == "412,500.00"
    said = read_xfdf(answers.read_bytes())
    assert said["301.price"] == "412,500.00" and said["101.representation-agency"] == "buyer-only"
