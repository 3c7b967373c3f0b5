"""The second step at sign-in: the six digits of an authenticator (TOTP, RFC 6238), by django-otp."""

from __future__ import annotations

import base64
import re
import secrets
from typing import TYPE_CHECKING, Any

import segno
from django.conf import settings
from django.db import transaction
from django_otp import devices_for_user, match_token
from django_otp.plugins.otp_static.models import StaticDevice, StaticToken
from django_otp.plugins.otp_totp.models import TOTPDevice
from rest_framework.permissions import BasePermission
from rest_framework.request import Request

from goodquill.http.problems import Refusal
from goodquill.mail.sending import write
from goodquill.offices.models import User

if TYPE_CHECKING:
    from goodquill.http import wire

_RECOVERY_CODES = 8
_CODE = re.compile("[0-9]{6}|[0-9a-f]{10}")


def is_on(user: User) -> bool:
    """Return whether the member has a second step."""
    return any(devices_for_user(user))


def is_owed_by(user: Any) -> bool:
    """Return whether the brokerage asks for one that the member doesn't have yet.  A query only where it is
    asked for."""
    return bool(getattr(user, "is_authenticated", False) and user.brokerage.two_steps and not is_on(user))


def state_of(user: User) -> wire.TwoStepsShape:
    """Return how far it is set up; see ``TwoStepsShape``."""
    left = StaticToken.objects.filter(device__user=user, device__confirmed=True).count()
    return {"on": is_on(user), "asked_for": user.brokerage.two_steps, "recovery_codes": left}


def prove(user: User, proof: str) -> None:
    """Refuse to change the second step for whoever only sits at the screen: ``proof`` is the password, or a
    code of the step that is in use."""
    if user.check_password(proof) or (
        proof.strip() and match_token(user, proof.replace(" ", "")) is not None
    ):
        return
    raise Refusal(
        "Wrong password.", "Nothing was changed. Enter your password, or a current code.", "password", 400
    )


def begin(user: User, proof: str) -> dict[str, str]:
    """Return a new key, not yet in use; one that was begun before and not finished is forgotten."""
    prove(user, proof)
    TOTPDevice.objects.filter(user=user, confirmed=False).delete()
    device = TOTPDevice.objects.create(user=user, name=user.email, confirmed=False)
    picture = segno.make(device.config_url, error="m").svg_inline(
        scale=5, border=2, dark="#10243e", omitsize=True
    )
    return {"picture": picture, "key": base64.b32encode(device.bin_key).decode().rstrip("=")}


@transaction.atomic
def finish(user: User, code: str) -> list[str]:
    """Put the begun key to use when its authenticator shows the right code; gives the recovery
    codes, once."""
    device = TOTPDevice.objects.select_for_update().filter(user=user, confirmed=False).first()
    if device is None:
        raise Refusal("No setup is in progress.", "Start again.", "code", 409)
    if not device.verify_token(code.replace(" ", "")):
        raise Refusal(
            "Wrong code.",
            "Wait for the next code and check your phone's clock; nothing was changed.",
            "code",
        )
    TOTPDevice.objects.filter(user=user, confirmed=True).delete()
    device.confirmed = True
    device.save()
    StaticDevice.objects.filter(user=user).delete()
    spare = StaticDevice.objects.create(user=user, name="recovery")
    codes = [secrets.token_hex(5) for _ in range(_RECOVERY_CODES)]
    StaticToken.objects.bulk_create(StaticToken(device=spare, token=c) for c in codes)
    _tell(user, "A second step was set up for your sign-in.")
    return codes


@transaction.atomic
def end(user: User, by: str = "") -> None:
    """Turn it off; ``by`` names somebody else who did."""
    TOTPDevice.objects.filter(user=user).delete()
    StaticDevice.objects.filter(user=user).delete()
    _tell(user, f"The second step of your sign-in was turned off{f' by {by}' if by else ''}.")


def _tell(user: User, what: str) -> None:
    """Write to the owner, who may not be the one who did it."""
    text = (
        f"Hello {user.name},\n\n{what}\n\nIf this was you, you don't need to do anything. If not, change your"
        f" password now and tell your broker:\n\n{settings.SITE_URL}/profile\n"
    )
    write(user.email, "Your sign-in to Good Quill has changed", text, "password", user.brokerage_id)


class SetUp(BasePermission):
    """A member whose brokerage asks for a second step and who has none yet can do nothing but set it up."""

    def has_permission(self, request: Request, view: Any) -> bool:
        """Return whether the view is open now."""
        if getattr(view, "open_before_set_up", False) or not is_owed_by(request.user):
            return True
        raise Refusal(
            "Your brokerage asks for a second step at sign-in.",
            "Set it up first; what you typed is kept.",
            "two-steps",
            403,
        )
