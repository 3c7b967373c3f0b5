"""A package's answers as XFDF (ISO 19444), and its documents as separate files in a ZIP."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Sequence
from xml.etree import ElementTree as Xml

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from quillcore.assembly.blanks import Package, PackageDocument
from quillcore.assembly.fieldnames import field_names, option_name
from quillcore.assembly.output import assemble
from quillcore.values import Fault

_SPACE = "http://ns.adobe.com/xfdf/"
_MOST = 20_000_000


def write_xfdf(package: Package, file_name: str, documents: Sequence[PackageDocument] | None = None) -> bytes:
    """Return the values of all blanks that have one, under the names that the fillable file gives them;
    boxes by what they stand for."""
    Xml.register_namespace("", _SPACE)
    root = Xml.Element(f"{{{_SPACE}}}xfdf", {"{http://www.w3.org/XML/1998/namespace}space": "preserve"})
    Xml.SubElement(root, f"{{{_SPACE}}}f", {"href": file_name})
    fields = Xml.SubElement(root, f"{{{_SPACE}}}fields")
    branches: dict[str, Xml.Element] = {}
    wanted = list(documents) if documents is not None else package.leaving
    names = field_names(wanted)
    for blank in package.blanks(wanted):
        if (
            blank.state == "sign"
            or (blank.field.shape == "box" and not blank.marked)
            or not (blank.marked or blank.text)
        ):
            continue
        above, _, own = names[blank.document][blank.field.id].rpartition(".")
        if above not in branches:
            branches[above] = Xml.SubElement(fields, f"{{{_SPACE}}}field", {"name": above})
        field = Xml.SubElement(branches[above], f"{{{_SPACE}}}field", {"name": own})
        Xml.SubElement(field, f"{{{_SPACE}}}value").text = (
            option_name(blank.meaning.value) if blank.field.shape == "box" else blank.text
        )
    content: bytes = Xml.tostring(root, encoding="utf-8", xml_declaration=True)
    return content


def read_xfdf(content: bytes) -> dict[str, str] | Fault:
    """Return values by full field name.  Nothing outside the file is looked up, whatever it asks for."""
    if len(content) > _MOST:
        return Fault(
            "xfdf", "The file is too large for a form's answers.", f"{_MOST // 1_000_000} MB is the limit."
        )
    try:
        root = fromstring(content, forbid_dtd=True)
    except (Xml.ParseError, DefusedXmlException, ValueError):
        return Fault("xfdf", "This isn't an XFDF file that can be read.", "Export the answers again.")
    if root.tag != f"{{{_SPACE}}}xfdf":
        return Fault("xfdf", "This is XML, but not XFDF.", "Export the answers as XFDF.")
    found: dict[str, str] = {}
    todo = [("", node) for node in root.iterfind(f"{{{_SPACE}}}fields/{{{_SPACE}}}field")]
    while todo:
        above, node = todo.pop()
        name = f"{above}.{node.get('name', '')}".lstrip(".")
        value = node.find(f"{{{_SPACE}}}value")
        if value is not None:
            found[name] = value.text or ""
        todo += [(name, kid) for kid in node.iterfind(f"{{{_SPACE}}}field")]
    return found


def separate_files(package: Package, documents: Sequence[PackageDocument] | None = None) -> bytes:
    """Return a ZIP with each document as a flattened PDF of its own, numbered in the package's order.  The
    same input gives the same bytes."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        for n, document in enumerate(documents if documents is not None else package.leaving, 1):
            edition = document.form.edition
            name = re.sub(r'[\\/:*?"<>|]+', " ", f"{n:02d} {edition.number} {edition.title}")
            entry = zipfile.ZipInfo(f"{name}.pdf", (1980, 1, 1, 0, 0, 0))
            archive.writestr(entry, assemble(package, edition.title, [document]).pdf)
    return out.getvalue()
