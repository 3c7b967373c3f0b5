"""The county tax roll: parcels of three counties over ``data/roll/*.csv``."""

from __future__ import annotations

import csv
import json
import random
import re
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from flask import Flask, Response, request, send_file

from standins.moods import give_moods

DATA = Path(__file__).parent / "data" / "roll"
MOST = 50


def _bare(text: str) -> str:
    return re.sub(r"[^a-z0-9]+", " ", text.lower()).strip()


def load() -> dict[str, list[dict[str, str]]]:
    """Return rows of each county's file."""
    return {
        p.stem: list(csv.DictReader(p.open(encoding="utf-8", newline=""))) for p in sorted(DATA.glob("*.csv"))
    }


def make_app() -> Flask:
    """Return the service: ``/counties``, ``/counties/<county>/parcels?parcel=|owner=|address=``,
    ``/counties/<county>.csv``."""
    app = Flask(__name__)
    give_moods(app)
    counties = load()

    @app.get("/counties")
    def names() -> dict[str, Any]:
        return {"counties": [{"name": name.title(), "parcels": len(rows)} for name, rows in counties.items()]}

    @app.get("/counties/<county>.csv")
    def whole(county: str) -> Response:
        return (
            send_file(DATA / f"{county.lower()}.csv", mimetype="text/csv")
            if county.lower() in counties
            else _trouble(404, "There is no such county.")
        )

    @app.get("/counties/<county>/parcels")
    def parcels(county: str) -> Response | dict[str, Any]:
        wanted = counties if county == "any" else {county.lower(): counties.get(county.lower())}
        if None in wanted.values():
            return _trouble(404, "There is no such county.")
        rows = [row for found in wanted.values() for row in found or []]
        if parcel := request.args.get("parcel"):
            bare = re.sub(r"\D", "", parcel)
            rows = [r for r in rows if bare and re.sub(r"\D", "", r["parcel"]) == bare]
        if owner := request.args.get("owner"):
            rows = [r for r in rows if all(w in _bare(r["owner"]) for w in _bare(owner).split())]
        if address := request.args.get("address"):
            rows = [r for r in rows if all(_begins(w, _situs(r)) for w in _bare(address).split())]
        return {"count": len(rows), "parcels": _of_each(rows)[:MOST]}

    @app.get("/counties/<county>/parcels/<parcel>/history")
    def history(county: str, parcel: str) -> Response | dict[str, Any]:
        row = next((r for r in counties.get(county.lower(), []) if r["parcel"] == parcel), None)
        return _history(row) if row else _trouble(404, "There is no such parcel.")

    return app


def _begins(word: str, there: list[str]) -> bool:
    return any(known.startswith(word) for known in there)


def _of_each(rows: list[dict[str, str]]) -> list[dict[str, str]]:
    """Return one row of each county after the other."""
    seen: dict[str, int] = {}
    places = []
    for row in rows:
        seen[row["county"]] = seen.get(row["county"], 0) + 1
        places.append(seen[row["county"]])
    return [row for _, row in sorted(zip(places, rows, strict=True), key=lambda pair: pair[0])]


def _history(row: dict[str, str]) -> dict[str, Any]:
    """Return six years back from the row's own, and the last two sales: made up, but always the same for a
    parcel."""
    r = random.Random(row["parcel"])
    year, assessed, rate = (
        int(row["tax_year"]),
        float(row["assessed"]),
        float(row["annual_tax"]) / float(row["assessed"]),
    )
    assessments = []
    for back in range(6):
        assessments.append(
            {
                "year": year - back,
                "assessed": f"{assessed:.0f}",
                "tax": row["annual_tax"] if back == 0 else f"{assessed * rate:.2f}",
            }
        )
        assessed = round(assessed / (1 + r.choice([0, 0.02, 0.035, 0.061, 0.11])), -3)
    sales = [{"date": row["last_sale_date"], "price": row["last_sale_price"], "deed": row["deed"]}]
    before = date.fromisoformat(row["last_sale_date"]) - timedelta(days=r.randint(1200, 5200))
    if not row["year_built"] or before.year > int(row["year_built"]):
        sales.append(
            {
                "date": before.isoformat(),
                "price": f"{float(row['last_sale_price']) * r.uniform(0.5, 0.9):.0f}",
                "deed": f"Book {r.randint(40, 99)}, page {r.randint(1, 700)}",
            }
        )
    return {"assessments": assessments, "sales": sales}


def _situs(row: dict[str, str]) -> list[str]:
    parts = (
        "situs_number",
        "situs_direction",
        "situs_street",
        "situs_suffix",
        "situs_unit",
        "situs_city",
        "situs_zip",
    )
    return _bare(" ".join(row[p] for p in parts)).split()


def _trouble(status: int, message: str) -> Response:
    return Response(json.dumps({"error": message}), status, content_type="application/json")
