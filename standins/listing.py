"""The listing service: a subset of the RESO Web API over ``data/listings.json``, with the papers attached to
listings as Media.

Photos are in the list of Media as anywhere, but not kept here.
"""

from __future__ import annotations

import json
import os
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from flask import Flask, Response, request, send_file

from standins.moods import give_moods
from standins.odata import BadFilter, compile_filter

DATA = Path(__file__).parent / "data" / "listings.json"
MEDIA = DATA.parent / "media"
MOST = 200


def load() -> list[dict[str, Any]]:
    """Return the listings, their dates moved on so that they are as old today as on the day the file was
    made."""
    sheet = json.loads(DATA.read_text(encoding="utf-8"))
    shift = date.today() - date.fromisoformat(sheet["made"])
    for record in sheet["value"]:
        for key, value in record.items():
            if key.endswith("Date") and value:
                record[key] = (date.fromisoformat(value) + timedelta(days=shift.days)).isoformat()
    return list(sheet["value"])


def make_app() -> Flask:
    """Return the service.  The bearer token is ``LISTING_TOKEN`` (default "demo-token")."""
    app = Flask(__name__)
    give_moods(app)
    records = load()
    media = json.loads((DATA.parent / "media.json").read_text(encoding="utf-8"))
    token = os.environ.get("LISTING_TOKEN", "demo-token")

    @app.before_request
    def guard() -> Response | None:
        if request.path.startswith("/odata") and request.headers.get("Authorization") != f"Bearer {token}":
            return _trouble(401, "A bearer token is needed.")
        return None

    @app.get("/odata/Property('<key>')")
    def one(key: str) -> Response | dict[str, Any]:
        found = next((r for r in records if r["ListingKey"] == key), None)
        return _selected(found) if found else _trouble(404, "There is no such listing.")

    @app.patch("/odata/Property('<key>')")
    def change(key: str) -> Response | dict[str, Any]:
        found = next((r for r in records if r["ListingKey"] == key), None)
        if found is None:
            return _trouble(404, "There is no such listing.")
        wanted = request.get_json(force=True)
        if not isinstance(wanted, dict) or not set(wanted) <= set(found) - {"ListingKey", "ListingId"}:
            return _trouble(400, "A change names fields of the listing.")
        found.update(wanted)  # until the stand-in is started again
        return found

    @app.get("/odata/Media")
    def papers() -> Response | dict[str, Any]:
        try:
            test = compile_filter(request.args.get("$filter", "1 eq 1"))
        except BadFilter as trouble:
            return _trouble(400, f"{trouble}.")
        return {
            "value": [
                {**m, "MediaURL": f"{request.host_url}odata/files/{m['MediaKey']}.pdf"}
                for m in media
                if test(m)
            ]
        }

    @app.get("/odata/files/<key>.pdf")
    def paper(key: str) -> Response:
        known = any(m["MediaKey"] == key and m["MediaCategory"] == "Document" for m in media)
        return (
            send_file(MEDIA / f"{key}.pdf", mimetype="application/pdf")
            if known
            else _trouble(404, "There is no such file.")
        )

    @app.get("/odata/Property")
    def many() -> Response | dict[str, Any]:
        try:
            test = compile_filter(request.args.get("$filter", "1 eq 1"))
            top, skip = min(int(request.args.get("$top", 20)), MOST), int(request.args.get("$skip", 0))
        except (BadFilter, ValueError) as trouble:
            return _trouble(400, f"{trouble}.")
        found = [r for r in records if test(r)]
        if order := request.args.get("$orderby"):
            name, _, way = order.partition(" ")
            found.sort(key=lambda r: (r.get(name) is None, r.get(name)), reverse=way == "desc")
        answer: dict[str, Any] = {
            "@odata.context": "$metadata#Property",
            "value": [_selected(r) for r in found[skip : skip + top]],
        }
        if request.args.get("$count") == "true":
            answer["@odata.count"] = len(found)
        return answer

    return app


def _selected(record: dict[str, Any]) -> dict[str, Any]:
    wanted = request.args.get("$select")
    return {k: record.get(k) for k in wanted.split(",")} if wanted else record


def _trouble(status: int, message: str) -> Response:
    return Response(
        json.dumps({"error": {"code": str(status), "message": message}}),
        status,
        content_type="application/json",
    )
