"""The proofread of a deal: told with its places, mended in one action, left with a reason."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from goodquill.deals.models import Deal
from goodquill.proofreading.models import Reason

from tests.server.world import Speaker, World, new_deal


class Reader(Speaker):
    """Somebody who proofreads a deal."""

    def proof(self) -> dict[str, Any]:
        answer = self.get(f"{self.path}/proof")
        assert answer.status_code == 200, answer.json()
        return dict(answer.json())

    def remark(self, rule: str, words: str = "") -> dict[str, Any]:
        found = [r for r in self.proof()["remarks"] if r["rule"] == rule and words in r["message"]]
        assert found, (rule, words)
        return dict(found[0])

    def leave(self, mark: str, reason: str) -> Any:
        return self.post(f"{self.path}/proof", mark=mark, reason=reason)


@pytest.fixture
def reader(world: World) -> Reader:
    return Reader(world.ines, world.deal)


def test_what_is_open_is_told_where_it_stands(reader: Reader) -> None:
    proof = reader.proof()
    assert not proof["ready"]
    price = reader.remark("open", "Purchase price")
    assert (price["weight"], price["key"], price["place"][:3]) == ("must", "terms.purchase_price", "301")
    assert price["document"] and price["field"]
    reader.type("terms.purchase_price", "412,500")
    assert not any("Purchase price is open" in r["message"] for r in reader.proof()["remarks"])


def test_a_mend_is_one_change_that_can_be_taken_back(reader: Reader) -> None:
    reader.type("terms.backup", "yes")
    called = reader.remark("called for", "326")
    assert called["does"]["add"] == "326"
    body = {"change": str(uuid.uuid4()), "op": "add", "numbers": [called["does"]["add"]]}
    added = reader.post(f"{reader.path}/package", **body).json()
    assert not any(r["rule"] == "called for" for r in reader.proof()["remarks"] if "326" in r["message"])
    reader.undo(added["change"])
    assert reader.remark("called for", "326")


def test_a_remark_is_left_with_a_reason_until_it_says_something_else(world: World, reader: Reader) -> None:
    reader.type("terms.purchase_price", "412")
    odd = reader.remark("price")
    left = reader.leave(odd["mark"], "A share of a garage").json()
    row = next(r for r in left["remarks"] if r["mark"] == odd["mark"])
    assert (row["left"]["reason"], row["left"]["by"]) == ("A share of a garage", "Ines")
    reader.type("terms.purchase_price", "413")
    assert reader.remark("price")["left"] is None, "it is another remark now"
    reader.type("terms.purchase_price", "412")
    assert reader.remark("price")["left"]["reason"] == "A share of a garage"
    reader.leave(odd["mark"], "")
    assert reader.remark("price")["left"] is None
    assert reader.leave("0" * 64, "No such").status_code == 404


def test_a_package_is_ready_when_nothing_that_must_be_mended_is_without_a_reason(
    world: World, reader: Reader
) -> None:
    must = [r for r in reader.proof()["remarks"] if r["weight"] == "must"]
    *most, last = must
    said = {"deal": world.deal, "reason": "For the test", "by": world.ines}
    Reason.objects.bulk_create([Reason(mark=r["mark"], message=r["message"], **said) for r in most])
    assert not reader.proof()["ready"]
    reader.leave(last["mark"], "For the test")
    assert reader.proof()["ready"]


def test_the_proofread_takes_a_fixed_number_of_queries(world: World, reader: Reader) -> None:
    def asked(speaker: Reader) -> int:
        speaker.proof()
        with CaptureQueriesContext(connection) as queries:
            speaker.proof()
        return len(queries)

    few = asked(reader)
    for number in ("401", "410", "412", "326"):
        reader.post(f"{reader.path}/package", change=str(uuid.uuid4()), op="add", number=number)
    assert asked(reader) == few <= 16


def test_a_template_has_no_reasons_and_others_deals_no_proof(world: World, reader: Reader) -> None:
    begun = reader.post("/api/templates", name="Mine", side="buying").json()
    copy = reader.get(f"/api/templates/{begun['id']}").json()["working_copy"]
    template = Reader(world.ines, Deal.objects.get(pk=copy))
    assert template.get(f"{template.path}/proof").status_code == 200
    assert template.leave("0" * 64, "x").status_code == 409
    his = Reader(world.bertil, new_deal(world.bertil, world.template, "Cy", "Voss"))
    assert Reader(world.ines, his.deal).get(f"{his.path}/proof").status_code == 404
