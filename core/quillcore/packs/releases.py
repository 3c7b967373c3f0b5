"""Changes in a new release of a pack: forms that are new or retired, blanks, meanings and wording that
changed, rates, holidays and clock, and the answers of its templates."""

from __future__ import annotations

import difflib
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from itertools import islice
from typing import Any, Literal

from quillcore.facts import load_catalog
from quillcore.facts.keys import document_key, form_blank
from quillcore.forms.model import Form
from quillcore.packs.manifest import PackSheet
from quillcore.papers.placing import near
from quillcore.pdf import Rect
from quillcore.templates.upstream import TemplatePart, changed_parts
from quillcore.values import Finding, FindingWeight, shown


@dataclass(frozen=True)
class BlankChange:
    """One blank: ``what`` happened to it, under the id it has now (or had).  "values" is said of a table of
    allowed values, by its name."""

    id: str
    label: str
    what: Literal["new", "gone", "moved", "means", "values"]


@dataclass(frozen=True)
class FormChange:
    """One form: ``wording`` holds changed lines of its text, those taken out beginning with "−", those put in
    with "+"."""

    number: str
    title: str
    what: Literal["new", "retired", "changed", "same"]
    blanks: tuple[BlankChange, ...] = ()
    wording: tuple[str, ...] = ()


@dataclass(frozen=True)
class Difference:
    """One thing that is said otherwise, in people's words: what it is, as it was and as it is; "" where it
    isn't there."""

    what: str
    was: str
    now: str


@dataclass(frozen=True)
class TemplateChange:
    """One template: new, retired, or changed in these parts."""

    name: str
    what: Literal["new", "retired", "changed"]
    parts: tuple[Difference, ...] = ()


def compare_sheets(old: PackSheet, new: PackSheet) -> list[Difference]:
    """Return rates, holidays, clock and prescribed parts that differ."""
    before, after = _said(old), _said(new)
    return [
        Difference(what, before.get(what, ""), after.get(what, ""))
        for what in dict.fromkeys([*before, *after])
        if before.get(what) != after.get(what)
    ]


def _said(sheet: PackSheet) -> dict[str, str]:
    rates = sheet.rates
    tax, per = rates.transfer_tax
    said = {
        "Time zone": sheet.time_zone,
        "Deadlines end at": f"{sheet.deadline_time:%H:%M}",
        "Transfer tax": f"${tax} for each ${per}",
        "Title premium, least": f"${rates.title_minimum}",
    }
    for end, rate in rates.title_brackets:
        said[f"Title premium, {f'up to {end:,} thousand' if end else 'above that'}"] = f"${rate} a thousand"
    said |= {f"Holiday of {shown(day, 'date')}": name for day, name in sheet.holidays.items()}
    return said | {f"Prescribed words, {name}": remark for name, remark in sheet.prescribed.items()}


def compare_templates(
    old: Mapping[str, Any], new: Mapping[str, Any], forms: Mapping[str, Form]
) -> list[TemplateChange]:
    """Return templates that are new, retired or changed, by their file names; of changed ones the documents,
    answers, blanks and tasks.  ``forms`` say what a blank is called."""
    changes = []
    for slug in sorted(old.keys() | new.keys()):
        before, after = old.get(slug), new.get(slug)
        name = str((after or before or {}).get("name", slug))
        if before is None or after is None:
            changes.append(TemplateChange(name, "new" if before is None else "retired"))
        elif parts := changed_parts(before, after, before):
            told = tuple(Difference(_part_label(part, forms), part.was, part.now) for part in parts)
            changes.append(TemplateChange(name, "changed", told))
    return changes


def _part_label(part: TemplatePart, forms: Mapping[str, Form]) -> str:
    if part.what == "answer":
        return load_catalog().label_of(part.key)
    number, field = form_blank(part.key)
    if part.what != "blank":
        return part.key
    blanks = forms[number].mapping.meanings if number in forms else ()
    label = next((m.label for m in blanks if field in (m.id, m.group) and m.label), field)
    return f"{number} {label}"


def retired_edition(document: str, since: date) -> Finding:
    """Return the remark on a document whose edition a newer release has retired."""
    return Finding(
        "retired edition",
        FindingWeight.LOOK,
        document_key(document),
        f"A newer release retired this edition on {shown(since, 'date')}; the deal keeps it.",
    )


Sentences = Mapping[str, Sequence[str]]
"""By edition hash, the sentences printed on it (see ``quillcore.forms.printed``)."""


def compare_releases(
    old: Mapping[str, Form], new: Mapping[str, Form], printed: Sentences
) -> list[FormChange]:
    """Return every form of both releases, in the order of their numbers."""
    changes = []
    for number in sorted(old.keys() | new.keys()):
        before, after = old.get(number), new.get(number)
        if before is None or after is None:
            form = after or before
            assert form is not None
            changes.append(FormChange(number, form.edition.title, "new" if before is None else "retired"))
        elif before.edition_hash == after.edition_hash and before.mapping.digest() == after.mapping.digest():
            changes.append(FormChange(number, after.edition.title, "same"))
        else:
            changes.append(
                FormChange(
                    number,
                    after.edition.title,
                    "changed",
                    tuple(_blanks(before, after)),
                    tuple(_wording(before, after, printed)),
                )
            )
    return changes


def matching(before: Form, after: Form) -> dict[str, str]:
    """Return which blank of the later edition is which of the earlier: by id, then by fact and place."""
    found = {i: i for i in after.edition.by_id if i in before.edition.by_id}
    free = [i for i in before.edition.by_id if i not in found.values()]
    for i, field in after.edition.by_id.items():
        if i in found:
            continue
        fact = after.mapping.by_id[i].fact
        for other in free:
            same = fact is not None and before.mapping.by_id[other].fact == fact
            if (
                same
                and before.edition.by_id[other].page == field.page
                and _close(before.edition.by_id[other].rect, field.rect)
            ):
                found[i] = other
                free.remove(other)
                break
    return found


def _blanks(before: Form, after: Form) -> list[BlankChange]:
    pairs = matching(before, after)
    changes = []
    for i, field in after.edition.by_id.items():
        label = _label(after, i)
        if i not in pairs:
            changes.append(BlankChange(i, label, "new"))
            continue
        was = before.edition.by_id[pairs[i]]
        if was.page != field.page or not near(was.rect, field.rect):
            changes.append(BlankChange(i, label, "moved"))
        if before.mapping.by_id[pairs[i]].model_copy(update={"id": i}) != after.mapping.by_id[i]:
            changes.append(BlankChange(i, label, "means"))
    gone = set(before.edition.by_id) - set(pairs.values())
    changes += [BlankChange(i, _label(before, i), "gone") for i in before.edition.by_id if i in gone]
    tables, others = before.mapping.choices, after.mapping.choices
    for name in dict.fromkeys([*tables, *others]):
        if tables.get(name) != others.get(name):
            changes.append(BlankChange(name, f"Allowed {name}", "values"))
    if before.mapping.called != after.mapping.called:
        changes.append(BlankChange("called", "When the form belongs to a package", "means"))
    return changes


def _label(form: Form, field: str) -> str:
    m = form.mapping.by_id[field]
    return m.label or m.fact or (f"{m.role} {m.sign}" if m.sign else field)


def _close(a: Rect, b: Rect) -> bool:
    return abs(a[0] - b[0]) < 40 and abs(a[1] - b[1]) < 40


def _wording(before: Form, after: Form, printed: Sentences) -> Iterator[str]:
    """Return the first eighty sentences that were taken out or put in."""
    return islice(_differing(printed.get(before.edition_hash, ()), printed.get(after.edition_hash, ())), 80)


def _differing(old: Sequence[str], new: Sequence[str]) -> Iterator[str]:
    for what, i, j, k, m in difflib.SequenceMatcher(None, old, new, autojunk=False).get_opcodes():
        if what != "equal":
            yield from (f"− {line}" for line in old[i:j])
            yield from (f"+ {line}" for line in new[k:m])
