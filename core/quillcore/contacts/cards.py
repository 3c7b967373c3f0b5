"""Contacts in and out: vCard (RFC 2426, and what later versions share with it) and CSV."""

from __future__ import annotations

import csv
import io
import json
import logging
import re
from collections.abc import Iterable, Iterator, Sequence
from typing import Any

import vobject
from nameparser import HumanName
from rapidfuzz import fuzz

from quillcore.contacts.model import FIELDS, KINDS, ContactFields
from quillcore.sandbox import CARDS, Refused, run_limited
from quillcore.values import Fault
from quillcore.values.csv_files import csv_lines, decoded

MOST_CARDS = 5_000
MOST_TEXT = 2_000
_COLUMNS = {
    "given": "first name|given name|first|forename",
    "middle": "middle name|middle|additional name",
    "family": "last name|family name|surname|last",
    "suffix": "suffix|name suffix|generation",
    "company": "company|organization|organisation|firm|business|entity",
    "email": "email|e mail|email address|e mail address|email 1 value|e mail 1",
    "phone": "phone|mobile|cell|telephone|phone number|phone 1 value|mobile phone",
    "address": "address|mailing address|home address|street address|address 1 formatted|business address",
    "licence": "licence|license|licence number|license number",
    "code": "listing service code|member code|agent code",
    "notes": "notes|note|comment|remarks",
    "kind": "kind|type|category|role|group",
    "name": "name|full name|display name|contact",
    "entity_kind": "kind of entity",
    "signer": "who signs for it|signer",
}


def read_cards(content: bytes) -> list[ContactFields] | Fault:
    """Return contacts of a vCard or CSV file; a Fault says in a sentence why it can't be used."""
    logging.getLogger("vobject").setLevel(
        logging.CRITICAL
    )  # it would write whole lines of people's data into the log
    text = decoded(content)
    found = _from_vcards(text) if re.search(r"^\s*BEGIN:VCARD", text, re.I | re.M) else _from_csv(text)
    if isinstance(found, list):
        found = [_kept(c) for c in found if c.name][:MOST_CARDS]
        if not found:
            return Fault(
                "contacts",
                "The file has no contact with a name or an e-mail.",
                "Export it again as vCard or CSV.",
            )
    return found


def _kept(contact: ContactFields) -> ContactFields:
    return ContactFields(contact.kind, {name: text[:MOST_TEXT] for name, text in contact.fields.items()})


def read_inside(content: bytes) -> bytes:
    """Return the same as JSON, for a limited child: a file by strangers can make its readers work for
    hours."""
    found = read_cards(content)
    if isinstance(found, Fault):
        raise Refused(found)
    return json.dumps([[c.kind, c.fields] for c in found]).encode()


def read_stranger(content: bytes) -> list[ContactFields] | Fault:
    """Return contacts of a file that somebody sent in."""
    answer = run_limited("quillcore.contacts.cards:read_inside", content, limits=CARDS)
    return (
        answer
        if isinstance(answer, Fault)
        else [ContactFields(kind, fields) for kind, fields in json.loads(answer)]
    )


def _unwrapped(text: str) -> Iterator[str]:
    """Yield the lines of a vCard file without the soft breaks of quoted-printable (joining them is
    quadratic in the library), and without pictures and sounds, which we don't keep and which are long."""
    soft = dropped = False
    parts: list[str] = []
    for line in text.splitlines():
        if soft:
            parts.append(line.lstrip(" \t"))
        elif line[:1] in (" ", "\t"):
            if not dropped:
                yield line
            continue
        else:
            head = line.split(":", 1)[0].upper()
            dropped = head.split(";")[0].rpartition(".")[2] in _LARGE
            parts, soft = [line], "QUOTED-PRINTABLE" in head
        if soft and line.endswith("="):
            parts[-1] = parts[-1][:-1]
            continue
        soft = False
        if not dropped:
            yield "".join(parts)


_LARGE = {"PHOTO", "LOGO", "SOUND", "KEY"}


def _from_vcards(text: str) -> list[ContactFields] | Fault:
    contacts = []
    try:
        for card in vobject.readComponents("\n".join(_unwrapped(text)), allowQP=True, ignoreUnreadable=True):
            contacts.append(_of_card(card))
            if len(contacts) > MOST_CARDS:
                break
    except Exception as trouble:  # the library raises whatever it stumbles over
        where = re.search(r"line (\d+)", str(trouble))
        return Fault(
            "contacts",
            f"The vCard file is damaged{f' at line {where[1]}' if where else ''}.",
            "Export it again; nothing was imported.",
        )
    return contacts


def _of_card(card: Any) -> ContactFields:
    def first(name: str) -> Any:
        found = card.contents.get(name, [])
        preferred = [f for f in found if "PREF" in str(f.params).upper()]
        return (preferred or found or [None])[0]

    said: dict[str, str] = {}
    name = first("n")
    if name is not None:
        parts = {
            "given": name.value.given,
            "middle": name.value.additional,
            "family": name.value.family,
            "suffix": name.value.suffix,
        }
        said |= {field: _text(value) for field, value in parts.items() if value}
    organization = first("org")
    if organization is not None:
        said["company"] = _text(
            organization.value[0]
            if isinstance(organization.value, list) and organization.value
            else organization.value
        )
    if (
        not said.keys() & {"given", "middle", "family"}
        and (whole := first("fn")) is not None
        and _text(whole.value) != said.get("company")
    ):
        said |= _split(_text(whole.value))
    for field, property_ in (("email", "email"), ("phone", "tel"), ("notes", "note")):
        if (found := first(property_)) is not None:
            said[field] = _text(found.value).removeprefix("tel:")
    if (address := first("adr")) is not None:
        a = address.value
        city = " ".join(p for p in (_text(a.region), _text(a.code)) if p)
        said["address"] = ", ".join(p for p in (_text(a.street), _text(a.extended), _text(a.city), city) if p)
    category = first("categories")
    kind = _kind(
        _text(
            category.value[0]
            if category is not None and isinstance(category.value, list) and category.value
            else ""
        )
    )
    for field, property_ in (
        ("licence", "x-licence"),
        ("code", "x-listing-code"),
        ("entity_kind", "x-entity-kind"),
        ("signer", "x-signer"),
    ):
        if (found := first(property_)) is not None:
            said[field] = _text(found.value)
    return ContactFields(kind, {k: v.strip() for k, v in said.items() if v.strip()})


def _text(value: Any) -> str:
    return " ".join(map(str, value)) if isinstance(value, (list, tuple)) else str(value or "")


def _split(name: str) -> dict[str, str]:
    parts = HumanName(name)
    return {"given": parts.first, "middle": parts.middle, "family": parts.last, "suffix": parts.suffix}


def _kind(said: str) -> str:
    plain = said.strip().lower()
    for kind, label in KINDS.items():
        if plain in (kind, label.lower(), kind.replace("_", " ")):
            return kind
    near = {
        "escrow": "title",
        "mortgage": "lender",
        "loan": "lender",
        "bank": "lender",
        "inspect": "inspector",
        "law": "attorney",
        "realt": "agent",
        "agent": "agent",
        "buyer": "client",
        "seller": "client",
        "tenant": "client",
        "landlord": "client",
        "title": "title",
        "warranty": "warranty",
    }
    return next((kind for part, kind in near.items() if part in plain), "other")


def _from_csv(text: str) -> list[ContactFields] | Fault:
    try:
        lines = csv_lines(text, ",;\t")
    except csv.Error as trouble:
        return Fault(
            "contacts",
            f"The file can't be read as CSV: {trouble}.",
            "Save it as CSV again; nothing was imported.",
        )
    columns = _columns(lines[0]) if lines else {}
    if not {"name", "given", "family", "company", "email"} & set(columns):
        return Fault(
            "contacts",
            "The file is neither a vCard nor a CSV whose first line names its columns.",
            "It needs a column with names or e-mails.",
        )
    contacts = []
    for line in lines[1:]:
        said = {
            field: line[at].strip() for field, at in columns.items() if at < len(line) and line[at].strip()
        }
        kind = _kind(said.pop("kind", ""))
        if whole := said.pop("name", ""):
            said = _split(whole) | said if not said.get("family") and not said.get("given") else said
        contacts.append(ContactFields(kind, {k: v for k, v in said.items() if v}))
    return contacts


def _columns(names: Sequence[str]) -> dict[str, int]:
    scored = []
    for at, name in enumerate(names):
        plain = " ".join(re.sub(r"[^a-z0-9]+", " ", name.lower()).split())
        for field, said in _COLUMNS.items():
            score = max(
                fuzz.ratio(plain, wanted) for wanted in (*said.split("|"), FIELDS.get(field, "").lower())
            )
            if score >= 88:
                scored.append((score, -at, field))
    columns: dict[str, int] = {}
    for _, at, field in sorted(scored, reverse=True):
        if field not in columns and -at not in columns.values():
            columns[field] = -at
    return columns


def write_vcards(contacts: Iterable[ContactFields]) -> str:
    """Return a vCard file of version 3.0, which every address book reads."""
    out = []
    for contact in contacts:
        card = vobject.vCard()
        get = contact.get
        card.add("n").value = vobject.vcard.Name(
            family=get("family"), given=get("given"), additional=get("middle"), suffix=get("suffix")
        )
        card.add("fn").value = contact.name
        if get("company"):
            card.add("org").value = [get("company")]
        for property_, field in (
            ("email", "email"),
            ("tel", "phone"),
            ("note", "notes"),
            ("x-licence", "licence"),
            ("x-listing-code", "code"),
            ("x-entity-kind", "entity_kind"),
            ("x-signer", "signer"),
        ):
            if get(field):
                card.add(property_).value = get(field)
        if get("address"):
            card.add("adr").value = vobject.vcard.Address(street=get("address"))
        card.add("categories").value = [KINDS[contact.kind]]
        out.append(card.serialize())
    return "".join(out)


def write_csv(contacts: Iterable[ContactFields]) -> str:
    """Return a CSV with a column for each field.  A cell that a sheet would take for a formula is told to
    be text."""
    buffer = io.StringIO()
    writer = csv.writer(buffer, lineterminator="\r\n")
    writer.writerow(["Kind", *FIELDS.values()])
    for contact in contacts:
        writer.writerow([KINDS[contact.kind], *(_harmless(contact.get(name)) for name in FIELDS)])
    return buffer.getvalue()


def _harmless(text: str) -> str:
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t") else text
