"""The letters of a round. A link to papers stands in those to its signer alone."""

from __future__ import annotations

from typing import TYPE_CHECKING
from zoneinfo import ZoneInfo

from django.conf import settings
from quillcore.signing.rounds import Happened
from quillcore.values.dates import print_date

from goodquill.offices.models import User
from goodquill.signing.links import address_of
from goodquill.signing.models import Round, Signer
from goodquill.signing.progress import done_in_words, sending_of

if TYPE_CHECKING:
    from goodquill.http import wire

Text = tuple[str, str]
"""Subject and text."""


def signed_by(by: User) -> str:
    """Return what a member's letters end with."""
    lines = [by.name, by.brokerage.name, by.phone, by.email]
    return "\n".join(line for line in lines if line)


def _when(row: Round) -> str:
    """Return when the round ends, by the property's clock."""
    assert row.ends is not None
    at = row.ends.astimezone(ZoneInfo(row.zone))
    return f"{print_date(at.date())}, {at.hour % 12 or 12}:{at:%M} {'AM' if at.hour < 12 else 'PM'} {at:%Z}"


def sender_of(by: User) -> wire.SenderShape:
    """Return who sent papers, for the page of whoever got them."""
    return {"name": by.name, "firm": by.brokerage.name, "phone": by.phone, "email": by.email}


def please_sign(row: Round, signer: Signer, about: str) -> Text:
    """Return the letter that asks to sign, once more, or at the address that is right."""
    subject = row.subject if about != Happened.REMINDED else f"Reminder to sign: {row.subject}"
    papers = "\n".join(f"  · {paper.named}" for paper in row.papers.all())
    parts = [
        f"Hello {signer.name},",
        row.message.strip(),
        f"Please sign these papers:\n\n{papers}",
        f"Read and sign them here, on any device:\n\n{address_of(signer)}",
        f"Sign by {_when(row)}." if row.ends else "",
        "This link is only for you: please don't forward it. You need no account. To sign on paper, or to"
        " decline, use the same link or reply to me.",
        signed_by(row.by),
    ]
    return subject, "\n\n".join(part for part in parts if part)


def code(signer: Signer, digits: str) -> Text:
    """Return the code for whoever has just opened the link."""
    row = signer.round
    text = (
        f"Hello {signer.name},\n\nSomeone just opened your link to “{row.subject}”. If that was you, enter"
        f" this code:\n\n    {digits[:3]} {digits[3:]}\n\nIt works for 15 minutes. If it wasn't you, tell me:"
        f" someone else may be reading your e-mail.\n\n{signed_by(row.by)}"
    )
    return f"Your code for: {row.subject}", text


def no_longer(row: Round, signer: Signer, about: str) -> Text:
    """Return the letter that a round has ended without being signed by all."""
    what = "I recalled" if about == Happened.RECALLED else "One of the signers declined"
    because = f" The reason given: {row.said}" if row.said else ""
    text = (
        f"Hello {signer.name},\n\n{what} the papers “{row.subject}”. No one can sign them any"
        f" more.{because}\n\nYour link no longer shows them.\n\n{signed_by(row.by)}"
    )
    return f"No longer out for signature: {row.subject}", text


def finished(row: Round, person: Signer) -> Text:
    """Return the letter that everybody has signed who was asked, with the address of the finished papers."""
    done = done_in_words(row)
    text = (
        f"Hello {person.name},\n\n“{row.subject}”: {done}.\n\nYour copy, sealed and with its"
        f" record, is here:\n\n{address_of(person)}\n\nKeep the files: any reader of PDF can check that"
        f" nothing in them was changed.\n\n{signed_by(row.by)}"
    )
    return f"{done.partition(';')[0]}: {row.subject}", text


def new_link(row: Round, person: Signer) -> Text:
    """Return the letter to somebody who asked for a new link to papers that are finished."""
    text = (
        f"Hello {person.name},\n\nHere is your new link to “{row.subject}”:\n\n{address_of(person)}\n\n"
        f"It works for 30 days. Earlier links no longer work.\n\n{signed_by(row.by)}"
    )
    return f"Your new link: {row.subject}", text


def all_sealed(row: Round) -> Text:
    """Return the letter to whoever sent the round: the finished papers are there."""
    people = list(row.signers.all())
    papers = "\n".join(f"  · {p.named}. {sending_of(p, row, people).in_words}" for p in row.papers.all())
    done = done_in_words(row)
    where = f"{settings.SITE_URL}/deals/{row.deal_id}/signing?round={row.pk}"
    text = f"{row.deal.name}\n\n{done}. The papers are sealed:\n\n{papers}\n\n{where}"
    return f"{done.partition(';')[0]}: {row.subject}", text


def in_doubt(row: Round) -> Text:
    """Return the letter to the broker: a round is no longer what its record says."""
    where = f"{settings.SITE_URL}/deals/{row.deal_id}/signing?round={row.pk}"
    parts = [
        f"{row.deal.name}, “{row.subject}”",
        "These papers no longer match their signing record:",
        row.doubt,
        "Someone may have changed stored data. Papers that are not sealed yet stay unsealed.",
        "Do not rely on this round. Ask whoever runs Good Quill to look into it, and have the papers signed"
        " again.",
        where,
    ]
    return f"Signing record does not match: {row.subject}", "\n\n".join(parts)


TOLD = {
    "done": "Someone has signed",
    "finished": "Everyone has signed, and the papers are sealed",
    "declined": "Someone declined",
    "wants paper": "Someone asked to sign on paper",
    "ran out": "The signing time has expired",
}
"""The events of which a letter comes to whoever sent the round, by kind."""


def told_of(user: User) -> list[wire.ToldShape]:
    """Return of which events a member gets letters."""
    return [{"kind": kind, "label": label, "told": kind not in user.not_told} for kind, label in TOLD.items()]


_TOLD = {
    Happened.DONE: ("{name} has signed", "{name} has signed in every place."),
    Happened.DECLINED: ("{name} declined", "{name} declined to sign. The reason given: {said}"),
    Happened.WANTS_PAPER: ("{name} asked to sign on paper", "{name} wants to sign on paper."),
    Happened.RAN_OUT: ("The signing time has expired", "Not everyone signed in time. The links are closed."),
}


def to_agent(row: Round, about: str, signer: Signer | None) -> Text:
    """Return how the round goes on, to whoever sent it."""
    title, text = _TOLD.get(Happened(about), ("Something happened", "Open Signing to see it."))
    said = {"name": signer.name if signer else "", "said": row.said}
    where = f"{row.deal.name}, “{row.subject}”"
    return f"{title.format(**said)}: {row.subject}", f"{where}\n\n{text.format(**said)}"
