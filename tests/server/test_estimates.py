"""The money endpoints: a deal's sheets, other cases beside it, sums asked backwards; nothing is kept."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from tests.server.world import Speaker

SAID = {
    "terms.purchase_price": "612,500",
    "commission.percent": "5.25",
    "terms.title_payer": "seller",
    "terms.transfer_tax_payer": "seller",
    "terms.escrow_payer": "split equally",
    "estimate.escrow_fee": "850",
    "estimate.first_payoff": "210,000",
    "tax.annual": "4,812.36",
    "terms.closing_date": "6/15/2027",
    "terms.warranty_payer": "buyer",
}


@pytest.fixture
def selling(ines: Speaker) -> Speaker:
    """A deal of which all is known that the seller's proceeds need."""
    ines.edit(*({"op": "type", "key": key, "text": text} for key, text in SAID.items()))
    return ines


def reckoned(speaker: Speaker, *columns: dict[str, Any], sheet: str = "proceeds") -> dict[str, Any]:
    answer = speaker.post(f"{speaker.path}/estimates", sheet=sheet, columns=list(columns) or [{}])
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def amount(answer: dict[str, Any], key: str, column: int = 0) -> str | None:
    found: str | None = next(c["amount"] for c in answer["columns"][column]["cells"] if c["key"] == key)
    return found


def test_a_sheet_has_its_lines_and_says_how_each_came_about(selling: Speaker) -> None:
    answer = reckoned(selling)
    assert [one["name"] for one in answer["sheets"]] == ["cash", "monthly", "proceeds"], "a buyer's first"
    parts = [line for line in answer["lines"] if not line["is_sum"]]
    total = sum(line["sign"] * float(amount(answer, line["key"]) or 0) for line in parts)
    assert amount(answer, "estimate.proceeds") == f"{total:.2f}"
    premium = next(c for c in answer["columns"][0]["cells"] if c["key"] == "estimate.seller_title")
    assert premium["shown"] == "$2,229.25" and premium["source"] == "worked_out"
    assert "title premium" in premium["basis"]


def test_what_the_sum_waits_for_is_asked_among_what_moves_it(ines: Speaker) -> None:
    answer = reckoned(ines)
    assert amount(answer, "estimate.proceeds") is None
    asked = {fact["key"] for fact in answer["set_by"]}
    result = next(c for c in answer["columns"][0]["cells"] if c["key"] == "estimate.proceeds")
    assert result["waits"]
    assert {"commission.percent", "estimate.escrow_fee"} <= asked


def test_what_if_moves_its_own_column_and_keeps_nothing(selling: Speaker) -> None:
    seq = selling.open()["head"]["seq"]
    lower = {"otherwise": [{"key": "terms.purchase_price", "text": "600k"}]}
    answer = reckoned(selling, {}, lower)
    assert amount(answer, "estimate.price", 1) == "600000.00"
    assert amount(answer, "estimate.price") == "612500.00"
    assert float(amount(answer, "estimate.proceeds", 1) or 0) < float(
        amount(answer, "estimate.proceeds") or 0
    )
    assert selling.open()["head"]["seq"] == seq
    assert selling.fact("terms.purchase_price")["shown"] == "$612,500.00"


def test_what_can_not_be_read_in_a_case_is_said_there_and_the_rest_is_reckoned(selling: Speaker) -> None:
    answer = reckoned(selling, {"otherwise": [{"key": "terms.purchase_price", "text": "about 600"}]})
    [wrong] = answer["columns"][0]["wrong"]
    assert wrong["key"] == "terms.purchase_price" and "isn't an amount" in wrong["message"]
    assert amount(answer, "estimate.price") == "612500.00"


def test_offers_stand_beside_each_other(selling: Speaker) -> None:
    made = selling.post(
        f"{selling.path}/offers", change=str(uuid.uuid4()), name="Lower", like=selling.open()["head"]["offer"]
    ).json()
    lower = made["head"]["offer"]
    selling.post(
        f"{selling.path}/changes?offer={lower}",
        change=str(uuid.uuid4()),
        edits=[{"op": "type", "key": "terms.purchase_price", "text": "590,000"}],
    )
    first = next(o["id"] for o in made["head"]["offers"] if o["id"] != lower)
    answer = reckoned(selling, {"offer": first}, {"offer": lower})
    assert [column["name"] for column in answer["columns"]][1] == "Lower"
    assert (amount(answer, "estimate.price", 0), amount(answer, "estimate.price", 1)) == (
        "612500.00",
        "590000.00",
    )


def test_a_price_is_found_and_what_can_not_be_says_why(selling: Speaker) -> None:
    asked = {"column": {}, "vary": "terms.purchase_price", "of": "estimate.proceeds"}
    path = f"{selling.path}/estimates/solve"
    found = selling.post(path, **asked, wanted="400k").json()
    assert (found["text"], found["reached"], found["exact"]) == ("650,497.41", "$400,000.00", True)
    told = selling.post(path, **asked, wanted="much").json()
    assert told["text"] == "" and "isn't an amount" in told["message"]
    selling.edit({"op": "clear", "key": "commission.percent"})
    waits = selling.post(path, **asked, wanted="400k").json()
    assert waits["text"] == "" and "waits for" in waits["message"]


@pytest.mark.parametrize(
    ("body", "status"),
    [
        ({"columns": []}, 400),
        ({"columns": [{}] * 4}, 400),
        ({"columns": [{"otherwise": [{"key": "nobody.knows", "text": "1"}]}]}, 400),
        ({"columns": [{"otherwise": [{"key": "terms.purchase_price", "text": "1"}] * 31}]}, 400),
        ({"columns": [{"offer": 999_999}]}, 404),
        ({"columns": "x"}, 400),
        ({"sheet": "no such sheet", "columns": [{}]}, 200),
    ],
)
def test_nonsense_is_refused_in_words(ines: Speaker, body: dict[str, Any], status: int) -> None:
    assert ines.post(f"{ines.path}/estimates", **body).status_code == status


def test_only_the_questions_of_the_sheets_are_asked_backwards(ines: Speaker) -> None:
    body = {"column": {}, "vary": "tax.annual", "of": "estimate.proceeds", "wanted": "1"}
    assert ines.post(f"{ines.path}/estimates/solve", **body).status_code == 400


def test_a_sheet_takes_the_queries_of_opening_its_deals(selling: Speaker) -> None:
    reckoned(selling)
    counts = []
    for columns in ([{}], [{}, {"otherwise": [{"key": "terms.purchase_price", "text": "1"}]}]):
        with CaptureQueriesContext(connection) as seen:
            reckoned(selling, *columns)
        counts.append(len(seen))
    with CaptureQueriesContext(connection) as opening:
        selling.get(selling.path)
    assert counts[0] <= len(opening) and counts[1] <= 2 * counts[0]
