"""Small forms, packs and sheets for tests, written as people write them."""

from __future__ import annotations

from decimal import Decimal
from functools import cache
from pathlib import Path
from typing import Any

import yaml
from quillcore.assembly import Package, PackageDocument
from quillcore.facts import Act, Entry, Ledger, Source, load_catalog
from quillcore.forms import Form
from quillcore.packs.building import build_form
from quillcore.packs.manifest import Pack
from quillcore.packs.reading import read_folder, read_pack
from quillcore.values import Value

ROOT = Path(__file__).resolve().parents[2]
SOURCE, BUILT = ROOT / "packs" / "calloway" / "source", ROOT / "packs" / "calloway" / "built"
SECOND = ROOT / "packs" / "calloway" / "built-2026-11"
CATALOG = load_catalog()
STYLE = (SOURCE / "style.css").read_text(encoding="utf-8")
SHEET: dict[str, Any] = yaml.safe_load((SOURCE / "pack.yaml").read_text(encoding="utf-8"))
HEAD = '<form number="900" title="Small form" topic="test" sides="buying" edition="2026-07-01">'


@cache
def demo_pack() -> Pack:
    return _read(BUILT)


@cache
def second_pack() -> Pack:
    """The association's next release."""
    return _read(SECOND)


def _read(folder: Path) -> Pack:
    pack = read_folder(folder)
    assert isinstance(pack, Pack), pack
    return pack


@cache
def every_form() -> dict[str, Form]:
    """The forms of both releases, by number; those that the later one has otherwise with a mark."""
    later = second_pack()
    known = {form.edition_hash for form in demo_pack().forms.values()}
    changed = {f"{n} later": f for n, f in later.forms.items() if f.edition_hash not in known}
    return demo_pack().forms | changed


def pack_files(body: str) -> dict[str, bytes]:
    """A pack of one form whose body is given."""
    built = build_form(f"{HEAD}{body}</form>", "900.html", STYLE, SHEET)
    assert isinstance(built, dict), built
    files = {f"forms/900/{name}": content for name, content in built.items()}
    return {**files, "pack.yaml": yaml.safe_dump({**SHEET, "forms": ["900"]}).encode()}


def small_form(body: str) -> Form:
    pack = read_pack(pack_files(body))
    assert isinstance(pack, Pack), [str(f) for f in pack]
    return pack.forms["900"]


def ledger(said: dict[str, Value], side: str = "buying", source: Source = Source.TYPED) -> Ledger:
    made = Ledger(CATALOG, side)
    for order, (key, value) in enumerate(said.items(), 1):
        made.add(Entry(key, Act.STATE, order, source, value))
    return made


def people(group: str, *names: tuple[str, str]) -> dict[str, Value]:
    """Parties by (given, family)."""
    said: dict[str, Value] = {group: ",".join(f"{group}{n}" for n in range(len(names)))}
    for n, (given, family) in enumerate(names):
        said |= {f"party.{group}{n}.given": given, f"party.{group}{n}.family": family}
    return said


OFFER: dict[str, Value] = {
    "terms.purchase_price": Decimal("412500.00"),
    "terms.down_payment_percent": Decimal(20),
    "terms.deposit_percent": Decimal(1),
    "terms.loan_type": "conventional",
    **people("buyers", ("Ana", "Ruiz"), ("Łukasz", "Nguyễn")),
}


def package(*forms: Form, said: dict[str, Value] | None = None) -> Package:
    documents = [PackageDocument(f"d{n}", form) for n, form in enumerate(forms, 1)]
    return Package(documents, ledger(OFFER if said is None else said), demo_pack().sheet.setting())
