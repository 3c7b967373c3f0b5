"""Everything that can be wrong with a form: its pages, the places of its blanks, and what they mean."""

from __future__ import annotations

import hashlib
import io
from collections import Counter
from typing import Any

import pikepdf

from quillcore.facts import Catalog, load_catalog
from quillcore.facts.keys import document_prefix, read_role
from quillcore.forms.counteroffer_blanks import Says, read_turn
from quillcore.forms.model import FIELD_ID, PAGE, Form, FormEdition, Mapping, Meaning, call_rule, form_rules
from quillcore.formulas import check, circles, parse
from quillcore.values import KINDS, Fault

_ANY = "x"
"""Some document: a form is checked for all of them at once."""


def check_form(form: Form, catalog: Catalog | None = None) -> list[Fault]:
    """Return what is wrong with a form that comes from elsewhere than a pack: the same checks."""
    checks = FormChecks(catalog or load_catalog())
    number = form.edition.number
    checks.pages(number, form.edition, form.pdf)
    checks.geometry(number, form.edition, form.mapping)
    checks.meanings(number, form.mapping)
    return checks.faults


class FormChecks:
    """The checks, and the faults that they found; ``folder`` is what a fault's place begins with."""

    def __init__(self, catalog: Catalog) -> None:
        self.catalog = catalog
        self.faults: list[Fault] = []

    def fault(self, place: str, message: str, mend: str = "") -> None:
        """Note one."""
        self.faults.append(Fault("pack", message, mend, place))

    def pages(self, folder: str, edition: FormEdition, content: bytes) -> None:
        """Check that the pages are those that the edition names, flat, and as many and as large as it
        says."""
        place = f"{folder}/edition.pdf"
        if hashlib.sha256(content).hexdigest() != edition.page_content:
            self.fault(
                place,
                "The pages aren't the ones that the edition names.",
                "Editions never change: build a new one.",
            )
        try:
            with pikepdf.open(io.BytesIO(content)) as pdf:
                if len(pdf.pages) != edition.pages:
                    self.fault(
                        place,
                        f"It has {len(pdf.pages)} pages; the edition says {edition.pages}.",
                        "Build the pack again.",
                    )
                for number, page in enumerate(pdf.pages, 1):
                    self.size(f"{place}, page {number}", edition, number, page.mediabox)
                if "/AcroForm" in pdf.Root:
                    self.fault(
                        place,
                        "The pages carry interactive fields.",
                        "An edition's pages are flat; the blanks stand in edition.yaml.",
                    )
        except (pikepdf.PdfError, TypeError, ValueError, AttributeError):
            self.fault(place, "This isn't a PDF that can be read.", "Build the pack again.")

    def size(self, place: str, edition: FormEdition, number: int, box: Any) -> None:
        """Check that a page has the size that the edition says, and that paper can have."""
        left, bottom, right, top = (float(n) for n in box)
        width, height = (
            edition.size(number) if not edition.sizes or number <= len(edition.sizes) else (0.0, 0.0)
        )
        if not all(PAGE[0] <= side <= PAGE[1] for side in (right - left, top - bottom)):
            self.fault(
                place,
                "A page is smaller or larger than any paper.",
                f"Its sides measure {PAGE[0]:g} to {PAGE[1]:,g} points.",
            )
        elif abs(right - left - width) > 2 or abs(top - bottom - height) > 2:
            self.fault(place, "The page isn't of the size that the edition says.", "Build the pack again.")

    def geometry(self, folder: str, edition: FormEdition, mapping: Mapping) -> None:
        """Check that every field lies on its page under an id of its own, and has a meaning."""
        place = f"{folder}/edition.yaml"
        if edition.sizes and len(edition.sizes) != edition.pages:
            self.fault(
                f"{place}, sizes",
                f"There are {edition.pages} pages, but {len(edition.sizes)} sizes.",
                "Give each page one.",
            )
            return
        for kind in sorted(set(edition.kinds) - set(self.catalog["property.category"].options)):
            known = ", ".join(self.catalog["property.category"].options)
            self.fault(f"{place}, kinds", f"There is no property of kind “{kind}”.", f"Use one of: {known}.")
        ids = [f.id for f in edition.fields]
        for name in sorted(i for i, count in Counter(ids).items() if count > 1):
            self.fault(f"{place}, {name}", "Two fields have this id.", "Give each its own.")
        for f in edition.fields:
            left, bottom, right, top = f.rect
            width, height = edition.size(f.page) if 1 <= f.page <= edition.pages else (0.0, 0.0)
            if not (0 <= left < right <= width and 0 <= bottom < top <= height):
                self.fault(
                    f"{place}, {f.id}", "The field lies outside its page.", "Check page and rectangle."
                )
            if not FIELD_ID.fullmatch(f.id):
                self.fault(
                    f"{place}, {f.id}", "An id has small letters, digits, dots and hyphens.", "Rename it."
                )
        for name in sorted(set(ids) ^ set(mapping.by_id)):
            missing = "meaning in mapping.yaml" if name in ids else "place in edition.yaml"
            self.fault(f"{folder}, {name}", f"The field has no {missing}.", "Add it, or drop the field.")

    def meanings(self, folder: str, mapping: Mapping) -> None:
        """Check that the questions of the fields exist and can be worked out."""
        place = f"{folder}/mapping.yaml"
        self.tables(place, mapping)
        for m in mapping.meanings:
            self.binding(f"{place}, {m.id}", m)
            self.turn(f"{place}, {m.id}, turn", m)
            for part in ("required", "relevant"):
                self.expression(f"{place}, {m.id}, {part}", getattr(m, part), mapping)
        call = call_rule(mapping.called.when, self.catalog) if mapping.called is not None else None
        if isinstance(call, Fault):
            self.faults.append(call.at(f"{place}, {call.place}"))
        for n, remark in enumerate(mapping.remarks, 1):
            self.expression(f"{place}, remark {n}, when", remark.when, mapping)
            if remark.at not in mapping.by_id:
                self.fault(
                    f"{place}, remark {n}", f"There is no blank “{remark.at}”.", "Name one of the form's."
                )
        rules, faults = form_rules(mapping, self.catalog, _ANY)
        self.faults += [f.at(f"{place}, {f.place}") for f in faults]
        own = document_prefix(_ANY)
        if loop := circles({r.target: r for r in rules}, self.catalog):
            chain = " → ".join(key.removeprefix(own) for key in loop)
            self.fault(
                f"{place}, {loop[0].removeprefix(own)}",
                f"These formulas feed each other: {chain}.",
                "State one of them.",
            )

    def tables(self, place: str, mapping: Mapping) -> None:
        """Check tables of allowed values: each is there, and what it depends on is a fact."""
        for m in mapping.meanings:
            if m.choices is not None and m.choices not in mapping.choices:
                self.fault(
                    f"{place}, {m.id}",
                    f"There is no table of choices “{m.choices}”.",
                    "Add it under choices, or name another.",
                )
        for name, table in mapping.choices.items():
            if table.depends is not None and self.catalog.find(table.depends) is None:
                self.fault(
                    f"{place}, choices.{name}",
                    f"There is no fact “{table.depends}”.",
                    "Look the key up in the fact catalog.",
                )

    def turn(self, place: str, m: Meaning) -> None:
        """Check that a blank's part in a turn can be read, and that its terms exist."""
        if m.turn is None:
            return
        part = read_turn(m.turn)
        if part is None:
            self.fault(
                place,
                f"“{m.turn}” is not a term of a counteroffer.",
                f"Use one of: {', '.join(Says)}; to, from and whether name terms.",
            )
            return
        for key in part.keys:
            if self.catalog.find(key) is None:
                self.fault(place, f"There is no fact “{key}”.", "Look the key up in the fact catalog.")

    def binding(self, place: str, m: Meaning) -> None:
        """Check that a field is bound to one thing that exists."""
        if m.sign is not None:
            if m.role is None or read_role(m.role) is None:
                self.fault(
                    place,
                    f"“{m.role}” is not a role that signs.",
                    "Use buyer.1, seller.2, listing_agent and the like.",
                )
            return
        if sum(x is not None for x in (m.fact, m.formula, m.group)) > 1:
            self.fault(place, "A field has a fact, a formula or a group; only one of them.", "Keep one.")
        if m.who is not None and read_role(m.who) is None:
            self.fault(
                place,
                f"“{m.who}” is not a role that fills in a blank.",
                "Use a role such as seller.1, or leave it to the agent.",
            )
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
        """Check that a condition can be read and gives yes or no."""
        if text in (None, "always", "never"):
            return
        assert text is not None
        tree = parse(text)
        kinds = mapping.own_kinds
        found = (
            tree
            if isinstance(tree, Fault)
            else check(
                tree,
                self.catalog,
                lambda k: kinds.get(k.removeprefix("form.")) if k.startswith("form.") else None,
            )
        )
        if isinstance(found, Fault):
            self.faults.append(Fault("pack", found.message, found.mend, f"{place}, {found.place}"))
        elif found.type != "yes_no":
            self.fault(place, f"This gives a {found.type}, not yes or no.", "Compare it with something.")
