"""Form sources, builds and packs: what is right stays the same, what is wrong is named with its place."""

from __future__ import annotations

import io
import json
import re
import subprocess
import zipfile
from pathlib import Path

import pytest
import yaml
from quillcore.cli import main
from quillcore.packs.building import build_form, build_pack, source_digest
from quillcore.packs.manifest import Pack
from quillcore.packs.reading import read_folder, read_pack, read_zip
from quillcore.packs.source import read_source
from quillcore.templates import TemplateContent, read_template
from quillcore.values import Fault

from tests.core.small import (
    BUILT,
    CATALOG,
    HEAD,
    SHEET,
    SOURCE,
    STYLE,
    demo_pack,
    every_form,
    pack_files,
    small_form,
)


def faults_of(body: str) -> list[Fault]:
    found = build_form(f"{HEAD}\n{body}</form>", "900.html", STYLE, SHEET)
    assert isinstance(found, list)
    return found


@pytest.mark.parametrize(
    ("body", "said"),
    [
        ('<p>\n<blank fact="terms.purchase_price">', "900.html, line 3: This <blank> has no id."),
        (
            '<blank id="x" fact="terms.purchase_prize">',
            "900.html, line 2: There is no fact “terms.purchase_prize”.",
        ),
        ('<blank id="x"><blank id="x">', "line 2: The id “x” is there twice."),
        ('<blank id="x" colour="red">', "<blank> has no “colour”."),
        ('<sign role="buyer.1" kind="thumbprint">', "“thumbprint” is no kind of sign spot."),
    ],
)
def test_a_faulty_source_names_file_line_and_mend(body: str, said: str) -> None:
    faults = faults_of(body)
    assert said in str(faults[0])
    assert faults[0].mend


def test_building_gives_the_same_bytes_each_time() -> None:
    body = (
        '<p>Price $ <blank id="price" fact="terms.purchase_price"></p><sign role="buyer.1" kind="signature">'
    )
    assert pack_files(body) == pack_files(body)


def test_the_committed_build_is_that_of_the_sources() -> None:
    assert demo_pack().sheet.built_from == source_digest(SOURCE), "run `make pack` and commit the result"


def test_the_demo_forms_are_true_to_length() -> None:
    called_for = (
        "101 104 110 112 201 205 210 211 212 215 301 303 305 307 310 320 322 324 326 401 403 405 407 410 411"
        " 412 414 420 422 430 501 503 505 507 510 512 520 601 603 605 606 607 610 612 701 702 710 905"
    )
    assert sorted(demo_pack().forms) == called_for.split()
    for number, pages, blanks in (
        ("301", 8, 120),
        ("303", 8, 120),
        ("305", 8, 120),
        ("307", 8, 120),
        ("201", 5, 70),
        ("601", 8, 100),
        ("501", 4, 150),
    ):
        form = demo_pack().forms[number]
        assert form.edition.pages >= pages, number
        assert sum(f.shape != "sign" for f in form.edition.fields) > blanks, number
    for number, form in demo_pack().forms.items():
        kinds = {m.sign for m in form.mapping.meanings}
        assert "signature" in kinds or number == "512", number  # the guide is acknowledged by initials
        assert form.edition.purpose, number


def test_no_two_blanks_of_a_form_overlap_and_all_lie_on_their_page() -> None:
    for form in every_form().values():
        for page in range(1, form.edition.pages + 1):
            rects = [f.rect for f in form.edition.fields if f.page == page]
            for n, (left, bottom, right, top) in enumerate(rects):
                assert 30 < left < right < 582
                assert 20 < bottom < top < 772
                for other in rects[n + 1 :]:
                    apart = (
                        right <= other[0]
                        or other[2] <= left
                        or top <= other[1] + 0.3
                        or other[3] <= bottom + 0.3
                    )
                    assert apart, (form.edition.number, page, rects[n], other)


def test_a_box_stays_with_the_first_word_of_what_it_marks() -> None:
    form = small_form(
        '<p style="width:40mm">Words enough to fill one line <pick id="a" group="g" value="x"> joined</p>'
    )
    assert len(form.edition.fields) == 1


BROKEN = [
    (
        "mapping.yaml",
        lambda m: m["meanings"][0].update(fact="terms.nothing"),
        "There is no fact “terms.nothing”.",
    ),
    (
        "mapping.yaml",
        lambda m: m["meanings"][0].update(relevant="terms.purchase_price"),
        "This gives a money, not yes or no.",
    ),
    ("mapping.yaml", lambda m: m["meanings"][0].update(required="1 +"), "is where a value should be"),
    (
        "mapping.yaml",
        lambda m: m["meanings"][0].update(fact=None, formula="form.price + 1", kind="money"),
        "feed each other: price → price",
    ),
    ("mapping.yaml", lambda m: m["meanings"][0].update(formula="1", kind="money"), "only one of them"),
    ("mapping.yaml", lambda m: m["meanings"][0].update(who="the cat"), "not a role that fills in a blank"),
    ("mapping.yaml", lambda m: m["meanings"][0].update(colour="red"), "Extra inputs"),
    ("mapping.yaml", lambda m: m["meanings"].pop(0), "no meaning in mapping.yaml"),
    ("mapping.yaml", lambda m: m["meanings"][1].update(role="cook"), "not a role that signs"),
    ("edition.yaml", lambda e: e["fields"][0].update(page=7), "lies outside its page"),
    ("edition.yaml", lambda e: e["fields"][0].update(rect=[10, 10, 5, 5]), "lies outside its page"),
    ("edition.yaml", lambda e: e.update(pages=3), "the edition says 3"),
    ("edition.yaml", lambda e: e.update(number="901"), "the folder says 900"),
    ("edition.yaml", lambda e: e["fields"].append(e["fields"][0]), "Two fields have this id."),
]


@pytest.mark.parametrize(("name", "spoil", "said"), BROKEN)
def test_a_broken_pack_is_not_read_and_every_fault_has_file_and_field(
    name: str, spoil: object, said: str
) -> None:
    files = pack_files(
        '<p><blank id="price" fact="terms.purchase_price"></p><sign role="buyer.1" kind="signature">'
    )
    data = yaml.safe_load(files[f"forms/900/{name}"])
    spoil(data)  # type: ignore[operator]
    faults = read_pack(
        {**files, f"forms/900/{name}": yaml.safe_dump(json.loads(json.dumps(data, default=str))).encode()}
    )
    assert isinstance(faults, list)
    assert any(said in str(f) and "forms/900" in f.place for f in faults), [str(f) for f in faults]


@pytest.mark.parametrize(
    ("files", "said"),
    [
        ({}, "pack.yaml"),
        ({"pack.yaml": b"forms: [900"}, "isn't YAML"),
        ({"pack.yaml": b"\xff\xfe"}, "The file is empty"),
        ({"pack.yaml": b"a: \xc3\x28"}, "isn't YAML"),
        ({"pack.yaml": yaml.safe_dump({**SHEET, "forms": ["900"]}).encode()}, "The file is missing"),
    ],
)
def test_missing_and_unreadable_files_are_named(files: dict[str, bytes], said: str) -> None:
    faults = read_pack(files)
    assert isinstance(faults, list)
    assert said in " ".join(map(str, faults))


def test_pages_that_are_not_the_editions_are_refused() -> None:
    files = pack_files('<p><blank id="price" fact="terms.purchase_price"></p>')
    faults = read_pack({**files, "forms/900/edition.pdf": b"not a PDF"})
    assert isinstance(faults, list)
    said = " ".join(map(str, faults))
    assert "aren't the ones that the edition names" in said
    assert "isn't a PDF" in said


def test_a_pack_reads_the_same_from_folder_and_zip(tmp_path: Path) -> None:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        for path in sorted(BUILT.rglob("*")):
            if path.is_file():
                archive.write(path, Path("calloway") / path.relative_to(BUILT))
    zipped, folder = read_zip(buffer.getvalue()), read_folder(BUILT)
    assert isinstance(zipped, Pack)
    assert isinstance(folder, Pack)
    assert {n: f.edition_hash for n, f in zipped.forms.items()} == {
        n: f.edition_hash for n, f in folder.forms.items()
    }
    assert isinstance(read_zip(b"PK rubbish"), list)


def test_every_template_of_the_pack_can_be_read() -> None:
    for name, data in demo_pack().templates.items():
        assert isinstance(read_template(data, demo_pack().forms, CATALOG, name), TemplateContent), name


def test_a_faulty_template_is_named_with_its_place() -> None:
    data = {
        "name": "T",
        "side": "buying",
        "documents": [{"section": "A", "form": "999"}],
        "answers": {"terms.purchase_price": "abc", "no.such": "1"},
        "blanks": {"301.nothing": "1"},
    }
    faults = read_template(data, demo_pack().forms, CATALOG, "t.yaml")
    assert isinstance(faults, list)
    assert [f.place for f in faults] == [
        "t.yaml, documents",
        "t.yaml, answers, terms.purchase_price",
        "t.yaml, answers, no.such",
        "t.yaml, blanks, 301.nothing",
    ]


def test_the_command_line_checks_and_builds_packs(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["pack", "check", str(BUILT)]) == 0
    assert json.loads(capsys.readouterr().out)["forms"][10]["number"] == "301"
    with pytest.raises(SystemExit) as ended:
        main(["pack", "check", str(tmp_path)])
    assert ended.value.code == 2
    assert "no pack.yaml" in capsys.readouterr().err
    (tmp_path / "src" / "forms").mkdir(parents=True)
    (tmp_path / "src" / "style.css").write_text(STYLE)
    small = {**SHEET, "forms": ["900"], "prescribed": {}}
    (tmp_path / "src" / "pack.yaml").write_text(yaml.safe_dump(small))
    (tmp_path / "src" / "forms" / "900.html").write_text(f'{HEAD}<p><blank id="a" kind="text"></p></form>')
    assert main(["pack", "build", str(tmp_path / "src"), "-o", str(tmp_path / "out")]) == 0
    assert json.loads(capsys.readouterr().out)["forms"] == [
        {"number": "900", "title": "Small form", "pages": 1, "blanks": 1, "sign_spots": 0}
    ]


def test_one_form_is_built_again_and_the_pack_doesnt_claim_the_others(tmp_path: Path) -> None:
    source, out = tmp_path / "src", tmp_path / "out"
    (source / "forms").mkdir(parents=True)
    (source / "style.css").write_text(STYLE)
    (source / "pack.yaml").write_text(yaml.safe_dump({**SHEET, "forms": ["900", "901"], "prescribed": {}}))

    def write(number: str, label: str) -> None:
        head = HEAD.replace("900", number)
        (source / "forms" / f"{number}.html").write_text(
            f'{head}<p>{label} <blank id="a" kind="text"></p></form>'
        )

    write("900", "First")
    write("901", "First")
    assert build_pack(source, out) == []
    before = {path: path.read_bytes() for path in out.rglob("*") if path.is_file()}
    write("900", "Second")
    write("901", "Second")
    assert build_pack(source, out, ["901"]) == []
    changed = {path.relative_to(out).parts[1] for path, was in before.items() if path.read_bytes() != was}
    assert changed == {"901"}, "neither 900 nor pack.yaml, which says what the pack was built from"
    assert [fault.message for fault in build_pack(source, out, ["902"])] == ["There is no 902.html."]


def test_a_section_says_once_when_it_applies() -> None:
    form = small_form(
        '<when holds="terms.appraisal"><p><blank id="a" kind="text"><when holds="terms.backup">'
        '<blank id="b" kind="text" relevant=\'form.a = "x"\'></when></p></when>'
        '<p><blank id="c" kind="text"></p>'
    )
    found = {m.id: m.relevant for m in form.mapping.meanings}
    assert found == {
        "a": "terms.appraisal",
        "b": '(terms.appraisal) and (terms.backup) and (form.a = "x")',
        "c": None,
    }


@pytest.mark.parametrize(
    ("body", "said"),
    [
        ("<when holds='terms.appraisal'><p>a</p>", "isn't closed"),
        ("<p>a</p></when>", "closes nothing"),
        ("<when><p>a</p></when>", "doesn't say when"),
        ("<called when='terms.backup' because='b'>", "unless"),
    ],
)
def test_a_section_or_call_that_is_not_whole_is_a_fault(body: str, said: str) -> None:
    source = read_source(f"{HEAD}{body}</form>", "900.html", CATALOG)
    assert any(said in str(fault) for fault in source.faults), source.faults


def test_a_call_for_a_fact_that_is_not_there_is_a_fault() -> None:
    read = read_pack(
        pack_files("<called when='no.such' because='b' unless='c'><p><blank id='a' kind='text'></p>")
    )
    assert isinstance(read, list) and any("no.such" in str(fault) for fault in read)


def test_words_that_a_law_prescribes_stand_in_the_pack_once() -> None:
    assert set(demo_pack().sheet.prescribed) == {"lead-warning", "government-loan"}
    sources = {p.name: p.read_text(encoding="utf-8") for p in (SOURCE / "forms").glob("*.html")}
    for name in demo_pack().sheet.prescribed:
        part = SOURCE / "parts" / f"prescribed-{name}.html"
        sentence = re.sub("<[^>]*>", "", part.read_text(encoding="utf-8")).split(". ")[1]
        users = [n for n, text in sources.items() if f'src="{part.name}"' in text]
        assert users and not any(sentence in text for text in sources.values())


@pytest.mark.parametrize("number", sorted(every_form()))
def test_no_page_holds_only_what_was_left_over(number: str, tmp_path: Path) -> None:
    """Each page is filled to more than a third of the room between masthead and foot."""
    form = every_form()[number]
    path = tmp_path / "form.pdf"
    path.write_bytes(form.pdf)
    told = subprocess.run(["pdftotext", "-bbox", str(path), "-"], capture_output=True, text=True, check=True)
    pages = told.stdout.split("<page ")[1:]
    assert len(pages) == form.edition.pages
    masthead, foot = 72.0, 725.0
    for page in pages:
        lines = [float(y) for y in re.findall(r'yMax="([\d.]+)"', page)]
        lowest = max(y for y in lines if y < foot)
        assert (lowest - masthead) / (foot - masthead) > 1 / 3, (number, pages.index(page) + 1)


def test_a_later_edition_is_called_for_when_the_earlier_one_is() -> None:
    """A release that leaves the rule out would have the paper missed without a word."""
    for mark, form in every_form().items():
        before = demo_pack().forms.get(mark.removesuffix(" later"))
        assert before is None or before.mapping.called is None or form.mapping.called is not None, mark
