"""Signing in: password, code, and how many wrong tries are too many.

Failed attempts are counted by account (django-axes) and by address apart.  A device on which somebody has
signed in before has both counts of its own, so that a stranger's failures never lock the owner's own device
out."""

from __future__ import annotations

import math
from collections.abc import Mapping
from datetime import timedelta
from typing import Any
from uuid import uuid4

from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth import authenticate, login
from django.contrib.auth.backends import ModelBackend
from django.core import signing
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from django_otp import devices_for_user, match_token

from goodquill.http.callers import network_of
from goodquill.http.problems import Refusal
from goodquill.offices.attempts import SIGN_INS, counted
from goodquill.offices.models import User, normal_email

DEVICE = "quill-device"
_DEVICE_AGE = 180 * 86_400
_MOST_KNOWN = 6  # members whom one device knows: a family's or a front desk's


class Members(ModelBackend):
    """Django's backend; who is signed in comes with office and brokerage in one query."""

    def get_user(self, user_id: Any) -> User | None:
        """Return the member, unless access has ended."""
        user = User.objects.select_related("brokerage", "office").filter(pk=user_id).first()
        return user if user is not None and self.user_can_authenticate(user) else None


def counted_as(request: HttpRequest, credentials: Mapping[str, Any] | None) -> str:
    """Return the name under which axes counts tries: the account, on a device that knows it the account on
    that device."""
    email = normal_email(str((credentials or {}).get("username") or ""))
    device = _known(request).get(email)
    return f"{email} {device}" if device else email


def as_answered(request: HttpRequest, answer: HttpResponse | None, credentials: Any = None) -> HttpResponse:
    """Return what axes' middleware answers for a locked account: just what we have said already."""
    return answer if answer is not None else HttpResponse(status=429)


def _known(request: HttpRequest) -> dict[str, str]:
    try:
        found = signing.loads(request.COOKIES.get(DEVICE, ""), salt=DEVICE, max_age=_DEVICE_AGE)
    except signing.BadSignature:
        return {}
    return found if isinstance(found, dict) else {}


def remember_device(request: HttpRequest, answer: HttpResponse, user: User) -> None:
    """Remember that this device knows this member from now on."""
    known = {**_known(request)}
    own = known.pop(user.email, None) or uuid4().hex
    known = {**dict(list(known.items())[-_MOST_KNOWN + 1 :]), user.email: own}
    answer.set_cookie(
        DEVICE,
        signing.dumps(known, salt=DEVICE),
        max_age=_DEVICE_AGE,
        httponly=True,
        secure=settings.SESSION_COOKIE_SECURE,
        samesite="Lax",
    )


def sign_in(request: HttpRequest, email: str, password: str, code: str) -> User:
    """Return the member with that e-mail, password and, where there is a second step, code; signed in in this
    browser.  Refused otherwise, with how long to wait where too many tries were wrong."""
    email = normal_email(email)
    device = _known(request).get(email, "")
    who = device or network_of(request)
    with counted("sign-in", who):
        with SIGN_INS.turn(who, is_known=bool(device)) as has_turn:
            if not has_turn:
                raise Refusal(
                    "Many people are signing in right now.", "Try again in a moment.", "busy", 503, wait=1
                )
            user = authenticate(request, username=email, password=password)
        if not isinstance(user, User):
            if getattr(request, "axes_locked_out", False):
                raise _locked(request, email)
            raise Refusal("Wrong e-mail or password.", "Check both and try again.", "sign-in", 401)
        has_step = any(devices_for_user(user))
        if has_step and code.strip():
            _check_code(user, code)
    if has_step and not code.strip():
        raise Refusal(
            "Your sign-in has a second step.",
            "Enter the six digits from your authenticator app.",
            "code",
            401,
        )
    login(request, user)
    request.session["device"] = device_name(request.META.get("HTTP_USER_AGENT", ""))
    request.session["address"] = request.META.get("REMOTE_ADDR", "")[:45]
    return user


def _check_code(user: User, code: str) -> None:
    """Refuse a wrong code.  django-otp slows wrong codes down by itself, more with each one."""
    if match_token(user, code.replace(" ", "")) is None:
        raise Refusal(
            "This code is wrong or was used before.",
            "Wait for the next code, or enter a recovery code.",
            "code",
            401,
        )


def _locked(request: HttpRequest, email: str) -> Refusal:
    name = counted_as(request, {"username": email})
    tried = (
        AccessAttempt.objects.filter(username=name)
        .order_by("-attempt_time")
        .values_list("attempt_time", flat=True)
        .first()
    )
    cool_off = timedelta(hours=settings.AXES_COOLOFF_TIME)
    left = cool_off if tried is None else tried + cool_off - timezone.now()
    minutes = max(1, math.ceil(left.total_seconds() / 60))
    until = "a minute" if minutes == 1 else f"{minutes} minutes"
    return Refusal(
        f"Too many wrong passwords for this e-mail. Try again in {until}.",
        "You can still sign in on a device that you used before.",
        "locked",
        429,
        again=False,
        wait=60 * minutes,
    )


def device_name(agent: str) -> str:
    """Return a browser and a system in words, from what a browser says of itself; nothing finer is kept."""
    browsers = {
        "Edg/": "Edge",
        "OPR/": "Opera",
        "Firefox/": "Firefox",
        "Chrome/": "Chrome",
        "Safari/": "Safari",
    }
    systems = {
        "iPhone": "iPhone",
        "iPad": "iPad",
        "Android": "Android",
        "Windows": "Windows",
        "Mac OS": "Mac",
        "Linux": "Linux",
    }
    browser = next((name for sign, name in browsers.items() if sign in agent), "A program")
    system = next((name for sign, name in systems.items() if sign in agent), "")
    return f"{browser} on {system}" if system else browser
