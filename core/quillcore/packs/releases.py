"""What a new release of a pack changes: forms that are new or retired, and blanks and wording that
changed."""

from __future__ import annotations

import difflib
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from itertools import islice
from typing import Literal

from quillcore.facts.keys import document_key
from quillcore.forms.model import Form
from quillcore.papers.placing import near
from quillcore.pdf import Rect
from quillcore.values import Finding, Weight, shown


@dataclass(frozen=True)
class BlankChange:
    """One blank: ``what`` happened to it, under the id it has now (or had)."""

    id: str
    label: str
    what: Literal["new", "gone", "moved", "means"]


@dataclass(frozen=True)
class FormChange:
    """One form: ``wording`` holds changed lines of its text, those taken out beginning with "−", those put in
    with "+"."""

    number: str
    title: str
    what: Literal["new", "retired", "changed", "same"]
    blanks: tuple[BlankChange, ...] = ()
    wording: tuple[str, ...] = ()


def retired_edition(document: str, since: date) -> Finding:
    """The remark on a document whose edition a newer release has retired."""
    return Finding(
        "retired edition",
        Weight.LOOK,
        document_key(document),
        f"A newer release retired this edition on {shown(since, 'date')}; the deal keeps it.",
    )


Sentences = Mapping[str, Sequence[str]]
"""By edition hash, the sentences printed on it (see ``quillcore.forms.printed``)."""


def compare_releases(
    old: Mapping[str, Form], new: Mapping[str, Form], printed: Sentences
) -> list[FormChange]:
    """Every form of both releases, in the order of their numbers."""
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
    """Which blank of the later edition is which of the earlier: by id, then by fact and place."""
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
    return changes + [BlankChange(i, _label(before, i), "gone") for i in before.edition.by_id if i in gone]


def _label(form: Form, field: str) -> str:
    m = form.mapping.by_id[field]
    return m.label or m.fact or (f"{m.role} {m.sign}" if m.sign else field)


def _close(a: Rect, b: Rect) -> bool:
    return abs(a[0] - b[0]) < 40 and abs(a[1] - b[1]) < 40


def _wording(before: Form, after: Form, printed: Sentences) -> Iterator[str]:
    """The first eighty sentences that were taken out or put in."""
    return islice(_differing(printed.get(before.edition_hash, ()), printed.get(after.edition_hash, ())), 80)


def _differing(old: Sequence[str], new: Sequence[str]) -> Iterator[str]:
    for what, i, j, k, m in difflib.SequenceMatcher(None, old, new, autojunk=False).get_opcodes():
        if what != "equal":
            yield from (f"− {line}" for line in old[i:j])
            yield from (f"+ {line}" for line in new[k:m])
