"""Makes the papers that sellers' agents attached to listings: ``python -m standins.make_papers``, after
``make_world``.

Each is the seller's property disclosure or the lead-based paint disclosure with the listing's own property in
it, filled in by its seller; that of every second listing is left half empty, as such papers arrive.
"""

from __future__ import annotations

import json
import random
from pathlib import Path
from typing import Any

from quillcore.assembly import Package, PackageDocument, assemble
from quillcore.facts import Act, Entry, Ledger, Source, load_catalog
from quillcore.facts.intake import from_listing
from quillcore.forms import Form
from quillcore.packs.manifest import Pack
from quillcore.packs.reading import read_folder
from quillcore.values import Value

HERE = Path(__file__).parent / "data"
PACK = Path(__file__).resolve().parents[1] / "packs" / "calloway" / "built"
LISTINGS = ("26-1104", "26-1111", "26-1118", "26-1146", "26-1153", "26-1160")
TITLES = {"501": "Seller's Property Disclosure", "503": "Lead-Based Paint Disclosure, Sale"}


def main() -> None:
    """Write the papers, and the list of which belongs to which listing."""
    pack = read_folder(PACK)
    assert isinstance(pack, Pack), pack
    records = {
        r["ListingId"]: r for r in json.loads((HERE / "listings.json").read_text(encoding="utf-8"))["value"]
    }
    listed = []
    (HERE / "media").mkdir(exist_ok=True)
    for n, number in enumerate(LISTINGS):
        record = records[number]
        forms = ["501", *(["503"] if (record["YearBuilt"] or 2000) < 1978 else [])]
        for form in forms if record["PropertyType"] == "Residential" else []:
            key = f"{record['ListingKey']}-{form}"
            (HERE / "media" / f"{key}.pdf").write_bytes(paper(pack.forms[form], record, whole=n % 2 == 0))
            listed.append(
                {
                    "MediaKey": key,
                    "ResourceRecordKey": record["ListingKey"],
                    "MediaCategory": "Document",
                    "ShortDescription": TITLES[form],
                },
            )
        listed.append(
            {
                "MediaKey": f"{record['ListingKey']}-1",
                "ResourceRecordKey": record["ListingKey"],
                "MediaCategory": "Photo",
                "ShortDescription": "Front",
            }
        )
    (HERE / "media.json").write_text(
        json.dumps(listed, ensure_ascii=False, indent=1) + "\n", encoding="utf-8"
    )


def paper(form: Form, record: dict[str, Any], whole: bool) -> bytes:
    """Return one form, flat, with the listing's property; its own questions answered, or only the first
    third of them."""
    r = random.Random(record["ListingKey"])
    facts, _ = from_listing(load_catalog(), record)
    seen = form.seen_from("listing")
    own: dict[str, Value] = {}
    for meaning in seen.mapping.meanings:
        if meaning.group and meaning.value in ("yes", "no", "unknown"):
            own[f"doc.d.{meaning.group}"] = "yes" if r.random() < 0.05 else "no"
        elif meaning.group and meaning.value:
            own.setdefault(f"doc.d.{meaning.group}", meaning.value)
    if not whole:
        own = dict(list(own.items())[: len(own) // 3])
    entries = [Entry(k, Act.STATE, n, Source.TYPED, v) for n, (k, v) in enumerate({**facts, **own}.items())]
    package = Package([PackageDocument("d", seen)], Ledger(load_catalog(), "listing", entries))
    return assemble(package, f"{TITLES[form.edition.number]}, {record['ListingId']}").pdf


if __name__ == "__main__":
    main()
