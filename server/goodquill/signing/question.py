"""The question that a sender may choose as a signer's second step."""

from __future__ import annotations

from django.utils.crypto import salted_hmac


def hash_of_answer(question: str, said: str) -> str:
    """Return what is kept of an answer: capitals, blanks and points don't count; "" for one without
    letters."""
    plain = "".join(c for c in said.casefold() if c.isalnum())
    if not plain:
        return ""
    return salted_hmac("goodquill.signing.answer", f"{question}:{plain}", algorithm="sha256").hexdigest()
