"""Reading a pack, as a folder or a ZIP, and finding everything that is wrong with it.

Layout: ``pack.yaml``; ``forms/<number>/edition.pdf``, ``edition.yaml`` and ``mapping.yaml``;
``templates/*.yaml``.  A pack with any fault is not read at all.
"""

from __future__ import annotations

import hashlib
import io
import zipfile
import zlib
from collections import Counter
from collections.abc import Mapping as Files
from pathlib import Path
from typing import Any, TypeVar

import pikepdf
import yaml
from pydantic import BaseModel, ValidationError

from quillcore.facts import Catalog, load_catalog
from quillcore.forms.model import FIELD_ID, PAGE, ROLE, Edition, Form, Mapping, Meaning, Pack, PackSheet, form_rules
from quillcore.formulas import check, circles, parse
from quillcore.values import KINDS, Fault
from quillcore.values.structured import read_yaml, unfit_text

T = TypeVar("T", bound=BaseModel)
MOST_BYTES = 60_000_000
MOST_FILES = 3_000
"""Unpacked: the demo's pack has 124 files of 4 MB together."""


def read_folder(folder: Path) -> Pack | list[Fault]:
    """A pack from a folder."""
    if not (folder / "pack.yaml").is_file():
        return [Fault("pack", "There is no pack.yaml here.", "Name the folder that holds it.", str(folder))]
    return read_pack({p.relative_to(folder).as_posix(): p.read_bytes() for p in sorted(folder.rglob("*")) if p.is_file()})


def read_zip(content: bytes) -> Pack | list[Fault]:
    """A pack from a ZIP of the same layout (a single folder around it is allowed)."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            infos = [i for i in archive.infolist() if not i.is_dir()]
            if sum(i.file_size for i in infos) > MOST_BYTES or len(infos) > MOST_FILES:
                return [Fault("pack", "Unpacked, this is larger than a pack may be.", f"{MOST_BYTES // 1_000_000} MB is the most.")]
            files = {i.filename: archive.read(i) for i in infos}
    except (zipfile.BadZipFile, RuntimeError, NotImplementedError, EOFError, OSError, ValueError, zlib.error):
        return [Fault("pack", "This isn't a ZIP file that can be read.", "Export the pack again.")]
    if wrong := next((name for name in files if unfit_text(name)), None):
        return [Fault("pack", f"The name of a file in it can't be used ({wrong!r}).", "Export the pack again.")]
    root = next((name.removesuffix("pack.yaml") for name in files if name.endswith("pack.yaml") and name.count("/") <= 1), "")
    return read_pack({name.removeprefix(root): data for name, data in files.items() if name.startswith(root)})


def write_zip(pack: Pack) -> bytes:
    """The pack as a ZIP that ``read_zip`` reads back to the same editions.  The same pack gives the same bytes."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:

        def put(name: str, content: bytes) -> None:
            archive.writestr(zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0)), content, zipfile.ZIP_DEFLATED)

        put("pack.yaml", as_yaml({**pack.sheet.model_dump(mode="json"), "forms": list(pack.forms)}))
        for number, form in pack.forms.items():
            put(f"forms/{number}/edition.pdf", form.pdf)
            put(f"forms/{number}/edition.yaml", as_yaml(form.edition.model_dump(mode="json", exclude_defaults=True)))
            put(f"forms/{number}/mapping.yaml", as_yaml(form.mapping.model_dump(mode="json", exclude_defaults=True)))
        for name, data in pack.templates.items():
            put(f"templates/{name}.yaml", as_yaml(data))
    return out.getvalue()


def as_yaml(data: Any) -> bytes:
    """A pack's file, one field a line."""
    return yaml.dump(data, Dumper=_Dumper, sort_keys=False, allow_unicode=True, width=180).encode()


class _Dumper(yaml.SafeDumper):
    """Block style outside, flow style for rows without lists in them: one field a line."""

    def represent_mapping(self, tag: str, mapping: Any, flow_style: bool | None = None) -> yaml.MappingNode:
        node = super().represent_mapping(tag, mapping, flow_style)
        node.flow_style = bool(mapping) and "id" in mapping
        return node


def read_pack(files: Files[str, bytes], catalog: Catalog | None = None) -> Pack | list[Fault]:
    """A pack from its files, or all its faults, each with file, field and mend."""
    reader = _Reader(files, catalog or load_catalog())
    sheet = reader.model("pack.yaml", PackSheet)
    forms: dict[str, Form] = {}
    for number in sheet.forms if isinstance(sheet, PackSheet) else ():
        form = reader.form(number)
        if form is not None:
            forms[number] = form
    templates = {
        name.removeprefix("templates/").removesuffix(".yaml"): reader.data(name)
        for name in files
        if name.startswith("templates/") and name.endswith(".yaml")
    }
    if reader.faults or not isinstance(sheet, PackSheet):
        return reader.faults
    return Pack(sheet, forms, templates)


def check_form(form: Form, catalog: Catalog | None = None) -> list[Fault]:
    """What is wrong with a form that comes from elsewhere than a pack: the same checks."""
    reader = _Reader({}, catalog or load_catalog())
    number = form.edition.number
    reader.pages(number, form.edition, form.pdf)
    reader.geometry(number, form.edition, form.mapping)
    reader.meanings(number, form.mapping)
    return reader.faults


class _Reader:
    def __init__(self, files: Files[str, bytes], catalog: Catalog) -> None:
        self.files = files
        self.catalog = catalog
        self.faults: list[Fault] = []

    def fault(self, place: str, message: str, mend: str = "") -> None:
        self.faults.append(Fault("pack", message, mend, place))

    def data(self, name: str) -> Any:
        if name not in self.files:
            self.fault(name, "The file is missing.", "Add it, or take the form off the list in pack.yaml.")
            return None
        found = read_yaml(self.files[name])
        if isinstance(found, Fault):
            self.fault(", ".join(part for part in (name, found.place) if part), found.message, found.mend)
            return None
        return found

    def model(self, name: str, kind: type[T]) -> T | None:
        before = len(self.faults)
        raw = self.data(name)
        if raw is None:
            if len(self.faults) == before:
                self.fault(name, "The file is empty.", "Build the pack again.")
            return None
        try:
            return kind.model_validate(raw)
        except ValidationError as trouble:
            for error in trouble.errors()[:50]:
                at = ".".join(map(str, error["loc"]))
                if isinstance(raw, dict) and len(error["loc"]) > 1 and isinstance(error["loc"][1], int):
                    row = raw[error["loc"][0]][error["loc"][1]]
                    at = f"{row.get('id', at) if isinstance(row, dict) else at} ({at})"
                self.fault(f"{name}, {at}" if at else name, f"{error['msg']}.", "See docs/forms.md for what belongs here.")
            return None

    def form(self, number: str) -> Form | None:
        folder = f"forms/{number}"
        before = len(self.faults)
        edition = self.model(f"{folder}/edition.yaml", Edition)
        mapping = self.model(f"{folder}/mapping.yaml", Mapping)
        content = self.files.get(f"{folder}/edition.pdf")
        if content is None:
            self.fault(f"{folder}/edition.pdf", "The file is missing.", "Build the pack again.")
        if edition is None or mapping is None or content is None:
            return None
        if edition.number != number:
            self.fault(f"{folder}/edition.yaml, number", f"The form says it is {edition.number}, but the folder says {number}.", "Make them agree.")
        self.pages(folder, edition, content)
        self.geometry(folder, edition, mapping)
        self.meanings(folder, mapping)
        return Form(edition, mapping, content) if len(self.faults) == before else None

    def pages(self, folder: str, edition: Edition, content: bytes) -> None:
        place = f"{folder}/edition.pdf"
        if hashlib.sha256(content).hexdigest() != edition.page_content:
            self.fault(place, "The pages aren't the ones that the edition names.", "Editions never change: build a new one.")
        try:
            with pikepdf.open(io.BytesIO(content)) as pdf:
                if len(pdf.pages) != edition.pages:
                    self.fault(place, f"It has {len(pdf.pages)} pages; the edition says {edition.pages}.", "Build the pack again.")
                for number, page in enumerate(pdf.pages, 1):
                    self.size(f"{place}, page {number}", edition, number, page.mediabox)
                if "/AcroForm" in pdf.Root:
                    self.fault(place, "The pages carry interactive fields.", "An edition's pages are flat; the blanks stand in edition.yaml.")
        except (pikepdf.PdfError, TypeError, ValueError, AttributeError):
            self.fault(place, "This isn't a PDF that can be read.", "Build the pack again.")

    def size(self, place: str, edition: Edition, number: int, box: Any) -> None:
        left, bottom, right, top = (float(n) for n in box)
        width, height = edition.size(number) if not edition.sizes or number <= len(edition.sizes) else (0.0, 0.0)
        if not all(PAGE[0] <= side <= PAGE[1] for side in (right - left, top - bottom)):
            self.fault(place, "A page is smaller or larger than any paper.", f"Its sides measure {PAGE[0]:g} to {PAGE[1]:,g} points.")
        elif abs(right - left - width) > 2 or abs(top - bottom - height) > 2:
            self.fault(place, "The page isn't of the size that the edition says.", "Build the pack again.")

    def geometry(self, folder: str, edition: Edition, mapping: Mapping) -> None:
        place = f"{folder}/edition.yaml"
        if edition.sizes and len(edition.sizes) != edition.pages:
            self.fault(f"{place}, sizes", f"There are {edition.pages} pages, but {len(edition.sizes)} sizes.", "Give each page one.")
            return
        ids = [f.id for f in edition.fields]
        for name in sorted(i for i, count in Counter(ids).items() if count > 1):
            self.fault(f"{place}, {name}", "Two fields have this id.", "Give each its own.")
        for f in edition.fields:
            left, bottom, right, top = f.rect
            width, height = edition.size(f.page) if 1 <= f.page <= edition.pages else (0.0, 0.0)
            if not (0 <= left < right <= width and 0 <= bottom < top <= height):
                self.fault(f"{place}, {f.id}", "The field lies outside its page.", "Check page and rectangle.")
            if not FIELD_ID.fullmatch(f.id):
                self.fault(f"{place}, {f.id}", "An id has small letters, digits, dots and hyphens.", "Rename it.")
        for name in sorted(set(ids) ^ set(mapping.by_id)):
            missing = "meaning in mapping.yaml" if name in ids else "place in edition.yaml"
            self.fault(f"{folder}, {name}", f"The field has no {missing}.", "Add it, or drop the field.")

    def meanings(self, folder: str, mapping: Mapping) -> None:
        place = f"{folder}/mapping.yaml"
        self.tables(place, mapping)
        for m in mapping.meanings:
            self.binding(f"{place}, {m.id}", m)
            for part in ("required", "relevant"):
                self.expression(f"{place}, {m.id}, {part}", getattr(m, part), mapping)
        rules, faults = form_rules(mapping, self.catalog, "x")
        self.faults += [f.at(f"{place}, {f.place}") for f in faults]
        if loop := circles({r.target: r for r in rules}, self.catalog):
            chain = " → ".join(key.removeprefix("doc.x.") for key in loop)
            self.fault(f"{place}, {loop[0].removeprefix('doc.x.')}", f"These formulas feed each other: {chain}.", "State one of them.")

    def tables(self, place: str, mapping: Mapping) -> None:
        """Tables of allowed values: each is there, and what it depends on is a fact."""
        for m in mapping.meanings:
            if m.choices is not None and m.choices not in mapping.choices:
                self.fault(f"{place}, {m.id}", f"There is no table of choices “{m.choices}”.", "Add it under choices, or name another.")
        for name, table in mapping.choices.items():
            if table.depends is not None and self.catalog.find(table.depends) is None:
                self.fault(f"{place}, choices.{name}", f"There is no fact “{table.depends}”.", "Look the key up in the fact catalog.")

    def binding(self, place: str, m: Meaning) -> None:
        if m.sign is not None:
            if m.role is None or not ROLE.fullmatch(m.role):
                self.fault(place, f"“{m.role}” is no role that signs.", "Use buyer.1, seller.2, listing_agent and the like.")
            return
        if sum(x is not None for x in (m.fact, m.formula, m.group)) > 1:
            self.fault(place, "A field has a fact, a formula or a group; only one of them.", "Keep one.")
        if m.who is not None and not ROLE.fullmatch(m.who):
            self.fault(place, f"“{m.who}” is nobody who fills a blank.", "Use a role such as seller.1, or leave it to the agent.")
        if m.kind is not None and m.kind not in KINDS:
            self.fault(place, f"There is no kind of value “{m.kind}”.", f"Kinds are: {', '.join(KINDS)}.")
        if m.fact is None:
            return
        fact = self.catalog.find(m.fact)
        if fact is None:
            self.fault(place, f"There is no fact “{m.fact}”.", "Look the key up in the fact catalog.")
        elif m.value is not None and fact.options and m.value not in fact.options:
            self.fault(place, f"{m.fact} is never “{m.value}”.", f"It is one of: {', '.join(fact.options)}.")

    def expression(self, place: str, text: str | None, mapping: Mapping) -> None:
        if text in (None, "always", "never"):
            return
        assert text is not None
        tree = parse(text)
        kinds = mapping.own_kinds
        found = (
            tree
            if isinstance(tree, Fault)
            else check(tree, self.catalog, lambda k: kinds.get(k.removeprefix("form.")) if k.startswith("form.") else None)
        )
        if isinstance(found, Fault):
            self.faults.append(Fault("pack", found.message, found.mend, f"{place}, {found.place}"))
        elif found.type != "yes_no":
            self.fault(place, f"This gives a {found.type}, not yes or no.", "Compare it with something.")
