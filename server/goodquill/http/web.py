"""The page that carries the web application, with its content security nonce."""

from __future__ import annotations

from functools import lru_cache

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse

OF_STRANGERS = ("/sign", "/papers", "/verify")
"""Pages for whoever has no account: a bundle of their own, small enough for a phone on a bad line."""


@lru_cache(maxsize=2)
def _page(name: str) -> str:
    return (settings.ROOT / "web" / "dist" / name).read_text(encoding="utf-8")


def index(request: HttpRequest) -> HttpResponse:
    """Return the application's page for every address that isn't a file; scripts and styles carry this
    request's nonce."""
    if "." in request.path.rsplit("/", 1)[-1]:
        raise Http404
    nonce = str(request.csp_nonce)  # type: ignore[attr-defined]
    name = "sign.html" if request.path in OF_STRANGERS else "app.html"
    answer = HttpResponse(_page(name).replace("__NONCE__", nonce))
    answer["Cache-Control"] = "no-store"
    return answer


def alive(_request: HttpRequest) -> JsonResponse:
    """Answer the start command and load balancers."""
    return JsonResponse({"alive": True})


def no_such_endpoint(_request: HttpRequest) -> HttpResponse:
    """Return an unknown API address answers as an API does."""
    raise Http404
