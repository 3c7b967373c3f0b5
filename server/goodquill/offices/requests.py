"""A request by somebody signed in."""

from __future__ import annotations

from rest_framework.request import Request

from goodquill.offices.models import User


class MemberRequest(Request):
    """As endpoints get it that answer members alone: none of them is anonymous."""

    user: User
