"""Every answer that the server's tests get is held against the schema that the web's types are made from."""

from __future__ import annotations

import re
from functools import cache
from typing import Any

import yaml
from django.test import Client
from django.urls import Resolver404, resolve
from jsonschema_rs import Draft202012Validator

from tests.core.small import ROOT


@cache
def written_schema() -> dict[str, Any]:
    """The schema of all that the server offers, as OpenAPI: as it was written down, which a test holds
    against what the server says now."""
    return dict(yaml.load((ROOT / "server" / "schema.yaml").read_bytes(), Loader=yaml.CSafeLoader))


@cache
def schema() -> dict[str, Any]:
    """The same as JSON Schema."""
    return dict(_plain(written_schema()))


def _plain(node: Any) -> Any:
    """OpenAPI 3.0 as JSON Schema: what may be null says so as a type of its own; what isn't named isn't
    there."""
    if isinstance(node, list):
        return [_plain(one) for one in node]
    if not isinstance(node, dict):
        return node
    made = {
        key: _plain(value)
        for key, value in node.items()
        if key not in ("nullable", "readOnly", "description", "format")
    }
    if made.get("type") == "object" and "properties" in made and "additionalProperties" not in made:
        made["additionalProperties"] = False
    return {"anyOf": [made, {"type": "null"}]} if node.get("nullable") else made


@cache
def _operations() -> dict[tuple[str, str], dict[str, Any]]:
    """By path as Django's routes write it, and method: the answers in JSON, by status."""
    found = {}
    for path, methods in schema()["paths"].items():
        for method, operation in methods.items():
            if isinstance(operation, dict) and "responses" in operation:
                found[(_holes(path), method.upper())] = operation["responses"]
    return found


def _holes(path: str) -> str:
    return re.sub(r"\{[^}]*\}|<[^>]*>", "{}", path.strip("/"))


@cache
def _validator(route: str, method: str, status: str) -> Draft202012Validator | None:
    answers = _operations().get((route, method), {})
    wanted = answers.get(status, {}).get("content", {}).get("application/json", {}).get("schema")
    return (
        Draft202012Validator({**wanted, "components": schema()["components"]}) if wanted is not None else None
    )


def hold_against_schema(path: str, method: str, answer: Any) -> None:
    """Fail where an answer isn't what the schema says of it."""
    if not answer.headers.get("Content-Type", "").startswith("application/json") or not path.startswith(
        "/api/"
    ):
        return
    try:
        route = _holes(resolve(path.partition("?")[0]).route)
    except Resolver404:
        return
    if (route, method) not in _operations():
        return
    validator = _validator(route, method, str(answer.status_code))
    assert validator is not None, (
        f"{method} {route} answered {answer.status_code}, of which the schema doesn't know"
    )
    wrong = next(validator.iter_errors(answer.json()), None)
    assert wrong is None, f"{method} {route}: {wrong.instance_path}: {wrong.message[:300]}"  # type: ignore[union-attr]


class CheckedClient(Client):
    """Django's client, whose answers are checked."""

    def request(self, **request: Any) -> Any:
        answer = super().request(**request)
        hold_against_schema(request["PATH_INFO"], request["REQUEST_METHOD"], answer)
        return answer
