"""Files by strangers: what swells, loops or lies is refused with a sentence, within bounds, and never opened
in process."""

from __future__ import annotations

import ast
import io
import json
import os
import signal
import subprocess
import sys
import threading
import time
import zipfile
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path

import pikepdf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore import sandbox
from quillcore.contacts.cards import read_cards
from quillcore.contacts.cards import read_stranger as read_contacts
from quillcore.facts import load_catalog
from quillcore.facts.exports import read_export
from quillcore.facts.exports import read_stranger as read_export_file
from quillcore.facts.owners import read_owners
from quillcore.facts.pasting import spread
from quillcore.formulas import Broken, Setting, check, evaluate, parse
from quillcore.packs.reading import write_zip
from quillcore.packs.strangers import TakenPack, read_stranger
from quillcore.papers.placing import Placed, overlaps
from quillcore.papers.reading import PdfReading, read_form
from quillcore.pdf.background import Background
from quillcore.pdf.combining import FilePart, combine
from quillcore.pdf.foreign import MOST_OBJECTS
from quillcore.pdf.renderer import MOST_PIXELS, picture
from quillcore.sandbox import PACK, PDF, Limits, run_limited
from quillcore.values import KINDS, Fault
from quillcore.values.structured import MOST_DEPTH, digits, read_json, read_yaml, unfit

from tests.core.small import demo_pack

CORE = Path(__file__).resolve().parents[2] / "core" / "quillcore"


# The renderer


def test_only_one_module_enters_the_renderer() -> None:
    entering = set()
    for path in [*CORE.rglob("*.py"), *CORE.parents[1].joinpath("server").rglob("*.py")]:
        for node in ast.walk(ast.parse(path.read_text())):
            names = (
                [a.name for a in node.names]
                if isinstance(node, ast.Import)
                else [node.module or ""]
                if isinstance(node, ast.ImportFrom)
                else []
            )
            if any(name.split(".")[0] == "pypdfium2" for name in names):
                entering.add(path.name)
    assert entering == {"renderer.py"}


def test_pages_are_drawn_from_many_threads_at_once() -> None:
    pdf = demo_pack().forms["101"].pdf
    drawn: list[bytes] = []
    threads = [threading.Thread(target=lambda: drawn.append(picture(pdf, 1, 48))) for _ in range(16)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert len(drawn) == 16 and len(set(drawn)) == 1


def test_a_page_as_large_as_a_wall_is_drawn_less_sharply() -> None:
    from_wall = pikepdf.new()
    from_wall.add_blank_page(page_size=(3_400, 3_400))
    out = io.BytesIO()
    from_wall.save(out)
    image = picture(out.getvalue(), 1, 220)
    width, height = (int.from_bytes(image[at : at + 4], "big") for at in (16, 20))
    assert width * height <= MOST_PIXELS * 1.01


# The child


SHORT = replace(PDF, seconds=1)


def test_the_bound_is_computing_and_not_the_clock() -> None:
    assert run_limited("tests.core.busy:pausing", b"", limits=SHORT) == b"done"
    fault = run_limited("tests.core.busy:computing", b"", limits=SHORT)
    assert isinstance(fault, Fault) and "1 seconds of computing" in fault.message and fault.mend == SHORT.mend


def test_as_many_children_at_once_as_there_are_cores() -> None:
    most = 0
    seen: list[object] = []

    def one() -> None:
        seen.append(run_limited("tests.core.busy:pausing", b"", limits=SHORT))

    def watch() -> None:
        nonlocal most
        while len(seen) < 5:
            most = max(most, len(children()))
            time.sleep(0.05)

    watcher = threading.Thread(target=watch)
    workers = [threading.Thread(target=one) for _ in range(5)]
    for t in [watcher, *workers]:
        t.start()
    for t in [*workers, watcher]:
        t.join()
    assert seen == [b"done"] * 5
    assert 0 < most <= (os.cpu_count() or 1)


def below(pid: int) -> list[int]:
    """The children of a process."""
    path = Path(f"/proc/{pid}/task/{pid}/children")
    return [int(one) for one in path.read_text().split()] if path.exists() else []


def children() -> list[int]:
    """The children that read files for this process now."""
    return below(sandbox._starter().process.pid)


def lives(pid: int) -> bool:
    """Whether a process is there: one that has ended may wait for being counted."""
    status = Path(f"/proc/{pid}/stat")
    return status.exists() and status.read_text().rsplit(")", 1)[1].split()[0] != "Z"


@pytest.fixture
def in_the_middle() -> Iterator[list[object]]:
    """A file is being read; what comes of it, afterwards."""
    seen: list[object] = []
    reading = threading.Thread(
        target=lambda: seen.append(run_limited("tests.core.busy:pausing", b"", limits=SHORT))
    )
    reading.start()
    while not children():
        time.sleep(0.02)
    yield seen
    reading.join()


def when_read(seen: list[object]) -> object:
    while not seen:
        time.sleep(0.02)
    return seen[0]


def test_a_starter_that_is_killed_is_replaced_and_its_file_read_again(in_the_middle: list[object]) -> None:
    first = sandbox._starter().process
    first.kill()
    assert when_read(in_the_middle) == b"done"
    assert sandbox._starter().process.pid != first.pid
    sandbox._starter().process.kill()
    assert run_limited("tests.core.busy:told", b"found dead", limits=SHORT) == b"found dead"


def test_a_child_that_is_killed_costs_its_own_file_alone(in_the_middle: list[object]) -> None:
    os.kill(children()[0], signal.SIGKILL)
    assert isinstance(when_read(in_the_middle), Fault)
    assert run_limited("tests.core.busy:told", b"the next", limits=SHORT) == b"the next"


def test_a_child_that_neither_computes_nor_ends_is_ended_by_the_clock(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(sandbox, "_PATIENCE", -9.5)
    assert isinstance(run_limited("tests.core.busy:pausing", b"", limits=SHORT), Fault)


def test_a_child_has_what_it_was_given_and_nothing_else(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("QUILL_SECRET_KEY", "nobody else's")
    monkeypatch.setattr(sandbox, "_kept", [])
    found = run_limited("tests.core.busy:surroundings", b"a file", "an argument")
    sandbox._starter().stop()
    assert isinstance(found, bytes)
    said = json.loads(found)
    assert said["content"] == "a file" and said["argument"] == "an argument"
    assert not [name for name in said["environment"] if "QUILL" in name or "PASSWORD" in name]
    assert said["open"] == 4, "nothing to read, nowhere to write, no place for errors; and its answer"


def test_with_the_process_that_asks_its_starter_and_its_children_end() -> None:
    asking = "from quillcore import sandbox; sandbox.run_limited('tests.core.busy:pausing', b'')"
    asker = subprocess.Popen([sys.executable, "-c", asking], cwd=CORE.parents[1])
    while not [child for starter in below(asker.pid) for child in below(starter)]:
        time.sleep(0.02)
    starter = below(asker.pid)[0]
    child = below(starter)[0]
    asker.kill()
    asker.wait()
    while lives(starter) or lives(child):
        time.sleep(0.02)


def test_the_sentence_fits_the_kind_of_file() -> None:
    table = Limits(1, 10**9, 10, "Take one town at a time.", "export")
    fault = run_limited("tests.core.busy:pausing", b"x" * 11, limits=table)
    assert isinstance(fault, Fault) and (fault.rule, fault.mend) == (
        "export",
        "10 MB is the most. Take one town at a time.".replace("10 MB", "0 MB"),
    )


# PDFs


def nested(levels: int, width: int) -> bytes:
    """Form XObjects, each drawing the next one many times: a few kilobytes that stand for billions of
    drawings."""
    pdf = pikepdf.new()
    pdf.add_blank_page(page_size=(612, 792))
    pdf.add_blank_page(page_size=(612, 792))
    inner = pdf.make_stream(
        b"BT /F 8 Tf 10 10 Td (word word word) Tj ET",
        Type=pikepdf.Name.XObject,
        Subtype=pikepdf.Name.Form,
        BBox=[0, 0, 600, 700],
    )
    font = pikepdf.Dictionary(
        Type=pikepdf.Name.Font, Subtype=pikepdf.Name.Type1, BaseFont=pikepdf.Name.Helvetica
    )
    inner.Resources = pikepdf.Dictionary(Font=pikepdf.Dictionary(F=font))
    for _ in range(levels):
        outer = pdf.make_stream(
            b"/X Do " * width, Type=pikepdf.Name.XObject, Subtype=pikepdf.Name.Form, BBox=[0, 0, 600, 700]
        )
        outer.Resources = pikepdf.Dictionary(XObject=pikepdf.Dictionary(X=inner))
        inner = outer
    pdf.pages[1].Contents = pdf.make_stream(b"/X Do")
    pdf.pages[1].Resources = pikepdf.Dictionary(XObject=pikepdf.Dictionary(X=inner))
    out = io.BytesIO()
    pdf.save(out)
    return out.getvalue()


def letters(count: int) -> bytes:
    """A page with very many characters, packed into very few bytes."""
    pdf = pikepdf.new()
    pdf.add_blank_page(page_size=(612, 792))
    font = pikepdf.Dictionary(
        Type=pikepdf.Name.Font, Subtype=pikepdf.Name.Type1, BaseFont=pikepdf.Name.Helvetica
    )
    pdf.pages[0].Resources = pikepdf.Dictionary(Font=pikepdf.Dictionary(F=font))
    pdf.pages[0].Contents = pdf.make_stream(b"BT /F 8 Tf " + b"(aaaaaaaaaa) Tj " * (count // 10) + b"ET")
    out = io.BytesIO()
    pdf.save(out, compress_streams=True)
    return out.getvalue()


@pytest.mark.parametrize(
    "content", [nested(12, 40), letters(3_000_000)], ids=["nested drawings", "three million letters"]
)
def test_a_swelling_pdf_is_read_within_bounds_or_refused(content: bytes) -> None:
    assert len(content) < 20_000
    found = read_form(content)
    if isinstance(found, PdfReading):
        assert len(found.printed.words) < 500_000
    else:
        assert found.mend


def test_combining_never_unpacks_a_page() -> None:
    pdf = pikepdf.new()
    pdf.add_blank_page(page_size=(612, 792))
    bomb = b"0 0 m " * 5_000_000  # thirty megabytes
    pdf.pages[0].Contents = pdf.make_stream(bomb)
    packed = io.BytesIO()
    pdf.save(packed, compress_streams=True)
    made = combine([FilePart(Background(packed.getvalue()), [])] * 3, "x")
    assert len(packed.getvalue()) < 200_000 and len(made) < 3 * 200_000, "it leaves as packed as it came"


def test_a_file_of_very_many_pieces_is_refused() -> None:
    pdf = pikepdf.new()
    pdf.add_blank_page(page_size=(612, 792))
    pieces = {f"/G{n}": pdf.make_indirect(pikepdf.Dictionary(ca=1)) for n in range(MOST_OBJECTS)}
    pdf.pages[0].obj.Resources = pikepdf.Dictionary(ExtGState=pikepdf.Dictionary(pieces))
    out = io.BytesIO()
    pdf.save(out, object_stream_mode=pikepdf.ObjectStreamMode.generate)
    found = read_form(out.getvalue())
    assert isinstance(found, Fault) and "50,000 pieces" in found.message and found.mend


# Packs


def pack_with(name: str, content: bytes | Callable[[bytes], bytes]) -> bytes:
    """The demo's pack with one file otherwise."""
    whole, out = zipfile.ZipFile(io.BytesIO(small_pack())), io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        names = dict.fromkeys([*whole.namelist(), name])
        for one in names:
            was = whole.read(one) if one in whole.namelist() else b""
            archive.writestr(one, was if one != name else content(was) if callable(content) else content)
    return out.getvalue()


def small_pack() -> bytes:
    pack = demo_pack()
    return write_zip(
        replace(
            pack,
            sheet=pack.sheet.model_copy(update={"forms": ("101",)}),
            forms={"101": pack.forms["101"]},
            templates={},
        )
    )


def test_a_pack_is_read_in_the_child_with_all_that_is_printed_on_it() -> None:
    taken = read_stranger(small_pack())
    assert isinstance(taken, TakenPack)
    assert taken.pack.forms["101"].edition_hash == demo_pack().forms["101"].edition_hash
    assert "agency" in taken.printed["101"].words.lower() and len(taken.printed["101"].sentences) > 10


ALIASES = b"a: &a [x,x,x,x,x,x,x,x,x]\n" + b"".join(
    b"%c: &%c [%s]\n" % (c, c, b",".join([b"*%c" % (c - 1)] * 9)) for c in range(ord("b"), ord("k"))
)


@pytest.mark.parametrize(
    ("name", "content", "said"),
    [
        ("pack.yaml", ALIASES, "has references to other parts of itself"),
        ("pack.yaml", b"a: &a [*a]\n", "has references to other parts of itself"),
        ("pack.yaml", b"[" * 5_000, "nested too deep"),
        ("forms/101/mapping.yaml", b"a: !!python/object/apply:os.system [ls]\n", "isn't YAML"),
        (
            "templates/faulty.yaml",
            b"name: x\nside: buying\ndocuments: [{section: A, form: '999'}]\n",
            "no form 999",
        ),
        ("templates/" + "x" * 120 + ".yaml", b"name: x\n", "file name"),
        (
            "pack.yaml",
            lambda was: was.replace(b"association: ", b"association: " + b"x" * 300),
            "at most 200 characters",
        ),
        (
            "forms/101/edition.yaml",
            lambda was: was.replace(b"number: '101'", b"number: '" + b"1" * 40 + b"'"),
            "at most 20 characters",
        ),
    ],
)
def test_a_hostile_pack_is_refused_with_a_sentence(
    name: str, content: bytes | Callable[[bytes], bytes], said: str
) -> None:
    found = read_stranger(pack_with(name, content))
    assert isinstance(found, list) and any(said in str(f) for f in found), [str(f) for f in found][:3]


def test_a_packs_pages_are_of_the_size_that_the_edition_says_and_do_nothing() -> None:
    form = demo_pack().forms["101"]
    with pikepdf.open(io.BytesIO(form.pdf)) as pdf:
        pdf.pages[0].MediaBox = [0, 0, 14_400, 14_400]
        pdf.Root.OpenAction = pikepdf.Dictionary(S=pikepdf.Name.JavaScript, JS="app.alert(1)")
        out = io.BytesIO()
        pdf.save(out)
    found = read_stranger(pack_with("forms/101/edition.pdf", out.getvalue()))
    assert isinstance(found, list) and any("larger than any paper" in str(f) for f in found)


def test_a_pack_that_swells_when_unpacked_is_refused() -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("pack.yaml", b"a" * 70_000_000)
    found = read_stranger(out.getvalue())
    assert (
        len(out.getvalue()) < PACK.most_bytes
        and isinstance(found, list)
        and "larger than a pack" in found[0].message
    )


# Cards and tables


def grows_at_most(work: Callable[[int], object], small: int, times: int, most: float) -> None:
    """Work for ``times`` as much takes no more than ``most`` as long: measured as the best of three, side by
    side."""

    def best(n: int) -> float:
        taken = []
        for _ in range(3):
            begun = time.process_time()
            work(n)
            taken.append(time.process_time() - begun)
        return min(taken)

    best(small)
    assert best(small * times) < most * max(best(small), 0.002)


def soft_wrapped(lines: int) -> bytes:
    note = "=\r\n".join(["x" * 70] * lines)
    head = "BEGIN:VCARD\r\nVERSION:2.1\r\nN:Falk;Bo\r\n"
    return f"{head}NOTE;ENCODING=QUOTED-PRINTABLE:{note}\r\nEND:VCARD\r\n".encode()


def test_soft_wrapped_cards_are_read_in_linear_time_and_whole() -> None:
    found = read_cards(soft_wrapped(20))
    assert not isinstance(found, Fault) and found[0].get("notes") == "x" * 1400
    grows_at_most(lambda n: read_cards(soft_wrapped(n)), 500, 8, 24)


def test_cards_from_elsewhere_are_read_in_the_child_and_write_nothing_down(
    caplog: pytest.LogCaptureFixture,
) -> None:
    found = read_contacts(b"BEGIN:VCARD\r\nVERSION:3.0\r\nN:Falk;Bo\r\nnonsense secret line\r\nEND:VCARD\r\n")
    assert not isinstance(found, Fault) and found[0].name == "Bo Falk"
    assert "secret" not in caplog.text


@pytest.mark.parametrize(
    "content",
    [
        b",".join([b"name"] * 40_000) + b"\nx\n",
        b"name,email\n" + b"x" * 50_000 + b",a\n",
        b"name\n" + b"\x00" * 40,
    ],
    ids=["forty thousand columns", "a cell like a book", "nothing but zeros"],
)
def test_a_table_that_is_none_is_refused(content: bytes) -> None:
    assert isinstance(read_cards(content), Fault)
    assert isinstance(read_export(content), Fault)


@pytest.mark.parametrize("price", ["NaN", "Infinity", "-Infinity", "1" * 401, "1e999", "9" * 39])
def test_absurd_numbers_in_an_export_are_refused_or_kept_as_text(price: str) -> None:
    found = read_export_file(f'{{"value": [{{"ListingId": "1", "ListPrice": {price}}}]}}'.encode())
    if not isinstance(found, Fault):
        head, rows = found
        assert head.count == 1
        assert isinstance(KINDS["money"].read(str(next(rows)[1]["ListPrice"])), Fault)


# Texts, numbers, formulas


@given(
    st.recursive(
        st.none() | st.booleans() | st.integers() | st.text(),
        lambda inner: st.lists(inner) | st.dictionaries(st.text(), inner),
        max_leaves=20,
    )
)
def test_json_comes_back_as_it_was_or_is_refused(data: object) -> None:
    found = read_json(json.dumps(data))
    assert (
        found == data
        or isinstance(found, Fault)
        or unfit(data) is not None
        or any(len(c) > 40 for c in json.dumps(data).split())
    )


@pytest.mark.parametrize(
    "text",
    [
        "[" * 100_000,
        '{"a":' * (MOST_DEPTH + 1) + "1" + "}" * (MOST_DEPTH + 1),
        "[NaN]",
        "[1e400",
        '["\\ud800"]',
        '["\\u0000"]',
    ],
)
def test_json_that_no_database_can_hold_is_refused(text: str) -> None:
    assert isinstance(read_json(text), Fault)


def test_brackets_in_texts_are_no_nesting() -> None:
    assert read_json(json.dumps(["[" * 1000])) == ["[" * 1000]


@pytest.mark.parametrize(
    ("text", "number"), [("12", 12), ("²", None), ("٣", None), ("5" * 5_000, None), ("", None), ("-1", None)]
)
def test_digits_are_ascii_and_few(text: str, number: int | None) -> None:
    assert digits(text) == number


def test_yaml_of_ours_is_read_as_before() -> None:
    assert read_yaml(b"a: [1, 'x']\nb: {c: yes}\n") == {"a": [1, "x"], "b": {"c": True}}


def test_texts_in_formulas_grow_no_longer_than_a_blank_takes() -> None:
    deep = '"xxxxxxxxxxxxxxxxxxxx"'
    for _ in range(4):
        deep = f'join(",", {", ".join([deep] * 6)})'
    tree = parse(deep)
    if isinstance(tree, Fault):
        return
    checked = check(tree, load_catalog())
    found = evaluate(checked.tree, lambda _key: None, Setting())  # type: ignore[union-attr, arg-type]
    assert isinstance(found, Broken) and "characters" in found.fault.message


@pytest.mark.parametrize("kind", ["area", "money", "date", "phone", "time", "percent", "email"])
def test_what_is_short_by_nature_is_not_read_when_it_is_long(kind: str) -> None:
    found = KINDS[kind].read("1" * 9_000 + "(")
    assert isinstance(found, Fault) and found.rule == "length"


def test_a_pasted_wall_of_brackets_is_no_address() -> None:
    grows_at_most(lambda n: spread(load_catalog(), "property.street_name", "(" * n), 2_500, 8, 24)
    grows_at_most(lambda n: read_owners("(" * n + " & X " * n), 500, 8, 24)


def test_blanks_are_told_apart_in_little_more_than_linear_time() -> None:
    def page_full(n: int) -> list[Placed]:
        return [
            Placed(
                id=f"b{i}",
                page=1 + i // 100,
                rect=(
                    10.0 + 60 * (i % 10),
                    10.0 + 20 * (i % 100 // 10),
                    60.0 + 60 * (i % 10),
                    24.0 + 20 * (i % 100 // 10),
                ),
            )
            for i in range(n)
        ]

    assert overlaps(page_full(2_000)) == []
    grows_at_most(lambda n: overlaps(page_full(n)), 250, 8, 20)
    one_heap = [Placed(id=f"b{i}", page=1, rect=(10, 10, 60, 24)) for i in range(2_000)]
    assert len(overlaps(one_heap)) == 100, "a hundred faults say enough"
