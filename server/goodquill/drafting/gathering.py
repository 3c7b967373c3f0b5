"""Forms that go with those of a package: what they name, what others used beside them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from quillcore.forms import Form
from quillcore.proofreading import Expected, Proof, missed
from quillcore.templates.gathering import named_in, usually_with
from quillcore.values.clock import today

from goodquill.deals.models import Document
from goodquill.deals.opening import OpenDeal
from goodquill.deals.queries import deals_touched_last
from goodquill.forms.models import Edition
from goodquill.forms.queries import forms_of
from goodquill.offices.models import User
from goodquill.templates.queries import forms_named, usable

if TYPE_CHECKING:
    from goodquill.http import wire

MOST = 8


def goes_with(user: User, opened: OpenDeal) -> list[wire.GoesWith]:
    """Return each with the reason: called for by the facts, usual in the user's deals, named by a form that
    is there, or in a template that has the same form.  What the facts rule out goes with nothing."""
    present = {f.edition.number for f in opened.forms.values() if f.edition.number}
    if not present:
        return []
    forms = forms_of(forms_named(opened.deal.release_id, opened.deal.brokerage_id).values())
    ruled_out = {n for n, form in forms.items() if opened.package.is_called_for(form) is False}
    found: dict[str, str] = {}
    for number, why in (
        *_called(opened, forms),
        *_usual(user, opened, present),
        *_named(opened, {n: form.edition.title for n, form in forms.items()}),
        *_in_templates(user, opened, present),
    ):
        if number in forms and number not in present | ruled_out:
            found.setdefault(number, why)
    return [_row(number, forms[number], why) for number, why in list(found.items())[:MOST]]


def _row(number: str, form: Form, why: str) -> wire.GoesWith:
    return {"number": number, "title": form.edition.title, "why": why}


def _called(opened: OpenDeal, forms: Mapping[str, Form]) -> list[tuple[str, str]]:
    if opened.deal.template_id is not None:  # of the deals to come nothing is known yet
        return []
    expected = [Expected(d.expected, "") for d in opened.documents if d.expected and not d.set_aside]
    proof = Proof(opened.package, today(), expected, available=forms)
    return [(form.edition.number, f"called for: {called.because}") for form, called in missed(proof)]


def _named(opened: OpenDeal, titles: dict[str, str]) -> list[tuple[str, str]]:
    editions = {d.edition_id for d in opened.documents if d.edition_id}
    rows = Edition.objects.filter(pk__in=editions).values_list("number", "title", "words")
    # Papers that came have no number, and often repeat what a form of the package names.
    forms_first = sorted(rows, key=lambda row: (row[0] == "", row[0], row[1]))
    return [
        (number, f"named in {form or f'“{title}”'}")
        for form, title, words in forms_first
        for number in named_in(words, {n: t for n, t in titles.items() if n != form})
    ]


def _usual(user: User, opened: OpenDeal, present: set[str]) -> list[tuple[str, str]]:
    deals = [d.pk for d in deals_touched_last(user) if d.side == opened.side and d.pk != opened.deal.pk]
    packages: dict[Any, set[str]] = {}
    documents = Document.objects.filter(deal__in=deals, removed=False, edition__isnull=False)
    for deal, number in documents.exclude(edition__number="").values_list("deal", "edition__number"):
        packages.setdefault(deal, set()).add(number)
    usual = usually_with(packages.values(), present)
    return [(u.number, f"in {u.times} of your last {u.of} deals with {u.beside}") for u in usual]


def _in_templates(user: User, opened: OpenDeal, present: set[str]) -> list[tuple[str, str]]:
    found = []
    rows = usable(user).filter(side=opened.side)
    for template in rows.exclude(pk=opened.deal.template_id) if opened.deal.template_id else rows:
        numbers = [d["form"] for d in template.data.get("documents", []) if "form" in d]
        shared = present & set(numbers)
        if len(shared) * 2 >= len(present):
            found += [(number, f"in “{template.name}”") for number in numbers]
    return found
