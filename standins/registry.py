"""The member registry of an association: who is a member, and until when, over ``data/members.json``."""

from __future__ import annotations

import json
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from flask import Flask, Response, request

from standins.moods import give_moods

ASSOCIATION = "Calloway Association of Real Estate Licensees"
DATA = Path(__file__).parent / "data" / "members.json"


def load() -> list[dict[str, Any]]:
    """Return the members; a membership's last day is so many days from today."""
    rows = json.loads(DATA.read_text(encoding="utf-8"))
    return [
        {
            **{k: v for k, v in row.items() if k != "days_left"},
            "association": ASSOCIATION,
            "expires": (date.today() + timedelta(days=row["days_left"])).isoformat(),
        }
        for row in rows
    ]


def make_app() -> Flask:
    """Return the service: ``/members/<number>``, and ``/members?name=&licence=`` for one who has forgotten
    the number."""
    app = Flask(__name__)
    give_moods(app)
    members = load()

    @app.get("/members/<number>")
    def one(number: str) -> Response | dict[str, Any]:
        found = next((m for m in members if m["number"] == number.upper()), None)
        return (
            {"member": found}
            if found
            else Response(json.dumps({"error": "There is no such member."}), 404, mimetype="application/json")
        )

    @app.get("/members")
    def find() -> dict[str, Any]:
        name, licence = (
            request.args.get("name", "").casefold().strip(),
            request.args.get("licence", "").casefold().strip(),
        )
        found = [
            m
            for m in members
            if name and licence and m["name"].casefold() == name and m["licence"].casefold() == licence
        ]
        return {"members": found}

    return app
