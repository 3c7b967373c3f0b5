"""Asking an outside service: bounded in time, and never believed without a look."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import httpx
from django.conf import settings
from quillcore.values import Fault
from quillcore.values.structured import read_json

from goodquill.http.limits import MOST_ANSWERED, MOST_FETCHED


@dataclass(frozen=True)
class Trouble:
    """A service that could not be used, in a sentence for the user."""

    service: str
    message: str


@lru_cache(maxsize=1)
def _client() -> httpx.Client:
    """Return one client for all requests: making its certificates ready takes longer than most answers."""
    return httpx.Client(timeout=settings.SOURCE_TIMEOUT, trust_env=False)


def fetch(service: str, url: str, headers: dict[str, str]) -> bytes | Trouble:
    """Return a file of the service's, as far as it is of a size that can be handled."""
    try:
        with _client().stream("GET", url, headers=headers) as answer:
            answer.raise_for_status()
            content = bytearray()
            for part in answer.iter_bytes():
                content += part
                if len(content) > MOST_FETCHED:
                    return Trouble(
                        service,
                        f"A file of the {service}'s is larger than {MOST_FETCHED // 1_000_000} MB. It was"
                        " left there.",
                    )
    except (httpx.HTTPError, httpx.InvalidURL, ValueError):
        return Trouble(
            service,
            f"A file of the {service}'s can't be downloaded now. Continue without it and try again later.",
        )
    return bytes(content)


def ask(
    service: str,
    url: str,
    params: dict[str, str],
    headers: dict[str, str] | None = None,
    may_be_missing: bool = False,
) -> Any | Trouble:
    """Return what the service answers, always an object; with ``may_be_missing`` an empty one where it has
    nothing under the address."""
    nonsense = Trouble(
        service,
        f"The {service} can't be reached, or its answer can't be read."
        " Continue without it and try again later.",
    )
    try:
        answer = _client().get(url, params=params, headers=headers)
        answer.raise_for_status()
        found = read_json(answer.text) if len(answer.content) <= MOST_ANSWERED else nonsense
    except httpx.TimeoutException:
        return Trouble(
            service,
            f"The {service} did not answer in {settings.SOURCE_TIMEOUT:g} seconds. Go on without it and try"
            " again later.",
        )
    except httpx.HTTPStatusError as error:
        if may_be_missing and error.response.status_code == 404:
            return {}
        return Trouble(
            service,
            f"The {service} refused the request ({error.response.status_code}). Go on without it and try"
            " again later.",
        )
    except (httpx.HTTPError, httpx.InvalidURL, ValueError):
        return nonsense
    return found if isinstance(found, dict) and not isinstance(found, Fault) else nonsense
