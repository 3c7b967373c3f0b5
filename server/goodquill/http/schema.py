"""The API's description beyond each endpoint: signing in, and that every one may answer with a problem.

The views' own class for it is taken from here, so that what describes them is imported with views alone: the
worker and the clock, which have none, start a third of a second earlier.
"""

from __future__ import annotations

from typing import Any

from drf_spectacular.extensions import OpenApiAuthenticationExtension
from drf_spectacular.openapi import AutoSchema

__all__ = ["AutoSchema", "SignedInScheme", "with_problems"]

PROBLEM = {
    "type": "object",
    "description": (
        "What went wrong, in words (RFC 9457). `again` says whether the same request may be answered if it is"
        " sent again."
    ),
    "properties": {
        "title": {"type": "string"},
        "status": {"type": "integer"},
        "detail": {"type": "string"},
        "mend": {"type": "string"},
        "rule": {"type": "string"},
        "again": {"type": "boolean"},
        "errors": {"type": "object", "additionalProperties": True},
    },
    "required": ["title", "status", "detail", "mend", "rule", "again"],
}


class SignedInScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]  # half typed
    """The description of the session."""

    target_class = "goodquill.http.endpoints.SignedIn"
    name = "session"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        """Return a cookie."""
        return {"type": "apiKey", "in": "cookie", "name": "sessionid"}


def with_problems(result: dict[str, Any], generator: Any, request: Any, public: bool) -> dict[str, Any]:
    """Add the problem to every operation, and the key under which what makes something is done once."""
    result["components"]["schemas"]["Problem"] = PROBLEM
    answer = {
        "description": "A problem",
        "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
    }
    for methods in result["paths"].values():
        for operation in methods.values():
            if isinstance(operation, dict) and "responses" in operation:
                operation["responses"]["default"] = answer
    return result
