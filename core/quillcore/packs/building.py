"""Setting form sources: a source becomes an edition's pages, geometry and mapping."""

from __future__ import annotations

import hashlib
import io
from collections.abc import Collection, Iterable, Sequence
from datetime import date
from pathlib import Path
from typing import Any

import pikepdf
import yaml
from weasyprint import HTML
from weasyprint.text.fonts import FontConfiguration

from quillcore.facts import load_catalog
from quillcore.forms.model import Field, FormEdition, Mapping, Meaning
from quillcore.packs.reading import as_yaml, read_folder
from quillcore.packs.source import FormSource, Publisher, read_source
from quillcore.pdf.setting import FACES
from quillcore.pdf.typeface import FONTS
from quillcore.values import Fault

_PT = 0.75  # points in a CSS pixel


def source_digest(folder: Path) -> str:
    """Return SHA-256 over everything a pack is built from, so that a stale build can be told."""
    sums = [
        hashlib.sha256(p.relative_to(folder).as_posix().encode() + b"\0" + p.read_bytes()).hexdigest()
        for p in sorted(folder.rglob("*"))
        if p.is_file()
    ]
    return hashlib.sha256("".join(sums).encode()).hexdigest()


def build_pack(source: Path, out: Path, only: Collection[str] = ()) -> list[Fault]:
    """Build every form of ``source`` into ``out``; gives the faults ([] when all went well).  With ``only``
    just the forms of these numbers: the others stay as they are in ``out``, which therefore doesn't say
    that it was built from this source."""
    try:
        sheet = yaml.safe_load((source / "pack.yaml").read_text(encoding="utf-8"))
        folders = [source, *([(source / sheet.pop("based_on")).resolve()] if "based_on" in sheet else [])]
        style = _found(folders, "style.css").read_text(encoding="utf-8")
    except (OSError, yaml.YAMLError) as trouble:
        return [
            Fault(
                "pack",
                f"The source can't be read: {trouble}.",
                "It holds pack.yaml, style.css and forms/*.html.",
                str(source),
            )
        ]
    faults: list[Fault] = [
        Fault(
            "pack",
            f"There is no parts/prescribed-{name}.html.",
            "Put in the words that the law prescribes.",
            "pack.yaml, prescribed",
        )
        for name in sheet.get("prescribed", {})
        if not _found(folders, f"parts/prescribed-{name}.html").is_file()
    ]
    built = _built_forms(only or [str(number) for number in sheet.get("forms", [])], folders, style, sheet)
    faults += [fault for made in built.values() if isinstance(made, list) for fault in made]
    if faults:
        return faults
    sheet["built_from"] = "".join(source_digest(folder)[: 64 // len(folders)] for folder in folders)
    for number, files in built.items():
        assert isinstance(files, dict)
        folder = out / "forms" / number
        folder.mkdir(parents=True, exist_ok=True)
        for name, content in files.items():
            (folder / name).write_bytes(content)
    (out / "templates").mkdir(exist_ok=True)
    for name in sorted({path.name for folder in folders for path in (folder / "templates").glob("*.yaml")}):
        (out / "templates" / name).write_bytes(_found(folders, f"templates/{name}").read_bytes())
    if not only:
        (out / "pack.yaml").write_bytes(as_yaml(sheet))
    found = read_folder(out)
    return found if isinstance(found, list) else []


def _built_forms(
    numbers: Iterable[str], folders: Sequence[Path], style: str, sheet: dict[str, Any]
) -> dict[str, dict[str, bytes] | list[Fault]]:
    """Return each form's files by name, or what is wrong with its source."""
    built: dict[str, dict[str, bytes] | list[Fault]] = {}
    for number in numbers:
        path = _found(folders, f"forms/{number}.html")
        if path.is_file():
            built[number] = build_form(path.read_text(encoding="utf-8"), path.name, style, sheet, folders)
        else:
            mend = "Write it, or take the form off the list."
            built[number] = [Fault("pack", f"There is no {path.name}.", mend, "pack.yaml, forms")]
    return built


def _found(folders: Sequence[Path], name: str) -> Path:
    """Return the file of that name in the first folder that has it: a release says only what it changes of
    the one it is based on."""
    return next((folder / name for folder in folders if (folder / name).is_file()), folders[0] / name)


def build_form(
    text: str, name: str, style: str, sheet: dict[str, Any], folders: Sequence[Path] = ()
) -> dict[str, bytes] | list[Fault]:
    """Return one form's files by name, or what is wrong with its source.  ``folders`` hold parts/ and
    choices.yaml."""

    def part(wanted: str) -> str | None:
        path = _found(folders, f"parts/{wanted}") if folders else Path("nowhere")
        return path.read_text(encoding="utf-8") if path.is_file() else None

    lists = _found(folders, "choices.yaml") if folders else Path("nowhere")
    tables = yaml.safe_load(lists.read_text(encoding="utf-8")) if lists.is_file() else {}
    source = read_source(
        text, name, load_catalog(), Publisher(sheet["association"], sheet.get("state_name", "")), part
    )
    used = {m.choices for m in source.meanings if m.choices}
    source.faults += [
        Fault("form source", f"There is no table of choices “{lost}”.", "Add it to choices.yaml.", name)
        for lost in sorted(used - set(tables))
    ]
    if source.faults:
        return source.faults
    fonts = FontConfiguration()
    page = HTML(string=_page(source, style), base_url=FONTS.as_uri() + "/")
    document = page.render(font_config=fonts)
    fields, meanings = _fields(document, source)
    pdf = _plain(document.write_pdf(pdf_tags=True))
    edition = FormEdition.model_validate(
        {
            **_described(source.attributes),
            "publisher": sheet["association"],
            "pages": len(document.pages),
            "page_content": hashlib.sha256(pdf).hexdigest(),
            "fields": fields,
        }
    )
    lost = [m.id for m in source.meanings if m.id not in {x.id.split("@")[0] for x in fields}]
    if lost:
        return [
            Fault("form source", f"“{lost[0]}” was not set on any page.", "Is it hidden by the style?", name)
        ]
    return {
        "edition.pdf": pdf,
        "edition.yaml": as_yaml(edition.model_dump(mode="json", exclude_defaults=True)),
        "mapping.yaml": as_yaml(
            Mapping.model_validate(
                {
                    "meanings": meanings,
                    "choices": {k: tables[k] for k in sorted(used)},
                    "called": source.called,
                    "turn": source.attributes.get("turn"),
                    "remarks": source.remarks,
                }
            ).model_dump(mode="json", exclude_defaults=True)
        ),
    }


def _described(attributes: dict[str, str]) -> dict[str, Any]:
    """Return what a form's own attributes say of its edition."""

    def listed(name: str, usual: str = "") -> list[str]:
        return [part.strip() for part in attributes.get(name, usual).split(",") if part.strip()]

    return {
        "number": attributes["number"],
        "title": attributes["title"],
        "topic": attributes["topic"],
        "sides": listed("sides"),
        "kinds": listed("kinds"),
        "audience": listed("audience", "client, other side"),
        "filled_by": listed("filled-by"),
        "purpose": attributes.get("purpose", ""),
        "released": date.fromisoformat(attributes["edition"]),
    }


def _page(source: FormSource, style: str) -> str:
    a = source.attributes
    return (
        f'<!doctype html><html lang="en"><head><meta charset="utf-8"><title>{a["number"]}'
        f" {a['title']}</title><style>{FACES} {style}</style></head><body"
        f' class="{a.get("set", "")}">{"".join(source.body)}</body></html>'
    )


def _fields(document: Any, source: FormSource) -> tuple[list[Field], list[Meaning]]:
    """Return every blank's rectangle as set, in reading order, and the meanings (repeated sign spots once a
    page)."""
    meanings = {m.id: m for m in source.meanings}
    fields, out = [], []
    for number, page in enumerate(document.pages, 1):
        here = []
        for box in page._page_box.descendants():
            name = box.element.get("data-field") if box.element is not None else None
            if name is None or getattr(box, "element_tag", "").endswith("::before"):
                continue
            here.append((box.position_y, box.position_x, name, box))
        for _, _, name, box in sorted(here, key=lambda h: (round(h[0] / 6), h[1])):
            hint = source.hints[name]
            left, top = box.position_x * _PT, (page.height - box.position_y) * _PT
            right, bottom = left + box.border_width() * _PT, top - box.border_height() * _PT
            own = f"{name}@{number}" if hint.get("repeat") else name
            shape = hint.get("shape", "text")
            extra = {k: hint[k] for k in ("lines", "size", "least", "align") if k in hint and shape == "text"}
            fields.append(
                Field.model_validate(
                    {
                        "id": own,
                        "page": number,
                        "rect": [round(v, 2) for v in (left, bottom, right, top)],
                        "shape": shape,
                        **extra,
                    }
                )
            )
            out.append(meanings[name].model_copy(update={"id": own}))
    return fields, out


def _plain(pdf: bytes) -> bytes:
    """Return the pages without anything that changes from one build to the next."""
    with pikepdf.open(io.BytesIO(pdf)) as opened:
        for key in ("/CreationDate", "/ModDate"):
            if key in opened.docinfo:
                del opened.docinfo[key]
        out = io.BytesIO()
        opened.save(out, deterministic_id=True, object_stream_mode=pikepdf.ObjectStreamMode.generate)
    return out.getvalue()
