"""Delivering: the papers made once and kept, the letters written, all of it on record."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import timedelta
from typing import Any
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from django.utils import timezone
from quillcore.assembly import PackageDocument, assemble
from quillcore.assembly.recipients import may_leave

from goodquill.deals.keeping import note
from goodquill.deals.naming import file_name
from goodquill.deals.opening import OpenDeal, only_a_deal
from goodquill.delivering.links import address_of
from goodquill.delivering.models import DeliveredFile, Delivery, Recipient
from goodquill.http.endpoints import Refusal
from goodquill.http.limits import MOST_ATTACHED, MOST_RECIPIENTS
from goodquill.mail.addresses import check_address
from goodquill.mail.sending import write
from goodquill.offices.access import may_see_deals
from goodquill.offices.models import User
from goodquill.signing.letters import signed_by
from goodquill.signing.sealing.sealed import sealed_file
from goodquill.storage import files
from goodquill.storage.locks import hold


def deliver(user: User, opened: OpenDeal, said: dict[str, Any]) -> None:
    """Hand papers to people.  Own notes and the broker's file can't be among them."""
    only_a_deal(opened.deal)
    _check_people(said["to"])
    documents = _chosen(opened, said["papers"])
    made = list(_files(opened, documents, said["whole"]))
    if said["how"] == "mail" and sum(len(content) for _, content in made) > MOST_ATTACHED:
        raise Refusal(
            f"These papers are larger than {MOST_ATTACHED // 1_000_000} MB, too large for most mailboxes.",
            "Send a link instead; nothing was sent.",
            "size",
        )
    with transaction.atomic():
        by_link = said["how"] == "link"
        row = Delivery.objects.create(
            deal=opened.deal,
            by=user,
            how=said["how"],
            subject=said["subject"].strip(),
            message=said["message"].strip(),
            ends=timezone.now() + timedelta(days=said["days"]) if by_link else None,
        )
        for n, (name, content) in enumerate(made):
            digest = files.keep(content)
            DeliveredFile.objects.create(
                delivery=row, position=n, name=name[:200], content=digest, size=len(content)
            )
            note(user, opened.deal, "delivered", name, said["how"], digest)
        for one in said["to"]:
            person = Recipient.objects.create(
                delivery=row, name=one["name"].strip(), email=one["email"].strip()
            )
            _send(row, person)


def _check_people(people: list[dict[str, str]]) -> None:
    if len(people) > MOST_RECIPIENTS:
        raise Refusal(f"{MOST_RECIPIENTS} people is the limit for one delivery.", "Send it in two.", "people")
    for one in people:
        check_address(one["email"])


def _chosen(opened: OpenDeal, codes: list[str]) -> list[PackageDocument]:
    by_id = {d.id: d for d in opened.package.leaving}
    found = [by_id[code] for code in dict.fromkeys(codes) if code in by_id]
    kept_back = [d.form.edition.named for d in found if not may_leave(d)]
    if kept_back:
        raise Refusal(
            f"{kept_back[0]} is internal to the brokerage and can't be sent out.",
            "Leave it out; nothing was sent.",
            "audience",
        )
    if not found:
        raise Refusal("No papers are selected.", "Choose papers to deliver.", "papers")
    return found


def _files(opened: OpenDeal, documents: list[PackageDocument], whole: bool) -> Iterable[tuple[str, bytes]]:
    """Yield the files, each with its name.  A paper that was signed here goes by itself as it was sealed."""
    if whole and len(documents) > 1:
        name = file_name(opened)
        yield f"{name}.pdf", assemble(opened.package, name, documents).pdf
        return
    for d in documents:
        sealed = sealed_file(opened, d.id)
        name = file_name(opened, d.form.edition.named)
        yield f"{name}.pdf", sealed or assemble(opened.package, name, [d]).pdf


def again(user: User, delivery_id: UUID) -> Delivery:
    """Send the same papers to the same people once more, as they were; links hold as long as at first."""
    row = get_object_or_404(Delivery.objects.filter(may_see_deals(user, "deal__")), pk=delivery_id)
    with transaction.atomic():
        hold(Delivery, row.pk)
        if row.ends is not None:
            row.ends = timezone.now() + (row.ends - row.made)
            row.save(update_fields=["ends"])
        for person in row.recipients.all():
            _send(row, person)
        for file in row.files.all():
            note(user, row.deal, "delivered", file.name, row.how, file.content)
    return row


def _send(row: Delivery, person: Recipient) -> None:
    listed = "\n".join(f"  · {file.name}" for file in row.files.all())
    parts = [f"Hello {person.name},", row.message, f"These papers are for you:\n\n{listed}"]
    if row.ends is not None:
        until = f"{row.ends:%B} {row.ends.day}, {row.ends.year}"
        parts.append(f"Read and download them here until {until}:\n\n{address_of(person)}")
    attached = [[f.content, f.name] for f in row.files.all()] if row.how == "mail" else []
    text = "\n\n".join(part for part in [*parts, signed_by(row.by)] if part)
    letter = write(person.email, row.subject, text, "delivery", row.deal.brokerage_id, attached)
    person.letter = letter.pk
    person.save(update_fields=["letter"])
