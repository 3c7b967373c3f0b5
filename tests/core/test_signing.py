"""Signing: who signs what, marks, the record's chain, and finished files that any reader can check."""

from __future__ import annotations

import hashlib
import io
import json
import random
import subprocess
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from functools import cache
from pathlib import Path
from typing import Any

import pikepdf
import pytest
from hypothesis import example, given
from hypothesis import strategies as st
from quillcore.assembly import Package, PackageDocument, assemble, read_change
from quillcore.assembly.people import person
from quillcore.cli import main
from quillcore.pdf import FilePart, Frame, Overlay, combine, fit
from quillcore.pdf.renderer import plain_text, printed_words
from quillcore.signing import script_faces
from quillcore.signing.authority import Authority, make_authority
from quillcore.signing.certificate_page import Certificate, Signed
from quillcore.signing.examining import examine
from quillcore.signing.finishing import finished
from quillcore.signing.identity import kept_identity
from quillcore.signing.marks import MOST_POINTS, Drawing, adopted, as_svg, drawn, placed, typed
from quillcore.signing.outlining import derive
from quillcore.signing.pen import tags_of
from quillcore.signing.puts import Put, Scan
from quillcore.signing.sealing import answer_stamp_request, read_certificate, seal
from quillcore.signing.spots import signers, spots_of
from quillcore.signing.trail import ChainLink, as_rows, first_break, follow, read_rows
from quillcore.signing.verifying import Verdict, verify
from quillcore.values import Fault

from tests.core.small import OFFER, every_form, package, people

NOW = datetime(2027, 5, 21, 15, 4, 5, tzinfo=UTC)
WAVE = [[[0, 40], [20, 0], [40, 60], [60, 0], [90, 50], [150, 20], [260, 44]], [[100, 0], [140, 70]]]
AT = (54.0, 500.0, 254.0, 520.0)


@cache
def authority() -> Authority:
    return make_authority("Test house")


def mark(name: str = "June Okafor", face: str = "flowing") -> Drawing:
    found = typed(name, face)
    assert isinstance(found, Drawing), found
    return found


def trail(*kinds: tuple[str, str]) -> tuple[ChainLink, ...]:
    events: list[ChainLink] = []
    for n, (kind, who) in enumerate(kinds):
        said = {"from": "203.0.113.7"} if who else {}
        events.append(follow(events[-1] if events else None, NOW + timedelta(minutes=n), kind, who, **said))
    return tuple(events)


STORY = trail(
    ("sent", ""), ("opened", "buyers.1"), ("agreed", "buyers.1"), ("put", "buyers.1"), ("done", "buyers.1")
)


def paper(pages: int = 1, said: str = "Buyer") -> bytes:
    sheets = [Overlay() for _ in range(pages)]
    for n, sheet in enumerate(sheets, 1):
        sheet.fits.append(fit(f"{said}, page {n}", Frame(54, 600, 500, 620)))
    return combine([FilePart(None, sheets)], "A paper")


def record_of(frozen: bytes, events: tuple[ChainLink, ...] = STORY) -> Certificate:
    return Certificate(
        round="0190-7",
        subject="Offer for 199 E Nettle Drive",
        sender="Inês Calloway-Bright, Marrow & Finch Realty",
        paper="301 Residential Purchase Agreement",
        frozen=hashlib.sha256(frozen).hexdigest(),
        signers=(
            Signed("buyers.1", "Thanh Nguyễn", "thanh@post.example", "the link mailed to this address"),
        ),
        events=events,
        zone="America/New_York",
    )


def stamped(request: bytes) -> bytes:
    return answer_stamp_request(request, authority().stamp)


def sealed(frozen: bytes, put: list[Put] | None = None) -> bytes:
    put = [Put(1, AT, mark(), told="June Okafor · May 21, 2027")] if put is None else put
    return seal(finished(frozen, put, record_of(frozen)), authority().seal, stamped, "Signed")


def verdict(content: bytes) -> Verdict:
    found = verify(content, [authority().certificate])
    assert isinstance(found, Verdict), found
    return found


def fails(content: bytes) -> set[str]:
    return {one.about for one in verdict(content).said if not one.holds}


# Marks


def test_a_scan_of_what_was_signed_by_pen_goes_into_the_file_and_is_checked() -> None:
    scan, sent = Scan("buyers.1", paper(said="signed by pen")), paper()

    def made(one: Scan) -> bytes:
        return seal(finished(sent, [], record_of(sent), [one]), authority().seal, stamped, "Signed")

    content = made(scan)
    said = verdict(content)
    assert said.holds and [s.sentence for s in said.said if s.about == "scan"] == [
        "The scans of papers signed by pen are in the file, unchanged."
    ]
    with pikepdf.open(io.BytesIO(content)) as pdf:
        assert pdf.attachments["scan-buyers.1.pdf"].get_file().read_bytes() == scan.content

    class Another(Scan):
        digest = "0" * 64

    assert fails(made(Another("buyers.1", scan.content))) == {"scan"}, "not the one that the record names"


def test_the_faces_outlines_are_those_of_their_fonts() -> None:
    assert derive() == script_faces.DERIVED.read_text(encoding="utf-8")


@pytest.mark.parametrize("face", script_faces.FACES)
@pytest.mark.parametrize("name", ["June M. O’Brien-Tate", "Thanh Nguyễn", "Zoë Łukasiewicz", "Željko Ğüçlü"])
def test_a_name_is_set_in_outlines_as_wide_as_its_letters(face: str, name: str) -> None:
    found = mark(name, face)
    letters = script_faces.face(face)
    assert 0.5 < (found.box[2] - found.box[0]) / sum(letters[c][0] for c in name) < 1.2
    assert len(found.steps) == sum(len(letters[c][1]) for c in name) and found.pen == 0


@pytest.mark.parametrize(
    ("name", "face", "says"),
    [
        ("", "flowing", "Enter your name"),
        ("  ", "flowing", "Enter your name"),
        ("June", "Times", "no script style"),
        ("ณัฐ", "flowing", "can't be written in this style"),
        ("山田", "lively", "can't be written in this style"),
        ("x" * 81, "lively", "too long"),
    ],
)
def test_what_is_no_signature_is_said_with_what_to_do(name: str, face: str, says: str) -> None:
    found = typed(name, face)
    assert isinstance(found, Fault) and says in found.message and found.mend


def test_letters_in_parts_are_letters() -> None:
    assert mark("Thanh Nguyễn") == mark("Thanh Nguyễn")


def test_a_drawing_is_smooth_keeps_its_ends_and_is_as_long_as_it_was() -> None:
    found = drawn(WAVE)
    assert isinstance(found, Drawing) and found.pen > 0
    assert found.steps[0] == pytest.approx((0.0, 115.4), abs=0.1)
    assert found.steps[-1][-2:] == pytest.approx((538.5, 0.0), abs=0.1)
    assert {len(step) for step in found.steps} == {2, 6}
    assert found.box[2] - found.box[0] == pytest.approx(1_000 + found.pen)


@pytest.mark.parametrize(
    "strokes",
    [
        None,
        [],
        [[]],
        "x",
        [["x", 1]],
        [[[1]]],
        [[[1, None]]],
        [[[1, True], [2, 3]]],
        [[[float("nan"), 0], [1, 2]]],
        [[[float("inf"), 0], [1, 2]]],
        [[[1e9, 0], [1, 2]]],
        [[[5, 5]]],
        [[[5, 5], [5, 5]]],
        [[[0, 0], [1, 1]] * MOST_POINTS],
        [[[0, 0]]] * 500,
        {"a": 1},
    ],
)
def test_noise_is_no_drawing(strokes: object) -> None:
    found = drawn(strokes)
    assert isinstance(found, Fault) and found.message and found.mend


@given(
    st.lists(
        st.lists(st.lists(st.floats(-400, 400), min_size=2, max_size=2), max_size=30), min_size=1, max_size=8
    )
)
@example([[[0.0, 0.0], [0.0, 2.2250738585072014e-308]]])
def test_whatever_is_drawn_stays_within_its_place(strokes: list[Any]) -> None:
    found = drawn(strokes)
    if isinstance(found, Fault):
        return
    left, bottom, right, top = found.box
    ends = [step[-2:] for step in found.steps if step]
    assert all(left - 1 <= x <= right + 1 and bottom - 1 <= y <= top + 1 for x, y in ends)


def test_a_mark_is_drawn_into_its_place_and_looks_the_same_on_a_screen() -> None:
    line = placed(mark(), AT).splitlines()
    scale, _, _, _, x, y = map(float, line[0].split()[1:7])
    left, bottom, right, top = mark().box
    assert x + left * scale >= AT[0] and x + right * scale <= AT[2]
    assert y + bottom * scale >= AT[1] and y + top * scale <= AT[3]
    assert line[-1] == "f Q" and placed(adopted({"strokes": WAVE}), AT).endswith("S Q")  # type: ignore[arg-type]
    svg = as_svg(mark())
    assert svg["path"].count("M") == sum(len(step) == 2 for step in mark().steps)
    assert svg["box"] == [left, -top, right - left, top - bottom]


# The record


def test_events_follow_from_each_other_and_any_change_shows() -> None:
    assert first_break(STORY) is None and read_rows(json.loads(json.dumps(as_rows(STORY)))) == list(STORY)
    said = replace(STORY[2], said={"from": "198.51.100.1"})
    assert first_break([*STORY[:2], said, *STORY[3:]]) == 3
    assert first_break(STORY[1:]) == 1 and first_break([*STORY[:1], *STORY[2:]]) == 2
    assert first_break([STORY[0], STORY[2], STORY[1]]) == 2
    late = replace(STORY[4], at="2020-01-01T00:00:00.000+00:00")
    assert first_break([*STORY[:4], late]) == 5


def test_a_clock_that_goes_back_takes_no_time_back() -> None:
    later = follow(STORY[-1], NOW - timedelta(days=9), "reminded")
    assert later.at == STORY[-1].at and first_break([*STORY, later]) is None


@pytest.mark.parametrize(
    "rows",
    [
        None,
        {},
        "x",
        [1],
        [{}],
        [{**as_rows(STORY)[0], "number": "1"}],
        [{**as_rows(STORY)[0], "said": {"a": 1}}],
    ],
)
def test_what_is_no_record_is_a_fault(rows: object) -> None:
    assert isinstance(read_rows(rows), Fault)


# Who signs what


def offer(buyers: int = 2, **said: Any) -> tuple[Package, PackageDocument]:
    names = [("Amara", "Okafor"), ("Ben", "Okafor"), ("Cy", "Okafor"), ("Di", "Okafor")][:buyers]
    facts = {**OFFER, **people("buyers", *names), **people("sellers", ("Lena", "Voss")), **said}
    made = package(every_form()["301"], said=facts)
    return made, made.documents[0]


def test_places_are_of_those_who_are_there() -> None:
    made, document = offer(buyers=1)
    one = {spot.who for spot in spots_of(made, document)}
    two = {spot.who for spot in spots_of(*offer(buyers=2))}
    assert "buyers.1" in one and "buyers.2" not in one and two - one == {"buyers.2"}
    assert "sellers.1" in one and "sellers.2" not in one


def test_a_fourth_buyer_signs_on_a_further_page_where_the_assembled_file_has_it() -> None:
    made, document = offer(buyers=4)
    places = spots_of(made, document)
    own = document.form.edition.pages
    further = [spot for spot in places if spot.page > own]
    assert {spot.who for spot in further if spot.sign == "signature"} >= {"buyers.3", "buyers.4"} - {
        spot.who for spot in places if spot.page <= own and spot.sign == "signature"
    }
    pages = len(pikepdf.open(io.BytesIO(assemble(made, "x").pdf)).pages)
    assert max(spot.page for spot in places) <= pages
    assert len({spot.id for spot in places}) == len(places)
    assert [spot.page for spot in places] == sorted(spot.page for spot in places)


def test_a_change_by_hand_wants_everybodys_initials() -> None:
    made, document = offer(buyers=2)
    struck = read_change(
        {"id": "a1", "page": 1, "struck": [[72, 700, 200, 710]], "words": "x"}, document.form.edition
    )
    changed = replace(document, by_hand=(struck,))
    found = [
        spot
        for spot in spots_of(Package([changed], made.sheet.ledger, made.sheet.setting), changed)
        if "/a1-" in spot.id
    ]
    assert {spot.who for spot in found} == {"buyers.1", "buyers.2", "sellers.1"}
    assert {spot.sign for spot in found} == {"initials"}


def test_who_holds_the_pen_is_the_person_and_for_a_trust_who_signs_for_it() -> None:
    made, document = offer()
    found = person(made, "buyers.1")
    assert (found.name, found.role) == ("Amara Okafor", "Buyer 1")
    assert person(made, "buyer_agent").role == "Buyer agent"
    assert person(made, "guarantor").name == ""
    people_there = [person(made, key) for key in ("buyers.1", "buyers.2")]
    first, second = signers(people_there, spots_of(made, document), {"buyers.1": 2})
    assert (first.key, second.key, second.turn) == ("buyers.2", "buyers.1", 2)
    assert first.wanted and not first.wanted & second.wanted
    assert all("date" not in place for place in first.wanted)


def test_for_a_pen_each_place_has_an_arrow_and_says_whose_it_is() -> None:
    made, document = offer(buyers=4)
    tags = tags_of(made, [document])[document.id]
    assert len(tags) == len(spots_of(made, document)), "everybody here is named"
    pages = [" ".join(w.text for w in page) for page in printed_words(assemble(made, "x").pdf)]
    marked = [
        " ".join(w.text for w in page)
        for page in printed_words(assemble(made, "x", tags={document.id: tags}).pdf)
    ]
    assert len(marked) == len(pages)
    last = len(pages) - 1
    assert marked[last].count("Di Okafor") == pages[last].count("Di Okafor") + 1
    assert {tag.text for tag in tags} >= {"Amara Okafor", "AO", "Lena Voss", "LV", ""}
    nobody = package(every_form()["301"], said={**OFFER, **people("buyers", ("", ""))})
    assert all("buyers" not in tag.text for tag in tags_of(nobody, nobody.documents).get("x", []))


# Finished files


def test_what_was_sent_is_the_beginning_of_what_is_finished() -> None:
    frozen = paper(3)
    made = finished(
        frozen, [Put(2, AT, mark()), Put(2, (300, 500, 400, 520), text="May 21, 2027")], record_of(frozen)
    )
    assert made.startswith(frozen)
    words = [" ".join(word.text for word in page) for page in printed_words(made)]
    assert words[0] == "Buyer, page 1" and words[1].startswith("Buyer, page 2 May 21, 2027")
    assert len(words) == 4 and "Record of signatures" in words[3]
    with pytest.raises(ValueError, match="not the paper"):
        finished(paper(2), [], record_of(frozen))


def test_the_record_page_tells_who_when_and_from_where() -> None:
    text = plain_text(finished(paper(), [Put(1, AT, mark())], record_of(paper())))
    for said in (
        "Thanh Nguyễn agreed to electronic records and signatures · from 203.0.113.7",
        "signed and finished: 1 place",
        "May 21, 2027, 11:04:05 AM EDT",
        "the link mailed to this address",
        hashlib.sha256(paper()).hexdigest(),
        STORY[-1].hash[:16],
    ):
        assert said in text, said


def test_a_record_of_many_events_goes_on_on_further_pages() -> None:
    events = trail(*[("reminded", "buyers.1")] * 120)
    made = finished(paper(), [], record_of(paper(), events))
    assert len(printed_words(made)) == 4


def test_a_drawing_on_a_page_that_leaves_its_coordinates_moved_stands_where_it_should() -> None:
    loose = pikepdf.open(io.BytesIO(paper()))
    loose.pages[0].Contents = pikepdf.Stream(loose, b"0.5 0 0 0.5 100 100 cm")
    out = io.BytesIO()
    loose.save(out)
    frozen = out.getvalue()
    made = finished(frozen, [Put(1, (300, 500, 400, 520), text="Here")], record_of(frozen))
    word = next(word for word in printed_words(made)[0] if word.text == "Here")
    assert word.left == pytest.approx(301.5, abs=1.5)


def test_a_sealed_file_holds_and_says_who_signed() -> None:
    found = verdict(sealed(paper()))
    assert found.holds and found.signers == ("Thanh Nguyễn",)
    assert {one.about for one in found.said} == {"seal", "whole", "authority", "time", "record", "paper"}


def test_a_file_that_was_cut_short_is_said_to_be() -> None:
    content = sealed(paper())
    for kept in (*range(2_000, len(content) - 400, len(content) // 25), len(content) - 2_000):
        found = verdict(content[:kept])
        assert not found.holds, kept
        if b"%%EOF" not in content[kept - 1_024 : kept]:
            assert "cut short" in found.said[0].sentence, kept
    assert "no seal" in verdict(paper()).said[0].sentence
    assert not verdict(b"%PDF-1.7\nnothing that is an object\n%%EOF").holds


def test_what_was_done_to_a_file_afterwards_is_said() -> None:
    content = sealed(paper())
    assert fails(content + b"\n% a note\n") == {"whole"}
    changed = bytearray(content)
    changed[60] ^= 1
    assert {"seal", "paper"} <= fails(bytes(changed))
    other = verify(content, [make_authority("Another").certificate])
    assert isinstance(other, Verdict)
    assert {one.about for one in other.said if not one.holds} == {"authority", "time"}
    assert fails(paper()) == {"seal"}


def test_a_record_that_was_written_by_somebody_else_does_not_hold() -> None:
    frozen = paper()
    forged = (STORY[0], replace(STORY[1], who="buyers.2"), *STORY[2:])
    content = finished(frozen, [], record_of(frozen, forged))
    assert fails(seal(content, authority().seal, stamped, "x")) == {"record"}
    bare = seal(frozen, authority().seal, stamped, "x")
    assert fails(bare) == {"record"}


@pytest.mark.parametrize("content", [b"", b"hello", b"%PDF-1.7\n", b"%PDF-1.7\n" + b"\x00" * 5_000])
def test_what_is_no_file_of_ours_is_a_fault_or_has_no_seal(content: bytes) -> None:
    found = verify(content, [authority().certificate])
    assert isinstance(found, Fault) or not found.holds


def test_without_a_time_there_is_no_seal() -> None:
    def down(_: bytes) -> bytes:
        raise ConnectionError("no service")

    with pytest.raises(ConnectionError):
        seal(finished(paper(), [], record_of(paper())), authority().seal, down, "x")


@pytest.mark.parametrize("request_", [b"", b"hello", b"\x30\x03\x02\x01\x01"])
def test_what_is_no_request_for_a_time_is_refused(request_: bytes) -> None:
    with pytest.raises(ValueError):
        answer_stamp_request(request_, authority().stamp)


def test_seals_hold_for_a_reader_that_knows_nothing_of_ours(tmp_path: Path) -> None:
    """Finished papers of one to twelve pages, each read by Poppler."""
    seals_hold(tmp_path, 48)


def seals_hold(folder: Path, papers: int) -> None:
    for n in range(papers):
        frozen = paper(1 + n % 12, said=f"Paper {n}")
        put = [Put(1 + n % (1 + n % 12), AT, mark("Thanh Nguyễn", list(script_faces.FACES)[n % 2]))]
        (folder / "one.pdf").write_bytes(sealed(frozen, put))
        told = subprocess.run(
            ["pdfsig", "-nocert", folder / "one.pdf"], capture_output=True, text=True, check=False
        )
        assert "Signature is Valid" in told.stdout and "Total document signed" in told.stdout, told.stdout


def test_every_changed_byte_is_noticed() -> None:
    changes_are_noticed(250)


def changes_are_noticed(times: int) -> None:
    content = sealed(paper())
    chance = random.Random(7)
    assert examine(content, [authority().certificate]).holds
    for _ in range(times):
        changed = bytearray(content)
        place = chance.randrange(len(content))
        changed[place] ^= chance.randrange(1, 256)
        try:
            found = examine(bytes(changed), [authority().certificate])
        except Exception:  # what can't be read any more was noticed too; the child says so
            continue
        assert not found.holds, f"byte {place} of {len(content)}"


def test_the_command_line_says_what_holds(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "a.pdf").write_bytes(sealed(paper()))
    (tmp_path / "authority.pem").write_bytes(authority().certificate)
    (tmp_path / "wrong.pem").write_bytes(b"no certificate")
    assert main(["verify", str(tmp_path / "a.pdf"), "--authority", str(tmp_path / "authority.pem")]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["holds"] is True and told["paper"] == "301 Residential Purchase Agreement"
    for file, certificate, says in (
        ("a.pdf", "wrong.pem", "this is not a certificate"),
        ("wrong.pem", "authority.pem", "isn't a PDF"),
        ("missing.pdf", "authority.pem", "No such file"),
    ):
        with pytest.raises(SystemExit):
            main(["verify", str(tmp_path / file), "--authority", str(tmp_path / certificate)])
        assert says in capsys.readouterr().err


def test_the_command_line_makes_an_authority_that_seals_and_never_writes_over_one(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    folder = tmp_path / "seal"
    assert main(["authority", str(folder), "--name", "Our House"]) == 0
    made = json.loads(capsys.readouterr().out)["certificate"]
    assert "Our House seal" in read_certificate(kept_identity(folder).certificate).subject.human_friendly
    assert (folder / "seal.key").stat().st_mode & 0o077 == 0, "for nobody else to read"
    before = Path(made).read_bytes()
    with pytest.raises(SystemExit):
        main(["authority", str(folder), "--name", "Another"])
    assert Path(made).read_bytes() == before
