"""The property report: years with their changes, sales with the price a foot, owners read."""

from __future__ import annotations

from decimal import Decimal

from quillcore.facts.report import property_report

from tests.core.small import CATALOG

ROW = {
    "parcel": "3-0404-0084",
    "county": "Juniper",
    "situs_number": "214",
    "situs_direction": "N",
    "situs_street": "Alder",
    "situs_suffix": "Street",
    "situs_unit": "3",
    "situs_city": "Port Linden",
    "situs_state": "CW",
    "situs_zip": "09914",
    "owner": "OKAFOR AMARA J & CHIDI",
    "legal": "Lot 1",
    "living_area": "2,000 sq ft",
}
HISTORY = {
    "assessments": [
        {"year": 2026, "assessed": "412,000", "tax": "4,490.80"},
        {"year": 2024, "assessed": "400000", "tax": ""},
        {"year": 2025, "assessed": "380,000", "tax": "4142"},
        {"year": "soon", "assessed": "1"},
        "nonsense",
    ],
    "sales": [
        {"date": "2009-03-10", "price": "210000", "deed": "Book 1"},
        {"date": "2019-06-01", "price": "305,500", "deed": "Book 9"},
        {"date": "never", "price": "1"},
    ],
}


def test_a_report_orders_years_and_sales_and_works_out_what_changed() -> None:
    report = property_report(CATALOG, ROW, HISTORY)
    assert report.address == "214 N Alder Street Unit 3, Port Linden, CW 09914"
    assert [(y.year, y.assessed, y.change, y.tax) for y in report.years] == [
        (2026, Decimal("412000.00"), Decimal("8.4"), Decimal("4490.80")),
        (2025, Decimal("380000.00"), Decimal("-5.0"), Decimal("4142.00")),
        (2024, Decimal("400000.00"), None, None),
    ]
    assert [(s.on.year, s.price, s.per_foot) for s in report.sales] == [
        (2019, Decimal("305500.00"), Decimal("152.75")),
        (2009, Decimal("210000.00"), Decimal("105.00")),
    ]
    assert [o.name for o in report.owners] == ["Amara J Okafor", "Chidi Okafor"]
    assert report.sections["On the plat"] == (("Legal description", "Lot 1"),)


def test_a_parcel_of_which_little_is_known_has_a_report_all_the_same() -> None:
    report = property_report(CATALOG, {"parcel": "9-1"}, {})
    assert (report.address, report.years, report.sales, report.owners) == ("", (), (), [])
    land = property_report(CATALOG, {"parcel": "9-1"}, {"sales": [{"date": "2019-06-01", "price": "9000"}]})
    assert land.sales[0].per_foot is None, "no building, no price a foot"
