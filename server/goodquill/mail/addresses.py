"""Whether a letter can go to what somebody typed."""

from __future__ import annotations

from django.core.exceptions import ValidationError
from django.core.validators import validate_email

from goodquill.http.endpoints import Refusal


def check_address(typed: str) -> str:
    """Return the address; refused where it is none."""
    address = typed.strip()
    try:
        validate_email(address)
    except ValidationError as wrong:
        raise Refusal(
            f"“{typed}” is not an e-mail address.", "Enter it like name@example.com.", "email"
        ) from wrong
    return address
