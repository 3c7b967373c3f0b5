"""Reading a pack, as a folder or a ZIP, and finding everything that is wrong with it.

Layout: ``pack.yaml``; ``forms/<number>/edition.pdf``, ``edition.yaml`` and ``mapping.yaml``;
``templates/*.yaml``.  A pack with any fault is not read at all.
"""

from __future__ import annotations

import io
import zipfile
import zlib
from collections.abc import Mapping as Files
from pathlib import Path
from typing import Any, TypeVar

import yaml
from pydantic import BaseModel, ValidationError

from quillcore.facts import Catalog, load_catalog
from quillcore.forms.checks import FormChecks
from quillcore.forms.model import Form, FormEdition, Mapping
from quillcore.packs.manifest import Pack, PackSheet
from quillcore.values import Fault
from quillcore.values.structured import read_yaml, unfit_text

T = TypeVar("T", bound=BaseModel)
MOST_UNPACKED = 60_000_000
MOST_FILES = 3_000
"""Bytes and files, unpacked: the demo's pack has 124 files of 4 MB together."""


def read_folder(folder: Path) -> Pack | list[Fault]:
    """Return a pack from a folder."""
    if not (folder / "pack.yaml").is_file():
        return [Fault("pack", "There is no pack.yaml here.", "Name the folder that holds it.", str(folder))]
    return read_pack(
        {p.relative_to(folder).as_posix(): p.read_bytes() for p in sorted(folder.rglob("*")) if p.is_file()}
    )


def read_sheet(folder: Path) -> PackSheet | list[Fault]:
    """Return a folder's pack.yaml alone: whose pack it is, and its holidays and rates."""
    file = folder / "pack.yaml"
    reader = _Reader({"pack.yaml": file.read_bytes()} if file.is_file() else {}, load_catalog())
    return reader.model("pack.yaml", PackSheet) or reader.faults


def read_zip(content: bytes) -> Pack | list[Fault]:
    """Return a pack from a ZIP of the same layout (a single folder around it is allowed)."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            infos = [i for i in archive.infolist() if not i.is_dir()]
            if sum(i.file_size for i in infos) > MOST_UNPACKED or len(infos) > MOST_FILES:
                return [
                    Fault(
                        "pack",
                        "Unpacked, this is larger than a pack may be.",
                        f"{MOST_UNPACKED // 1_000_000} MB is the limit.",
                    )
                ]
            files = {i.filename: archive.read(i) for i in infos}
    except (zipfile.BadZipFile, RuntimeError, NotImplementedError, EOFError, OSError, ValueError, zlib.error):
        return [Fault("pack", "This isn't a ZIP file that can be read.", "Export the pack again.")]
    if wrong := next((name for name in files if unfit_text(name)), None):
        return [
            Fault("pack", f"The name of a file in it can't be used ({wrong!r}).", "Export the pack again.")
        ]
    root = next(
        (
            name.removesuffix("pack.yaml")
            for name in files
            if name.endswith("pack.yaml") and name.count("/") <= 1
        ),
        "",
    )
    return read_pack({name.removeprefix(root): data for name, data in files.items() if name.startswith(root)})


def write_zip(pack: Pack) -> bytes:
    """Return the pack as a ZIP that ``read_zip`` reads back to the same editions.  The same pack gives the
    same bytes."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:

        def put(name: str, content: bytes) -> None:
            archive.writestr(zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0)), content, zipfile.ZIP_DEFLATED)

        put("pack.yaml", as_yaml({**pack.sheet.model_dump(mode="json"), "forms": list(pack.forms)}))
        for number, form in pack.forms.items():
            put(f"forms/{number}/edition.pdf", form.pdf)
            put(
                f"forms/{number}/edition.yaml",
                as_yaml(form.edition.model_dump(mode="json", exclude_defaults=True)),
            )
            put(
                f"forms/{number}/mapping.yaml",
                as_yaml(form.mapping.model_dump(mode="json", exclude_defaults=True)),
            )
        for name, data in pack.templates.items():
            put(f"templates/{name}.yaml", as_yaml(data))
    return out.getvalue()


def as_yaml(data: Any) -> bytes:
    """Return a pack's file, one field a line."""
    return yaml.dump(data, Dumper=_Dumper, sort_keys=False, allow_unicode=True, width=180).encode()


_PLAIN_DUMPER: Any = getattr(yaml, "CSafeDumper", yaml.SafeDumper)  # four times faster where it is there


class _Dumper(_PLAIN_DUMPER):
    """Block style outside, flow style for rows without lists in them: one field a line."""

    def represent_mapping(self, tag: str, mapping: Any, flow_style: bool | None = None) -> yaml.MappingNode:
        node: yaml.MappingNode = super().represent_mapping(tag, mapping, flow_style)
        node.flow_style = bool(mapping) and "id" in mapping
        return node


def read_pack(files: Files[str, bytes], catalog: Catalog | None = None) -> Pack | list[Fault]:
    """Return a pack from its files, or all its faults, each with file, field and mend."""
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


class _Reader(FormChecks):
    """Reads a pack's files, and checks them."""

    def __init__(self, files: Files[str, bytes], catalog: Catalog) -> None:
        super().__init__(catalog)
        self.files = files

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
                self.fault(
                    f"{name}, {at}" if at else name,
                    f"{error['msg']}.",
                    "See docs/forms.md for what belongs here.",
                )
            return None

    def form(self, number: str) -> Form | None:
        folder = f"forms/{number}"
        before = len(self.faults)
        edition = self.model(f"{folder}/edition.yaml", FormEdition)
        mapping = self.model(f"{folder}/mapping.yaml", Mapping)
        content = self.files.get(f"{folder}/edition.pdf")
        if content is None:
            self.fault(f"{folder}/edition.pdf", "The file is missing.", "Build the pack again.")
        if edition is None or mapping is None or content is None:
            return None
        if edition.number != number:
            self.fault(
                f"{folder}/edition.yaml, number",
                f"The form says it is {edition.number}, but the folder says {number}.",
                "Make them agree.",
            )
        self.pages(folder, edition, content)
        self.geometry(folder, edition, mapping)
        self.meanings(folder, mapping)
        return Form(edition, mapping, content) if len(self.faults) == before else None
