"""Being slow, down or wrong on purpose, so that the product can be tried against it.

``POST /_mood {"mood": "well"|"slow"|"down"|"nonsense", "seconds": 3}`` changes it while it runs.
"""

from __future__ import annotations

import time
from typing import Any

from flask import Flask, Response, request

MOODS = ("well", "slow", "down", "nonsense")


def give_moods(app: Flask) -> dict[str, Any]:
    """Add the control and what each mood does to every other request; gives the mood as it is at any time."""
    state: dict[str, Any] = {"mood": "well", "seconds": 3.0}

    @app.post("/_mood")
    def set_mood() -> tuple[dict[str, Any], int]:
        wanted = request.get_json(force=True)
        if wanted.get("mood") not in MOODS:
            return {"error": f"A mood is one of {', '.join(MOODS)}."}, 400
        state.update(mood=wanted["mood"], seconds=float(wanted.get("seconds", 3)))
        return dict(state), 200

    @app.get("/_alive")
    def alive() -> dict[str, bool]:
        return {"alive": True}

    @app.before_request
    def suffer() -> Response | None:
        if request.path in ("/_mood", "/_alive") or state["mood"] == "well":
            return None
        if state["mood"] == "slow":
            time.sleep(state["seconds"])
            return None
        if state["mood"] == "down":
            return Response("Service Unavailable", 503)
        return Response("<html>\x00 Totally { not JSON", 200, content_type="application/json")

    return state
