"""The property report: from the county's roll, on the screen and as a page to print."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from decimal import Decimal
from html import escape
from typing import TYPE_CHECKING

from quillcore.facts import load_catalog
from quillcore.facts.report import Report, property_report
from quillcore.pdf.setting import set_sheet
from quillcore.values import KINDS, clock

from goodquill.http.endpoints import Refusal
from goodquill.runtime.services import Trouble
from goodquill.sources import clients

if TYPE_CHECKING:
    from goodquill.http import wire

_STYLE = """
@page { size: letter; margin: 20mm 19mm;
  @bottom-right { content: "Page " counter(page) " of " counter(pages); font-size: 8pt; }
}
html { font: 400 9.5pt/1.38 "Source Serif 4"; color: #111; }
h1 { font-size: 17pt; line-height: 1.2; margin: 0; font-weight: 600; }
h2 { font-size: 11pt; margin: 4.6mm 0 1mm; border-bottom: .6pt solid #111; break-after: avoid; }
.lede { margin: 1mm 0 0; color: #333; }
table { width: 100%; border-collapse: collapse; }
td, th { text-align: left; padding: .45mm 3mm .45mm 0; vertical-align: top; }
th { font-weight: 600; }
tr { break-inside: avoid; }
.label { width: 46mm; color: #444; font-weight: 400; }
.n { text-align: right; }
.foot { margin-top: 8mm; font-size: 8.4pt; color: #444; }
"""


def report_of(county: str, parcel: str) -> Report:
    """Return the report of one parcel.  Refuses one that the roll doesn't have, and while the roll can't be
    asked."""
    rows = clients.parcels(county or "any", parcel=parcel)
    if isinstance(rows, Trouble):
        raise Refusal(rows.message, "Nothing was changed.", "source", 503)
    if not rows:
        raise Refusal(
            f"The tax roll has no parcel “{parcel}”.", "Check the number and the county.", "parcel", 404
        )
    history = clients.parcel_history(
        str(rows[0].get("county") or county), str(rows[0].get("parcel") or parcel)
    )
    return property_report(load_catalog(), rows[0], {} if isinstance(history, Trouble) else history)


def _money(amount: Decimal | None) -> str:
    return "" if amount is None else KINDS["money"].on_screen(amount).removesuffix(".00")


def _day(on: date) -> str:
    return KINDS["date"].on_screen(on)


def as_data(report: Report) -> wire.Report:
    """Return the report as screens get it: texts, ready to be read."""
    return {
        "address": report.address,
        "parcel": report.parcel,
        "county": report.county,
        "sections": [
            {"title": title, "rows": [{"label": label, "text": text} for label, text in rows]}
            for title, rows in report.sections.items()
            if rows
        ],
        "owners": [
            {"name": o.name or "Unnamed owner", "capacity": o.capacity, "ask": o.ask or ""}
            for o in report.owners
        ],
        "years": [
            {
                "year": y.year,
                "assessed": _money(y.assessed),
                "change": "" if y.change is None else f"{y.change:+}%".replace("+0.0", "0"),
                "tax": "" if y.tax is None else KINDS["money"].on_screen(y.tax),
            }
            for y in report.years
        ],
        "sales": [
            {
                "on": _day(s.on),
                "price": _money(s.price),
                "per_foot": "" if s.per_foot is None else KINDS["money"].on_screen(s.per_foot),
                "deed": s.deed,
            }
            for s in report.sales
        ],
    }


def as_pdf(report: Report, made_for: str) -> bytes:
    """Return the same as a page to print."""
    data = as_data(report)

    def table(heads: Sequence[str], rows: Sequence[Sequence[str]]) -> str:
        head = "".join(f'<th class="{"n" if n else ""}">{escape(h)}</th>' for n, h in enumerate(heads))
        body = "".join(
            "<tr>"
            + "".join(f'<td class="{"n" if n else ""}">{escape(c)}</td>' for n, c in enumerate(row))
            + "</tr>"
            for row in rows
        )
        return f"<table><tr>{head}</tr>{body}</table>"

    parts = [
        f"<h1>{escape(report.address)}</h1>",
        f'<p class="lede">Parcel {escape(report.parcel)}, {escape(report.county)} County</p>',
    ]
    for section in data["sections"]:
        rows = [(r["label"], r["text"]) for r in section["rows"]]
        if section["title"] == "Ownership":
            rows += [
                ("Read as", f"{o['name']}{', ' + o['capacity'] if o['capacity'] else ''}")
                for o in data["owners"]
            ]
        body = "".join(
            f'<tr><td class="label">{escape(label)}</td><td>{escape(text)}</td></tr>' for label, text in rows
        )
        parts.append(f"<h2>{escape(section['title'])}</h2><table>{body}</table>")
    if data["years"]:
        parts.append(
            "<h2>Assessment and taxes by year</h2>"
            + table(
                ("Year", "Assessed", "Change", "Tax"),
                [(str(y["year"]), y["assessed"], y["change"], y["tax"]) for y in data["years"]],
            )
        )
    if data["sales"]:
        parts.append(
            "<h2>Sales</h2>"
            + table(
                ("Date", "Price", "A square foot", "Deed"),
                [(s["on"], s["price"], s["per_foot"], s["deed"]) for s in data["sales"]],
            )
        )
    parts.append(
        f'<p class="foot">From the county’s tax roll on {escape(_day(clock.today()))}, for'
        f" {escape(made_for)}. The record itself is what counts.</p>"
    )
    return set_sheet("".join(parts), _STYLE, escape(report.address))
