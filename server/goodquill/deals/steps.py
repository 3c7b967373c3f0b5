"""A step of a deal: the deal locked and opened, what the step moved, and the answer that tells it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from functools import wraps
from typing import TYPE_CHECKING, Concatenate, ParamSpec, TypeAlias

from django.db import transaction
from quillcore.assembly import Blank
from quillcore.facts.edits import parties_are
from quillcore.values import Finding

from goodquill.changelog import steps
from goodquill.changelog.entries import place_of
from goodquill.changelog.models import Change, FactEntry, Kind
from goodquill.changelog.parts import Part, Wanted
from goodquill.clauses.uses import keep_uses
from goodquill.deals import blank_status, document_payload, naming, payload, pending_and_undo
from goodquill.deals.hooks import SETTLE
from goodquill.deals.models import Document, Task
from goodquill.deals.opening import OpenDeal, find_deal, only_a_deal
from goodquill.deals.parts import DOCUMENTS, TASKS, made
from goodquill.deals.requests import DealRequest
from goodquill.deals.tasks import keep_dues, may_move
from goodquill.deals.working_copies import keep_content
from goodquill.offices.models import User
from goodquill.storage.prepared import insert

if TYPE_CHECKING:
    from goodquill.http import wire

Given = ParamSpec("Given")
Doing: TypeAlias = "Callable[Concatenate[DealStep, Given], None]"
Action: TypeAlias = "Callable[Concatenate[DealRequest, Given], wire.Delta]"
_ONLY_DEALS = (Kind.OFFER, Kind.BRING_IN, Kind.STAGE, Kind.NAME)
"""Kinds of step that aren't made to a template."""


@dataclass
class DealStep(steps.Step):
    """A step of an opened, locked deal.  ``asked`` is the offer that the deal is to be shown with afterwards;
    None for the one in force, whichever that becomes."""

    opened: OpenDeal
    asked: int | None = None
    late: list[Finding] = field(default_factory=list)
    """Days that have passed already and that this step made known."""
    stale: bool = False
    """Whether documents or offers changed since the deal was opened."""
    stated: list[Task] | None = None
    """The fields of tasks, where the step knows them."""

    @property
    def user(self) -> User:
        """The member whose step it is."""
        return self.change.by

    def note(self, part: Part, before: Wanted, after: Wanted) -> None:
        """Note it as any step does; the deal then has to be read again."""
        super().note(part, before, after)
        self.stated = None
        self.stale = self.stale or bool(after)

    def add_documents(self, documents: Sequence[Document]) -> None:
        """Put documents into the package.  They are known, and so nothing is read again for them."""
        insert(documents)
        was_stale = self.stale
        self.note(DOCUMENTS, *made(d.code for d in documents))
        if not was_stale:
            self.opened, self.stale = self.opened.with_documents(documents), False

    def add_tasks(self, tasks: Sequence[Task], beside: Sequence[Task] | None = None) -> None:
        """Put tasks on the list ``beside`` those that are there, where these are known."""
        insert(tasks)
        was_stale = self.stale
        self.note(TASKS, *made(d.code for d in tasks))
        self.stale = was_stale  # an opened deal has no tasks in it
        self.stated = [*beside, *tasks] if beside is not None else None

    def write_rows(self, rows: list[FactEntry]) -> None:
        """Write rows as any step does, to the deal as it is now."""
        self.read_again()
        newest = self.opened.newest()
        before = [newest[place] for place in map(place_of, rows) if place in newest]
        super().write_rows(rows)
        keep_uses(self.opened.record, before, rows)

    def read_again(self) -> None:
        """Read the deal again, if its documents or offers changed."""
        if not self.stale:
            return
        is_gone = (
            self.asked is not None
            and not self.opened.deal.offers.filter(pk=self.asked, removed=False).exists()
        )
        self.asked = None if is_gone else self.asked
        self.opened, self.stale = self.opened.read_again(self.asked), False

    def say_parties(self, group: str, ids: Sequence[str]) -> None:
        """State a group's parties, in order."""
        self.write(parties_are(group, ids))
        self.opened.package.sheet.refresh([group])


def deal_change(kind: Kind) -> Callable[[Doing[Given]], Action[Given]]:
    """Return a decorator that makes an action of what a step does: called with a request in the place of the
    step, it does it in one transaction, as one undoable step, and returns what moved.  A request that was
    carried out before is answered again without being done again; a refusal leaves nothing behind."""

    def action(do: Doing[Given]) -> Action[Given]:
        @wraps(do)
        def run(request: DealRequest, /, *args: Given.args, **given: Given.kwargs) -> wire.Delta:
            with transaction.atomic():
                step = begin(request, kind)
                if not step.retried:
                    do(step, *args, **given)
                return finish(step)

        return run

    return action


def begin(request: DealRequest, kind: Kind, said: str = "") -> DealStep:
    """Lock the deal and start a step of it; to be called in a transaction, and only where ``deal_change``
    doesn't fit.  A step that is known already is given with ``retried``; another one under the same id is
    refused."""
    user, sent, offer = request.user, request.sent, request.offer
    steps.lock(request.deal)
    deal = find_deal(user, request.deal, step=sent.id)
    if kind in _ONLY_DEALS:
        only_a_deal(deal)
    opened = OpenDeal(deal, offer, reader=user)
    if not deal.knows_step:
        return DealStep(opened, steps.begun(opened.record, user, sent, kind, said), asked=offer)
    known = steps.made_before(opened.record, user, sent)
    steps.unnumber(opened.record)
    moved = set(FactEntry.objects.filter(change=known).values_list("key", flat=True))
    return DealStep(opened, known, moved, did_parts=bool(known.did), retried=True, asked=offer)


def finish(step: DealStep) -> wire.Delta:
    """Keep the step, store what lists show, and give the delta.  Only what depends on what was moved is
    looked at again."""
    if not step.retried:
        for settle in SETTLE:
            settle(step)
        step.keep()
    step.read_again()
    opened = step.opened
    reached = opened.package.sheet.refresh(step.moved)
    blanks = look_again(opened, reached, whole=step.did_parts, seq=step.change.seq - 1)
    if not step.retried:
        _summarise(step)
    seq = step.change.seq
    return {
        **delta(opened, reached, blanks, step.did_parts, seq - 1, _next_steps(step)),
        "until": seq,
        "left": list(step.left),
        "late": payload.finding_rows(step.late),
        "change": step.change.pk,
        "said": step.change.said,
    }


def look_again(opened: OpenDeal, reached: set[str], whole: bool, seq: int) -> list[Blank]:
    """Return the blanks that a step reached, or all of them; the offer's letters are then those of now.
    ``seq`` is the step that they have to be of for the others to stand."""
    if whole or not blank_status.are_of(opened, seq):
        every = list(opened.package.blanks())
        blank_status.read_states(opened, every)
        if whole:
            return every
    blanks = opened.package.affected(reached, blank_status.overflowing(opened))
    blank_status.put_states(opened, blanks)
    return blanks


def _summarise(step: DealStep) -> None:
    """Store what lists show."""
    opened = step.opened
    deal, offer = opened.deal, opened.offer
    before = (deal.name, deal.words, deal.summary)
    if not deal.name_typed:
        deal.name = naming.proposed_name(opened)[:250]
    parties = naming.other_names(opened)
    if parties != offer.parties:
        offer.parties = parties
        offer.save(update_fields=["parties"])
    in_force = opened.in_force()
    reached = in_force.package.sheet.dependents(step.moved)
    if in_force is not opened:
        look_again(in_force, reached, step.did_parts, step.change.seq - 1)
    whole = step.did_parts or not deal.summary
    payload.summarise(in_force, whole, step.user.name)
    if deal.template is not None:
        keep_content(opened, deal.template, step.did_parts)
    else:
        naming.keep_words(opened)
        if step.did_parts or may_move(deal, reached):
            step.late = keep_dues(in_force, step.stated)
    now = {"name": deal.name, "words": deal.words, "summary": deal.summary}
    moved = [name for (name, value), old in zip(now.items(), before, strict=True) if value != old]
    deal.save(update_fields=[*moved, "states", "touched"])


def _next_steps(step: DealStep) -> pending_and_undo.NextSteps | None:
    """Return what undo and redo would take after this step, where that needs no looking back: the step
    itself, and nothing."""
    plain = (Kind.UNDO, Kind.REDO, Kind.START, Kind.NOTHING)
    if step.retried or step.change.kind in plain:
        return None
    return {"id": step.change.pk, "said": step.change.said}, None


def delta(
    opened: OpenDeal,
    reached: Iterable[str],
    blanks: Iterable[Blank],
    whole: bool,
    after: int,
    next_steps: pending_and_undo.NextSteps | None = None,
) -> wire.Delta:
    """Return what moved ``after`` a step: the facts and blanks that were reached; all where the documents
    themselves moved (``whole``)."""
    return {
        "after": after,
        "until": opened.record.seq,
        "head": payload.deal_head(opened, next_steps),
        "facts": payload.facts_of(opened, None if whole else set(reached)),
        "blanks": payload.telling_rows(opened, blanks) if whole else payload.blank_rows(opened, blanks),
        "documents": document_payload.documents_of(opened),
        "parties": payload.parties_of(opened),
        "suggested": payload.suggested(opened),
        "whole": whole,
        "left": [],
        "late": [],
        "change": None,
        "said": "",
    }


def changes_since(opened: OpenDeal, since: int) -> wire.Delta:
    """Return what others have changed, as one offer has it: the delta over every step after ``since``."""
    later = dict(Change.objects.filter(record=opened.record, seq__gt=since).values_list("pk", "did"))
    written = FactEntry.objects.filter(change__in=later).values_list("scope", "key")
    moved = {key for scope, key in written if scope in (None, opened.offer.pk)} | opened.waiting
    reached = opened.package.sheet.dependents(moved)
    blanks = look_again(opened, reached, whole=any(later.values()), seq=opened.record.seq)
    return delta(opened, reached, blanks, any(later.values()), since)
