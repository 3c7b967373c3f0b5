"""The caller, before anything is looked up: a session, or else an address.

Session keys are random and tagged, so that a made-up one is recognized without a query.  The proxy checks
the same tag (``secure_link`` in ops/nginx.conf), which is why it is an MD5 with the secret on both sides.
The tag opens nothing: it only decides whose limits a request counts for.  The row of the session decides
who is signed in.
"""

from __future__ import annotations

import base64
import hashlib
import ipaddress
import re
import secrets
import string

from django.conf import settings
from django.http import HttpRequest
from django.utils.crypto import constant_time_compare

_LETTERS = string.ascii_lowercase + string.digits
_RANDOM = 18
"""Letters: 93 bits."""
_KEY = re.compile(rf"[a-z0-9]{{{_RANDOM}}}[\w-]{{22}}", re.ASCII)


def new_key() -> str:
    """Return a key that nobody can guess, with its tag: 40 letters."""
    random = "".join(secrets.choice(_LETTERS) for _ in range(_RANDOM))
    return random + _tag(random)


def is_ours(key: str) -> bool:
    """Return whether this installation made the key.  Whether its session still holds is another question."""
    return _KEY.fullmatch(key) is not None and constant_time_compare(_tag(key[:_RANDOM]), key[_RANDOM:])


def key_of(request: HttpRequest) -> str:
    """Return the request's session key; "" where there is none, or one that somebody made up."""
    key = request.COOKIES.get(settings.SESSION_COOKIE_NAME, "")
    return key if key and is_ours(key) else ""


def network_of(request: HttpRequest) -> str:
    """Return the address that the request counts for: of IPv6 the first 64 bits, which one household has."""
    address = str(request.META.get("REMOTE_ADDR", ""))
    if ":" not in address:
        return address
    try:
        return str(ipaddress.ip_network((address.partition("%")[0], 64), strict=False))
    except ValueError:
        return address


def _tag(random: str) -> str:
    secret = settings.SESSION_SECRET
    digest = hashlib.md5(f"{secret} {random} {secret}".encode(), usedforsecurity=False).digest()
    return base64.urlsafe_b64encode(digest).rstrip(b"=").decode()
