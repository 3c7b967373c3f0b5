"""Reading a pack with its templates: all that can be wrong with either, and, for one by strangers, in a
limited child."""

from __future__ import annotations

import base64
import io
import json
from collections.abc import Iterator
from dataclasses import asdict, dataclass

import pikepdf

from quillcore.facts import load_catalog
from quillcore.forms import Form, FormEdition, Mapping
from quillcore.forms.printed import PrintedWords, printed_on
from quillcore.packs.manifest import FILE_NAME, Pack, PackSheet
from quillcore.packs.reading import read_zip
from quillcore.pdf.foreign import acting
from quillcore.sandbox import PACK, run_limited
from quillcore.templates.model import read_template
from quillcore.values import Fault

MOST_FORMS, MOST_TEMPLATES = 300, 200
"""The largest associations publish some 250 forms; an office keeps a dozen templates."""


@dataclass(frozen=True)
class TakenPack:
    """A pack by strangers as it was read: nothing of its file has to be opened again.  ``printed`` is by form
    number."""

    pack: Pack
    printed: dict[str, PrintedWords]


def checked_pack(pack: Pack) -> list[Fault]:
    """Return what is wrong with a pack beyond its forms: its templates, and their number."""
    faults: list[Fault] = []
    if len(pack.forms) > MOST_FORMS or len(pack.templates) > MOST_TEMPLATES:
        faults.append(
            Fault(
                "pack",
                f"A pack has {MOST_FORMS} forms and {MOST_TEMPLATES} templates at most.",
                "Split it in two.",
            )
        )
    for name, data in pack.templates.items():
        if not FILE_NAME.fullmatch(name):
            faults.append(
                Fault(
                    "template",
                    "A template's file name has small letters, digits and hyphens, eighty at most.",
                    "Rename it.",
                    name[:100],
                )
            )
            continue
        found = read_template(data, pack.forms, load_catalog(), f"templates/{name}.yaml")
        faults += found if isinstance(found, list) else []
    return faults


def read_stranger(content: bytes) -> TakenPack | list[Fault]:
    """Return a pack's ZIP as a broker got it from somewhere, or all its faults."""
    answer = run_limited("quillcore.packs.strangers:read_inside", content, limits=PACK)
    if isinstance(answer, Fault):
        return [answer]
    data = json.loads(answer)
    if data["faults"]:
        return [Fault(**f) for f in data["faults"]]
    forms = {
        number: Form(
            FormEdition.model_validate(f["edition"]),
            Mapping.model_validate(f["mapping"]),
            base64.b64decode(f["pdf"]),
        )
        for number, f in data["forms"].items()
    }
    printed = {number: PrintedWords(f["words"], tuple(f["sentences"])) for number, f in data["forms"].items()}
    return TakenPack(Pack(PackSheet.model_validate(data["sheet"]), forms, data["templates"]), printed)


def read_inside(content: bytes) -> bytes:
    """Return the reading itself, as JSON; called in a limited child."""
    found = read_zip(content)
    faults = found if isinstance(found, list) else [*checked_pack(found), *_acting_pages(found)]
    if faults or isinstance(found, list):
        return json.dumps({"faults": [asdict(f) for f in faults[:200]]}).encode()
    forms = {}
    for number, form in found.forms.items():
        said = printed_on(form.pdf, form.edition.heights)
        forms[number] = {
            "edition": form.edition.model_dump(mode="json"),
            "mapping": form.mapping.model_dump(mode="json"),
            "pdf": base64.b64encode(form.pdf).decode(),
            "words": said.words,
            "sentences": said.sentences,
        }
    return json.dumps(
        {
            "faults": [],
            "sheet": found.sheet.model_dump(mode="json"),
            "forms": forms,
            "templates": found.templates,
        }
    ).encode()


def _acting_pages(pack: Pack) -> Iterator[Fault]:
    """Find pages that act: editions are printed and sent on as they are, so nothing in them may."""
    for number, form in pack.forms.items():
        with pikepdf.open(io.BytesIO(form.pdf)) as pdf:
            for what in sorted(set(acting(pdf))):
                yield Fault(
                    "pack",
                    f"The pages carry something beyond print: {what}.",
                    "Print them to a new PDF and build again.",
                    f"forms/{number}/edition.pdf",
                )
