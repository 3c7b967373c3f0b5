"""Links by mail with which somebody sets a password: the invitation to a brokerage, and the password
forgotten.

A link is good for one user, three days, and one use: it dies with the password or the sign-in that it was
made for.  Its secret stands behind a #, which browsers send to nobody, and is sent in a request's body.
"""

from __future__ import annotations

from datetime import timedelta
from uuid import UUID

from django.conf import settings
from django.contrib.auth.password_validation import validate_password
from django.contrib.auth.tokens import default_token_generator
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils import timezone
from django_tasks import task

from goodquill.http.endpoints import Refusal
from goodquill.mail.models import Letter
from goodquill.mail.sending import write
from goodquill.offices.models import MemberRole, Office, User, normal_email

MOST_LETTERS = 3
"""Letters with a link that one person gets in an hour, however often somebody asks: nobody's box is filled by
a stranger."""
_AN_HOUR = timedelta(hours=1)
MOST_INVITATIONS = 200
"""The most invitations that one brokerage sends in a day: a large firm joins with that many, and nobody mails
the world by us."""
_A_DAY = timedelta(days=1)


def _link(user: User) -> str:
    return f"{settings.SITE_URL}/welcome#{user.pk}.{default_token_generator.make_token(user)}"


def _may_be_written_to(user: User) -> bool:
    since = timezone.now() - _AN_HOUR
    recent = Letter.objects.filter(to=user.email, about__in=("invitation", "password"), made__gte=since)
    return recent.count() < MOST_LETTERS


@transaction.atomic
def invite(broker: User, email: str, name: str, role: str, office: UUID) -> User:
    """Return a member to be, who sets the own password by the link in the letter."""
    branch = Office.objects.filter(brokerage=broker.brokerage_id, pk=office).first()
    if branch is None:
        raise Refusal(
            "This office doesn't belong to the brokerage.",
            "Choose another. No invitation was sent.",
            "office",
        )
    if not name.strip():
        raise Refusal("Enter a name.", "Enter the name as forms should print it.", "name")
    normal = normal_email(email)
    if User.objects.filter(email=normal).exists():
        raise Refusal(
            f"{normal} already signs in to Good Quill.",
            "Look in the members list. Someone who left another brokerage needs a different address.",
            "known",
            409,
        )
    user = User.objects.create_user(
        normal,
        None,
        name=name.strip(),
        role=MemberRole(role),
        brokerage=broker.brokerage,
        office=branch,
        is_active=False,
        invited=timezone.now(),
    )
    send_invitation(broker, user)
    return user


def send_invitation(broker: User, user: User) -> None:
    """Send the invitation, once more where it was lost; an earlier link stays good until one of them is
    used."""
    if not _may_be_written_to(user):
        raise Refusal(
            f"{user.name} got several e-mails within the hour.",
            "Wait a while, or check the address.",
            "often",
            429,
            wait=3600,
        )
    sent = Letter.objects.filter(
        brokerage=user.brokerage_id, about="invitation", made__gte=timezone.now() - _A_DAY
    )
    if sent.count() >= MOST_INVITATIONS:
        raise Refusal(
            f"{MOST_INVITATIONS} invitations were sent within a day.",
            "Send the others tomorrow.",
            "often",
            429,
        )
    user.invited = timezone.now()
    user.save(update_fields=["invited"])
    text = (
        f"Hello {user.name},\n\n{broker.name} invites you to work with {broker.brokerage.name} in Good"
        f" Quill, as {user.role} in {user.office.name}.\n\nSet your password here, within three days:\n\n"
        f"{_link(user)}\n\nIf you don't know what this is about, do nothing: without a password nobody signs"
        " in.\n"
    )
    write(user.email, f"{broker.brokerage.name} invites you", text, "invitation", user.brokerage_id)


def forgot(email: str) -> None:
    """Have a letter written to the member with that e-mail, if there is one.  Nobody learns whether there
    is: the answer says the same, and a worker looks it up, so that it takes the same time."""
    write_forgotten.enqueue(email)


@task()
def write_forgotten(email: str) -> None:
    """Write the letter with the link, if the e-mail is a member's."""
    user = User.objects.filter(email=normal_email(email), is_active=True).first()
    if user is None or not _may_be_written_to(user):
        return
    text = (
        f"Hello {user.name},\n\nsomeone asked for a new password for your account. Set it here, within three"
        f" days:\n\n{_link(user)}\n\nIf it wasn't you, ignore this e-mail: your password stays the same.\n"
    )
    write(user.email, "A new password for Good Quill", text, "password", user.brokerage_id)


def find_by_link(user_id: UUID, token: str) -> User:
    """Return whose link it is; refused where it is none, or no longer."""
    rows = User.objects.select_related("brokerage", "office")
    user = rows.filter(pk=user_id).first()
    may_enter = user is not None and (user.is_active or user.invited is not None)
    if user is None or not may_enter or not default_token_generator.check_token(user, token):
        raise Refusal(
            "This link was used, has expired, or is incomplete.",
            "Request a new one under “Forgot password”, or ask your broker.",
            "link",
            404,
        )
    return user


@transaction.atomic
def set_password(user: User, password: str) -> None:
    """Set it and let the user in; every session that there was ends."""
    try:
        validate_password(password, user)
    except ValidationError as trouble:
        raise Refusal(" ".join(trouble.messages), "Nothing was changed.", "new") from trouble
    user.set_password(password)
    user.is_active, user.invited = True, None
    user.save(update_fields=["password", "is_active", "invited"])
    user.sessions.all().delete()
