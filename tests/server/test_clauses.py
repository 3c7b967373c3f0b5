"""Clauses: whose they are, put into blanks, followed, and told when they were changed since."""

from __future__ import annotations

from typing import Any

import pytest
from goodquill.clauses.models import Use
from goodquill.offices.models import User

from tests.server.test_templates import Writer
from tests.server.world import Speaker, World, new_deal

TERMS, PRICE = "terms.additional_terms", "terms.purchase_price"
SAID = "If it appraises below {terms.purchase_price}, Buyer may end this."


@pytest.fixture
def broker(world: World) -> Speaker:
    return Speaker(world.rosa, world.deal)


@pytest.fixture
def bertil(world: World) -> Speaker:
    return Speaker(world.bertil)


def kept(by: Speaker, **more: Any) -> dict[str, Any]:
    answer = by.post("/api/clauses", **{"name": "Low appraisal", "wording": SAID, **more})
    assert answer.status_code == 201, answer.content
    return dict(answer.json())


def names(by: Speaker) -> set[str]:
    return {c["name"] for c in by.get("/api/clauses").json()}


def insert(by: Speaker, clause: dict[str, Any], **more: Any) -> Any:
    edit = {"op": "insert", "key": TERMS, "text": clause["wording"], "clause": clause["ref"], **more}
    return by.edit(edit)


def shown(by: Speaker, key: str = TERMS) -> str:
    return next((str(f.get("shown", "")) for f in by.open()["facts"] if f["key"] == key), "")


def remarks(by: Speaker, rule: str) -> list[dict[str, Any]]:
    return [r for r in by.get(f"{by.path}/proof").json()["remarks"] if r["rule"] == rule]


def test_ones_own_is_seen_by_nobody_else_and_the_offices_by_its_office(
    ines: Speaker, broker: Speaker, bertil: Speaker, world: World
) -> None:
    kept(ines, name="Mine")
    kept(broker, name="Ours", reach="office")
    kept(broker, name="Everybody's", reach="brokerage")
    assert names(ines) >= {"Mine", "Everybody's"}
    assert "Mine" not in names(broker) | names(bertil)
    of_the_office = world.rosa.office
    for user in User.objects.filter(brokerage=world.ines.brokerage, is_active=True):
        assert ("Ours" in names(Speaker(user))) == (user.office == of_the_office or user.role == "broker")
    nadia = Speaker(world.nadia)
    assert names(nadia).isdisjoint({"Mine", "Ours", "Everybody's"})


def test_only_a_broker_keeps_for_others_and_approves(ines: Speaker, broker: Speaker) -> None:
    for more in ({"reach": "brokerage"}, {"reach": "office"}, {"approved": True}):
        refused = ines.post("/api/clauses", name="X", wording="Y.", **more)
        assert refused.status_code == 403 and refused.json()["mend"], more
    clause = kept(broker, reach="brokerage", approved=True)
    assert clause["approved_by"] and clause["approved_on"]
    path = f"/api/clauses/{clause['id']}"
    for answer in (
        ines.post(path, name="X", wording="Y.", based_on=1),
        ines.client.delete(path),
        ines.post(f"{path}/restore"),
    ):
        assert answer.status_code == 404
    assert next(c for c in ines.get("/api/clauses").json() if c["id"] == clause["id"])["may_write"] is False


def test_an_approval_is_of_one_wording(broker: Speaker) -> None:
    clause = kept(broker, reach="brokerage", approved=True)
    path = f"/api/clauses/{clause['id']}"
    same = {"name": clause["name"], "reach": "brokerage", "based_on": 1}
    changed = broker.post(path, **same, wording="Another wording.", approved=False).json()
    assert changed["approved_by"] == "" and changed["number"] == 2
    assert broker.post(path, **{**same, "based_on": 2}, wording="Another wording.", approved=True).json()[
        "approved_by"
    ]


@pytest.mark.parametrize(
    ("wording", "says"),
    [("Pay {no.fact}.", "not a fact"), ("Pay { now", "stands alone"), (" \n ", ""), ("x" * 6_001, "most")],
)
def test_a_wording_that_makes_no_sense_is_refused_with_the_reason(
    ines: Speaker, wording: str, says: str
) -> None:
    refused = ines.post("/api/clauses", name="X", wording=wording)
    assert refused.status_code == 400 and says in str(refused.json())


def test_two_who_change_it_at_once_lose_nothing(ines: Speaker) -> None:
    clause = kept(ines)
    path = f"/api/clauses/{clause['id']}"
    assert ines.post(path, name="A", wording="One.", based_on=1).status_code == 200
    late = ines.post(path, name="A", wording="Two.", based_on=1)
    assert late.status_code == 409 and "still here" in late.json()["mend"]
    said = ines.get(path).json()
    assert said["wording"] == "One." and [v["wording"] for v in said["versions"]] == ["One.", SAID]


def test_removed_it_is_off_the_list_goes_on_standing_and_comes_back(ines: Speaker) -> None:
    clause = kept(ines)
    insert(ines, clause)
    assert ines.client.delete(f"/api/clauses/{clause['id']}").status_code == 204
    assert clause["name"] not in names(ines) and "Buyer may end this" in shown(ines)
    assert remarks(ines, "clause changed") == []
    assert ines.post(f"/api/clauses/{clause['id']}/restore").status_code == 204
    assert clause["name"] in names(ines)


def test_in_a_deal_its_facts_follow_and_undo_takes_it_out(ines: Speaker) -> None:
    before = shown(ines)
    clause = kept(ines)
    answer = insert(ines, clause, before=before)
    assert answer.status_code == 200 and "clause" in answer.json()["said"].lower()
    ines.type(PRICE, "401,000")
    assert "below $401,000.00, Buyer" in shown(ines)
    on_paper = [b for b in ines.open()["blanks"] if "$401,000.00, Buyer" in b.get("text", "")]
    assert on_paper, "it prints"
    history = ines.get(f"{ines.path}/history").json()
    assert any("[Purchase price]" in move["after"] for c in history for move in c["moves"])
    ines.undo(answer.json()["change"])
    assert shown(ines) == before and not Use.objects.exists()


def test_where_it_stands_is_told_as_it_comes_and_goes(ines: Speaker, broker: Speaker) -> None:
    clause = kept(broker, reach="brokerage")
    path = f"/api/clauses/{clause['id']}"
    assert ines.get(path).json()["uses"] == []
    insert(ines, clause)
    [use] = ines.get(path).json()["uses"]
    assert use["deal"] == ines.path.rpartition("/")[2] and use["label"] == "Additional terms"
    assert ines.get(path).json()["used"] == 1
    ines.type(TERMS, shown(ines).replace("may end", "may in writing end"))
    assert len(ines.get(path).json()["uses"]) == 1, "typed around it is still there"
    ines.type(TERMS, "Nothing.")
    assert ines.get(path).json()["uses"] == []


def test_a_deal_that_one_may_not_see_is_not_told_of(ines: Speaker, broker: Speaker, bertil: Speaker) -> None:
    clause = kept(broker, reach="brokerage")
    insert(ines, clause)
    seen = bertil.get(f"/api/clauses/{clause['id']}").json()
    assert (seen["uses"], seen["used"]) == ([], 0)
    assert len(broker.get(f"/api/clauses/{clause['id']}").json()["uses"]) == 1


def test_changed_since_it_is_remarked_on_and_taken_over_by_one_action(ines: Speaker) -> None:
    clause = kept(ines)
    insert(ines, clause)
    assert remarks(ines, "clause changed") == []
    again = {"name": "Low appraisal", "wording": SAID.replace("end this", "withdraw"), "based_on": 1}
    ines.post(f"/api/clauses/{clause['id']}", **again)
    assert "end this" in shown(ines), "what stands stays"
    [remark] = remarks(ines, "clause changed")
    mend = remark["does"]
    assert mend["clause"].endswith(".2") and remark["weight"] == "look"
    edit = {"op": "insert", "key": mend["key"], "text": mend["text"], "clause": mend["clause"]}
    ines.edit(edit)
    assert "withdraw" in shown(ines) and remarks(ines, "clause changed") == []
    [use] = ines.get(f"/api/clauses/{clause['id']}").json()["uses"]
    assert use["number"] == 2


def test_a_fact_that_is_not_known_must_be_answered_before_it_is_ready(ines: Speaker) -> None:
    clause = kept(ines, wording="Buyer’s home is sold by {terms.sale_by}.")
    insert(ines, clause)
    [remark] = remarks(ines, "clause gap")
    assert remark["weight"] == "must" and "__________" in shown(ines)


def test_origins_that_name_no_clause_do_no_harm(ines: Speaker) -> None:
    for ref in ("", "nonsense", "c-" + "0" * 32 + ".1", "c-zz.1"):
        assert insert(ines, {"wording": "Words.", "ref": ref}).status_code == 200
    assert not Use.objects.exists()
    refused = insert(ines, {"wording": "{no.fact}", "ref": ""})
    assert refused.status_code == 400 and refused.json()["mend"]


def test_a_list_costs_as_many_queries_however_long_it_is(
    ines: Speaker, django_assert_max_num_queries: Any
) -> None:
    for n in range(12):
        kept(ines, name=f"Clause {n}")
    with django_assert_max_num_queries(8):
        assert len(ines.get("/api/clauses").json()) >= 12


def test_in_a_template_a_clause_is_a_standing_answer_that_follows_in_each_deal(world: World) -> None:
    mine = Writer(world.ines, side="buying")
    mine.pack(op="add", numbers=["301"])
    assert mine.edit({"op": "insert", "key": TERMS, "text": SAID}).status_code == 200
    assert mine.written().draft["answers"][TERMS] == f'= says("{SAID}")'
    deal = Speaker(world.ines, new_deal(world.ines, mine.written(), "Bela", "Ruiz"))
    assert shown(deal) == "If it appraises below __________, Buyer may end this."
    deal.type(PRICE, "300,000")
    assert "below $300,000.00, Buyer" in shown(deal)
