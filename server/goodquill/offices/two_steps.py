"""The second step at sign-in: the six digits of an authenticator (TOTP, RFC 6238), by django-otp."""

from __future__ import annotations

import base64
import secrets
from typing import TYPE_CHECKING, Any

import segno
from django.db import transaction
from django_otp import devices_for_user
from django_otp.plugins.otp_static.models import StaticDevice, StaticToken
from django_otp.plugins.otp_totp.models import TOTPDevice
from rest_framework.permissions import BasePermission
from rest_framework.request import Request

from goodquill.offices.models import User
from goodquill.problems import Refusal

if TYPE_CHECKING:
    from goodquill import wire

_RECOVERY_CODES = 8


def is_on(user: User) -> bool:
    """Whether the member has a second step."""
    return any(devices_for_user(user))


def is_owed_by(user: Any) -> bool:
    """Whether the brokerage asks for one that the member doesn't have yet.  A query only where it is asked
    for."""
    return bool(getattr(user, "is_authenticated", False) and user.brokerage.two_steps and not is_on(user))


def state_of(user: User) -> wire.TwoStepsShape:
    """Where it stands; see ``TwoStepsShape``."""
    left = StaticToken.objects.filter(device__user=user, device__confirmed=True).count()
    return {"on": is_on(user), "asked_for": user.brokerage.two_steps, "recovery_codes": left}


def begin(user: User) -> dict[str, str]:
    """A new key, not yet in use; one that was begun before and not finished is forgotten."""
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
        raise Refusal("Nothing was begun, or it was finished already.", "Begin anew.", "code", 409)
    if not device.verify_token(code.replace(" ", "")):
        raise Refusal(
            "This code isn't right.",
            "Wait for the next one and check the clock of your phone; nothing was changed.",
            "code",
        )
    TOTPDevice.objects.filter(user=user, confirmed=True).delete()
    device.confirmed = True
    device.save()
    StaticDevice.objects.filter(user=user).delete()
    spare = StaticDevice.objects.create(user=user, name="recovery")
    codes = [secrets.token_hex(5) for _ in range(_RECOVERY_CODES)]
    StaticToken.objects.bulk_create(StaticToken(device=spare, token=c) for c in codes)
    return codes


def end(user: User) -> None:
    """Take it off."""
    TOTPDevice.objects.filter(user=user).delete()
    StaticDevice.objects.filter(user=user).delete()


class SetUp(BasePermission):
    """A member whose brokerage asks for a second step and who has none yet can do nothing but set it up."""

    def has_permission(self, request: Request, view: Any) -> bool:
        """Whether the view is open now."""
        if getattr(view, "open_before_set_up", False) or not is_owed_by(request.user):
            return True
        raise Refusal(
            "Your brokerage asks for a second step at sign-in.",
            "Set it up first; what you typed is kept.",
            "two-steps",
            403,
        )
