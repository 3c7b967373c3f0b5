"""The stand-ins over real HTTP: the parts of open protocols that they promise."""

from __future__ import annotations

from datetime import date
from typing import Any

import httpx
import pytest
from asn1crypto import algos, tsp
from django.conf import settings

from standins.odata import BadFilter, compile_filter
from tests.running import LOOPBACK

pytestmark = pytest.mark.usefixtures("stand_ins")


def listings(**query: str) -> Any:
    headers = {"Authorization": f"Bearer {settings.LISTING_SERVICE['token']}"}
    return httpx.get(
        f"{settings.LISTING_SERVICE['url']}/odata/Property",
        params={f"${k}": v for k, v in query.items()},
        headers=headers,
        **LOOPBACK,
    )


def test_the_listing_service_filters_selects_orders_pages_and_counts() -> None:
    found = listings(
        filter="StandardStatus eq 'Active' and ListPrice ge 300000",
        orderby="ListPrice desc",
        top="3",
        select="ListingId,ListPrice",
        count="true",
    ).json()
    prices = [r["ListPrice"] for r in found["value"]]
    assert prices == sorted(prices, reverse=True)
    assert len(prices) == 3
    assert found["@odata.count"] > 3
    assert set(found["value"][0]) == {"ListingId", "ListPrice"}
    assert listings(top="1", skip="1").json()["value"][0]["ListingId"] == "26-1111"
    assert listings(filter="nonsense (").status_code == 400


def test_the_listing_service_wants_its_token_and_knows_single_listings() -> None:
    url = f"{settings.LISTING_SERVICE['url']}/odata/Property"
    assert httpx.get(url, **LOOPBACK).status_code == 401
    headers = {"Authorization": "Bearer demo-token"}
    assert httpx.get(f"{url}('26110400')", headers=headers, **LOOPBACK).json()["ListingId"] == "26-1104"
    assert httpx.get(f"{url}('1')", headers=headers, **LOOPBACK).status_code == 404


def test_listings_never_look_stale() -> None:
    days = [date.fromisoformat(r["ListingContractDate"]) for r in listings(top="60").json()["value"]]
    assert max(days) <= date.today()
    assert (date.today() - min(days)).days < 90


@pytest.mark.parametrize(
    ("text", "fits"),
    [
        ("a eq 1 or b eq 'X'", True),
        ("not (a eq 1)", False),
        ("contains(b,'x')", True),
        ("startswith(tolower(b),'y')", False),
        ("c eq null", True),
        ("a gt 0 and a lt 2", True),
        ("b eq 'it''s'", False),
        ("d ge 2027-01-01", True),
        ("c gt 1", False),
    ],
)
def test_filters(text: str, fits: bool) -> None:
    assert compile_filter(text)({"a": 1, "b": "x", "c": None, "d": "2027-05-01"}) is fits


@pytest.mark.parametrize("text", ["a eq", "eq 1", "(a eq 1", "a eq 1 b", "sum(a) eq 1", "a ~ 1"])
def test_filters_that_make_no_sense_are_refused(text: str) -> None:
    with pytest.raises(BadFilter):
        compile_filter(text)


def roll(county: str, **query: str) -> Any:
    return httpx.get(
        f"{settings.COUNTY_ROLL['url']}/counties/{county}/parcels", params=query, **LOOPBACK
    ).json()


def test_the_roll_is_searched_by_parcel_owner_and_address_and_given_whole() -> None:
    one = roll("juniper", parcel="3-0400-0001")["parcels"][0]
    assert roll("juniper", parcel="304000001")["parcels"] == [one]
    assert one in roll("juniper", owner=one["owner"])["parcels"]
    assert one in roll("any", address=f"{one['situs_number']} {one['situs_street'].lower()}")["parcels"]
    assert "error" in roll("nowhere", parcel="1")
    csv = httpx.get(f"{settings.COUNTY_ROLL['url']}/counties/linden.csv", **LOOPBACK)
    assert csv.text.count("\n") == 481
    names = httpx.get(f"{settings.COUNTY_ROLL['url']}/counties", **LOOPBACK).json()["counties"]
    assert sum(c["parcels"] for c in names) == 2000


def test_the_time_stamp_service_stamps_requests_and_refuses_nonsense(stamps: None) -> None:
    url, kind = settings.TIME_STAMPS["url"], {"Content-Type": "application/timestamp-query"}
    digest = algos.DigestAlgorithm({"algorithm": "sha256"})
    imprint = tsp.MessageImprint({"hash_algorithm": digest, "hashed_message": b"x" * 32})
    asked = tsp.TimeStampReq({"version": "v1", "message_imprint": imprint, "nonce": 7, "cert_req": True})
    answer = httpx.post(url, content=asked.dump(), headers=kind, **LOOPBACK)
    assert answer.headers["Content-Type"].startswith("application/timestamp-reply")
    told = tsp.TimeStampResp.load(answer.content)
    assert told["status"]["status"].native == "granted"
    info = told["time_stamp_token"]["content"]["encap_content_info"]["content"].parsed
    assert info["nonce"].native == 7 and info["message_imprint"]["hashed_message"].native == b"x" * 32
    assert httpx.post(url, content=b"nonsense", headers=kind, **LOOPBACK).status_code == 400
    assert httpx.post(url, content=b"0" * 20_000, headers=kind, **LOOPBACK).status_code == 413
