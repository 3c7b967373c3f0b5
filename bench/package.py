"""``make bench``: the package of 12 documents, 60 pages and 800 blanks and more, against the floors of
docs/quality.

In one process, interleaved: (a) pikepdf concatenating the same opened backgrounds, (b) our fill, fit, flatten
and combine, (c) pypdf filling the same fields.  Prints medians as ratios, and the peaks of memory above the
imports.
"""

from __future__ import annotations

import gc
import io
import itertools
import logging
import os
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from datetime import date
from decimal import Decimal
from pathlib import Path

import pikepdf
from pypdf import PdfReader, PdfWriter
from pypdf.generic import ArrayObject, DictionaryObject, FloatObject, NameObject, TextStringObject
from quillcore.assembly import Package, PackageDocument, assemble
from quillcore.calendars import Calendar
from quillcore.facts import Act, Entry, Ledger, Source, load_catalog
from quillcore.forms import Form
from quillcore.packs.manifest import Pack
from quillcore.packs.reading import read_folder
from quillcore.values import KINDS, Fault, Value

ROOT = Path(__file__).resolve().parents[1]
ROUNDS = 15
ORDER = ["301"] * 6 + ["101"] * 2 + ["503"] * 2 + ["510"] * 2


def sample(fact: str, kind: str, options: tuple[str, ...]) -> Value:
    """Return a plausible value for a blank of that kind."""
    if options:
        return options[0]
    plain: dict[str, Value] = {
        "money": Decimal("412500.00"),
        "percent": Decimal(20),
        "integer": Decimal(30),
        "number": Decimal(3),
        "year": Decimal(1962),
        "yes_no": True,
    }
    if kind in plain:
        return plain[kind]
    found = KINDS[kind].read(
        {
            "date": "6/15/2027",
            "time": "5pm",
            "phone": "5555550123",
            "email": "a@post.example",
            "area": "2150",
        }.get(kind, "Łódź & Nguyễn")
    )
    return "as agreed" if isinstance(found, Fault) else found


def filled(pack: Pack, order: list[str] = ORDER) -> tuple[list[PackageDocument], Ledger]:
    """Return twelve documents and a ledger that answers every one of their blanks."""
    catalog = load_catalog()
    documents = [PackageDocument(f"d{n}", pack.forms[number]) for n, number in enumerate(order)]
    ledger = Ledger(catalog, "buying")
    said: dict[str, Value] = {"buyers": "a,b", "sellers": "c,d"}
    for party in "abcd":
        said |= {
            f"party.{party}.given": "Łukasz",
            f"party.{party}.family": "Nguyễn",
            f"party.{party}.email": f"{party}@post.example",
        }
    for document in documents:
        for _, m in document.form.pairs():
            if (
                m.sign is None
                and m.fact is not None
                and (fact := catalog.find(m.fact))
                and fact.group not in ("buyers", "sellers")
            ):
                said.setdefault(m.fact, sample(fact.label, fact.kind, fact.options))
            elif m.sign is None and m.fact is None:
                said[document.prefix + (m.group or m.id)] = m.value or sample(
                    m.id, m.kind or "text", m.options
                )
    for order, (key, value) in enumerate(said.items(), 1):
        ledger.add(Entry(key, Act.STATE, order, Source.TYPED, value))
    return documents, ledger


_opened: dict[str, pikepdf.Pdf] = {}


def concatenate(forms: list[Form]) -> bytes:
    """Return the floor: the files as they are, opened once, copied into one."""
    buffer = io.BytesIO()
    concatenated(forms).save(buffer)
    return buffer.getvalue()


def concatenate_fastest(forms: list[Form]) -> bytes:
    """Return the same, written past Python's streams: a file of the system's the library writes by itself."""
    with os.fdopen(os.memfd_create("bench"), "w+b") as made:
        concatenated(forms).save(made, stream_decode_level=pikepdf.StreamDecodeLevel.none)
        made.seek(0)
        return made.read()


def concatenated(forms: list[Form]) -> pikepdf.Pdf:
    out = pikepdf.new()
    for form in forms:
        name = form.edition.page_content
        if name not in _opened:
            _opened[name] = pikepdf.open(io.BytesIO(form.pdf))
        out.pages.extend(_opened[name].pages)
    return out


def priced(ledger: Ledger, number: int) -> Ledger:
    """Return the ledger with another price: what is kept from package to package helps as it does in life."""
    price = Decimal(400_000 + number)
    ledger.add(Entry("terms.purchase_price", Act.STATE, 10_000 + number, Source.TYPED, price))
    return ledger


def fillable(package: Package) -> bytes:
    """Return the same package as a PDF with fields, for the pure-Python library."""
    writer = PdfWriter()
    fields = ArrayObject()
    for document in package.documents:
        first = len(writer.pages)
        writer.append(io.BytesIO(document.form.pdf))
        for blank in package.blanks([document]):
            if blank.field.shape != "text":
                continue
            page = writer.pages[first + blank.field.page - 1]
            widget = DictionaryObject(
                {
                    NameObject("/Type"): NameObject("/Annot"),
                    NameObject("/Subtype"): NameObject("/Widget"),
                    NameObject("/FT"): NameObject("/Tx"),
                    NameObject("/T"): TextStringObject(f"{document.id}-{blank.field.id}"),
                    NameObject("/Rect"): ArrayObject([FloatObject(v) for v in blank.field.rect]),
                    NameObject("/DA"): TextStringObject("/Helv 10 Tf 0 g"),
                    NameObject("/F"): FloatObject(4),
                }
            )
            reference = writer._add_object(widget)
            fields.append(reference)
            page[NameObject("/Annots")] = ArrayObject([*page.get("/Annots", ArrayObject()), reference])
    font = DictionaryObject(
        {
            NameObject("/Type"): NameObject("/Font"),
            NameObject("/Subtype"): NameObject("/Type1"),
            NameObject("/BaseFont"): NameObject("/Helvetica"),
        }
    )
    resources = DictionaryObject(
        {NameObject("/Font"): DictionaryObject({NameObject("/Helv"): writer._add_object(font)})}
    )
    form = DictionaryObject(
        {
            NameObject("/Fields"): fields,
            NameObject("/DA"): TextStringObject("/Helv 10 Tf 0 g"),
            NameObject("/DR"): resources,
        }
    )
    writer._root_object[NameObject("/AcroForm")] = writer._add_object(form)
    buffer = io.BytesIO()
    writer.write(buffer)
    return buffer.getvalue()


def fill_with_pypdf(content: bytes, values: dict[str, str]) -> bytes:
    """Fill every field and write the file."""
    writer = PdfWriter()
    writer.append(PdfReader(io.BytesIO(content)))
    for page in writer.pages:
        writer.update_page_form_field_values(page, values, auto_regenerate=False)
    buffer = io.BytesIO()
    writer.write(buffer)
    return buffer.getvalue()


def timed(action: Callable[[], object]) -> float:
    """Return milliseconds of one call."""
    gc.collect()
    started = time.perf_counter()
    action()
    return (time.perf_counter() - started) * 1000


def peak(which: str) -> float:
    """Return peak memory in MB above the imports and the read pack, of one task in a fresh process:
    backgrounds opened, fonts read."""
    answer = subprocess.run(
        [sys.executable, "-m", "bench.package", which], cwd=ROOT, capture_output=True, text=True, check=True
    )
    return float(answer.stdout)


def measure_memory(which: str) -> None:
    """Do the task once in the child, and print the growth of the peak."""
    pack = read_folder(ROOT / "packs" / "calloway" / "built")
    assert isinstance(pack, Pack)
    documents, ledger = filled(pack)
    Calendar().closed(date(2027, 6, 15))  # the holidays' own module is imported when it is first asked
    Path("/proc/self/clear_refs").write_text("5")  # the peak counts from here
    before = high_water()
    if which == "ours":
        assemble(Package(documents, ledger, pack.sheet.setting()), "x")
    else:
        concatenate([d.form for d in documents])
    print(high_water() - before)


def high_water() -> float:
    """Return the process's peak resident memory in MB."""
    line = next(x for x in Path("/proc/self/status").read_text().splitlines() if x.startswith("VmHWM"))
    return int(line.split()[1]) / 1024


def main() -> None:
    """Measure and print one table."""
    if len(sys.argv) > 1:
        measure_memory(sys.argv[1])
        return
    pack = read_folder(ROOT / "packs" / "calloway" / "built")
    assert isinstance(pack, Pack)
    documents, ledger = filled(pack)
    package = Package(documents, ledger, pack.sheet.setting())
    blanks = [b for b in package.blanks() if b.field.shape != "sign"]
    shown = [b for b in blanks if b.text or b.marked]
    content = fillable(package)
    logging.getLogger("pypdf").setLevel(logging.ERROR)  # it warns of every letter that its base font lacks
    values = {f"{b.document}-{b.field.id}": b.text for b in shown if b.text}
    rounds = max(3, int(os.environ.get("ROUNDS", ROUNDS)))
    floor, fastest, ours, open_still, pure = [], [], [], [], []
    numbers = itertools.count()

    def made(fillable: bool = False) -> bytes:
        package = Package(documents, priced(ledger, next(numbers)), pack.sheet.setting())
        return assemble(package, "bench", fillable=fillable).pdf

    made()
    for n in range(rounds):
        floor.append(timed(lambda: concatenate([d.form for d in documents])))
        fastest.append(timed(lambda: concatenate_fastest([d.form for d in documents])))
        ours.append(timed(made))
        open_still.append(timed(lambda: made(fillable=True)))
        if n % 5 == 0:
            pure.append(timed(lambda: fill_with_pypdf(content, values)))
    a, low, b, c, f = (statistics.median(x) for x in (floor, fastest, ours, pure, open_still))
    whole = assemble(Package(documents, ledger, pack.sheet.setting()), "bench")
    memory_floor, memory_ours = peak("floor"), peak("ours")
    d, e = unlike(pack, rounds)
    print(f"{len(documents)} documents, {whole.pages} pages, {len(blanks)} blanks, {len(shown)} shown\n")
    print(f"{'':46}{'ms':>9}{'ratio':>9}   figure")
    print(f"{'concatenation of the files as they are':46}{a:9.1f}{1:9.1f}")
    print(f"{'the same, written past streams of Python':46}{low:9.1f}{low / a:9.2f}")
    said = f"at most 4; {b / low:.2f} times the latter"
    print(f"{'ours: fit, fill, flatten, combine':46}{b:9.1f}{b / a:9.2f}   {said}")
    print(f"{'the same of twelve different forms':46}{e:9.1f}{e / d:9.2f}   at most 4")
    print(f"{'ours, to be filled in on':46}{f:9.1f}{f / b:9.2f}   times flat, at most 2")
    print(f"{'pypdf filling the same fields':46}{c:9.1f}{c / b:9.1f}   times ours, at least 15")
    print(f"{'peak memory, concatenation':46}{memory_floor:8.1f}M{1:9.1f}")
    ratio = memory_ours / max(memory_floor, 0.1)
    print(f"{'peak memory, ours':46}{memory_ours:8.1f}M{ratio:9.2f}   at most 1.5")


def unlike(pack: Pack, rounds: int) -> tuple[float, float]:
    """Return medians of floor and package for twelve different forms, the longest."""
    longest = sorted(pack.forms, key=lambda number: -pack.forms[number].edition.pages)[:12]
    documents, ledger = filled(pack, longest)
    floor, ours = [], []
    for n in range(rounds + 1):
        floor.append(timed(lambda: concatenate([d.form for d in documents])))
        priced(ledger, 50_000 + n)
        ours.append(timed(lambda: assemble(Package(documents, ledger, pack.sheet.setting()), "bench")))
    return statistics.median(floor[1:]), statistics.median(ours[1:])


if __name__ == "__main__":
    main()
